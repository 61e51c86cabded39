package org.juratest.core.method;

import java.util.List;
import java.util.Map;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;

/** A way of measuring, named in procedures. */
public interface Method {

    /** What it needs and gives. */
    MethodSpec spec();

    /** Name in procedure documents. */
    default String name() {
        return spec().name();
    }

    /**
     * What will happen once it is live: words, settings, and the bounds that its ports are held to. A function of the
     * state alone.
     *
     * @param step as it is on the lane
     * @param where lane and device in words
     * @throws Refusal if it must not be done, such as where a parameter exceeds its greatest value
     */
    Announced announce(RunState state, Step step, String lane, String where);

    /**
     * Measures. Returns when the output is off or is to be switched off; readings and checks go to the bench.
     *
     * @throws StopException when told to stop
     * @throws org.juratest.core.port.GearException when gear fails
     */
    Result run(MethodBench bench);

    /**
     * The reading of a value that was measured this way at another time, with the uncertainty that this way of
     * measuring gives it. A method that does not say more of it leaves U unknown.
     *
     * @param facts what the method needs to know beside the value, by name, in base units: range, current
     */
    default ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return origin.value(point, value, unit).unknown();
    }

    /**
     * What an attempt teaches for the next device of the same type, for the parameters the method declares as learned.
     *
     * @param step as it was on the lane
     * @param attempt a valid one
     */
    default List<StartingPoint> startingPoints(Step step, Attempt attempt) {
        return List.of();
    }

    /** How a measurement ended. */
    record Result(Attempt.Outcome outcome, OutputEvents.OffReason offReason, String words) {}

    /**
     * A parameter in the base unit of its dimension.
     *
     * @throws Refusal if it is missing
     */
    static double base(Map<String, Param> params, String name) {
        Param param = params.get(name);
        if (param == null || param.value() == null) {
            throw new Refusal("parameter-unknown", "The step has no " + name + ".", "params." + name);
        }
        return param.value() * Unit.of(param.unit()).factor();
    }

    /** @throws Refusal if a set value exceeds the step's greatest one */
    static void within(String what, double set, double greatest) {
        if (!(set <= greatest)) {
            throw new Refusal(
                    "above-maximum",
                    "The " + what + " of " + set + " is above the greatest allowed, " + greatest + ".",
                    "params." + what);
        }
    }
}
