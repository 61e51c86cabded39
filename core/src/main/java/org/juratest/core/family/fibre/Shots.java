package org.juratest.core.family.fibre;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;

/** What methods share that send light into a fibre: its wavelength, which end they stand at, traffic. */
final class Shots {

    /** How far a wavelength may be from one that is filtered, m. */
    private static final double SAME = 0.5e-9;

    private static final Duration POLL = Duration.ofMillis(100);

    private Shots() {}

    static MethodSpec.Builder spec(String name) {
        return MethodSpec.named(name)
                .hazard(MethodSpec.Hazard.LIGHT)
                .ports("reflectometer")
                .param("wavelength", Unit.NANOMETRE, 800, 1700)
                .param("averaging", Unit.SECOND, 0.5, 600, 30)
                .param("farEnd", Unit.ONE, 0, 1, 0)
                .maximum("averaging", Unit.SECOND, 600)
                .maximum("pulse", Unit.NANOSECOND, 20_000);
    }

    static Announced announced(Step step, String where, double shots) {
        double wavelength = Method.base(step.params(), "wavelength");
        double averaging = Method.base(step.params(), "averaging");
        double longest = Method.base(step.maxima(), "averaging");
        Method.within("averaging", averaging, longest);
        return new Announced(
                String.format(
                        Locale.ROOT,
                        "Sends light of %.0f nm into %s%s for %.4g s",
                        wavelength * 1e9,
                        where,
                        isFar(step) ? ", from its far end," : "",
                        averaging * shots),
                Map.of("wavelength", new Quantity(wavelength * 1e9, Unit.NANOMETRE)),
                List.of(
                        Bound.at("wavelength", List.of(wavelength), "m", "announced"),
                        Bound.upTo("pulse", Method.base(step.maxima(), "pulse"), "s", "the procedure's longest pulse"),
                        Bound.upTo("averaging", averaging, "s", "announced"),
                        Bound.upTo("averaging", longest, "s", "the procedure's longest averaging")),
                Set.of(Reflectometer.class),
                averaging * shots + 30);
    }

    static boolean isFar(Step step) {
        return Method.base(step.params(), "farEnd") > 0.5;
    }

    /** Why nothing is sent: there is traffic on it, and the wavelength would disturb it. */
    static Method.@Nullable Result traffic(MethodBench bench, Reflectometer tester, double wavelength) {
        double light = tester.light();
        boolean beside = tester.besideTraffic().stream().anyMatch(w -> Math.abs(w - wavelength) <= SAME);
        // Turned round, so that a level that is no figure is no darkness.
        return !(light <= LightCheck.TRAFFIC) && !beside
                ? new Method.Result(
                        Attempt.Outcome.CONNECTION_FAILED,
                        OutputEvents.OffReason.DONE,
                        String.format(
                                Locale.ROOT,
                                "there is light of %.1f dBm on it: it carries traffic, and nothing was sent",
                                light))
                : null;
    }

    /** One trace; the laser is on for as long as it takes. */
    static OtdrTrace shot(
            MethodBench bench, Reflectometer tester, double wavelength, double pulse, double range, double seconds) {
        tester.prepare(wavelength, pulse, range);
        bench.stop().switchOn(tester::outputOn);
        tester.begin(seconds);
        long begun = System.nanoTime();
        while (!tester.isDone()) {
            double elapsed = (System.nanoTime() - begun) / 1e9;
            bench.progress(Map.of("elapsed", new Quantity(elapsed, Unit.SECOND)));
            bench.stop().pause(POLL);
        }
        OtdrTrace trace = tester.trace();
        tester.makeSafe();
        return trace;
    }

    static Method.Result valid(String words) {
        return new Method.Result(Attempt.Outcome.VALID, OutputEvents.OffReason.DONE, words);
    }
}
