package org.juratest.core.uncertainty;

/**
 * Expanded uncertainty of a reading at a coverage of 95 %.
 *
 * @param expanded U = k u, in the unit of the reading; finite, not negative
 * @param coverageFactor k, from the effective degrees of freedom; at least 1
 * @param degreesOfFreedom effective degrees of freedom; infinite where all components are of type B
 */
public record Uncertainty(double expanded, double coverageFactor, double degreesOfFreedom) {

    public Uncertainty {
        if (!(expanded >= 0 && expanded <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("expanded uncertainty must be finite and not negative, not " + expanded);
        }
        if (!(coverageFactor >= 1)) {
            throw new IllegalArgumentException("coverage factor must be at least 1, not " + coverageFactor);
        }
        if (!(degreesOfFreedom > 0)) {
            throw new IllegalArgumentException("degrees of freedom must be positive, not " + degreesOfFreedom);
        }
    }

    /** Standard uncertainty u = U / k. */
    public double standard() {
        return expanded / coverageFactor;
    }
}
