package org.juratest.core.search;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Random;
import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class SearchTest {

    private static final LevelSearch.Plan PLAN = new LevelSearch.Plan(-100, -130, -60, 8, 0.5, 12, 6, 60);

    private static LevelSearch run(LevelSearch.Plan plan, DoubleUnaryOperator quality) {
        LevelSearch search = new LevelSearch(plan);
        while (!search.isOver()) {
            assertTrue(search.level() >= plan.lowest() && search.level() <= plan.highest());
            search.measured(quality.applyAsDouble(search.level()));
        }
        return search;
    }

    @Test
    void theStaircaseClosesInOnTheLevel() {
        for (double truth = -125; truth < -70; truth += 1.37) {
            double at = truth;
            LevelSearch search = run(PLAN, level -> 12 + 1.1 * (level - at));
            assertEquals(truth, search.result().level(), 0.26, "truth " + truth);
            assertTrue(search.result().spread() <= 0.3);
            assertTrue(search.steps().size() < 25, search.steps().size() + " measurements for " + truth);
            assertEquals(-100, search.steps().get(0).level());
        }
    }

    @Test
    void withNoiseItsMeanStaysTrueAndItsSpreadTells() {
        Random random = new Random(4);
        double sum = 0;
        double spread = 0;
        for (int n = 0; n < 200; n++) {
            LevelSearch search = run(PLAN, level -> 12 + 1.1 * (level + 117.3) + 0.6 * random.nextGaussian());
            sum += search.result().level() / 200;
            spread += search.result().spread() / 200;
        }
        assertEquals(-117.3, sum, 0.1);
        assertTrue(spread > 0.1 && spread < 1, "spread " + spread);
    }

    @Test
    void aReceiverThatNeverMeetsItOrAlwaysDoesIsSaidToBeSo() {
        assertTrue(run(PLAN, level -> Double.NaN).failed().contains("greatest level allowed"));
        assertTrue(run(PLAN, level -> 40).failed().contains("lowest level"));
        LevelSearch deaf = run(PLAN, level -> 0);
        assertThrows(IllegalStateException.class, deaf::result);
        assertThrows(IllegalStateException.class, () -> deaf.measured(1));
        Random random = new Random(1);
        assertTrue(run(new LevelSearch.Plan(-100, -130, -60, 8, 0.5, 12, 20, 24), level -> 24 * random.nextDouble())
                        .failed()
                != null);
    }

    @ParameterizedTest
    @ValueSource(doubles = {Double.NaN, Double.POSITIVE_INFINITY})
    void plansThatMakeNoSenseAreRefused(double bad) {
        assertThrows(IllegalArgumentException.class, () -> new LevelSearch.Plan(bad, -130, -60, 8, 0.5, 12, 6, 60));
        assertThrows(IllegalArgumentException.class, () -> new LevelSearch.Plan(-50, -130, -60, 8, 0.5, 12, 6, 60));
        assertThrows(IllegalArgumentException.class, () -> new LevelSearch.Plan(-100, -130, -60, bad, 0.5, 12, 6, 60));
        assertThrows(IllegalArgumentException.class, () -> new LevelSearch.Plan(-100, -130, -60, 8, 0.5, bad, 6, 60));
        assertThrows(IllegalArgumentException.class, () -> new LevelSearch.Plan(-100, -130, -60, 8, 0.5, 12, 5, 60));
        assertThrows(IllegalArgumentException.class, () -> new SettingSearch.Plan(5, 0, 10, 1, bad, 1, 9));
        assertThrows(IllegalArgumentException.class, () -> new SettingSearch.Plan(5, 0, 10, 1, 1, bad, 9));
        assertThrows(IllegalArgumentException.class, () -> new SettingSearch.Plan(11, 0, 10, 1, 1, 1, 9));
    }

    private static SettingSearch run(SettingSearch.Plan plan, DoubleUnaryOperator device) {
        SettingSearch search = new SettingSearch(plan);
        while (!search.isOver()) {
            int asked = search.setting();
            assertTrue(asked >= plan.lowest() && asked <= plan.highest(), "asked for " + asked);
            assertTrue(search.steps().stream().noneMatch(s -> s.setting() == asked), "twice " + asked);
            search.measured(device.applyAsDouble(asked));
        }
        return search;
    }

    @ParameterizedTest
    @CsvSource({"3.1, -400", "-3.1, 400", "0.7, -90", "12, -1500", "-0.9, 200"})
    void aLineIsReachedInFewMeasurements(double slope, double at) {
        SettingSearch search = run(new SettingSearch.Plan(128, 0, 255, 8, 0, Math.abs(slope), 12), s -> slope * s + at);
        assertTrue(search.reached(), search.failed());
        assertTrue(Math.abs(slope * search.setting() + at) <= Math.abs(slope));
        assertTrue(search.steps().size() <= 5, search.steps().toString());
    }

    @Test
    void curvesAreReachedFromAnywhere() {
        for (int found = 0; found <= 255; found += 5) {
            for (double aim : new double[] {1, 3.3, 5, 8.4}) {
                // Power by a control voltage: flat at the bottom, square in the middle, bending over at the top.
                DoubleUnaryOperator device = s -> 9 * Math.pow(Math.sin(Math.PI / 2 * s / 255), 2);
                SettingSearch search =
                        run(new SettingSearch.Plan(found, 0, 255, 8, aim, 0.03 * Math.max(1, aim), 16), device);
                assertTrue(
                        search.reached(),
                        "from " + found + " to " + aim + ": " + search.failed() + " " + search.steps());
            }
        }
    }

    @Test
    void anAimOutOfReachIsSaidAndTheNearestKnown() {
        SettingSearch beyond = run(new SettingSearch.Plan(100, 0, 255, 8, 1000, 1, 30), s -> 2.0 * s);
        assertFalse(beyond.reached());
        assertTrue(beyond.failed().contains("beyond"), beyond.failed());
        assertEquals(255, beyond.best().setting());
        SettingSearch between = run(new SettingSearch.Plan(100, 0, 255, 8, 101, 0.1, 30), s -> 2.0 * s);
        assertTrue(between.failed().contains("no setting between 50 and 51"), between.failed());
        SettingSearch dead = run(new SettingSearch.Plan(100, 0, 255, 8, 1, 0.1, 30), s -> Double.NaN);
        assertTrue(dead.failed().contains("setting 100") && dead.steps().size() == 1);
        assertNull(dead.best());
        SettingSearch stuck = run(new SettingSearch.Plan(100, 0, 255, 8, 1, 0.1, 10), s -> 0.5);
        assertNotNull(stuck.failed());
        assertThrows(IllegalStateException.class, () -> stuck.measured(1));
    }
}
