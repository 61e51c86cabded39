package org.juratest.core.plan;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;

/**
 * One time that something is due.
 *
 * @param opens first day on which it may be done
 * @param closes last day on which it still may be
 */
public record Occurrence(LocalDate opens, LocalDate due, LocalDate closes) {

    /** How something stands on a day, without what people decided about it. */
    public enum State {
        NOT_YET,
        IN_WINDOW,
        DUE,
        OVERDUE
    }

    public Occurrence {
        if (opens.isAfter(due) || due.isAfter(closes)) {
            throw new IllegalArgumentException(
                    "a window opens before and closes after its day: " + opens + ", " + due + ", " + closes);
        }
    }

    /** In its window from the day that opens; due from its day on; overdue once the window has closed. */
    public State on(LocalDate day) {
        if (day.isBefore(opens)) {
            return State.NOT_YET;
        }
        return day.isBefore(due) ? State.IN_WINDOW : day.isAfter(closes) ? State.OVERDUE : State.DUE;
    }

    /** Days over the due date; 0 until its window has closed. */
    public long overdue(LocalDate day) {
        return on(day) == State.OVERDUE ? ChronoUnit.DAYS.between(due, day) : 0;
    }

    /** Whether doing it on a day is in time. */
    public boolean holds(LocalDate day) {
        return !day.isBefore(opens) && !day.isAfter(closes);
    }
}
