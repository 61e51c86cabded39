package org.juratest.core.family.meters;

import org.juratest.core.port.Port;

/**
 * A three-phase reference standard beside an installation in service: voltages and currents at the meter, a head that
 * sees its pulses, and clamps.
 */
public interface ReferenceStandard extends Port, PulseCounter {

    /**
     * Samples of three voltages to neutral and three currents, taken together.
     *
     * @param voltage three series, V
     * @param current three series, A
     */
    record Samples(double perSecond, double[][] voltage, double[][] current) {}

    /** @param seconds how long; at most 1 s */
    Samples samples(double seconds);

    /** Shows words to whoever stands at the test block. */
    void show(String words);

    /** What clamps on both sides of the transformer it is connected to see; angles against each other. */
    record Clamped(Phasor primary, Phasor secondary) {}

    Clamped clamped();

    /** Voltage across the secondary of the transformer it is connected to, and the current through it. */
    record Across(Phasor voltage, Phasor current) {}

    Across across();
}
