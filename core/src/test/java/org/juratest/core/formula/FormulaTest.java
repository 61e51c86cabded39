package org.juratest.core.formula;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class FormulaTest {

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "3 * ir | 300",
                "1.1*3*ir | 330",
                "IF(ue <= 250, 500, 1000) | 1000",
                "-ir + 2 | -98",
                "(ir - ue) / ue * 100 | -75",
                "MAX(ir, ue, 7) | 400",
                "MIN(ir, ABS(-2)) | 2",
                "SQRT(ue) | 20",
                "10 * LOG10(ue / 4) | 20",
                "0.1 + 0.2 | 0.3"
            })
    void evaluates(String text, double expected) {
        assertEquals(expected, Formula.parse(text).evaluate(Map.of("ir", 100.0, "ue", 400.0)), 0);
    }

    @Test
    void listsItsNames() {
        assertEquals(Set.of("a", "b_2"), Formula.parse("a * b_2 + a").names());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {"3 * | 3", "3 * ir + FACT(9999999) | 10", "2 ir | 3", "ir ** 2 | 5", "(ir | 1"})
    void namesThePlaceOfAnError(String text, int position) {
        FormulaException e = assertThrows(FormulaException.class, () -> Formula.parse(text));
        assertEquals(position, e.position(), e.getMessage());
        assertTrue(e.getMessage().contains("character " + position), e.getMessage());
    }

    @ParameterizedTest
    @CsvSource({"2 ^ 3, 8", "2 ^ -1, 0.5", "2 ^ ((14 - 20) / 10), 0.659754", "-2 ^ 2, 4", "4 ^ 0.5 * 3, 6"})
    void powersBindCloserThanProducts(String text, double value) {
        assertEquals(value, Formula.parse(text).evaluate(Map.of()), 1e-6);
    }

    @ParameterizedTest
    @ValueSource(strings = {"10 ^ 999999", "(0 - 2) ^ 0.5", "0 ^ -1"})
    void aPowerThatIsNoFiniteNumberIsRefused(String text) {
        assertThrows(FormulaException.class, () -> Formula.parse(text).evaluate(Map.of()));
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "   ", "RANDOM()", "a.b", "a[0]", "\"text\" + 1", "SIN(ir)"})
    void refusesWhatItsShortTablesDoNotHold(String text) {
        assertThrows(FormulaException.class, () -> Formula.parse(text).evaluate(Map.of("ir", 1.0, "a", 1.0)));
    }

    @Test
    void refusesATextThatIsTooLong() {
        assertThrows(FormulaException.class, () -> Formula.parse("1" + "+1".repeat(300)));
    }

    @Test
    void missingAndNotFiniteInputsAreErrorsThatNameThem() {
        Formula formula = Formula.parse("2 * ir");
        FormulaException e = assertThrows(FormulaException.class, () -> formula.evaluate(Map.of()));
        assertEquals(5, e.position());
        assertThrows(FormulaException.class, () -> formula.evaluate(Map.of("ir", Double.NaN)));
        assertThrows(FormulaException.class, () -> formula.evaluate(Map.of("ir", Double.POSITIVE_INFINITY)));
    }

    @Test
    void divisionByZeroAndOverflowAreErrorsNotNaN() {
        assertThrows(FormulaException.class, () -> Formula.parse("1 / x").evaluate(Map.of("x", 0.0)));
        assertThrows(FormulaException.class, () -> Formula.parse("x * x").evaluate(Map.of("x", 1e300)));
        assertThrows(FormulaException.class, () -> Formula.parse("SQRT(x)").evaluate(Map.of("x", -1.0)));
        assertThrows(FormulaException.class, () -> Formula.parse("LOG10(x)").evaluate(Map.of("x", 0.0)));
        assertThrows(FormulaException.class, () -> Formula.parse("x < 3").evaluate(Map.of("x", 1.0)));
    }
}
