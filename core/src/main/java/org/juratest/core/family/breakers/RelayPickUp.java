package org.juratest.core.family.breakers;

import java.util.Locale;
import java.util.Map;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/**
 * Where an overcurrent element picks up as the current grows in steps, and where it drops off as it falls; the ratio of
 * both (IEC 60255-1, disengaging ratio).
 */
final class RelayPickUp implements Method {

    private static final String PICK_UP = "pickUp";
    private static final String DROP_OFF = "dropOff";
    private static final String RATIO = "ratio";

    private static final MethodSpec SPEC = RelayInjection.spec("relay.pickUp")
            .param("from", Unit.AMPERE, 0.01, 200)
            .param("to", Unit.AMPERE, 0.01, 200)
            .param("step", Unit.AMPERE, 0.0001, 50)
            .param("dwell", Unit.SECOND, 0.02, 10, 0.1)
            .point(PICK_UP, Unit.AMPERE)
            .point(DROP_OFF, Unit.AMPERE)
            .point(RATIO, Unit.ONE)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    /** Up and down again, s. */
    private static double lasts(Step step) {
        double span = Method.base(step.params(), "to") - Method.base(step.params(), "from");
        double steps = Math.ceil(span / Method.base(step.params(), "step")) + 1;
        return 2.2 * steps * Method.base(step.params(), "dwell") + 1;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double from = Method.base(step.params(), "from");
        double to = Method.base(step.params(), "to");
        Method.within("from", from, to);
        return RelayInjection.announced(
                step,
                String.format(
                        Locale.ROOT,
                        "a current into %s that grows from %.4g A by %.3g A until it picks up, at most to %.4g A, and"
                                + " falls until it drops off",
                        where,
                        from,
                        Method.base(step.params(), "step"),
                        to),
                to,
                0,
                lasts(step));
    }

    @Override
    public Result run(MethodBench bench) {
        RelayTestSet set = bench.port(RelayTestSet.class);
        double step = bench.param("step");
        set.prepareRamp(bench.param("from"), bench.param("to"), 0, step, bench.param("dwell"), lasts(bench.step()));
        CurrentSource.Injection end = RelayInjection.run(bench, set, Map.of());
        if (!RelayInjection.measured(end)) {
            return RelayInjection.ended(bench, end, PICK_UP);
        }
        RelayTestSet.Ramp found = set.ramp();
        if (!(found.pickUp() > 0)) {
            for (String point : new String[] {PICK_UP, DROP_OFF, RATIO}) {
                none(bench, point, "it did not pick up");
            }
            return new Result(
                    Attempt.Outcome.UNCLEAR,
                    OutputEvents.OffReason.DONE,
                    "it did not pick up. Is the element in use, and the contact that is watched its own?");
        }
        bench.keep(reading(bench, PICK_UP, found.pickUp(), step));
        boolean dropped = found.dropOff() > 0;
        if (dropped && has(bench, DROP_OFF)) {
            bench.keep(reading(bench, DROP_OFF, found.dropOff(), step));
        }
        if (dropped && has(bench, RATIO)) {
            double ratio = found.dropOff() / found.pickUp();
            bench.keep(bench.value(RATIO, ratio, Unit.ONE).within(step / found.pickUp()));
        }
        if (!dropped) {
            none(bench, DROP_OFF, "it did not drop off");
            none(bench, RATIO, "it did not drop off");
        }
        return new Result(
                Attempt.Outcome.VALID,
                OutputEvents.OffReason.DONE,
                String.format(Locale.ROOT, "picked up at %.4g A", found.pickUp()));
    }

    private static boolean has(MethodBench bench, String point) {
        return bench.step().point(point).isPresent();
    }

    private static void none(MethodBench bench, String point, String words) {
        if (has(bench, point)) {
            bench.noValue(point, words);
        }
    }

    private static ReadingBuilder reading(ReadingOrigin from, String point, double current, double step) {
        return from.value(point, current, Unit.AMPERE)
                .accuracy(Unit.AMPERE.dimension())
                .within(step);
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        double step = facts.getOrDefault("step", 0.0);
        return point.equals(RATIO)
                ? origin.value(point, value, unit).within(step)
                : reading(origin, point, unit.convert(value, Unit.AMPERE), step);
    }
}
