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
                Instant.parse(year + "-07-01T00:00:00Z"), found, left, low, high, 0.0, 0, left / 10, verdict, false);
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

    private static Assessment.Point point(String label, PointCondition condition) {
        return new Assessment.Point(label, condition, false, null);
    }

    private static Assessment assessed(Verdict verdict, Assessment.Point... points) {
        return Assessment.of(
                verdict, true, List.of(points), year(2024), OptionalDouble.of(year(2025)), OptionalDouble.of(1));
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

    @Test
    void aFailOutweighsEverythingAndSaysWhatFailed() {
        Assessment found = assessed(
                Verdict.FAIL,
                point("fast, pole A", upTo10(Verdict.PASS, 1, 3.2, 4.9, 7.2, 9.3)),
                new Assessment.Point(
                        "resistance, pole C", upTo10(Verdict.FAIL, 1, 1, 1, 1, 12), false, "12 of at most 10 Ω"));
        assertEquals(Standing.ACT, found.standing());
        assertEquals("resistance, pole C: 12 of at most 10 Ω", found.reason());
        assertEquals(1, found.worst());
        assertEquals(1, found.reasoned());
    }

    @Test
    void aLimitBeforeTheNextTestIsToBeActedOnAndOneBeforeTheNextButOneWatched() {
        Assessment act = assessed(Verdict.PASS, point("p", upTo10(Verdict.PASS, 1, 3.2, 4.9, 7.2, 9.3)));
        assertEquals(Standing.ACT, act.standing());
        assertTrue(act.reason().endsWith("before its next test"), act.reason());
        Assessment watch = assessed(Verdict.PASS, point("p", upTo10(Verdict.PASS, 1, 2.7, 4.4, 6.1, 7.8)));
        assertEquals(Standing.WATCH, watch.standing());
        assertTrue(watch.reason().startsWith("p: at its limit "), watch.reason());
        Assessment sound = assessed(Verdict.PASS, point("p", upTo10(Verdict.PASS, 1, 2, 3, 4, 5)));
        assertEquals(Standing.SOUND, sound.standing());
        Assessment unplanned = Assessment.of(
                Verdict.PASS,
                true,
                List.of(point("p", upTo10(Verdict.PASS, 1, 3.2, 4.9, 7.2, 9.3))),
                year(2024),
                NONE,
                NONE);
        assertEquals(Standing.SOUND, unplanned.standing(), "without a next test there is no interval to be inside");
    }

    @Test
    void stepsOutliersAndMarginalPointsAreWatched() {
        Assessment step = assessed(Verdict.PASS, point("p", upTo10(Verdict.PASS, 1, 1.1, 0.9, 1, 1.1, 6)));
        assertEquals("p: a step since the last test, without a recorded cause", step.reason());
        Assessment apart = assessed(Verdict.PASS, new Assessment.Point("p", upTo10(Verdict.PASS, 1, 1, 1), true, null));
        assertEquals(Standing.WATCH, apart.standing());
        assertEquals("p: apart from all others of its model", apart.reason());
        Assessment near = assessed(
                Verdict.MARGINAL_INSIDE,
                point("p", upTo10(Verdict.MARGINAL_INSIDE, 9.5)),
                point("q", upTo10(Verdict.PASS, 1)));
        assertEquals("p: near its limit", near.reason());
        assertEquals(0, near.worst());
    }

    @Test
    void whatIsNotKnownIsSaidUnlessSomethingGraverIs() {
        Assessment part = Assessment.of(
                Verdict.PASS, false, List.of(point("p", upTo10(Verdict.PASS, 1))), year(2024), NONE, NONE);
        assertEquals(Standing.UNKNOWN, part.standing());
        assertEquals("tested in part only", part.reason());
        assertEquals("not judged", assessed(Verdict.NOT_JUDGED).reason());
        assertEquals(-1, assessed(Verdict.NOT_JUDGED).worst());
        Assessment drifting = Assessment.of(
                Verdict.PASS,
                false,
                List.of(point("p", upTo10(Verdict.PASS, 1, 3.2, 4.9, 7.2, 9.3))),
                year(2024),
                OptionalDouble.of(year(2025)),
                OptionalDouble.of(1));
        assertEquals(Standing.ACT, drifting.standing());
        assertThrows(IllegalArgumentException.class, () -> PointCondition.of(List.of(), Scale.LINEAR));
    }

    @Test
    void anotherLimitThanLastTimeIsMarked() {
        List<PointCondition.Visit> visits =
                List.of(visit(2020, 1, 1, null, 10.0, Verdict.PASS), visit(2021, 1, 1, null, 9.0, Verdict.PASS));
        assertTrue(PointCondition.of(visits, Scale.LINEAR).limitMoved());
    }
}
