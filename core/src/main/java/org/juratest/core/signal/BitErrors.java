package org.juratest.core.signal;

import java.util.OptionalDouble;

/**
 * Received bits against {@link Prbs9}, locked to from any phase.
 *
 * @param bits counted; 0 where nothing locked
 * @param errors among them
 */
public record BitErrors(int bits, int errors) {

    /** Counts; too few bits, and bits that are not the sequence, lock to nothing. */
    public static BitErrors of(boolean[] received) {
        Prbs9.Lock lock = received.length < 64 ? null : Prbs9.lock(received);
        return lock == null ? new BitErrors(0, 0) : new BitErrors(lock.bits(), lock.errors());
    }

    /** Both together. */
    public BitErrors and(BitErrors more) {
        return new BitErrors(bits + more.bits, errors + more.errors);
    }

    /** Ratio, 0 to 1; empty where nothing locked. */
    public OptionalDouble ratio() {
        return bits == 0 ? OptionalDouble.empty() : OptionalDouble.of((double) errors / bits);
    }
}
