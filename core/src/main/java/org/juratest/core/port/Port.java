package org.juratest.core.port;

/**
 * Test gear, or a device, that can be talked to. All calls may throw {@link GearException}, and may come from two
 * threads: the one that measures and the one that guards.
 */
public interface Port extends AutoCloseable {

    /** Asks who it is, connecting if need be. */
    GearIdentity identify();

    /** Tells it what it is connected to, as a label. */
    void connectTo(String label);

    /** How much faster than the clock its time runs; 1 for real gear. */
    double timeFactor();

    @Override
    void close();
}
