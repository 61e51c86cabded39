package org.juratest.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.LocalDate;
import java.time.Period;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.plan.Forecast.Applied;
import org.juratest.core.plan.Forecast.Due;
import org.juratest.core.plan.Recurrence.Counting;

class ForecastTest {

    private static final LocalDate TODAY = LocalDate.parse("2026-11-25");
    private static final Coverage YEAR_HAS_MONTH = new Coverage(Map.of("YEAR", Set.of("MONTH")));

    private static List<LocalDate> days(String text) {
        return text == null
                ? List.of()
                : Arrays.stream(text.split(" ")).map(LocalDate::parse).toList();
    }

    private static Applied every(long plan, String procedure, int months, Counting counting, String anchor) {
        return new Applied(
                plan,
                procedure,
                new Recurrence(
                        new Interval.Months(months),
                        counting,
                        Period.ofDays(10),
                        Period.ofDays(5),
                        LocalDate.parse(anchor)),
                LocalDate.parse("2020-01-01"));
    }

    private static Forecast.Past past(Map<String, List<LocalDate>> done) {
        return new Forecast.Past(done, Map.of(), Counter.NONE, List.of());
    }

    private static String dues(List<Occurrence> occurrences) {
        return occurrences.stream().map(o -> o.due().toString()).collect(Collectors.joining(" "));
    }

    @ParameterizedTest
    @CsvSource({
        // What is open is taken as done on its day, or today.
        "1, DUE, 2026-01-31, 2026-10-31, '', 2026-11-30 2026-12-31 2027-01-31 2027-02-28",
        "1, DONE, 2026-01-31, 2026-10-31, '', 2026-11-30 2026-12-30 2027-01-30 2027-02-28",
        "3, DONE, 2026-01-31, 2026-07-15, '', 2026-10-15 2027-02-25",
        // Over, and the next may be done by now: the older one is given up, and not due twice.
        "1, DUE, 2026-01-20, 2026-08-20, 2026-09-20 2026-10-20, 2026-11-20 2026-12-20 2027-01-20 2027-02-20",
        "12, DUE, 2024-11-10, 2025-11-10, '', 2026-11-10",
        "12, DUE, 2024-12-01, , 2025-12-01, 2026-12-01",
        // From the day done, the next does not come before it.
        "1, DONE, 2026-01-20, 2026-08-20, '', 2026-09-20 2026-12-25 2027-01-25 2027-02-25"
    })
    void looksAhead(int months, Counting counting, String anchor, String done, String missed, String open) {
        Due due = new Forecast(new Coverage(Map.of()), TODAY, LocalDate.parse("2027-02-28"))
                .of(List.of(every(1, "P", months, counting, anchor)), past(Map.of("P", days(done))))
                .get(0);
        assertEquals(missed, dues(due.missed()));
        assertEquals(open, dues(due.open()));
    }

    @Test
    void aLongerProcedureStandsForTheShorterOnes() {
        List<Due> due = new Forecast(YEAR_HAS_MONTH, TODAY, LocalDate.parse("2027-02-28"))
                .of(
                        List.of(
                                every(1, "MONTH", 1, Counting.DUE, "2026-01-15"),
                                every(2, "YEAR", 12, Counting.DUE, "2025-12-18")),
                        past(Map.of("MONTH", days("2026-11-15"))));
        assertEquals(
                List.of("2026-12-18", "2027-01-15 2027-02-15"),
                due.stream().map(d -> dues(d.open())).toList(),
                "the December test is the yearly one");
        // Counting from the day done, the yearly test sets the month anew.
        List<Due> anew = new Forecast(YEAR_HAS_MONTH, TODAY, LocalDate.parse("2027-02-28"))
                .of(
                        List.of(
                                every(1, "MONTH", 1, Counting.DONE, "2026-01-15"),
                                every(2, "YEAR", 12, Counting.DUE, "2025-12-05")),
                        past(Map.of("MONTH", days("2026-11-15"))));
        assertEquals(
                List.of("2026-12-05", "2027-01-05 2027-02-05"),
                anew.stream().map(d -> dues(d.open())).toList());
    }

