package org.juratest.core.plan;

import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/** How a job stands on a day: what the calendar says, and before it what people decided. */
public enum DueState {
    NOT_YET,
    IN_WINDOW,
    DUE,
    OVERDUE,
    DEFERRED,
    CANNOT;

    /**
     * What people decided about a job.
     *
     * @param deferredTo day on which a deferral ends; absent for none
     * @param cannot whether it cannot be done as things are
     */
    public record Decided(@Nullable LocalDate deferredTo, boolean cannot) {
        public static final Decided NOTHING = new Decided(null, false);
    }

    /** A deferral holds through its day; one that cannot be done stays so until somebody says otherwise. */
    public static DueState of(Occurrence occurrence, Decided decided, LocalDate day) {
        if (decided.cannot) {
            return CANNOT;
        }
        if (decided.deferredTo != null && !day.isAfter(decided.deferredTo)) {
            return DEFERRED;
        }
        return valueOf(occurrence.on(day).name());
    }
}
