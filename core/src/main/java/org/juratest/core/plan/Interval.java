package org.juratest.core.plan;

/** How often something is due. */
public sealed interface Interval {

    /** Calendar months, at least 1. */
    record Months(int months) implements Interval {
        public Months {
            positive(months, "months");
        }
    }

    /** Days, at least 1. */
    record Days(int days) implements Interval {
        public Days {
            positive(days, "days");
        }
    }

    /** Hours run, h, above 0. */
    record RunningHours(double hours) implements Interval {
        public RunningHours {
            positive(hours, "hours");
        }
    }

    /** Operations counted, at least 1. */
    record Operations(long operations) implements Interval {
        public Operations {
            positive(operations, "operations");
        }
    }

    /**
     * A regime that gives the window itself, counted from the last time: "monthly" as 20 to 40 days after it.
     *
     * @param from first day, at least 1
     * @param to last day, not before the first
     */
    record Between(int from, int to) implements Interval {
        public Between {
            positive(from, "days");
            if (to < from) {
                throw new IllegalArgumentException("the last day, " + to + ", is before the first, " + from);
            }
        }
    }

    private static void positive(double value, String what) {
        if (!(value > 0 && value < 1e9)) {
            throw new IllegalArgumentException("an interval needs " + what + " above 0, not " + value);
        }
    }
}
