package org.juratest.core.limit;

import org.jspecify.annotations.Nullable;

/**
 * A limit as plain numbers in the unit of its point, or the reason why there are none.
 *
 * @param low lowest allowed value; absent: open
 * @param high highest allowed value; absent: open
 * @param ideal where the margin counts from; absent: none
 * @param marginalLow inside but below is marginal
 * @param marginalHigh inside but above is marginal
 * @param source where it came from, in words
 * @param rule decision rule of this point, where it differs from the run's
 * @param unresolved why it could not be resolved; absent when it was
 * @param severeBeyond %, of the side that is passed: further outside is severe, nearer minor; absent where not told
 */
public record ResolvedLimit(
        @Nullable Double low,
        @Nullable Double high,
        @Nullable Double ideal,
        @Nullable Double marginalLow,
        @Nullable Double marginalHigh,
        String source,
        @Nullable DecisionRule rule,
        @Nullable String unresolved,
        @Nullable Double severeBeyond) {

    /** One that does not tell minor from severe deviations. */
    public ResolvedLimit(
            @Nullable Double low,
            @Nullable Double high,
            @Nullable Double ideal,
            @Nullable Double marginalLow,
            @Nullable Double marginalHigh,
            String source,
            @Nullable DecisionRule rule,
            @Nullable String unresolved) {
        this(low, high, ideal, marginalLow, marginalHigh, source, rule, unresolved, null);
    }

    /** Share of the way from ideal to limit from which a value inside is marginal. */
    public static final double MARGINAL_FROM = 0.9;

    public ResolvedLimit {
        checkFinite("low", low);
        checkFinite("high", high);
        checkFinite("ideal", ideal);
        checkFinite("marginalLow", marginalLow);
        checkFinite("marginalHigh", marginalHigh);
        if (low != null && high != null && !(low <= high)) {
            throw new IllegalArgumentException("the lowest allowed value " + low + " is above the highest " + high);
        }
        if (unresolved == null && low == null && high == null) {
            throw new IllegalArgumentException("a limit needs at least one side");
        }
    }

    private static void checkFinite(String side, @Nullable Double value) {
        if (value != null && !(Math.abs(value) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("limit " + side + " must be finite, not " + value);
        }
    }

    /** No limit, and why. */
    public static ResolvedLimit unresolved(String source, String why) {
        return new ResolvedLimit(null, null, null, null, null, source, null, why);
    }

    /**
     * A limit with the marginal zone its ideal gives, unless the specification states one.
     *
     * @throws IllegalArgumentException if a side is not finite, low is above high, or both sides are open
     */
    static ResolvedLimit of(
            LimitSpec spec,
            Scale scale,
            @Nullable Double low,
            @Nullable Double high,
            @Nullable Double ideal,
            String source) {
        Double marginalLow = spec.marginalLow() != null ? spec.marginalLow() : zone(scale, ideal, low, -1);
        Double marginalHigh = spec.marginalHigh() != null ? spec.marginalHigh() : zone(scale, ideal, high, 1);
        return new ResolvedLimit(
                low, high, ideal, marginalLow, marginalHigh, source, spec.rule(), null, spec.severeBeyond());
    }

    private static @Nullable Double zone(Scale scale, @Nullable Double ideal, @Nullable Double limit, int direction) {
        if (ideal == null || limit == null) {
            return null;
        }
        double from = scale.coordinate(ideal);
        double to = scale.coordinate(limit);
        // Not so where the ideal is at or past the limit, nor (NaN) where a logarithm does not exist.
        return direction * (to - from) > 0 ? scale.value(from + MARGINAL_FROM * (to - from)) : null;
    }
}
