package org.juratest.core.family.meters;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/**
 * Waits until a person at the test block has shorted a secondary, seen by its current on the meter's side falling to
 * nothing, or has taken the short off again. A link may be opened only where the current has fallen: an energised
 * secondary that is open is deadly.
 */
final class SecondaryCurrent implements Method {

    private static final String CURRENT = "current";
    private static final String BEFORE = "before";
    private static final String NOMINAL = "nominal";
    /** Of the nominal current: below it a secondary is shorted. */
    private static final double NOTHING = 0.01;

    private final boolean shorting;
    private final MethodSpec spec;

    SecondaryCurrent(boolean shorting) {
        this.shorting = shorting;
        this.spec = MethodSpec.named(shorting ? "ct.shorted" : "ct.restored")
                .ports(MeterMethods.REFERENCE)
                .param(NOMINAL, Unit.AMPERE, 0.1, 10)
                .param("seconds", Unit.SECOND, 1, 600, 60)
                .point(CURRENT, Unit.AMPERE)
                .point(BEFORE, Unit.AMPERE)
                .build();
    }

    @Override
    public MethodSpec spec() {
        return spec;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                shorting
                        ? "The current of " + where + " is watched until it has fallen to nothing; short it meanwhile"
                        : "The current of " + where + " is watched until it has returned; take its short off meanwhile",
                Map.of(),
                List.of(),
                Set.of(ReferenceStandard.class),
                Method.base(step.params(), "seconds") + 10);
    }

    @Override
    public Result run(MethodBench bench) {
        ReferenceStandard reference = bench.port(ReferenceStandard.class);
        double nominal = bench.param(NOMINAL);
        double before = reference.across().current().rms();
        if (shorting && before < NOTHING * nominal) {
            String words = String.format(
                    Locale.ROOT,
                    "%.3g A before it was shorted: without a load nothing shows whether the short holds",
                    before);
            bench.noValue(CURRENT, words);
            return new Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.DONE, words);
        }
        reference.show((shorting ? "short " : "restore ") + bench.lane());
        long end = System.nanoTime() + (long) (bench.param("seconds") * 1e9);
        double now = before;
        while ((now < NOTHING * nominal) != shorting && System.nanoTime() < end) {
            bench.progress(Map.of(CURRENT, Quantity.amperes(now)));
            bench.stop().pause(MeterOutputs.POLL);
            now = reference.across().current().rms();
        }
        reference.show(" ");
        keep(bench, BEFORE, before);
        keep(bench, CURRENT, now);
        boolean reached = (now < NOTHING * nominal) == shorting;
        String words = String.format(Locale.ROOT, "%.3g A, then %.3g A", before, now);
        return new Result(
                Attempt.Outcome.VALID,
                reached ? OutputEvents.OffReason.DONE : OutputEvents.OffReason.TIME_LIMIT,
                reached
                        ? words
                        : words + (shorting ? ": not shorted. Do not open its link" : ": the short is still on"));
    }

    private static void keep(MethodBench bench, String point, double amperes) {
        if (bench.step().point(point).isPresent()) {
            bench.keep(bench.value(point, amperes, Unit.AMPERE).accuracy(CURRENT));
        }
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return origin.value(point, value, unit).accuracy(CURRENT);
    }
}
