package org.juratest.core.family.meters;

/** Counts the pulses of a meter against the energy of a reference, from one pulse to a later one. */
public interface PulseCounter {

    /**
     * Where a count stands.
     *
     * @param over whether it has ended: by pulses or by time, whichever came first
     * @param pulses from the first one on, that one not counted; -1 before the first
     * @param kilowattHours of the reference, between the first and the last of them
     * @param elapsed s since it was begun
     * @param watts that flow now
     */
    record Count(boolean over, long pulses, double kilowattHours, double elapsed, double watts) {}

    /**
     * Begins to wait for a first pulse, and to count.
     *
     * @param pulses after which it ends
     * @param seconds after which it ends
     */
    void count(long pulses, double seconds);

    Count counted();
}