    @Test
    void whatHappenedAsksForOneTestHoweverOften() {
        Applied exchange = new Applied(
                1,
                "YEAR",
                new Once(Occasion.EXCHANGE, Period.ofDays(14), Period.ofDays(7)),
                LocalDate.parse("2026-01-01"));
        Applied month = every(2, "MONTH", 1, Counting.DUE, "2026-01-30");
        List<Happening> happened = List.of(
                new Happening(Occasion.EXCHANGE, TODAY.minusDays(3)),
                new Happening(Occasion.EXCHANGE, TODAY.minusDays(40)),
                new Happening(Occasion.REPAIR, TODAY));
        Forecast forecast = new Forecast(YEAR_HAS_MONTH, TODAY, LocalDate.parse("2026-12-31"));
        List<Due> due = forecast.of(
                List.of(month, exchange),
                new Forecast.Past(Map.of("MONTH", days("2026-10-30")), Map.of(), Counter.NONE, happened));
        assertEquals(
                List.of("2026-12-06", "2026-11-30 2026-12-30"),
                due.stream().map(d -> dues(d.open())).toList(),
                "the test after the exchange is not in the window of 30 Nov; it is open besides");
        assertEquals(
                List.of(),
                forecast.of(
                                List.of(exchange),
                                new Forecast.Past(
                                        Map.of("YEAR", List.of(TODAY.minusDays(3))), Map.of(), Counter.NONE, happened))
                        .get(0)
                        .open(),
                "done on that day");
        assertEquals(
                List.of(),
                forecast.of(
                                List.of(exchange),
                                new Forecast.Past(
                                        Map.of(),
                                        Map.of(),
                                        Counter.NONE,
                                        List.of(new Happening(Occasion.EXCHANGE, LocalDate.parse("2025-12-31")))))
                        .get(0)
                        .open(),
                "before the plan began");
    }

    @Test
    void aPlanAsksForNothingBeforeItStarts() {
        Applied due = new Applied(
                1,
                "P",
                new Recurrence(
                        new Interval.Months(1),
                        Counting.DUE,
                        Period.ofDays(5),
                        Period.ofDays(5),
                        LocalDate.parse("2018-01-10")),
                TODAY);
        Applied done = new Applied(
                2,
                "Q",
                new Recurrence(
                        new Interval.Months(12),
                        Counting.DONE,
                        Period.ofDays(5),
                        Period.ofDays(5),
                        LocalDate.parse("2018-01-10")),
                TODAY);
        List<Due> all = new Forecast(new Coverage(Map.of()), TODAY, LocalDate.parse("2027-01-15"))
                .of(List.of(due, done), past(Map.of()));
        assertEquals(
                List.of("2026-12-10 2027-01-10", "2026-11-25"),
                all.stream().map(d -> dues(d.open())).toList());
        assertTrue(all.stream().allMatch(d -> d.missed().isEmpty()));
    }

    @Test
    void runningHoursAreLookedAheadAtTheirPace() {
        Counter counter =
                new Counter(List.of(new Counter.Read(TODAY.minusDays(100), 500), new Counter.Read(TODAY, 700)));
        Applied service = new Applied(
                1,
                "P",
                new Recurrence(
                        new Interval.RunningHours(250),
                        Counting.DONE,
                        Period.ofDays(20),
                        Period.ofDays(10),
                        LocalDate.parse("2020-01-01")),
                LocalDate.parse("2020-01-01"));
        Due due = new Forecast(new Coverage(Map.of()), TODAY, TODAY.plusDays(200))
                .of(
                        List.of(service),
                        new Forecast.Past(Map.of("P", List.of(TODAY.minusDays(50))), Map.of(), counter, List.of()))
                .get(0);
        assertEquals(
                TODAY.plusDays(75) + " " + TODAY.plusDays(200),
                dues(due.open()),
                "2 h a day: 100 h are run, 150 to go, then 250");
    }

