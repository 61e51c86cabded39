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
 */
public record LimitSpec(
        LimitKind kind,
        When when,
        String source,
        @Nullable DecisionRule rule,
        @Nullable Double marginalLow,
        @Nullable Double marginalHigh) {

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
