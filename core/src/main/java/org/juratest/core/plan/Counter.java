package org.juratest.core.plan;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How a counter of running hours or operations ran. One that was read lower than before was exchanged or set back: what
 * it counted before is kept.
 *
 * @param readings by day, ascending
 */
public record Counter(List<Read> readings) {

    /** A counter that nobody read. */
    public static final Counter NONE = new Counter(List.of());

    private static final int LOOKED_AHEAD_DAYS = 36_525;

    /** What it showed at the end of a day; not negative. */
    public record Read(LocalDate day, double value) {
        public Read {
            if (!(value >= 0 && value < 1e12)) {
                throw new IllegalArgumentException("a counter shows 0 or more, not " + value);
            }
        }
    }

    public Counter {
        readings = List.copyOf(readings);
        for (int i = 1; i < readings.size(); i++) {
            if (readings.get(i).day().isBefore(readings.get(i - 1).day())) {
                throw new IllegalArgumentException("readings of a counter come in the order of their days");
            }
        }
    }

    /** What it has counted from the first reading to the nth. */
    private double counted(int n) {
        double sum = 0;
        for (int i = 1; i <= n; i++) {
            double step = readings.get(i).value() - readings.get(i - 1).value();
            sum += step >= 0 ? step : readings.get(i).value();
        }
        return sum;
    }

    /**
     * What it had counted on a day, on the straight line between the readings around it, and beyond them at the pace of
     * the last year.
     */
    private double at(LocalDate day) {
        int after = 0;
        while (after < readings.size() && readings.get(after).day().isBefore(day)) {
            after++;
        }
        if (after < readings.size() && readings.get(after).day().equals(day)) {
            return counted(after);
        }
        if (after == 0 || after == readings.size()) {
            int end = after == 0 ? 0 : readings.size() - 1;
            return counted(end)
                    + pace() * ChronoUnit.DAYS.between(readings.get(end).day(), day);
        }
        double share = (double) ChronoUnit.DAYS.between(readings.get(after - 1).day(), day)
                / ChronoUnit.DAYS.between(
                        readings.get(after - 1).day(), readings.get(after).day());
        return counted(after - 1) + share * (counted(after) - counted(after - 1));
    }

    /** Counted a day, over the last year that was read, or all where it is shorter. */
    double pace() {
        int last = readings.size() - 1;
        int first = last;
        while (first > 0
                && ChronoUnit.DAYS.between(
                                readings.get(first).day(), readings.get(last).day())
                        < 365) {
            first--;
        }
        long days = last < 0
                ? 0
                : ChronoUnit.DAYS.between(
                        readings.get(first).day(), readings.get(last).day());
        return days == 0 ? 0 : (counted(last) - counted(first)) / days;
    }

    /**
     * The first day on which it has counted so much since another day.
     *
     * @return absent where it was read less than twice on different days, or would take more than a hundred years
     */
    @Nullable
    LocalDate reaches(LocalDate since, double amount) {
        if (readings.size() < 2) {
            return null;
        }
        double target = at(since) + amount;
        for (int i = 0; i < readings.size(); i++) {
            if (counted(i) >= target && !readings.get(i).day().isBefore(since)) {
                // Between two readings: the first day on the line that is there.
                LocalDate day = i == 0 || readings.get(i - 1).day().isBefore(since)
                        ? since
                        : readings.get(i - 1).day();
                while (at(day) < target) {
                    day = day.plusDays(1);
                }
                return day;
            }
        }
        LocalDate last = readings.get(readings.size() - 1).day();
        double days = Math.ceil((target - counted(readings.size() - 1)) / pace());
        return days >= 0 && days <= LOOKED_AHEAD_DAYS ? last.plusDays((long) days) : null;
    }
}
