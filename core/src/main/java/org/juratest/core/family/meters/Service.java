package org.juratest.core.family.meters;

import java.util.OptionalDouble;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.run.RunState;

/** How a supply is measured, by what the plate of its meter says. */
enum Service {
    /** Of one phase and neutral: the other inputs stay empty. */
    ONE_PHASE,
    /** Of three phases without neutral: by two elements, against the second wire. */
    THREE_WIRES,
    FOUR_WIRES;

    static Service of(RunState state) {
        String service =
                String.valueOf(state.opened().asset().nameplate().texts().get("service"));
        return service.startsWith("1-phase") ? ONE_PHASE : service.endsWith("3-wire") ? THREE_WIRES : FOUR_WIRES;
    }

    /**
     * By how much more flows in the supply than at the meter: the ratios of its transformers on the plate. 1 where
     * there are none; NaN where their ratio is left to be measured.
     */
    static double multiplier(RunState state) {
        Nameplate plate = state.opened().asset().nameplate();
        return ratio(plate, "ctPrimary", "ctSecondary") * ratio(plate, "vtPrimary", "vtSecondary");
    }

    private static double ratio(Nameplate plate, String primary, String secondary) {
        OptionalDouble above = plate.base(primary);
        OptionalDouble below = plate.base(secondary);
        return above.isEmpty() && below.isEmpty() ? 1 : above.orElse(Double.NaN) / below.orElse(Double.NaN);
    }

    /**
     * Three voltages to neutral, or to the middle where there is none, and three currents, from what was sampled.
     *
     * @return voltage and current, three series each
     * @throws org.juratest.core.signal.SignalException if there are not three of each
     */
    double[][][] phases(ReferenceStandard.Samples taken) {
        return this == THREE_WIRES
                ? ThreePhase.ofThreeWires(taken.voltage(), taken.current())
                : new double[][][] {taken.voltage(), taken.current()};
    }

    /** How many conductors carry a current, beside a neutral. */
    int conductors() {
        return this == ONE_PHASE ? 1 : 3;
    }

    /** Whether it has something at an input, 1 to 3. */
    boolean has(int input) {
        return this != ONE_PHASE || input == 1;
    }
}
