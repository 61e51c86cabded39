package org.juratest.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.time.LocalDate;
import java.time.Period;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.plan.Recurrence.Counting;

class PlanTest {

    private static List<LocalDate> days(String text) {
        return text == null
                ? List.of()
                : Arrays.stream(text.split(" ")).map(LocalDate::parse).toList();
    }

    private static Recurrence months(int months, Counting counting, String anchor) {
        return new Recurrence(
                new Interval.Months(months), counting, Period.ofDays(10), Period.ofDays(5), LocalDate.parse(anchor));
    }

    @ParameterizedTest
    @CsvSource({
        // Month ends and leap days: always from the anchor day, never from a clipped one.
        "1, DUE, 2026-01-31, , 2026-02-28", "1, DUE, 2026-01-31, 2026-02-28, 2026-03-31",
                "1, DUE, 2026-01-31, 2026-02-27 2026-03-30, 2026-04-30", "1, DUE, 2028-01-31, , 2028-02-29",
        "12, DUE, 2024-02-29, , 2025-02-28", "12, DUE, 2024-02-29, 2025-02-28 2026-02-28 2027-02-28, 2028-02-29",
                "6, DUE, 2025-08-31, , 2026-02-28", "12, DUE, 2025-11-20, 2026-11-18, 2027-11-20",
        // Early within the window counts for its date, before it for none; late ones are not due twice.
        "1, DUE, 2026-01-15, 2026-02-05, 2026-03-15", "1, DUE, 2026-01-15, 2026-02-04, 2026-02-15",
                "1, DUE, 2026-01-15, 2026-05-20, 2026-06-15", "1, DUE, 2026-01-15, 2026-02-15 2026-02-16, 2026-03-15",
        // From the day done.
        "1, DONE, 2026-01-31, , 2026-02-28", "1, DONE, 2026-01-15, 2026-02-20, 2026-03-20",
                "12, DONE, 2025-11-20, 2026-12-24, 2027-12-24", "1, DONE, 2026-01-15, 2026-01-31, 2026-02-28"
    })
    void calendarIntervals(int months, Counting counting, String anchor, String done, LocalDate due) {
        Occurrence next =
                Objects.requireNonNull(months(months, counting, anchor).next(days(done), Counter.NONE));
        assertEquals(due, next.due());
        assertEquals(List.of(due.minusDays(10), due.plusDays(5)), List.of(next.opens(), next.closes()));
    }

    @Test
    void theDayIsTheSitesWhereverTheServerStands() {
        // 23:30 UTC on the 31st is the 1st in the valley; in summer as in winter a day is a day, however many hours it
        // has.
        LocalDate done = LocalDate.ofInstant(Instant.parse("2026-03-28T23:30:00Z"), ZoneId.of("CET"));
        Recurrence daily = new Recurrence(
                new Interval.Days(1), Counting.DONE, Period.ZERO, Period.ZERO, LocalDate.parse("2026-03-01"));
        assertEquals(
                LocalDate.parse("2026-03-30"),
                Objects.requireNonNull(daily.next(List.of(done), Counter.NONE)).due());
        Recurrence weeks = new Recurrence(
                new Interval.Days(14), Counting.DUE, Period.ofDays(3), Period.ofDays(3), LocalDate.parse("2026-10-12"));
        assertEquals(
                LocalDate.parse("2026-11-09"),
                Objects.requireNonNull(weeks.next(List.of(LocalDate.parse("2026-10-24")), Counter.NONE))
                        .due());
    }

    @Test
    void aRegimeGivesItsWindowItself() {
        Recurrence monthly = new Recurrence(
                new Interval.Between(20, 40), Counting.DONE, Period.ZERO, Period.ZERO, LocalDate.parse("2026-01-01"));
        assertEquals(
                new Occurrence(
                        LocalDate.parse("2026-01-21"), LocalDate.parse("2026-01-31"), LocalDate.parse("2026-02-10")),
                monthly.next(List.of(), Counter.NONE));
        assertEquals(
                LocalDate.parse("2026-03-12"),
                Objects.requireNonNull(monthly.next(days("2026-01-31"), Counter.NONE))
                        .closes());
        assertThrows(
                IllegalArgumentException.class,
                () -> new Recurrence(
                        new Interval.Between(20, 40), Counting.DUE, Period.ZERO, Period.ZERO, LocalDate.EPOCH));
        assertThrows(IllegalArgumentException.class, () -> new Interval.Between(40, 20));
        assertThrows(IllegalArgumentException.class, () -> new Interval.RunningHours(Double.NaN));
    }

    @ParameterizedTest
    @CsvSource({
        "2026-02-04, NOT_YET, 0",
        "2026-02-05, IN_WINDOW, 0",
        "2026-02-14, IN_WINDOW, 0",
        "2026-02-15, DUE, 0",
        "2026-02-20, DUE, 0",
        "2026-02-21, OVERDUE, 6",
        "2027-02-15, OVERDUE, 365"
    })
    void stateOfADay(LocalDate day, Occurrence.State state, long over) {
        Occurrence occurrence = new Occurrence(
                LocalDate.parse("2026-02-05"), LocalDate.parse("2026-02-15"), LocalDate.parse("2026-02-20"));
        assertEquals(state, occurrence.on(day));
        assertEquals(over, occurrence.overdue(day));
        assertEquals(state == Occurrence.State.IN_WINDOW || state == Occurrence.State.DUE, occurrence.holds(day));
    }

    private static Counter counter(String... readings) {
        List<Counter.Read> all = new ArrayList<>();
        for (String reading : readings) {
            String[] parts = reading.split(" ");
            all.add(new Counter.Read(LocalDate.parse(parts[0]), Double.parseDouble(parts[1])));
        }
        return new Counter(all);
    }

