package org.juratest.core.limit;

import org.jspecify.annotations.Nullable;

/**
 * What one value came to against one limit.
 *
 * @param marginUsed share of the way from ideal to limit; absent where undefined
 * @param why why there is no verdict, or why there can be no pass; absent where the verdict speaks for itself
 * @param tooCoarse the uncertainty is more than a third of the way from ideal to limit
 */
public record Judgement(Verdict verdict, @Nullable Double marginUsed, @Nullable String why, boolean tooCoarse) {

    static Judgement notJudged(String why) {
        return new Judgement(Verdict.NOT_JUDGED, null, why, false);
    }
}
