package org.juratest.core.family.breakers;

import org.juratest.core.port.SetPoint;

/** Injects a current that is raised and lowered while it flows. */
public interface HandSource extends CurrentSource {

    /**
     * Prepares a current that can be changed while it flows.
     *
     * @param current to begin with, A rms
     * @param range greatest current of the range to use, A rms
     * @param timeLimit s after which the gear switches off by itself
     */
    void prepareAdjustable(@SetPoint("current") double current, double range, @SetPoint("time") double timeLimit);

    /**
     * Changes what flows.
     *
     * @param current A rms
     */
    void adjust(@SetPoint("current") double current);
}