    private static LocalDate hours(double interval, String done, Counter counter) {
        Recurrence recurrence = new Recurrence(
                new Interval.RunningHours(interval),
                Counting.DONE,
                Period.ZERO,
                Period.ofDays(7),
                LocalDate.parse("2026-01-01"));
        Occurrence next = recurrence.next(days(done), counter);
        return next == null ? null : next.due();
    }

    @Test
    void runningHoursAreDueWhenTheCounterGetsThere() {
        // 2 h a day: 100 h are there on the 50th day; 90 of them are left after the last reading.
        Counter steady = counter("2026-01-01 1000", "2026-01-11 1020", "2026-01-21 1040");
        assertEquals(LocalDate.parse("2026-02-20"), hours(100, null, steady));
        assertEquals(LocalDate.parse("2026-03-02"), hours(100, "2026-01-11", steady));
        // Already there, between two readings.
        assertEquals(LocalDate.parse("2026-01-16"), hours(30, null, steady));
        // Exchanged between the readings: what it had counted stays counted.
        assertEquals(
                LocalDate.parse("2026-02-20"),
                hours(100, null, counter("2026-01-01 1000", "2026-01-11 1020", "2026-01-21 20")));
        // Says nothing: not read, read once, standing still.
        assertNull(hours(100, null, Counter.NONE));
        assertNull(hours(100, null, counter("2026-01-01 5")));
        assertNull(hours(100, null, counter("2026-01-01 5", "2026-06-01 5")));
        assertThrows(IllegalArgumentException.class, () -> counter("2026-01-01 5", "2025-01-01 6"));
        assertThrows(IllegalArgumentException.class, () -> counter("2026-01-01 NaN"));
    }

    @Test
    void thePaceIsThatOfTheLastYear() {
        Counter slowed = counter("2022-01-01 0", "2025-01-01 30000", "2026-01-01 30365");
        assertEquals(1, slowed.pace(), 1e-9);
        assertEquals(LocalDate.parse("2026-04-11"), hours(100, null, slowed));
    }

    @Test
    void operationsCountTheSameWay() {
        Recurrence recurrence = new Recurrence(
                new Interval.Operations(500),
                Counting.DONE,
                Period.ofDays(30),
                Period.ZERO,
                LocalDate.parse("2026-01-01"));
        Occurrence next = Objects.requireNonNull(recurrence.next(List.of(), counter("2026-01-01 0", "2026-01-11 100")));
        assertEquals(
                List.of("2026-01-21", "2026-02-20", "2026-02-20"),
                List.of(
                        next.opens().toString(),
                        next.due().toString(),
                        next.closes().toString()));
    }

    @Test
    void aLongerProcedureCoversTheShorterThatItContains() {
        Coverage coverage = new Coverage(Map.of("ANNUAL", Set.of("QUARTERLY"), "QUARTERLY", Set.of("MONTHLY")));
        assertEquals(Set.of("QUARTERLY", "MONTHLY"), coverage.within("ANNUAL"));
        Coverage.Planned annual = new Coverage.Planned("ANNUAL", around("2026-11-20"));
        Coverage.Planned monthly = new Coverage.Planned("MONTHLY", around("2026-11-25"));
        Coverage.Planned later = new Coverage.Planned("MONTHLY", around("2026-12-25"));
        Coverage.Planned other = new Coverage.Planned("THERMAL", around("2026-11-20"));
        assertEquals(List.of(annual, later, other), coverage.todo(List.of(annual, monthly, later, other)));
        // Done once, done for all that it contains.
        assertEquals(
                days("2026-10-01 2026-11-20"),
                coverage.done(
                        "MONTHLY",
                        Map.of(
                                "ANNUAL",
                                days("2026-11-20"),
                                "MONTHLY",
                                days("2026-10-01"),
                                "THERMAL",
                                days("2026-11-21"))));
        assertEquals(
                days("2026-11-20"),
                coverage.done("ANNUAL", Map.of("ANNUAL", days("2026-11-20"), "MONTHLY", days("2026-10-01"))));
        assertThrows(IllegalArgumentException.class, () -> new Coverage(Map.of("A", Set.of("B"), "B", Set.of("A"))));
    }

    private static Occurrence around(String due) {
        LocalDate day = LocalDate.parse(due);
        return new Occurrence(day.minusDays(10), day, day.plusDays(5));
    }

    /**
     * Whatever was done when: the next window never opened before the last time done in time, and what is done in each
     * window leaves one date for each.
     */
    @Test
    void nothingIsDueTwice() {
        Random random = new Random(6);
        for (int i = 0; i < 2000; i++) {
            Interval interval = random.nextBoolean()
                    ? new Interval.Months(1 + random.nextInt(24))
                    : new Interval.Days(20 + random.nextInt(400));
            Recurrence recurrence = new Recurrence(
                    interval,
                    Counting.DUE,
                    Period.ofDays(random.nextInt(10)),
                    Period.ofDays(random.nextInt(10)),
                    LocalDate.of(2020, 1, 1).plusDays(random.nextInt(800)));
            List<LocalDate> done = new ArrayList<>();
            LocalDate before = LocalDate.MIN;
            for (int n = 0; n < 8; n++) {
                Occurrence next = Objects.requireNonNull(recurrence.next(done, Counter.NONE));
                assertTrue(next.due().isAfter(before), next + " after " + before);
                assertTrue(
                        done.isEmpty() || next.opens().isAfter(done.get(done.size() - 1)),
                        next + " was open on " + done);
                before = next.due();
                done.add(next.opens().plusDays(random.nextInt(30)));
            }
        }
    }
}
