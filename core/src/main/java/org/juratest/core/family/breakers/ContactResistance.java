package org.juratest.core.family.breakers;

import java.time.Duration;
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
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/** Resistance of one closed pole by direct current and four wires. One point, a resistance. */
final class ContactResistance implements Method {

    /** Lets the current settle in the inductance of the leads before a reading is taken. */
    private static final Duration SETTLING = Duration.ofMillis(150);

    /** A reading is taken within a second; what takes longer has gone wrong, s. */
    private static final double LONGEST = 30;

    private static final MethodSpec SPEC = MethodSpec.named("contactResistance")
            .hazard(MethodSpec.Hazard.CURRENT)
            .ports("micro-ohmmeter")
            .param("current", Unit.AMPERE, 0.001, 1000)
            .maximum("current", Unit.AMPERE, 1000)
            .point("r", Unit.MICROHM)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double current = Method.base(step.params(), "current");
        double greatest = Method.base(step.maxima(), "current");
        Method.within("current", current, greatest);
        return new Announced(
                String.format(Locale.ROOT, "%.4g A DC through %s until the reading is taken", current, where),
                Map.of("current", Quantity.amperes(current)),
                List.of(
                        Bound.upTo("current", current, "A", "announced"),
                        Bound.upTo("current", greatest, "A", "the procedure's greatest current")),
                Set.of(ResistanceMeter.class),
                LONGEST);
    }

    @Override
    public Result run(MethodBench bench) {
        ResistanceMeter meter = bench.port(ResistanceMeter.class);
        double current = bench.param("current");
        meter.prepare(current);
        bench.stop().switchOn(meter::outputOn);
        bench.stop().pause(SETTLING);
        ResistanceMeter.Result result = meter.measure();
        bench.stop().check();
        boolean open = !(result.resistance() <= Double.MAX_VALUE) || !(result.current() >= 0.5 * current);
        if (open) {
            String words = String.format(
                    Locale.ROOT, "the circuit is open: %.3g A flowed of %.3g A", result.current(), current);
            bench.connectionChecked(false, words, Map.of());
            // A lead that is off and a pole that does not close look the same: a person says which.
            bench.noValue("r", words);
            return new Result(
                    Attempt.Outcome.UNCLEAR,
                    OutputEvents.OffReason.CIRCUIT_OPEN,
                    words + ". Are the clamps on, and is the breaker closed?");
        }
        bench.connectionChecked(
                true, "the measured current flows", Map.of("current", Quantity.amperes(result.current())));
        bench.keep(Readings.contact(bench, "r", result.resistance(), result.current(), result.range()));
        return new Result(Attempt.Outcome.VALID, OutputEvents.OffReason.DONE, "measured");
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return Readings.contact(origin, point, unit.convert(value, Unit.OHM), facts.get("current"), facts.get("range"));
    }
}
