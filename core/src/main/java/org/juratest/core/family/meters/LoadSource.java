package org.juratest.core.family.meters;

import org.juratest.core.port.SetPoint;

/** A three-phase source with a reference standard in it, and the meter on it. */
public interface LoadSource extends MeterOutput, PulseCounter {

    /**
     * A load point.
     *
     * @param volts between phase and neutral, rms
     * @param amperes rms in each phase that is loaded; 0 for none
     * @param degrees by which currents lag behind their voltages
     * @param phase that is loaded alone, 1 to 3; 0 for all
     * @param hertz of the fundamental
     * @param fifth share of a fifth harmonic in the currents
     */
    record Load(
            @SetPoint("voltage") double volts,
            @SetPoint("current") double amperes,
            double degrees,
            int phase,
            double hertz,
            double fifth) {}

    /** @param seconds after which the gear switches off by itself */
    void prepare(Load load, @SetPoint("time") double seconds);

    /** Whether the contact at its input is closed. */
    boolean contact();
}