    /**
     * Whatever was done when: open ones ascend without meeting, none is both missed and open, and doing the first on
     * its day leaves the rest as foretold.
     */
    @Test
    void doingWhatIsForetoldChangesNothingThatFollows() {
        Random random = new Random(6);
        for (int i = 0; i < 500; i++) {
            Counting counting = random.nextBoolean() ? Counting.DUE : Counting.DONE;
            Applied plan = every(
                    1,
                    "P",
                    1 + random.nextInt(6),
                    counting,
                    LocalDate.parse("2024-01-31").plusDays(random.nextInt(400)).toString());
            List<LocalDate> done = new ArrayList<>(random.ints(random.nextInt(8), 0, 600)
                    .mapToObj(d -> TODAY.minusDays(1 + d))
                    .sorted()
                    .distinct()
                    .toList());
            Forecast forecast = new Forecast(new Coverage(Map.of()), TODAY, TODAY.plusDays(400));
            Due due = forecast.of(List.of(plan), past(Map.of("P", done))).get(0);
            assertFalse(due.open().isEmpty());
            assertEquals(
                    due.open().stream()
                            .sorted(Comparator.comparing(Occurrence::due))
                            .distinct()
                            .toList(),
                    due.open());
            assertTrue(due.missed().stream()
                    .allMatch(m -> m.closes().isBefore(TODAY)
                            && m.due().isBefore(due.open().get(0).due())));
            LocalDate on = due.open().get(0).due().isBefore(TODAY)
                    ? TODAY
                    : due.open().get(0).due();
            done.add(on);
            Due then = new Forecast(new Coverage(Map.of()), on, TODAY.plusDays(400))
                    .of(
                            List.of(plan),
                            new Forecast.Past(
                                    Map.of("P", done),
                                    Map.of(
                                            1L,
                                            due.missed().stream()
                                                    .map(Occurrence::due)
                                                    .toList()),
                                    Counter.NONE,
                                    List.of()))
                    .get(0);
            assertEquals(due.open().subList(1, due.open().size()), then.open(), () -> plan + " " + done);
        }
    }

    /** Nothing is due twice: in no window of a shorter procedure lies the day of a longer one that contains it. */
    @Test
    void noWindowHoldsTheDayOfALongerProcedure() {
        Coverage nested = new Coverage(Map.of("YEAR", Set.of("QUARTER"), "QUARTER", Set.of("MONTH")));
        List<String> longer = List.of("MONTH", "QUARTER", "YEAR");
        Random random = new Random(11);
        for (int i = 0; i < 300; i++) {
            List<Applied> plans = new ArrayList<>();
            for (int p = 0; p < 3; p++) {
                plans.add(every(
                        p,
                        longer.get(p),
                        List.of(1, 3, 12).get(p),
                        random.nextBoolean() ? Counting.DUE : Counting.DONE,
                        TODAY.minusDays(400 + random.nextInt(300)).toString()));
            }
            Map<String, List<LocalDate>> done = Map.of(
                    "MONTH",
                    List.of(TODAY.minusDays(random.nextInt(80))),
                    "YEAR",
                    List.of(TODAY.minusDays(random.nextInt(420))));
            Map<Long, List<Occurrence>> open = new Forecast(nested, TODAY, TODAY.plusDays(380))
                    .of(plans, past(done)).stream().collect(Collectors.toMap(Due::plan, Due::open));
            for (int shorter = 0; shorter < 3; shorter++) {
                for (Occurrence o : open.get((long) shorter)) {
                    for (int p = shorter + 1; p < 3; p++) {
                        assertTrue(
                                open.get((long) p).stream()
                                        .map(l -> l.due().isBefore(TODAY) ? TODAY : l.due())
                                        .noneMatch(o::holds),
                                o + " of " + longer.get(shorter) + " beside " + open);
                    }
                }
            }
        }
    }

    @Test
    void anExtraTestStandsForTheIntervalsOwnWhereItFallsIntoItsWindow() {
        Applied exchange = new Applied(
                1,
                "P",
                new Once(Occasion.EXCHANGE, Period.ofDays(14), Period.ofDays(7)),
                LocalDate.parse("2026-01-01"));
        Applied yearly = every(2, "P", 12, Counting.DUE, "2023-12-12");
        List<Due> due = new Forecast(new Coverage(Map.of()), TODAY, TODAY.plusDays(400))
                .of(
                        List.of(yearly, exchange),
                        new Forecast.Past(
                                Map.of("P", days("2025-12-10")),
                                Map.of(),
                                Counter.NONE,
                                List.of(new Happening(Occasion.EXCHANGE, TODAY.minusDays(2)))));
        assertEquals(
                List.of("2026-12-07", "2027-12-12"),
                due.stream().map(d -> dues(d.open())).toList());
    }
}
