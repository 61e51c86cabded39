package org.juratest.core.method;

/**
 * The hand of the person who holds an output: it flows only while it is heard, again and again, that somebody holds it.
 * Once let go it stays let go; holding again takes another press that arms. Times are of a monotonic clock, ns.
 */
public final class Hand {

    /** Silence after which it counts as let go. */
    static final long HEARD_NANOS = 700_000_000L;
    /** Likewise for whoever watches that the method minds it: later, so that a method that does ends by itself. */
    static final long LOST_NANOS = 1_200_000_000L;
    /** Before it is heard for the first time, the press that switched on counts for so long. */
    static final long FIRST_NANOS = 1_500_000_000L;

    private boolean used;
    private boolean letGo;
    private boolean heardOnce;
    private long heard;
    private int change;

    /** An output begins to be held by hand. */
    public synchronized void begun(long nanos) {
        used = true;
        letGo = false;
        heardOnce = false;
        heard = nanos;
        change = 0;
    }

    /**
     * It is held.
     *
     * @param wanted 1 to raise, -1 to lower, 0 to leave it
     * @return whether that still counts: false once it was let go
     */
    public synchronized boolean holds(int wanted, long nanos) {
        if (!used || isGone(nanos, HEARD_NANOS)) {
            return false;
        }
        heardOnce = true;
        heard = nanos;
        change = Integer.signum(wanted);
        return true;
    }

    /** It is let go. */
    public synchronized void letGo() {
        letGo = true;
        change = 0;
    }

    /** Whether it is held, for the method. */
    public synchronized boolean isHeld(long nanos) {
        return used && !isGone(nanos, HEARD_NANOS);
    }

    /** Whether it is let go for so long that a method that minds it would have switched off. */
    public synchronized boolean isLost(long nanos) {
        return used && isGone(nanos, LOST_NANOS) && nanos - heard > LOST_NANOS;
    }

    private boolean isGone(long nanos, long within) {
        letGo |= nanos - heard > Math.max(within, heardOnce ? 0 : FIRST_NANOS);
        return letGo;
    }

    /** What is wanted: 1 to raise, -1 to lower, 0 to leave it, and 0 where it is not held. */
    public synchronized int change(long nanos) {
        return isHeld(nanos) ? change : 0;
    }
}
