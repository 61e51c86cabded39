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

    /**
     * A voltage transformer in service, seen at both ends of its lead.
     *
     * @param transformer voltage at its terminals
     * @param meter voltage at the meter, its angle against that
     * @param current through its secondary, its angle likewise
     */
    record Ends(Phasor transformer, Phasor meter, Phasor current) {}

    Ends ends();

    /** Begins to add energy up, from nothing. */
    void integrate();

    /**
     * What has been added up so far.
     *
     * @param seconds since it was begun
     * @param active kWh; {@code reactive} kvarh, {@code apparent} kVAh
     */
    record Integrated(double seconds, double active, double reactive, double apparent) {}

    Integrated integrated();
}
