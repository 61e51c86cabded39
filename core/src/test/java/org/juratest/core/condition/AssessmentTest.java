package org.juratest.core.condition;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.Verdict;

/** What a device's test points come to: margin and drift of each, and how the device stands, with its reason. */
class AssessmentTest {

    private static final OptionalDouble NONE = OptionalDouble.empty();

    private static PointCondition.Visit visit(
            int year, double found, double left, @Nullable Double low, @Nullable Double high, Verdict verdict) {
        return new PointCondition.Visit(
                Instant.parse(year + "-07-01T00:00:00Z"),
                found,
                left,
                low,
                high,
                0.0,
                0,
                left / 10,
                verdict,
                true,
                false);
    }

    /** Yearly from 2020 on, ideal 0, at most 10. */
    private static PointCondition upTo10(Verdict last, double... values) {
        List<PointCondition.Visit> visits = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            visits.add(visit(2020 + i, values[i], values[i], null, 10.0, i == values.length - 1 ? last : Verdict.PASS));
        }
        return PointCondition.of(visits, Scale.LINEAR);
    }

    private static double year(int year) {
        return Timed.years(Instant.parse(year + "-07-01T00:00:00Z"));
    }

    private static Assessment.Point point(PointCondition condition) {
        return new Assessment.Point(condition, false);
    }

    private static Assessment assessed(Verdict verdict, Assessment.Point... points) {
        return Assessment.of(verdict, true, List.of(points), OptionalDouble.of(year(2025)), OptionalDouble.of(1));
    }

    @Test
    void driftIsMarginUsedUpInAYearTowardsTheLimit() {
        assertEquals(0.1, upTo10(Verdict.PASS, 1, 2, 3, 4, 5).drift().orElseThrow(), 1e-3);
        assertEquals(-0.1, upTo10(Verdict.PASS, 5, 4, 3, 2, 1).drift().orElseThrow(), 1e-3, "away from it is negative");
        assertTrue(upTo10(Verdict.PASS, 1, 2).drift().isEmpty(), "two are no rate");
        List<PointCondition.Visit> falling = new ArrayList<>();
        for (int i = 0; i < 5; i++) {
            falling.add(visit(2020 + i, -i, -i, -8.0, 10.0, Verdict.PASS));
        }
        assertEquals(1 / 8.0, PointCondition.of(falling, Scale.LINEAR).drift().orElseThrow(), 1e-3, "the lower limit");
    }

    @Test
    void onALogarithmicScaleDecadesCountAndWhatHasNoLogarithmIsLeftOut() {
        List<PointCondition.Visit> visits = new ArrayList<>();
        double[] values = {1e5, 3e4, 1e4, 0, 3e3, 1e3};
        for (int i = 0; i < values.length; i++) {
            visits.add(new PointCondition.Visit(
                    Instant.parse(2020 + i + "-07-01T00:00:00Z"),
                    values[i],
                    values[i],
                    1.0,
                    null,
                    1e6,
                    0,
                    null,
                    Verdict.PASS,
                    true,
                    false));
        }
        PointCondition found = PointCondition.of(visits, Scale.LOGARITHMIC);
        assertEquals(6, found.visits());
        assertEquals(5, found.trend().last().n());
        // About 2 decades in 5 years, of the 6 from ideal to limit.
        assertEquals(0.4 / 6, found.drift().orElseThrow(), 0.005);
        assertEquals(year(2025) + 3 / 0.4, found.crossing().orElseThrow(), 0.6);
    }

    @Test
    void whatWasAdjustedAwayStillDriftedBefore() {
        List<PointCondition.Visit> visits = new ArrayList<>();
        visits.add(visit(2019, 0, 0, null, 10.0, Verdict.PASS));
        for (int i = 0; i < 5; i++) {
            visits.add(visit(2020 + i, 4 + i * 0.1, 0, null, 10.0, Verdict.PASS));
        }
        PointCondition found = PointCondition.of(visits, Scale.LINEAR);
        assertTrue(found.trend().pooled());
        assertEquals(0.42, found.drift().orElseThrow(), 0.01);
        assertEquals(year(2024) + 10 / 4.2, found.crossing().orElseThrow(), 0.05, "from what was left");
    }

    private static PointCondition fast() {
        return upTo10(Verdict.PASS, 1, 3.2, 4.9, 7.2, 9.3);
    }

    @Test
    void aFailOutweighsEverythingAndNamesItsPoint() {
        Assessment found = assessed(Verdict.FAIL, point(fast()), point(upTo10(Verdict.FAIL, 1, 1, 1, 1, 12)));
        assertEquals(new Assessment(Standing.ACT, Assessment.Why.FAILED, 1, 1), found);
        assertEquals(
                "resistance, pole C: 12, allowed at most 10 Ω",
                Assessment.words(found.why(), "resistance, pole C", "12, allowed at most 10 Ω", null));
    }

    @Test
    void aLimitBeforeTheNextTestIsToBeActedOnAndOneBeforeTheNextButOneWatched() {
        Assessment act = assessed(Verdict.PASS, point(fast()));
        assertEquals(new Assessment(Standing.ACT, Assessment.Why.LIMIT_BEFORE_NEXT, 0, 0), act);
        assertEquals(
                "p: at its limit in spring 2025, before its next test",
                Assessment.words(act.why(), "p", null, "at its limit in spring 2025"));
        assertEquals("p: at its limit now", Assessment.words(act.why(), "p", null, "at its limit now"));
        Assessment watch = assessed(Verdict.PASS, point(upTo10(Verdict.PASS, 1, 2.7, 4.4, 6.1, 7.8)));
        assertEquals(new Assessment(Standing.WATCH, Assessment.Why.LIMIT_BEFORE_NEXT_BUT_ONE, 0, 0), watch);
        Assessment sound = assessed(Verdict.PASS, point(upTo10(Verdict.PASS, 1, 2, 3, 4, 5)));
        assertEquals(new Assessment(Standing.SOUND, Assessment.Why.SOUND, 0, -1), sound);
        Assessment unplanned = Assessment.of(Verdict.PASS, true, List.of(point(fast())), NONE, NONE);
        assertEquals(Standing.SOUND, unplanned.standing(), "without a next test there is no interval to be inside");
    }

    /** Of several on their way, the one that is there first. */
    @Test
    void theSoonestIsNamed() {
        PointCondition sooner = upTo10(Verdict.PASS, 0.5, 2.9, 5.1, 7.4, 9.7);
        assertEquals(1, assessed(Verdict.PASS, point(fast()), point(sooner)).reasoned());
        assertEquals(0, assessed(Verdict.PASS, point(sooner), point(fast())).reasoned());
    }

    @Test
    void stepsOutliersAndMarginalPointsAreWatched() {
        Assessment step = assessed(Verdict.PASS, point(upTo10(Verdict.PASS, 1, 1.1, 0.9, 1, 1.1, 6)));
        assertEquals(new Assessment(Standing.WATCH, Assessment.Why.STEP, 0, 0), step);
        Assessment apart = assessed(Verdict.PASS, new Assessment.Point(upTo10(Verdict.PASS, 1, 1, 1), true));
        assertEquals(new Assessment(Standing.WATCH, Assessment.Why.OUTLIER, 0, 0), apart);
        Assessment near = assessed(
                Verdict.MARGINAL_INSIDE, point(upTo10(Verdict.PASS, 1)), point(upTo10(Verdict.MARGINAL_INSIDE, 9.5)));
        assertEquals(new Assessment(Standing.WATCH, Assessment.Why.NEAR, 1, 1), near, "the point, not the record");
    }

    @Test
    void whatIsNotKnownIsSaidUnlessSomethingGraverIs() {
        Assessment part = Assessment.of(Verdict.PASS, false, List.of(point(upTo10(Verdict.PASS, 1))), NONE, NONE);
        assertEquals(new Assessment(Standing.UNKNOWN, Assessment.Why.IN_PART, 0, -1), part);
        assertEquals(new Assessment(Standing.UNKNOWN, Assessment.Why.NOT_JUDGED, -1, -1), assessed(Verdict.NOT_JUDGED));
        Assessment drifting = Assessment.of(
                Verdict.PASS, false, List.of(point(fast())), OptionalDouble.of(year(2025)), OptionalDouble.of(1));
        assertEquals(Standing.ACT, drifting.standing());
        assertThrows(IllegalArgumentException.class, () -> PointCondition.of(List.of(), Scale.LINEAR));
    }

    /** More than the gear can show is a verdict, but no value of a trend. */
    @Test
    void aValueThatIsOnlyABoundIsInNoTrend() {
        List<PointCondition.Visit> visits = new ArrayList<>();
        for (int i = 0; i < 5; i++) {
            visits.add(new PointCondition.Visit(
                    Instant.parse(2020 + i + "-07-01T00:00:00Z"),
                    i,
                    i,
                    null,
                    10.0,
                    0.0,
                    0,
                    i / 10.0,
                    Verdict.PASS,
                    i != 2,
                    false));
        }
        PointCondition found = PointCondition.of(visits, Scale.LINEAR);
        assertEquals(5, found.visits());
        assertEquals(4, found.trend().last().n());
    }

    @Test
    void anotherLimitThanLastTimeIsMarked() {
        List<PointCondition.Visit> visits =
                List.of(visit(2020, 1, 1, null, 10.0, Verdict.PASS), visit(2021, 1, 1, null, 9.0, Verdict.PASS));
        assertTrue(PointCondition.of(visits, Scale.LINEAR).limitMoved());
    }
}
