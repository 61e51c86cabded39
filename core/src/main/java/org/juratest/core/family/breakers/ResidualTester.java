package org.juratest.core.family.breakers;

import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;

/**
 * Lets a residual current flow from a live conductor to the protective conductor and times what switches it off (IEC
 * 61557-6). The supply is that of the installation itself.
 */
public interface ResidualTester extends Energising {

    /**
     * Voltage that the protective conductor would take at a residual current, found with a third of it at most, which
     * operates nothing (IEC 61557-6, 4.5).
     *
     * @param current A
     * @return V; positive infinity where the loop is open
     */
    double touchVoltage(double current);

    /**
     * Prepares a current that is held until something switches it off.
     *
     * @param current A rms
     * @param degrees point on the wave where it begins: 0 for the positive half, 180 for the negative
     * @param timeLimit s after which the gear switches off by itself
     */
    void prepareHeld(@SetPoint("current") double current, double degrees, @SetPoint("time") double timeLimit);

    /**
     * Prepares a current that grows in steps.
     *
     * @param from A rms, of the first step
     * @param to A rms, of the last
     * @param steps how many
     * @param seconds that all of them last together
     */
    void prepareSteps(
            @SetPoint("current") double from,
            @SetPoint("current") double to,
            int steps,
            @SetPoint("time") double seconds,
            double degrees);

    /** What it measures now, or measured last; the current at which it was switched off. */
    CurrentSource.Injection read();
}
