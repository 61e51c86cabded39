package org.juratest.core.condition;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Lines and fans as they are drawn: they meet the limit where the forecast says. */
class FanTest {

    private static final double LIMIT = 30;

    private static List<Trend.Visit> yearly(double... values) {
        List<Trend.Visit> visits = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            visits.add(new Trend.Visit(new Timed(50 + i, values[i]), null, LIMIT, 0, false));
        }
        return visits;
    }

    private static double end(List<Double> of) {
        return of.get(of.size() - 1);
    }

    /** Inverse prediction is the inversion of the line's interval: its sides meet the limit at the range's ends. */
    @ParameterizedTest
    @ValueSource(strings = {"10,11,12.2,12.9,14.1", "10,11,12,13,28,15,16,17"})
    void theFansSidesMeetTheLimitAtTheEndsOfTheRange(String values) {
        List<Trend.Visit> visits = yearly(
                List.of(values.split(",")).stream().mapToDouble(Double::valueOf).toArray());
        Trend trend = Trend.of(visits);
        Line.Range range = trend.last().range();
        double near = trend.last().method() == Trend.Method.FIELLER ? 1e-9 : 0.05;
        assertEquals(LIMIT, end(Fan.of(trend, visits, range.from()).get(0).high()), near);
        assertEquals(LIMIT, end(Fan.of(trend, visits, range.to()).get(0).low()), near);
        assertEquals(
                LIMIT,
                end(Fan.of(trend, visits, trend.last().crossing().orElseThrow())
                        .get(0)
                        .line()),
                1e-9);
        assertTrue(
                range.from() <= trend.last().crossing().orElseThrow()
                        && trend.last().crossing().orElseThrow() <= range.to(),
                "the line meets the limit within its range");
        Fan fan = Fan.of(trend, visits, 60).get(0);
        for (int i = 0; i < fan.years().size(); i++) {
            assertTrue(
                    fan.low().get(i) <= fan.line().get(i) + 1e-9
                            && fan.line().get(i) <= fan.high().get(i) + 1e-9,
                    "the line lies in its fan");
        }
    }

    @Test
    void whatDoesNotDriftHasNoLine() {
        List<Trend.Visit> level = yearly(10, 12, 9, 13, 10);
        assertEquals(List.of(), Fan.of(Trend.of(level), level, 60));
        List<Trend.Visit> few = yearly(10, 11, 12);
        assertEquals(List.of(), Fan.of(Trend.of(few), few, 60));
    }

    /** A radio brought back at each visit: each interval has its own level, and all the slope. */
    @Test
    void pooledSegmentsHaveALineEachAndTheLastOneTheFan() {
        List<Trend.Visit> visits = new ArrayList<>();
        for (int i = 0; i < 6; i++) {
            if (i > 0) {
                visits.add(new Trend.Visit(new Timed(50 + i, 5 + 0.1 * (i % 2)), null, LIMIT, 0, false));
            }
            visits.add(new Trend.Visit(new Timed(50 + i, 0.2 * (i % 2)), null, LIMIT, 0, true));
        }
        Trend trend = Trend.of(visits);
        assertTrue(trend.pooled() && trend.last().drifts());
        List<Fan> fans = Fan.of(trend, visits, 60);
        assertEquals(6, fans.size());
        double slope = trend.last().line().slope();
        for (Fan fan : fans) {
            assertEquals(
                    slope,
                    (end(fan.line()) - fan.line().get(0))
                            / (end(fan.years()) - fan.years().get(0)),
                    1e-9);
        }
        assertEquals((0 + 5.1) / 2, (fans.get(0).line().get(0) + end(fans.get(0).line())) / 2, 1e-9);
        assertTrue(fans.get(0).low().isEmpty());
        assertEquals(60, end(fans.get(5).years()));
    }
}
