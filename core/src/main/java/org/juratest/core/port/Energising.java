package org.juratest.core.port;

import org.juratest.core.run.ReadBack;

/**
 * Gear that can energise something. All calls may throw {@link GearException} but {@link #makeSafe()}, and may come
 * from two threads: the one that measures and the one that guards.
 */
public interface Energising extends AutoCloseable {

    /** Asks who it is, connecting if need be. */
    GearIdentity identify();

    /** Tells the gear what it is connected to, as a label. */
    void connectTo(String label);

    /** Sets the gear's own watchdog; its output goes off when it is not fed for this long. */
    void watchdog(double seconds);

    /** Feeds the watchdog. Nothing else does. */
    void feedWatchdog();

    /** Switches the output on with what was set. Never retried. */
    void outputOn();

    /** How much faster than the clock the gear's time runs; 1 for real gear. */
    double timeFactor();

    /**
     * Switches the output off and reads it back. Idempotent; never throws; returns within 0.5 s with what the gear
     * answered.
     */
    ReadBack makeSafe();

    @Override
    void close();
}
