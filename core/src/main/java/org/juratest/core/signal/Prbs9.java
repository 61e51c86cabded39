package org.juratest.core.signal;

/**
 * The pseudo-random sequence of 511 bits, b[n] = b[n-5] xor b[n-9] (ITU-T O.153, 2.1), and where received bits stand in
 * it.
 */
public final class Prbs9 {

    /** Bits until it repeats. */
    public static final int PERIOD = 511;

    private static final boolean[] BITS = bits();
    /** How many standard deviations fewer errors than by chance there must be. */
    private static final double LOCKED = 6;
    /**
     * Correct bits in a row with which counting begins and ends, so that what is no part of the sequence is not counted
     * as its errors.
     */
    private static final int SYNC = 18;

    private Prbs9() {}

    private static boolean[] bits() {
        boolean[] bits = new boolean[PERIOD];
        java.util.Arrays.fill(bits, 0, 9, true);
        for (int n = 9; n < PERIOD; n++) {
            bits[n] = bits[n - 5] ^ bits[n - 9];
        }
        return bits;
    }

    /** A bit of the sequence; any place, also a negative one. The nine at 0 are ones. */
    public static boolean bit(int place) {
        return BITS[Math.floorMod(place, PERIOD)];
    }

    /**
     * Received bits against the sequence.
     *
     * @param phase place in the sequence of the first received bit
     * @param from first received bit that is counted
     * @param to the one after the last
     * @param errors among those
     */
    record Lock(int phase, int from, int to, int errors) {
        int bits() {
            return to - from;
        }
    }

    /**
     * The phase with the fewest errors; null where that is no fewer than chance gives, or too few bits for that to
     * show.
     */
    static @org.jspecify.annotations.Nullable Lock lock(boolean[] received) {
        int best = 0;
        int fewest = Integer.MAX_VALUE;
        for (int phase = 0; phase < PERIOD; phase++) {
            int errors = errors(received, phase, 0, received.length);
            if (errors < fewest) {
                fewest = errors;
                best = phase;
            }
        }
        if (!(fewest < received.length / 2.0 - LOCKED * Math.sqrt(received.length) / 2)) {
            return null;
        }
        int from = 0;
        while (from + SYNC <= received.length && errors(received, best, from, from + SYNC) > 0) {
            from++;
        }
        int to = received.length;
        while (to - SYNC >= from && errors(received, best, to - SYNC, to) > 0) {
            to--;
        }
        return to - from < SYNC
                ? new Lock(best, 0, received.length, fewest)
                : new Lock(best, from, to, errors(received, best, from, to));
    }

    private static int errors(boolean[] received, int phase, int from, int to) {
        int errors = 0;
        for (int n = from; n < to; n++) {
            if (received[n] != BITS[(phase + n) % PERIOD]) {
                errors++;
            }
        }
        return errors;
    }
}
