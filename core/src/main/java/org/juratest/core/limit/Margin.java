package org.juratest.core.limit;

import java.util.OptionalDouble;

/**
 * Margin used: how far from ideal to the limit a value stands; 0 at the ideal or better, 1 at the limit, above 1 past
 * it. For one side u = max(0, (v - ideal) / (limit - ideal)); for two sides the larger; on a logarithmic scale with
 * log10 of all three. Undefined if there is no ideal, if the ideal is at or past the limit, or a needed logarithm does
 * not exist.
 */
public final class Margin {

    private Margin() {}

    /**
     * Margin used by a value against a resolved limit; empty where undefined, and for a value that is NaN or infinite.
     */
    public static OptionalDouble used(double value, ResolvedLimit limit, Scale scale) {
        Double ideal = limit.ideal();
        if (ideal == null || limit.unresolved() != null || !(Math.abs(value) <= Double.MAX_VALUE)) {
            return OptionalDouble.empty();
        }
        double v = scale.coordinate(value);
        double from = scale.coordinate(ideal);
        double used = 0;
        if (limit.low() != null) {
            used = Math.max(used, oneSided(v, from, scale.coordinate(limit.low()), -1));
        }
        if (limit.high() != null) {
            used = Math.max(used, oneSided(v, from, scale.coordinate(limit.high()), 1));
        }
        return Double.isNaN(used) ? OptionalDouble.empty() : OptionalDouble.of(used);
    }

    /** NaN where the ideal is at or past the limit; Math.max hands NaN on. */
    private static double oneSided(double v, double ideal, double limit, int direction) {
        return direction * (limit - ideal) > 0 ? (v - ideal) / (limit - ideal) : Double.NaN;
    }
}
