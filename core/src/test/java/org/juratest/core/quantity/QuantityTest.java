package org.juratest.core.quantity;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class QuantityTest {

    @ParameterizedTest
    @CsvSource({"1, GOhm, MOhm, 1000", "250, uOhm, mOhm, 0.25", "2, min, s, 120", "0.3, kA, A, 300", "12, %, 1, 0.12"})
    void convertsWithinADimension(double value, String from, String to, double expected) {
        assertEquals(expected, Quantity.of(value, from).in(Unit.of(to)), 1e-12 * Math.abs(expected));
    }

    @Test
    void refusesToMixDimensionsAndHoldsBothUnits() {
        UnitMismatchException e = assertThrows(
                UnitMismatchException.class, () -> Quantity.amperes(1).in(Unit.SECOND));
        assertEquals(Unit.AMPERE, e.first());
        assertEquals(Unit.SECOND, e.second());
    }

    @ParameterizedTest
    @ValueSource(doubles = {Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY})
    void refusesValuesThatAreNotFinite(double value) {
        assertThrows(IllegalArgumentException.class, () -> Quantity.amperes(value));
    }

    @Test
    void parsesWhatItPrints() {
        SplittableRandom random = new SplittableRandom(11);
        for (int i = 0; i < 500; i++) {
            Quantity quantity =
                    new Quantity((random.nextDouble() - 0.5) * Math.pow(10, random.nextInt(-300, 300)), Unit.MICROHM);
            assertEquals(quantity, Quantity.parse(quantity.toString()), "seed 11, draw " + i);
        }
    }

    @Test
    void namesAnUnknownUnit() {
        assertTrue(assertThrows(IllegalArgumentException.class, () -> Unit.of("furlong"))
                .getMessage()
                .contains("furlong"));
    }

    @Test
    void nearIsRelativeAndNeverForNaN() {
        assertTrue(Near.equal(0.1 + 0.2, 0.3));
        assertTrue(Near.atMost(3e-13 + 1e-25, 3e-13));
        assertFalse(Near.equal(1, 1 + 1e-8));
        assertFalse(Near.atMost(Double.NaN, 1));
        assertFalse(Near.atLeast(1, Double.NaN));
    }
}
