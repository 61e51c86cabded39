package org.juratest.core.uncertainty;

import java.util.ArrayList;
import java.util.List;
import org.hipparchus.distribution.continuous.TDistribution;

/**
 * Adds up the components of one reading's uncertainty (JCGM 100:2008, 5.1.2 for uncorrelated inputs) and expands it to
 * {@value #COVERAGE} with k from the effective degrees of freedom (Annex G, Welch-Satterthwaite G.2b).
 *
 * <p>No component, or only zero ones, gives U = 0 with k = 2. NaN, infinite or negative input is refused. A budget with
 * a component that nobody knows has no result.
 */
public final class UncertaintyBudget {

    /** What k = 2 covers of a normal distribution, erf(sqrt 2) (JCGM 100, table G.1: 95.45 %). */
    private static final double COVERAGE = 0.954499736103642;

    private final List<Component> components = new ArrayList<>();
    private boolean unknown;

    /** A standard uncertainty in the unit of the value, with its degrees of freedom. */
    private record Component(double standard, double freedom) {}

    /**
     * Adds a type B component.
     *
     * @param standard standard uncertainty in the unit of the input
     * @param sensitivity derivative of the reading by that input; 1 for a direct component
     */
    public UncertaintyBudget typeB(double standard, double sensitivity) {
        return component(standard, sensitivity, Double.POSITIVE_INFINITY);
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
        return component(deviation / Math.sqrt(count), 1, count - 1);
    }

    /**
     * Adds what is known only to lie within a step of a search or a display: u = step / sqrt(12) (JCGM 100, F.2.2.1).
     */
    public UncertaintyBudget within(double step) {
        return typeB(step / Math.sqrt(12), 1);
    }

    /**
     * Adds a component.
     *
     * @param freedom degrees of freedom, positive; infinite for type B
     */
    public UncertaintyBudget component(double standard, double sensitivity, double freedom) {
        if (!(standard >= 0 && standard <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("standard uncertainty must be finite and not negative, not " + standard);
        }
        if (!(Math.abs(sensitivity) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("sensitivity must be finite, not " + sensitivity);
        }
        if (!(freedom > 0)) {
            throw new IllegalArgumentException("degrees of freedom must be positive, not " + freedom);
        }
        components.add(new Component(standard * Math.abs(sensitivity), freedom));
        return this;
    }

    /** Adds a component of a size that nobody knows: from then on there is no combined uncertainty. */
    public UncertaintyBudget unknown() {
        unknown = true;
        return this;
    }

    /** Carries everything added so far over to another value that depends on this one. */
    public UncertaintyBudget carried(double sensitivity) {
        List<Component> before = List.copyOf(components);
        components.clear();
        before.forEach(c -> component(c.standard, sensitivity, c.freedom));
        return this;
    }

    /** Whether all components are known. */
    public boolean isKnown() {
        return !unknown;
    }

    /**
     * The combined uncertainty, expanded. Degrees of freedom are not truncated (G.4.1 allows either), so that k runs
     * without a jump to 2.
     *
     * @throws IllegalStateException if a component is unknown
     */
    public Uncertainty expand() {
        if (unknown) {
            throw new IllegalStateException("a component of this uncertainty is not known");
        }
        double variance =
                components.stream().mapToDouble(c -> c.standard * c.standard).sum();
        double weighted = components.stream()
                .mapToDouble(c -> Math.pow(c.standard, 4) / c.freedom)
                .sum();
        // Squares of what is tiny vanish; then there is nothing to weigh.
        double effective = weighted == 0 ? Double.POSITIVE_INFINITY : variance * variance / weighted;
        double k = coverageFactor(effective);
        return new Uncertainty(k * Math.sqrt(variance), k, effective);
    }

    /**
     * k for a coverage of 95.45 %.
     *
     * @param freedom effective degrees of freedom; below 1 counts as 1
     */
    public static double coverageFactor(double freedom) {
        // From here on the difference to 2 is below 3e-7, and evaluating the t distribution loses more.
        return freedom > 1e7
                ? 2.0
                : new TDistribution(Math.max(1, freedom)).inverseCumulativeProbability(1 - (1 - COVERAGE) / 2);
    }
}
