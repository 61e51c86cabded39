package org.juratest.core.family.breakers;

/**
 * Finds the edge between what operates and what does not, by halves: between a place where it operates and one where it
 * does not.
 */
final class Bisection {

    private final double resolution;
    private double operates;
    private double holds;

    /** @param resolution the edge is known to within this, in the unit of the places */
    Bisection(double operates, double holds, double resolution) {
        this.operates = operates;
        this.holds = holds;
        this.resolution = resolution;
    }

    boolean isDone() {
        return Math.abs(operates - holds) <= resolution;
    }

    /** Where to look next. */
    double next() {
        return (operates + holds) / 2;
    }

    /** What was seen there. */
    void was(boolean operated) {
        if (operated) {
            operates = next();
        } else {
            holds = next();
        }
    }

    /** The middle of what is left. */
    double edge() {
        return next();
    }
}
