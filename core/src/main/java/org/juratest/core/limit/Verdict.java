package org.juratest.core.limit;

import java.util.Comparator;

/** What a reading, a point or a run came to. */
public enum Verdict {
    PASS,
    /** Inside the limit, but in its marginal zone, or (guarded rule) by less than the uncertainty. */
    MARGINAL_INSIDE,
    /** No verdict, with a reason. Missing data is not a pass. */
    NOT_JUDGED,
    /** Outside the limit by less than the uncertainty (guarded rule). Does not pass a run. */
    MARGINAL_OUTSIDE,
    FAIL;

    /** From best to worst; the order of declaration. */
    public static final Comparator<Verdict> BY_SEVERITY = Comparator.naturalOrder();

    /** The worse of two verdicts. */
    public Verdict worse(Verdict other) {
        return compareTo(other) >= 0 ? this : other;
    }

    /** Whether a point with this verdict lets its run pass. */
    public boolean passes() {
        return this == PASS || this == MARGINAL_INSIDE;
    }
}
