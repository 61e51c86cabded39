package org.juratest.core.plan;

import java.time.LocalDate;
import java.time.Period;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A thing that comes again. Days are those of the site: whoever asks turns instants into them in its zone.
 *
 * @param counting what the next date counts from
 * @param before how long before its due date it may be done already; not for an interval that gives its window itself
 * @param after how long after it may still be done
 * @param anchor the day it counts from at first: installation, acceptance, or as the plan says
 */
public record Recurrence(Interval interval, Counting counting, Period before, Period after, LocalDate anchor)
        implements Timing {

    /** What the next date counts from. */
    public enum Counting {
        DUE,
        DONE
    }

    public Recurrence {
        if (before.isNegative() || after.isNegative()) {
            throw new IllegalArgumentException(
                    "a window reaches before and after its day by lengths that are not negative");
        }
        if (!(interval instanceof Interval.Months || interval instanceof Interval.Days) && counting == Counting.DUE) {
            throw new IllegalArgumentException(
                    "only calendar intervals count from the due date; this one counts from the day done");
        }
    }

    /**
     * What is due next.
     *
     * @param done days on which it was done, ascending
     * @param counter how the asset's counter ran; for running hours and operations, else without meaning
     * @return absent where a counter says nothing of when
     */
    public @Nullable Occurrence next(List<LocalDate> done, Counter counter) {
        LocalDate last = done.isEmpty() ? null : done.get(done.size() - 1);
        if (interval instanceof Interval.Between regime) {
            LocalDate from = last == null ? anchor : last;
            return new Occurrence(
                    from.plusDays(regime.from()),
                    from.plusDays((regime.from() + regime.to()) / 2),
                    from.plusDays(regime.to()));
        }
        if (interval instanceof Interval.RunningHours hours) {
            return counted(counter.reaches(last == null ? anchor : last, hours.hours()));
        }
        if (interval instanceof Interval.Operations operations) {
            return counted(counter.reaches(last == null ? anchor : last, operations.operations()));
        }
        if (counting == Counting.DONE) {
            return window(plus(last == null ? anchor : last, 1));
        }
        return window(plus(anchor, covered(done) + 1));
    }

    private @Nullable Occurrence counted(@Nullable LocalDate due) {
        return due == null ? null : window(due);
    }

    private Occurrence window(LocalDate due) {
        return new Occurrence(due.minus(before), due, due.plus(after));
    }

    /**
     * How many due dates are covered. A day covers the last one whose window has opened by then, and with it all
     * before: what is long over is not due twice. A day before any window opens covers nothing.
     */
    private int covered(List<LocalDate> done) {
        int covered = 0;
        for (LocalDate day : done) {
            while (!window(plus(anchor, covered + 1)).opens().isAfter(day)) {
                covered++;
            }
        }
        return covered;
    }

    /** The nth date after a day, always counted from that day itself: 31 Jan, 28 Feb, 31 Mar, and not 28 Mar. */
    private LocalDate plus(LocalDate day, int n) {
        return interval instanceof Interval.Months months
                ? day.plusMonths((long) n * months.months())
                : day.plusDays((long) n * ((Interval.Days) interval).days());
    }
}
