package org.juratest.core.run;

import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.PointKey;

/**
 * What one test point came to.
 *
 * @param label point and lane in words
 * @param unit UCUM code; absent for an inspection
 * @param asFound the first valid attempt; absent before it
 * @param asLeft what counts after an adjustment; absent where nothing was adjusted, or not yet measured again
 * @param counting the value the verdict is of: as left, as found, or what repeats of it come to together; absent where
 *     there is none
 * @param verdict of what counts; not judged where nothing does
 * @param marginUsed of what counts
 * @param why reason where the verdict needs one
 * @param limit of what counts; absent while it waits
 * @param tooCoarse the gear is too coarse for the limit
 */
public record PointJudgement(
        PointKey key,
        String label,
        @Nullable String unit,
        Scale scale,
        @Nullable String series,
        boolean required,
        @Nullable Value asFound,
        @Nullable Value asLeft,
        @Nullable Value counting,
        Verdict verdict,
        @Nullable Double marginUsed,
        @Nullable String why,
        @Nullable ResolvedLimit limit,
        boolean tooCoarse) {

    /**
     * One value with its own verdict.
     *
     * @param value in the point's unit; absent for an inspection's answer
     * @param uncertainty expanded, in the point's unit
     * @param attempt absent for an inspection's answer
     * @param count of readings it is made from
     */
    public record Value(
            @Nullable Double value,
            Qualifier qualifier,
            @Nullable Double uncertainty,
            Verdict verdict,
            @Nullable UUID attempt,
            int count) {}
}
