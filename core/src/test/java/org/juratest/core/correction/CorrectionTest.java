package org.juratest.core.correction;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.quantity.Unit;
import org.juratest.core.uncertainty.UncertaintyBudget;

class CorrectionTest {

    @ParameterizedTest
    @CsvSource({
        "FACTOR, 0.5, 8, V, 4",
        "OFFSET, -0.5, 8, V, 7.5",
        "DECIBEL, 30, 8, dBm, 38",
        "DECIBEL, -3, 8, dB, 5",
        "DECIBEL, 20, 8, W, 800",
        "DECIBEL, 20, 8, V, 80",
        "DECIBEL, -20, 8, V, 0.8"
    })
    void aCorrectionIsAppliedByItsKindAndUnit(
            Correction.Kind kind, double amount, double value, String unit, double corrected) {
        assertEquals(corrected, new Correction(kind, amount).of(value, Unit.of(unit)), 1e-12);
    }

    /** The uncertainty that is carried is the derivative by value and amount, whatever kind and unit. */
    @ParameterizedTest
    @CsvSource({
        "FACTOR, 0.5, 8, V",
        "OFFSET, -0.5, 8, V",
        "DECIBEL, 30, -8, dBm",
        "DECIBEL, -3, 8, dB",
        "DECIBEL, 20, 8, W",
        "DECIBEL, 6, 8, V"
    })
    void uncertaintiesOfValueAndAmountAreCarried(Correction.Kind kind, double amount, double value, String code) {
        Unit unit = Unit.of(code);
        double uValue = 0.03;
        double uAmount = 0.07;
        double h = 1e-6;
        double byValue =
                (new Correction(kind, amount).of(value + h, unit) - new Correction(kind, amount).of(value - h, unit))
                        / (2 * h);
        double byAmount =
                (new Correction(kind, amount + h).of(value, unit) - new Correction(kind, amount - h).of(value, unit))
                        / (2 * h);
        UncertaintyBudget budget = new UncertaintyBudget().typeB(uValue, 1);
        new Correction(kind, amount).carry(budget, value, unit, uAmount);
        double expected = 2 * Math.hypot(byValue * uValue, byAmount * uAmount);
        assertEquals(expected, budget.expand().expanded(), 1e-6 * expected);
    }

    @Test
    void anAmountThatIsNotFiniteIsRefused() {
        assertThrows(IllegalArgumentException.class, () -> new Correction(Correction.Kind.OFFSET, Double.NaN));
    }
}
