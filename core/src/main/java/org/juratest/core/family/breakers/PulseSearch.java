package org.juratest.core.family.breakers;

/**
 * The way of pulses to the least current that operates: up by even steps from a current that is well below, until one
 * operates. A first pulse that operates says only "at or below".
 */
final class PulseSearch {

    private final double step;
    private final double highest;
    private double next;
    private double last = Double.NaN;
    private boolean done;
    private boolean tripped;
    private boolean first = true;

    /**
     * @param start first current, A
     * @param step A
     * @param highest current that may be reached, A
     */
    PulseSearch(double start, double step, double highest) {
        if (!(start > 0 && step > 0 && highest >= start)) {
            throw new IllegalArgumentException("from " + start + " by " + step + " to " + highest);
        }
        this.next = start;
        this.step = step;
        this.highest = highest;
    }

    /** The next pulse, A. */
    double next() {
        return next;
    }

    boolean isDone() {
        return done;
    }

    /** Whether one operated; not while only the first did. */
    boolean isFound() {
        return done && tripped && !first;
    }

    /** Whether the first pulse operated: what is looked for lies at or below it. */
    boolean isAtOrBelow() {
        return done && tripped && first;
    }

    /** The largest current that did not operate, A; NaN where there is none. */
    double lastHeld() {
        return last;
    }

    /**
     * What the pulse did.
     *
     * @param operated whether it operated within the pulse
     */
    void was(boolean operated) {
        if (operated) {
            tripped = true;
            done = true;
            return;
        }
        first = false;
        last = next;
        if (next >= highest) {
            done = true;
        } else {
            next = Math.min(highest, next + step);
        }
    }
}
