package org.juratest.core.series;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.series.RunningNumber.Field;

class RunningNumberTest {

    private static Field wheel(String name, String value, String first, String last) {
        return new Field(name, value, true, first, last);
    }

    @Test
    void wheelsGoUpFromTheRightAndCarry() {
        RunningNumber cables = new RunningNumber(
                "{order}-{box}/{place}",
                List.of(Field.fixed("order", "7741"), wheel("box", "B", null, null), wheel("place", "10", "01", "12")));
        assertEquals(List.of("7741-B/10", "7741-B/11", "7741-B/12", "7741-C/01", "7741-C/02"), cables.ahead(5));
        assertEquals(List.of(), cables.problems());
    }

    @Test
    void noughtsInFrontAreKeptAndAWheelGrowsWhereItHasNoLast() {
        assertEquals(
                List.of("P098", "P099", "P100"),
                new RunningNumber("P{n}", List.of(Field.running("n", "098"))).ahead(3));
        assertEquals(List.of("9", "10"), new RunningNumber("{n}", List.of(Field.running("n", "9"))).ahead(2));
    }

    @ParameterizedTest
    @CsvSource({"08, 10, 08 09 10 01 02", "8, 10, 8 9 10 1 2", "10, 10, 10 1 2", "B, C, B C A"})
    void withoutAFirstItBeginsAnewAsItWasWritten(String value, String last, String numbers) {
        List<String> expected = List.of(numbers.split(" "));
        RunningNumber at = new RunningNumber(
                "{round}{n}", List.of(wheel("round", "1", null, null), wheel("n", value, null, last)));
        assertEquals(
                expected,
                at.ahead(expected.size()).stream().map(n -> n.substring(1)).toList());
    }

    @Test
    void aSeriesEndsWhereItsLeftmostWheelDoes() {
        RunningNumber last =
                new RunningNumber("{a}{b}", List.of(wheel("a", "Z", null, null), wheel("b", "2", null, "2")));
        assertEquals(Optional.empty(), last.next());
        assertEquals(List.of("Z2"), last.ahead(5));
        assertEquals(Optional.empty(), new RunningNumber("{n}", List.of(Field.running("n", "999999999"))).next());
    }

    @Test
    void aFieldThatStandsTwiceIsOneWheel() {
        assertEquals(List.of("4-4", "5-5"), new RunningNumber("{n}-{n}", List.of(Field.running("n", "4"))).ahead(2));
    }

    /** Whatever the wheels: no number twice until the series ends, and as many as the wheels have places. */
    @Test
    void noNumberComesTwice() {
        Random random = new Random(11);
        for (int trial = 0; trial < 50; trial++) {
            int a = 1 + random.nextInt(5);
            int b = 1 + random.nextInt(9);
            RunningNumber at =
                    new RunningNumber("{a}-{b}", List.of(wheel("a", "1", null, "" + a), wheel("b", "1", "1", "" + b)));
            List<String> all = at.ahead(1000);
            Set<String> different = new HashSet<>(all);
            assertEquals(a * b, all.size());
            assertEquals(a * b, different.size());
            assertEquals(a + "-" + b, all.get(all.size() - 1));
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            textBlock =
                    """
            ''         | n | 1 | pattern  | 1 to 80 characters
            {n         | n | 1 | pattern  | no partner
            {N}        | N | 1 | pattern  | small letters
            {n}?       | n | 1 | pattern  | only
            {n}{m}     | n | 1 | fields.m | Say what {m} is
            A{m}       | n | 1 | fields.m | Say what
            {n}        | n | x | fields.n | What runs is a number
            {n}        | n | 1234567890 | fields.n | at most 9 digits
            """)
    void whatCannotBeIsToldByItsField(String pattern, String name, String value, String field, String words) {
        List<FieldProblem> problems = new RunningNumber(pattern, List.of(Field.running(name, value))).problems();
        assertEquals(field, problems.get(0).field());
        assertTrue(problems.get(0).what().contains(words), problems.toString());
    }

    @Test
    void whatIsPastItsLastDoesNotRunOrIsTooLongIsToldToo() {
        assertTrue(words(wheel("n", "13", null, "12")).contains("13 is past its last, 12"));
        assertTrue(words(wheel("n", "3", "B", null)).contains("first is not of the kind"));
        assertTrue(words(wheel("n", "3", "5", "4")).contains("first comes after its last"));
        assertTrue(words(Field.fixed("n", "1")).contains("has to run"));
        assertTrue(words(Field.fixed("n", " ")).contains("not empty"));
        RunningNumber wide =
                new RunningNumber("{a}{n}", List.of(Field.fixed("a", "x".repeat(40)), Field.running("n", "1")));
        assertTrue(wide.problems().get(0).what().contains("too long"));
    }

    private static String words(Field field) {
        return new RunningNumber("{n}", List.of(field)).problems().get(0).what();
    }
}
