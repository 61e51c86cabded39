package org.juratest.core.family.breakers;

import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;

/** Gives a breaker its command, and records its contacts, its travel and the current of its coil meanwhile. */
public interface OperationRecorder extends Energising {

    /** What it is told to do. */
    enum Command {
        OPEN,
        CLOSE,
        /** Closes, and is told to open before it has come to rest. */
        CLOSE_OPEN
    }

    /**
     * Resistance of the coil that a command would go to, by a current that moves nothing.
     *
     * @return Ohm; positive infinity for an open circuit
     */
    double coilResistance(Command command);

    /**
     * Prepares a command and what is recorded with it.
     *
     * @param voltage V, direct, at the coil
     * @param seconds how long the coil is energised and recorded; then it is off by itself
     */
    void prepare(Command command, @SetPoint("voltage") double voltage, @SetPoint("time") double seconds);

    /** Whether it still records; the cause why it no longer does is {@link #cause}. */
    boolean isRecording();

    /** Why it went off; {@link CurrentSource.OffCause#LIMIT} once all is recorded. */
    CurrentSource.OffCause cause();

    /** What was recorded; the output is off. */
    SwitchingRecord recorded();
}
