package org.juratest.core.family.meters;

import java.util.Map;
import org.juratest.core.port.Port;

/** A meter's own port for reading it (IEC 62056-21). */
public interface MeterPort extends Port {

    /**
     * A register.
     *
     * @param value as it stands there
     * @param unit as it is written there; empty where none is
     * @param digit what its last digit is worth
     */
    record Register(double value, String unit, double digit) {}

    /**
     * What a readout gives.
     *
     * @param identification of the meter, as it says it
     * @param registers by their codes
     */
    record Readout(String identification, Map<String, Register> registers) {}

    Readout readout();
}
