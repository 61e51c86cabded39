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
        // s = 2, n = 4: u = 1 with 3 degrees of freedom; JCGM 100, table G.2 for 95.45 %: 3.31.
        Uncertainty u = new UncertaintyBudget().typeA(2, 4).expand();
        assertEquals(3.31, u.coverageFactor(), 0.005);
        assertEquals(u.coverageFactor(), u.expanded(), 1e-9);
    }

    @ParameterizedTest
    @CsvSource({"1, 13.97", "2, 4.53", "5, 2.65", "10, 2.28", "20, 2.13", "50, 2.05", "100, 2.025"})
    void coverageFactorsAreThoseOfTheTable(double freedom, double k) {
        // JCGM 100:2008, table G.2, column 95.45 %.
        assertEquals(k, UncertaintyBudget.coverageFactor(freedom), 0.0051);
    }

    @Test
    void coverageFactorsRunDownToTwoWithoutAJump() {
        double before = UncertaintyBudget.coverageFactor(1);
        for (double freedom = 1.1; freedom < 1e12; freedom *= 1.1) {
            double k = UncertaintyBudget.coverageFactor(freedom);
            assertTrue(k <= before + 1e-8 && k >= 2, "k at " + freedom + " is " + k + " after " + before);
            assertTrue(before - k < 0.2 * before, "k jumps at " + freedom + " from " + before + " to " + k);
            before = k;
        }
        assertEquals(2, before);
    }

    @Test
    void effectiveDegreesOfFreedomAfterWelchAndSatterthwaite() {
        // u_A = 1 (3 d.o.f.), u_B = 2: 25 / (1/3) = 75 degrees of freedom; table G.2 has 2.05 at 50, 2.025 at 100.
        Uncertainty u = new UncertaintyBudget().typeA(2, 4).typeB(2, 1).expand();
        assertEquals(75, u.degreesOfFreedom(), 1e-9);
        assertTrue(u.coverageFactor() < 2.05 && u.coverageFactor() > 2.025);
        assertEquals(u.coverageFactor() * Math.sqrt(5), u.expanded(), 1e-9);
    }

    @Test
    void whatIsAddedAfterACorrectionIsNotCarriedByIt() {
        assertEquals(
                2 * Math.hypot(3 * 4, 5),
                new UncertaintyBudget()
                        .typeB(3, 1)
                        .carried(-4)
                        .typeB(5, 1)
                        .expand()
                        .expanded(),
                1e-12);
    }

    @Test
    void anUnknownComponentIsNotZero() {
        UncertaintyBudget budget = new UncertaintyBudget().typeB(1, 1).unknown().carried(2);
        assertTrue(!budget.isKnown());
        assertThrows(IllegalStateException.class, budget::expand);
    }

    @Test
    void aSearchStepIsARectangleOfItsWidth() {
        assertEquals(
                2 * 0.1 / Math.sqrt(12),
                new UncertaintyBudget().within(0.1).expand().expanded(),
                1e-12);
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
