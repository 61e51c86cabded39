package org.juratest.core.condition;

import org.juratest.core.limit.Verdict;

/**
 * How an asset stands, from its last record. Drift and peers do not bear on it yet; what the day of asking adds
 * (overdue, not to be used) does not come from the record and is added where it is asked.
 */
public enum Standing {
    /** Something has to be done: the last record failed. */
    ACT,
    /** To be kept an eye on: marginal in the last record. */
    WATCH,
    /** In order. */
    SOUND,
    /** Never tested, not judged, or tested in part only. */
    UNKNOWN;

    /**
     * The standing that a finished run gives its asset.
     *
     * @param complete whether every required point was judged
     */
    public static Standing of(Verdict verdict, boolean complete) {
        return switch (verdict) {
            // A fail is one however much else was left out.
            case FAIL, MARGINAL_OUTSIDE -> ACT;
            case NOT_JUDGED -> UNKNOWN;
            case MARGINAL_INSIDE -> complete ? WATCH : UNKNOWN;
            case PASS -> complete ? SOUND : UNKNOWN;
        };
    }
}
