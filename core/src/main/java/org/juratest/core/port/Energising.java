package org.juratest.core.port;

import org.juratest.core.run.ReadBack;

/** Gear that can switch something on. {@link #makeSafe()} never throws. */
public interface Energising extends Port {

    /** Sets the gear's own watchdog; its output goes off when it is not fed for this long. */
    void watchdog(double seconds);

    /** Feeds the watchdog. Nothing else does. */
    void feedWatchdog();

    /** Switches the output on with what was set. Never retried. */
    void outputOn();

    /**
     * Switches the output off and reads it back. Idempotent; never throws; returns within 0.5 s with what was answered.
     */
    ReadBack makeSafe();
}
