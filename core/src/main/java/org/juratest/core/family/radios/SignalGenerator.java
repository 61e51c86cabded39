package org.juratest.core.family.radios;

import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;

/** A signal generator beside the test set, for signals that disturb. */
public interface SignalGenerator extends Energising {

    /** Highest level it gives, dBm. */
    double greatestLevel();

    /**
     * Sets it.
     *
     * @param hertz carrier, Hz
     * @param dbm level at its port, dBm
     * @param deviation peak of its tone, Hz
     * @param tone Hz
     */
    void generate(
            @SetPoint("second signal") double hertz,
            @SetPoint("second level") double dbm,
            double deviation,
            double tone);
}
