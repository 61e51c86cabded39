package org.juratest.core.limit;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.math.BigDecimal;
import java.util.List;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.quantity.Near;

/** How values are shown: figures that never tell another side of the limit, and the axis they are drawn on. */
class ShownValuesTest {

    private static ResolvedLimit limit(@Nullable Double low, @Nullable Double high) {
        return new ResolvedLimit(low, high, null, null, null, "test", null, null);
    }

    @ParameterizedTest
    @CsvSource({
        "21.42, 21.4",
        "203.4, 203",
        "4812.6, 4813",
        "0.012345, 0.0123",
        "38, 38.0",
        "0, 0",
        "-5.678, -5.68",
        "9.996, 10.0",
        "0.9996, 1.00",
        "1, 1.00",
        "1e-9, 0.00000000100"
    })
    void figuresHaveThreeDigits(double value, String figure) {
        assertEquals(figure, Figures.of(value));
    }

    @Test
    void whatIsNotFiniteHasNoFigure() {
        assertEquals("-", Figures.of(Double.NaN));
        assertEquals("-", Figures.of(Double.POSITIVE_INFINITY, limit(1.0, 2.0)));
    }

    @Test
    void aFailNeverReadsAsAPass() {
        assertEquals("297.04", Figures.of(297.04, limit(null, 297.0)));
        assertEquals("at most 297.00", Figures.span(limit(null, 297.0), 297.04));
        assertEquals("24.996", Figures.of(24.996, limit(25.0, null)));
        assertEquals("-0.01", Figures.of(-0.0102, limit(-30.0, 30.0)), "no finer than the limit bears");
        assertEquals("30.0001", Figures.of(30.0001, limit(-30.0, 30.0)));
        assertEquals("14.1 to 38.0", Figures.span(limit(14.1, 38.0), 21.4));
        assertEquals("at least 100", Figures.span(limit(100.0, null), null));
        assertNull(Figures.span(null, 3.0));
        assertNull(Figures.span(ResolvedLimit.unresolved("curve", "no rating"), 3.0));
    }

    @Test
    void shownFigureAndShownLimitStandAsTheTrueOnesDo() {
        long seed = 20261125;
        Random random = new Random(seed);
        for (int i = 0; i < 20_000; i++) {
            double side = Math.pow(10, random.nextDouble() * 8 - 3);
            double value = side * (1 + (random.nextDouble() - 0.5) * Math.pow(10, -random.nextInt(8)));
            ResolvedLimit limit = limit(null, side);
            BigDecimal shown = new BigDecimal(Figures.of(value, limit));
            BigDecimal span = new BigDecimal(Figures.span(limit, value).substring("at most ".length()));
            int expected = Near.equal(value, side) ? shown.compareTo(span) : Double.compare(value, side);
            assertEquals(expected, shown.compareTo(span), "seed " + seed + ": " + value + " against " + side);
        }
    }

    @Test
    void aStripShowsTheSpanTheMarginalZoneAndTheHistory() {
        long seed = 7;
        Random random = new Random(seed);
        for (int i = 0; i < 5000; i++) {
            Scale scale = random.nextBoolean() ? Scale.LINEAR : Scale.LOGARITHMIC;
            double side = Math.pow(10, random.nextDouble() * 6 - 2);
            boolean two = random.nextInt(3) == 0;
            ResolvedLimit limit = two
                    ? limit(side, side * (1.1 + random.nextDouble() * 10))
                    : random.nextBoolean() ? limit(null, side) : limit(side, null);
            double inside = limit.high() != null
                    ? limit.high() * (two ? 0.99 : 0.3 + 0.6 * random.nextDouble())
                    : side * (1.2 + random.nextDouble() * 50);
            StripAxis axis = StripAxis.of(limit, scale, List.of(inside, Double.NaN));
            String at = "seed " + seed + ": " + limit + " with " + inside + " on " + axis;
            for (Double shown : new Double[] {limit.low(), limit.high(), inside}) {
                if (shown != null) {
                    assertTrue(axis.fraction(shown) >= 0 && axis.fraction(shown) <= 1, at);
                }
            }
            assertTrue(
                    axis.fraction(limit.high() != null ? limit.high() * 1e6 : limit.low() / 1e6)
                                            * (limit.high() != null ? 1 : -1)
                                    > (limit.high() != null ? 1 : 0)
                            || scale == Scale.LINEAR && limit.high() == null,
                    at);
        }
    }

    @Test
    void aStripWithoutAnythingToShowIsNone() {
        assertNull(StripAxis.of(null, Scale.LINEAR, List.of(Double.NaN)));
        assertNull(StripAxis.of(ResolvedLimit.unresolved("x", "y"), Scale.LOGARITHMIC, List.of(-1.0)));
        StripAxis one = StripAxis.of(null, Scale.LINEAR, List.of(5.0));
        assertEquals(0.5, one.fraction(5), 1e-12);
        assertTrue(Double.isNaN(one.fraction(Double.NaN)));
        assertEquals(
                0,
                StripAxis.of(limit(null, 100.0), Scale.LINEAR, List.of(2.0)).from(),
                "no room below zero where nothing is below zero");
        assertThrows(IllegalArgumentException.class, () -> new StripAxis(Double.NaN, 1, Scale.LINEAR));
        assertThrows(IllegalArgumentException.class, () -> new StripAxis(0, 1, Scale.LOGARITHMIC));
    }
}
