package org.juratest.core.limit;

import org.jspecify.annotations.Nullable;

/**
 * A limit as a procedure states it.
 *
 * @param kind how it is found
 * @param when when it is found
 * @param source where it comes from, in words: standard and edition, maker's sheet, house rule
 * @param rule the decision rule for this point, where it differs from the run's
 * @param marginalLow inside but below this is marginal; absent: 90 % of margin used, where there is an ideal
 * @param marginalHigh inside but above this is marginal
 * @param severeBeyond %, of the limit: what is further outside than this is a severe deviation, what is nearer a minor
 *     one; absent where the two are not told apart
 */
public record LimitSpec(
        LimitKind kind,
        When when,
        String source,
        @Nullable DecisionRule rule,
        @Nullable Double marginalLow,
        @Nullable Double marginalHigh,
        @Nullable Double severeBeyond) {

    /** One that does not tell minor from severe deviations. */
    public LimitSpec(
            LimitKind kind,
            When when,
            String source,
            @Nullable DecisionRule rule,
            @Nullable Double marginalLow,
            @Nullable Double marginalHigh) {
        this(kind, when, source, rule, marginalLow, marginalHigh, null);
    }

    /** When a limit becomes plain numbers. */
    public enum When {
        START,
        /** With each reading, over another of its values. */
        READING,
        /** When the readings it needs exist; then fixed. */
        STEP_END
    }

    public LimitSpec {
        if (source.isBlank()) {
            throw new IllegalArgumentException("a limit needs a source in words");
        }
        if (severeBeyond != null && !(severeBeyond > 0 && severeBeyond <= 1000)) {
            throw new IllegalArgumentException("severeBeyond is above 0 %, up to 1000 %, not " + severeBeyond);
        }
        boolean fromReading = kind instanceof LimitKind.DeviceCurve
                || kind instanceof LimitKind.Along along && along.runsOverTheReading();
        if (fromReading != (when == When.READING)) {
            throw new IllegalArgumentException(
                    "a limit over another value of the reading is resolved with the reading, and no other kind is");
        }
        if (kind instanceof LimitKind.Spread && when != When.STEP_END) {
            throw new IllegalArgumentException(
                    "a spread needs the other lanes: its limit is resolved at the end of the step");
        }
    }

    public static LimitSpec of(LimitKind kind, When when, String source) {
        return new LimitSpec(kind, when, source, null, null, null);
    }
}
