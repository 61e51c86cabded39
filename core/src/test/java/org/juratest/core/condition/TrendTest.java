package org.juratest.core.condition;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A test point over time: cuts, the gate, forecasts and their words. */
class TrendTest {

    private static double year(String day) {
        return LocalDate.parse(day).toEpochDay() / 365.25;
    }

    private static Trend.Visit visit(double years, double value, @Nullable Double high, boolean cut) {
        return new Trend.Visit(new Timed(years, value), null, high, 0, cut);
    }

    /** Yearly from 2020 on, against an upper limit. */
    private static Trend yearly(@Nullable Double high, double... values) {
        List<Trend.Visit> visits = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            visits.add(visit(50 + i, values[i], high, false));
        }
        return Trend.of(visits);
    }

    private static String words(Trend trend, double today) {
        return TrendWords.of(trend, today);
    }

    @Test
    void tooFewReadingsAreToldAndForecastNothing() {
        assertEquals("no readings", words(Trend.of(List.of()), 50));
        assertNull(Trend.of(List.of()).last());
        assertEquals("1 reading, too few for a forecast: it takes 4", words(yearly(20.0, 10), 50));
        Trend three = yearly(20.0, 10, 11, 12);
        assertEquals("3 readings, too few for a forecast: it takes 4", words(three, 52));
        assertEquals(1, three.last().monotony().slope().orElseThrow(), 1e-12, "what there is is told all the same");
        assertTrue(three.last().crossing().isEmpty());
    }

    @Test
    void fourThatRiseAreTheFewestWithAForecast() {
        Trend four = yearly(20.0, 10, 11.1, 11.9, 13);
        assertEquals(2 / 24.0, four.last().monotony().p(), 1e-12);
        assertTrue(four.last().drifts());
        assertEquals(Trend.Method.FIELLER, four.last().method());
        assertEquals(60.1, four.last().crossing().orElseThrow(), 0.1);
        assertFalse(yearly(20.0, 10, 11.1, 11.1, 13).last().drifts(), "a tie is enough not to know");
    }

    @Test
    void allEqualOrUpAndDownIsNoDrift() {
        assertEquals("no drift found", words(yearly(20.0, 10, 10, 10, 10, 10), 54));
        assertEquals("no drift found", words(yearly(20.0, 10, 12, 9, 13, 10), 54));
    }

    @Test
    void oneWildValueLeavesTheForecastToTheRest() {
        Trend wild = yearly(30.0, 10, 11, 12, 13, 28, 15, 16, 17);
        assertEquals(Trend.Method.BOOTSTRAP, wild.last().method());
        assertEquals(70, wild.last().crossing().orElseThrow(), 1.5);
        assertEquals(List.of(4), wild.steps());
        assertEquals(
                wild.last().range(),
                yearly(30.0, 10, 11, 12, 13, 28, 15, 16, 17).last().range());
    }

    @Test
    void whatGoesAwayFromItsLimitOrHasNoneIsToldSo() {
        assertEquals("drifts away from its limit", words(yearly(20.0, 14, 13, 12, 11.1), 53));
        assertEquals("drifts, and has no limit to meet", words(yearly(null, 14, 13, 12, 11.1), 53));
        Trend past = yearly(12.5, 10, 11, 12, 13);
        assertEquals("past the limit", words(past, 53));
        assertEquals(52.5, past.last().crossing().orElseThrow(), 1e-9, "when it came there is told");
        assertEquals("past the limit", words(yearly(12.5, 10, 11, 10, 13), 53), "a drift is not needed for that");
    }

    @Test
    void aRepairCutsAndTheLastSegmentSpeaks() {
        List<Trend.Visit> visits = new ArrayList<>();
        for (int i = 0; i < 5; i++) {
            visits.add(visit(50 + i, 10 + 2 * i, 30.0, false));
        }
        visits.add(visit(55, 10, 30.0, true));
        Trend trend = Trend.of(visits);
        assertEquals(2, trend.segments().size());
        assertEquals(5, trend.segments().get(0).n());
        assertTrue(trend.segments().get(0).drifts());
        assertEquals("1 reading, too few for a forecast: it takes 4", words(trend, 55));
    }

    /** Reset at each visit by an adjustment: no segment is longer than two, the drift is common to all. */
    @Test
    void segmentsThatAreResetAtEachVisitArePooled() {
        List<Trend.Visit> visits = new ArrayList<>();
        double[] drift = {0.9, 1.1, 1.0, 1.05};
        visits.add(visit(50, 0, 1.5, false));
        for (int i = 0; i < 4; i++) {
            visits.add(visit(51 + i, drift[i], 1.5, false));
            visits.add(visit(51 + i, 0, 1.5, true));
        }
        Trend trend = Trend.of(visits);
        assertTrue(trend.pooled());
        Trend.Segment last = trend.last();
        assertNotNull(last);
        assertEquals(9, last.n());
        assertEquals(4, last.monotony().s());
        assertEquals(2 / 16.0, last.monotony().p(), 1e-12, "four of four one way: 1 in 16 each way");
        assertFalse(last.drifts(), "not under the gate yet");
        visits.add(visit(55, 0.95, 1.5, false));
        visits.add(visit(55, 0, 1.5, true));
        last = Trend.of(visits).last();
        assertEquals(2 / 32.0, last.monotony().p(), 1e-12);
        assertEquals(1.0, last.line().slope(), 1e-9);
        assertEquals(56.5, last.crossing().orElseThrow(), 1e-9, "from what was left last");
    }

    @Test
    void theLimitInForceLastIsTheOneThatIsMet() {
        List<Trend.Visit> visits = new ArrayList<>();
        for (int i = 0; i < 5; i++) {
            visits.add(visit(50 + i, 10 + i, i < 4 ? 30.0 : 20.0, false));
        }
        assertEquals(60, Trend.of(visits).last().crossing().orElseThrow(), 1e-9);
        visits = new ArrayList<>();
        for (int i = 0; i < 5; i++) {
            visits.add(new Trend.Visit(new Timed(50 + i, 10 - i), 2.0, 30.0, 0, false));
        }
        assertEquals(58, Trend.of(visits).last().crossing().orElseThrow(), 1e-9, "downwards the lower one");
    }

    @Test
    void whatIsOutOfOrderIsRefused() {
        List<Trend.Visit> visits = List.of(visit(51, 1, 2.0, false), visit(50, 1, 2.0, false));
        assertThrows(IllegalArgumentException.class, () -> Trend.of(visits));
    }

    /** Whatever comes in, nothing is NaN, ranges hold their crossing, and a change of unit changes no judgement. */
    @Test
    void anySeriesHasATrendThatIsTrueInAnyUnit() {
        Random random = new Random(4);
        for (int k = 0; k < 400; k++) {
            int n = 1 + random.nextInt(14);
            double slope = random.nextInt(3) - 1;
            List<Trend.Visit> plain = new ArrayList<>();
            List<Trend.Visit> scaled = new ArrayList<>();
            double at = 50;
            for (int i = 0; i < n; i++) {
                at += random.nextInt(4) == 0 ? 0 : random.nextDouble() * 2;
                double value = Math.round((slope * at + random.nextGaussian()) * 4) / 4.0;
                boolean cut = random.nextInt(6) == 0;
                plain.add(visit(at, value, 60.0, cut));
                scaled.add(visit(at, value * 1024, 60.0 * 1024, cut));
            }
            Trend one = Trend.of(plain);
            Trend other = Trend.of(scaled);
            assertEquals(one.steps(), other.steps());
            assertEquals(one.segments().size(), other.segments().size());
            for (int s = 0; s < one.segments().size(); s++) {
                Trend.Segment a = one.segments().get(s);
                Trend.Segment b = other.segments().get(s);
                assertTrue(
                        a.monotony().p() > 0 && a.monotony().p() <= 1,
                        "p = " + a.monotony().p());
                assertEquals(a.monotony().p(), b.monotony().p(), 1e-12);
                assertEquals(a.outlook(), b.outlook());
                assertEquals(a.crossing().isPresent(), a.range() != null);
                if (a.range() != null && a.method() == Trend.Method.FIELLER) {
                    assertEquals(a.crossing().orElseThrow(), b.crossing().orElseThrow(), 1e-6);
                    assertTrue(
                            a.range().from() <= a.crossing().orElseThrow() + 1e-9
                                    && a.crossing().orElseThrow() - 1e-9
                                            <= a.range().to(),
                            a.toString());
                }
            }
        }
    }

    // ---- words

    @ParameterizedTest
    @CsvSource({
        "2028-04-01, 2029-10-01, at its limit between spring 2028 and autumn 2029",
        "2028-04-01, 2028-05-20, at its limit in spring 2028",
        "2028-12-20, 2029-01-20, at its limit in winter 2028/29",
        "2029-01-02, 2030-07-01, at its limit between winter 2028/29 and summer 2030",
        "2035-01-02, 2041-07-01, at its limit between 2035 and 2041",
        "2026-01-01, 2028-07-01, at its limit between now and summer 2028",
        "2028-04-01, , at its limit not before spring 2028",
        "2026-01-01, , 'not known when it meets its limit: perhaps soon, perhaps never'"
    })
    void aRangeIsToldInSeasons(String from, @Nullable String to, String words) {
        double today = year("2026-11-28");
        Line.Range range = new Line.Range(year(from), to == null ? Double.POSITIVE_INFINITY : year(to));
        assertEquals(words, TrendWords.meets(range, year("2028-06-01"), today));
        assertEquals("at its limit now", TrendWords.meets(range, year("2026-11-01"), today));
    }

    @Test
    void timesGoThereAndBack() {
        double years = year("2028-02-29");
        assertEquals(
                LocalDate.parse("2028-02-29"), LocalDate.ofInstant(Timed.instant(years), java.time.ZoneOffset.UTC));
        assertEquals(years, Timed.years(java.time.Instant.parse("2028-02-29T00:00:00Z")), 1e-12);
        assertEquals(30_000_000_000_000_000L, Timed.instant(1e300).getEpochSecond());
    }
}
