package org.juratest.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.time.LocalDate;
import java.time.MonthDay;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.plan.DueState.Decided;
import org.juratest.core.plan.Readiness.Authorisation;
import org.juratest.core.plan.Readiness.Lack;
import org.juratest.core.plan.Readiness.Needs;
import org.juratest.core.plan.Readiness.Outage;
import org.juratest.core.plan.Readiness.There;

class ReadinessTest {

    private static final LocalDate DAY = LocalDate.parse("2026-11-25");
    private static final Season SUMMER = new Season(MonthDay.of(5, 1), MonthDay.of(10, 31));

    @Test
    void everythingThatLacksIsNamed() {
        Needs needs = new Needs(true, "mv-switching", 2, SUMMER, Map.of("pads", 2));
        List<Authorisation> held = List.of(
                new Authorisation("a", "mv-switching", DAY.minusYears(3), DAY.minusDays(1)),
                new Authorisation("b", "mv-switching", DAY.minusYears(1), DAY));
        There alone = new There(Outage.REFUSED, List.of("a"), held, Map.of("pads", 1));
        assertEquals(
                List.of(
                        new Lack.OutageLacks(Outage.REFUSED),
                        new Lack.AuthorisationLacks("mv-switching", "a", DAY.minusDays(1)),
                        new Lack.PeopleLack(2, 1),
                        new Lack.OutOfSeason(SUMMER),
                        new Lack.PartsLack("pads", 2, 1)),
                Readiness.lacks(needs, alone, DAY));
        There both = new There(Outage.GRANTED, List.of("a", "b"), held, Map.of("pads", 2));
        assertEquals(
                List.of(),
                Readiness.lacks(needs, both, LocalDate.parse("2026-10-31")),
                "the other one's authorisation holds, and lasts through its day");
        assertEquals(
                List.of(new Lack.AuthorisationLacks("mv-switching", null, null)),
                Readiness.lacks(
                        new Needs(false, "mv-switching", 1, null, Map.of()),
                        new There(Outage.NOT_ASKED, List.of(), held, Map.of()),
                        DAY.plusDays(1)),
                "while nobody is chosen, anybody would do");
        assertThrows(IllegalArgumentException.class, () -> new Needs(false, null, 0, null, Map.of()));
    }

    @ParameterizedTest
    @CsvSource({
        "--05-01, --10-31, 2026-05-01, true",
        "--05-01, --10-31, 2026-10-31, true",
        "--05-01, --10-31, 2026-11-01, false",
        "--11-15, --02-29, 2026-12-31, true",
        "--11-15, --02-29, 2027-02-28, true",
        "--11-15, --02-29, 2027-03-01, false",
        "--11-15, --02-29, 2026-11-14, false"
    })
    void seasonsMayReachOverTheNewYear(String from, String to, LocalDate day, boolean holds) {
        assertEquals(holds, new Season(MonthDay.parse(from), MonthDay.parse(to)).holds(day));
    }

    @ParameterizedTest
    @CsvSource({
        "2026-11-01, , false, NOT_YET",
        "2026-11-25, , false, IN_WINDOW",
        "2026-12-01, , false, DUE",
        "2026-12-07, , false, OVERDUE",
        "2026-12-07, 2026-12-07, false, DEFERRED",
        "2026-12-08, 2026-12-07, false, OVERDUE",
        "2026-12-07, 2026-12-20, true, CANNOT",
        "2026-11-01, , true, CANNOT"
    })
    void whatPeopleDecidedComesBeforeTheCalendar(
            LocalDate day, LocalDate deferredTo, boolean cannot, DueState expected) {
        Occurrence occurrence = new Occurrence(
                LocalDate.parse("2026-11-20"), LocalDate.parse("2026-12-01"), LocalDate.parse("2026-12-06"));
        assertEquals(expected, DueState.of(occurrence, new Decided(deferredTo, cannot), day));
    }

    @Test
    void aDayAlongTheLine() {
        DayRoute route = new DayRoute(0, 20, 5, 480);
        DayRoute.Timetable day =
                route.of(List.of(new DayRoute.Stop(5, 60), new DayRoute.Stop(10, 30), new DayRoute.Stop(10, 15)));
        assertEquals(
                List.of(
                        new DayRoute.Timed(20, 500, 560),
                        new DayRoute.Timed(20, 580, 610),
                        new DayRoute.Timed(0, 610, 625)),
                day.stops(),
                "a leg of 5 km takes 15 min and 5 for boarding");
        assertEquals(List.of(105.0, 75.0, 660.0), List.of(day.work(), day.travel(), day.back()));
        assertEquals(5, route.detour(List.of(10.0), 5), "on the way only boarding is added");
        assertEquals(
                17, route.detour(List.of(5.0, 10.0), 12), 1e-9, "beyond the end both ways, and boarding once more");
        assertEquals(0, route.detour(List.of(10.0), 10), "the same place adds nothing");
    }
}
