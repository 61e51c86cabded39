package org.juratest.core.uncertainty;

import org.hipparchus.distribution.continuous.TDistribution;

/**
 * Adds up the components of one reading's uncertainty (JCGM 100:2008, 5.1.2 for uncorrelated inputs) and expands it to
 * 95 % with k from the effective degrees of freedom (Annex G, Welch-Satterthwaite G.2b).
 *
 * <p>No component, or only zero ones, gives U = 0 with k = 2. NaN, infinite or negative input is refused.
 */
public final class UncertaintyBudget {

    private static final double COVERAGE = 0.95;
    /**
     * k where no component has a finite number of degrees of freedom: the conventional 2 (JCGM 100, 6.3.3, about 95 %),
     * so that gear specifications stated for k = 2 come back as stated.
     */
    private static final double TYPE_B_ONLY = 2.0;

    private double variance;
    private double welchSatterthwaite;

    /**
     * Adds a type B component.
     *
     * @param standard standard uncertainty in the unit of the input
     * @param sensitivity derivative of the reading by that input; 1 for a direct component
     */
    public UncertaintyBudget typeB(double standard, double sensitivity) {
        return add(standard, sensitivity, Double.POSITIVE_INFINITY);
    }

    /**
     * Adds the standard deviation of the mean of n repeats, s / sqrt(n) with n - 1 degrees of freedom (JCGM 100,
     * 4.2.3).
     *
     * @param deviation sample standard deviation s
     * @param count n, at least 2
     */
    public UncertaintyBudget typeA(double deviation, int count) {
        if (count < 2) {
            throw new IllegalArgumentException("type A needs at least 2 repeats, not " + count);
        }
        return add(deviation / Math.sqrt(count), 1, count - 1);
    }

    private UncertaintyBudget add(double standard, double sensitivity, double freedom) {
        if (!(standard >= 0 && standard <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("standard uncertainty must be finite and not negative, not " + standard);
        }
        if (!(Math.abs(sensitivity) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("sensitivity must be finite, not " + sensitivity);
        }
        double contribution = standard * Math.abs(sensitivity);
        variance += contribution * contribution;
        welchSatterthwaite += Math.pow(contribution, 4) / freedom;
        return this;
    }

    /** The combined uncertainty, expanded. */
    public Uncertainty expand() {
        if (welchSatterthwaite == 0) {
            return new Uncertainty(TYPE_B_ONLY * Math.sqrt(variance), TYPE_B_ONLY, Double.POSITIVE_INFINITY);
        }
        double effective = variance * variance / welchSatterthwaite;
        // G.4.1 note 2: truncate to the next lower integer; the t distribution needs at least one.
        double truncated = Math.max(1, Math.floor(effective));
        double k = truncated > 1000
                ? TYPE_B_ONLY
                : new TDistribution(truncated).inverseCumulativeProbability(1 - (1 - COVERAGE) / 2);
        return new Uncertainty(k * Math.sqrt(variance), k, effective);
    }
}
