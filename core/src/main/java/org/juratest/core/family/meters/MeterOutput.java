package org.juratest.core.family.meters;

import org.jspecify.annotations.Nullable;
import org.juratest.core.port.Energising;

/** Gear for meters and transformers with an output: what it gives, and why it went off. */
public interface MeterOutput extends Energising {

    /** Why an output is off. */
    enum Cause {
        COMMAND,
        /** What it was told to do is done. */
        DONE,
        /** Its time is over. */
        LIMIT,
        /** No current flows: a lead is off, or a link is open. */
        OPEN,
        ESTOP,
        WATCHDOG
    }

    /**
     * What it gives now, or gave last.
     *
     * @param elapsed s of its own time since it went on
     * @param volts rms, or direct
     * @param amperes rms, or direct
     * @param degrees by which the current lags behind the voltage
     * @param cause why it is off; absent while it is on
     */
    record Given(boolean on, double elapsed, double volts, double amperes, double degrees, @Nullable Cause cause) {}

    Given given();
}
