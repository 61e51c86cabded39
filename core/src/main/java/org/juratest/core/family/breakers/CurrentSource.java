package org.juratest.core.family.breakers;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;

/** Injects an alternating current and times what it does. */
public interface CurrentSource extends Energising {

    /**
     * An output range.
     *
     * @param current greatest current, A rms
     * @param compliance greatest voltage it can drive that with, V rms
     */
    record Range(double current, double compliance) {}

    /** Why an output went off, as the gear says. */
    enum OffCause {
        COMMAND,
        TRIP,
        LIMIT,
        WATCHDOG,
        ESTOP,
        OPEN
    }

    /**
     * What the gear measures now, or measured last.
     *
     * @param elapsed s since the output went on, in the gear's time
     * @param current A rms; mean over the injection once it is off
     * @param voltage V rms
     * @param cause why it is off; absent while it is on
     */
    record Injection(boolean on, double elapsed, double current, double voltage, @Nullable OffCause cause) {}

    /** Ranges, smallest current first. */
    List<Range> ranges();

    /**
     * Prepares an injection.
     *
     * @param current A rms
     * @param range greatest current of the range to use, A rms
     * @param timeLimit s after which the gear switches off by itself
     */
    void prepare(@SetPoint("current") double current, double range, @SetPoint("time") double timeLimit);

    /** Reads the measurement; does not feed the watchdog. */
    Injection read();
}
