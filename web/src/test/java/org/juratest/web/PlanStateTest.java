package org.juratest.web;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.time.temporal.TemporalAdjusters;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Days, weeks and windows as the plan's pages reckon with them. */
class PlanStateTest {

    private static Page page;

    @BeforeAll
    static void open() throws Exception {
        page = new Page();
    }

    @AfterAll
    static void close() {
        page.close();
    }

    private static String quoted(Object text) {
        return "'" + text + "'";
    }

    /** Whatever the zone of the browser, and over leap days and the changes to and from summer time. */
    @Test
    void daysAreReckonedAsTheCalendarDoes() {
        Random random = new Random(3);
        for (int i = 0; i < 200; i++) {
            LocalDate day = LocalDate.of(2019, 1, 1).plusDays(random.nextInt(6000));
            int days = random.nextInt(800) - 400;
            assertEquals(
                    day.plusDays(days).toString(),
                    page.call("addDays", quoted(day), String.valueOf(days)).asString());
            assertEquals(
                    ChronoUnit.DAYS.between(day, day.plusDays(days)),
                    page.call("daysBetween", quoted(day), quoted(day.plusDays(days)))
                            .asLong());
            assertEquals(
                    day.with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY)).toString(),
                    page.call("mondayOf", quoted(day)).asString());
        }
    }

    /** Typed on Friday 27 November 2026. */
    @ParameterizedTest
    @CsvSource({
        "2.12., 2026-12-02",
        "02/12, 2026-12-02",
        "2.12.2027, 2027-12-02",
        "2.12.28, 2028-12-02",
        "2 dec, 2026-12-02",
        "2 December 2026, 2026-12-02",
        "'Dec 2, 2026', 2026-12-02",
        "9 sept, 2026-09-09",
        "27.11., 2026-11-27",
        "1.9., 2026-09-01",
        // Longer back than three months: next year's.
        "1.8., 2027-08-01",
        "29.2., 2028-02-29",
        "29.2.2027, ",
        "31.4., ",
        "2 dezember, ",
        "2 decimal, ",
        "+3 w, 2026-12-18",
        "+3w, 2026-12-18",
        "+10, 2026-12-07",
        "-2 d, 2026-11-25",
        "+3 m, 2027-02-27",
        "+1 year, 2027-11-27",
        "today, 2026-11-27",
        "Tomorrow, 2026-11-28",
        "mon, 2026-11-30",
        "friday, 2026-12-04",
        "2027-1-5, 2027-01-05",
        "2, ",
        "soon, ",
        "'', "
    })
    void aDayIsTypedAsPeopleWriteIt(String text, String day) {
        JsonNode typed = page.call("typedDay", quoted(text), quoted("2026-11-27"));
        assertEquals(day == null ? "" : day, typed.asString(""), text);
    }

    /** A record of "1.8." is this year's, and the last leap day is gone. */
    @ParameterizedTest
    @CsvSource({"1.8., 2026-08-01", "29.2., 2024-02-29", "2 dec, 2026-12-02", "2.3., 2026-03-02", "mon, 2026-11-23"})
    void aDayThatIsGoneIsMeantWhereOneLooksBack(String text, String day) {
        assertEquals(
                day,
                page.call("typedDay", quoted(text), quoted("2026-11-27"), "true")
                        .asString(""),
                text);
    }

    @ParameterizedTest
    @CsvSource({
        "8, 08:00",
        "805, 08:05",
        "0805, 08:05",
        "8:05, 08:05",
        "8.05, 08:05",
        "17 h 30, 17:30",
        "23:59, 23:59",
        "24:00, ",
        "8:60, ",
        "8:5, ",
        "noon, "
    })
    void aTimeIsTypedAsPeopleWriteIt(String text, String time) {
        assertEquals(
                time == null ? "" : time, page.call("typedClock", quoted(text)).asString(""), text);
    }

    /** From the 31st on, months end where they end. */
    @Test
    void monthsOnEndWhereTheMonthEnds() {
        assertEquals(
                "2027-02-28",
                page.call("typedDay", quoted("+3 m"), quoted("2026-11-30")).asString());
        assertEquals(
                "2028-02-29",
                page.call("typedDay", quoted("+1 m"), quoted("2028-01-31")).asString());
        assertEquals(
                "2026-09-30",
                page.call("typedDay", quoted("-1 m"), quoted("2026-10-31")).asString());
    }

    @ParameterizedTest
    @CsvSource({
        "2026-12-01, , 2026-11-24, past",
        "2026-12-01, , 2026-11-25, before",
        "2026-12-01, , 2026-11-30, before",
        "2026-12-01, , 2026-12-01, ''",
        "2026-12-01, , 2026-12-31, ''",
        "2026-12-01, , 2027-01-01, after",
        // A deferral lengthens it; what is over already may be done on any day from today on.
        "2026-12-01, 2027-01-10, 2027-01-10, ''",
        "2026-12-01, 2027-01-10, 2027-01-11, after",
        "2026-12-01, 2026-12-05, 2026-12-31, ''",
        "2026-10-01, , 2027-03-01, ''"
    })
    void aDayIsInsideAWindowOrTheReasonIsKnown(LocalDate opens, LocalDate deferred, LocalDate to, String why) {
        LocalDate closes =
                opens.equals(LocalDate.of(2026, 10, 1)) ? LocalDate.of(2026, 11, 1) : LocalDate.of(2026, 12, 31);
        String window = "{'opens':'" + opens + "','due':'" + opens + "','closes':'" + closes + "'"
                + (deferred == null ? "" : ",'deferredTo':'" + deferred + "'") + "}";
        assertEquals(
                why,
                page.call("outside", window, quoted(to), quoted("2026-11-25")).asString(""));
        String nearest = page.call("nearestInside", window, quoted(to), quoted("2026-11-25"))
                .asString();
        assertTrue(
                page.call("outside", window, quoted(nearest), quoted("2026-11-25"))
                        .isNull(),
                nearest + " is nearest inside");
        if (why.isEmpty()) {
            assertEquals(to.toString(), nearest, "what is inside stays");
        }
    }

    @ParameterizedTest
    @CsvSource({"0, 0 min", "59.4, 59 min", "59.6, 1 h", "60, 1 h", "65, 1 h 05", "422, 7 h 02", "1439, 23 h 59"})
    void minutesAsPeopleSayThem(double minutes, String words) {
        assertEquals(words, page.call("hours", String.valueOf(minutes)).asString());
    }

    @ParameterizedTest
    @CsvSource({"00:00, 0", "8:05, 485", "08:05, 485", "23:59, 1439"})
    void aClockIsReadAndShown(String clock, int minute) {
        assertEquals(minute, page.call("minuteOf", quoted(clock)).asInt());
        assertEquals(
                clock.length() == 4 ? "0" + clock : clock,
                page.call("clockOf", String.valueOf(minute)).asString());
    }

    @ParameterizedTest
    @CsvSource({"24:00", "8", "8:5", "noon", "''", "-1:00"})
    void whatIsNoClockIsNotRead(String clock) {
        assertTrue(page.call("minuteOf", quoted(clock)).isNull());
    }

    @ParameterizedTest
    @CsvSource({
        "0, 1, b a c d",
        "3, -1, a b d c",
        "1, 2, a c d b",
        "0, -1, a b c d",
        "3, 1, a b c d",
        "-1, 1, a b c d",
        "9, -1, a b c d"
    })
    void theOrderOfADayLosesNothing(int at, int by, String order) {
        List<String> moved = page.call("moved", "['a','b','c','d']", String.valueOf(at), String.valueOf(by))
                .valueStream()
                .map(JsonNode::asString)
                .toList();
        assertEquals(order, String.join(" ", moved));
    }

    @ParameterizedTest
    @CsvSource({"P14D, 14 days", "P1D, 1 day", "P1M, 1 month", "P1Y2M3D, 1 year 2 months 3 days", "P0D, none", "P, none"
    })
    void windowsInWords(String period, String words) {
        assertEquals(words, page.call("periodWords", quoted(period)).asString());
    }
}
