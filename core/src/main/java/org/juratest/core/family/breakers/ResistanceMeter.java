package org.juratest.core.family.breakers;

import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;

/** Drives a direct current through a contact and measures its resistance by four wires. */
public interface ResistanceMeter extends Energising {

    /**
     * One result.
     *
     * @param resistance Ohm; positive infinity for over range (an open circuit)
     * @param current A, as measured
     * @param range Ohm, full scale of the range used
     */
    record Result(double resistance, double current, double range) {}

    /** @param current A */
    void prepare(@SetPoint("current") double current);

    /** Takes one reading; the output must be on. */
    Result measure();
}
