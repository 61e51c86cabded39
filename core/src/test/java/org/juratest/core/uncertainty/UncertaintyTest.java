package org.juratest.core.uncertainty;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.correction.InsulationTemperature;

class UncertaintyTest {

    @Test
    void typeBAloneComesBackWithKTwo() {
        Uncertainty u = new UncertaintyBudget().typeB(3, 1).typeB(2, -2).expand();
        assertEquals(10, u.expanded(), 1e-12);
        assertEquals(2, u.coverageFactor());
    }

    @Test
    void typeAUsesStudentsFactor() {
        // s = 2, n = 4: u = 1 with 3 degrees of freedom; t(0.975, 3) = 3.18245 (JCGM 100, table G.2: 3.18).
        Uncertainty u = new UncertaintyBudget().typeA(2, 4).expand();
        assertEquals(3.18245, u.coverageFactor(), 1e-5);
        assertEquals(3.18245, u.expanded(), 1e-5);
    }

    @Test
    void effectiveDegreesOfFreedomAfterWelchAndSatterthwaite() {
        // u_A = 1 (3 d.o.f.), u_B = 2: 25 / (1/3) = 75 degrees of freedom, t = 1.9921.
        Uncertainty u = new UncertaintyBudget().typeA(2, 4).typeB(2, 1).expand();
        assertEquals(75, u.degreesOfFreedom(), 1e-9);
        assertEquals(1.99210 * Math.sqrt(5), u.expanded(), 1e-4);
    }

    @Test
    void nothingGivesNothing() {
        assertEquals(0, new UncertaintyBudget().expand().expanded());
        assertEquals(0, new UncertaintyBudget().typeB(0, 1).expand().expanded());
    }

    @ParameterizedTest
    @ValueSource(doubles = {Double.NaN, Double.POSITIVE_INFINITY, -1})
    void refusesMeaninglessComponents(double bad) {
        assertThrows(IllegalArgumentException.class, () -> new UncertaintyBudget().typeB(bad, 1));
        assertThrows(IllegalArgumentException.class, () -> new UncertaintyBudget().typeA(bad, 3));
        assertThrows(IllegalArgumentException.class, () -> new UncertaintyBudget().typeA(1, 1));
        assertThrows(
                IllegalArgumentException.class, () -> new AccuracySpec(bad, 0, 0, AccuracySpec.Stated.RECTANGULAR));
    }

    @Test
    void aDataSheetFigureIsReadAsItIsStated() {
        // 1 % of 50 + 0.5 % of 100 + 0.2 = 1.2
        assertEquals(
                1.2 / Math.sqrt(3),
                new AccuracySpec(1, 0.5, 0.2, AccuracySpec.Stated.RECTANGULAR).standardAt(50, 100),
                1e-12);
        assertEquals(0.6, new AccuracySpec(1, 0.5, 0.2, AccuracySpec.Stated.EXPANDED_K2).standardAt(-50, 100), 1e-12);
    }

    @ParameterizedTest
    @CsvSource({"20, 1", "30, 2", "10, 0.5", "14, 0.659754", "0, 0.25"})
    void insulationHalvesEveryTenDegrees(double temperature, double factor) {
        assertEquals(factor, InsulationTemperature.APPARATUS.factor(temperature), 1e-6);
    }

    @ParameterizedTest
    @ValueSource(doubles = {Double.NaN, -61, 201, Double.NEGATIVE_INFINITY})
    void aTemperatureThatIsNoneIsRefused(double temperature) {
        assertTrue(
                assertThrows(IllegalArgumentException.class, () -> InsulationTemperature.APPARATUS.factor(temperature))
                        .getMessage()
                        .contains("°C"));
    }
}
