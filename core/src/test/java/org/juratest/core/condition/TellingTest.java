package org.juratest.core.condition;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.limit.Scale;

/** What is said of a trend: sentences that hold what was computed, and only that. */
class TellingTest {

    private static List<Trend.Visit> yearly(Double low, Double high, double... values) {
        List<Trend.Visit> visits = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            visits.add(new Trend.Visit(new Timed(50 + i, values[i]), low, high, 0, false));
        }
        return visits;
    }

    private static List<String> told(Scale scale, String unit, List<Trend.Visit> visits) {
        return Telling.of(Trend.of(visits), scale, unit);
    }

    @Test
    void howFastHowSureAndByWhichMethod() {
        List<String> words = told(Scale.LINEAR, "ohm", yearly(null, 30.0, 10, 12, 14, 16, 18));
        assertEquals(
                List.of(
                        "Rises by 2.00 ohm a year (2.00 to 2.00 at 95 %); Mann-Kendall p = 0.017.",
                        "Range at 80 %: least squares, inverse prediction (Fieller)."),
                words);
        assertTrue(told(Scale.LINEAR, "V", yearly(3.0, null, 18, 16, 14, 12, 10))
                .get(0)
                .startsWith("Falls by 2.00 V a year"));
        assertTrue(told(Scale.LINEAR, "", yearly(null, 30.0, 10, 11, 12, 13, 28, 15, 16, 17))
                .get(1)
                .contains("bootstrap of the Theil-Sen line"));
    }

    /** On a logarithmic axis what drifts is a factor: a decade in five years is 1.58 a year. */
    @Test
    void aLogarithmicDriftIsAFactor() {
        double[] decades = IntStream.range(0, 6).mapToDouble(i -> 3 - 0.2 * i).toArray();
        assertTrue(told(Scale.LOGARITHMIC, "Mohm", yearly(1.0, null, decades))
                .get(0)
                .startsWith("Falls by a factor of 1.58 a year (1.58 to 1.58 at 95 %)"));
    }

    @Test
    void whatDoesNotDriftIsNotTalkedInto() {
        List<String> words = told(Scale.LINEAR, "ohm", yearly(null, 30.0, 10, 12, 9, 13, 10));
        assertEquals(1, words.size());
        assertTrue(words.get(0).startsWith("Nothing goes one way: Mann-Kendall p = "), words.get(0));
        assertEquals(List.of(), told(Scale.LINEAR, "ohm", yearly(null, 30.0, 10, 11, 12)), "too few to say anything");
        assertEquals(List.of(), told(Scale.LINEAR, "ohm", List.of()));
    }

    @Test
    void aVerySmallPIsNotToldAsAFigure() {
        double[] rising = IntStream.range(0, 12).mapToDouble(i -> i).toArray();
        assertTrue(told(Scale.LINEAR, "", yearly(null, 90.0, rising)).get(0).contains("Mann-Kendall p below 0.001"));
    }

    /** Away from the limit there is no date, and no method of one. */
    @Test
    void awayFromTheLimitNoRangeIsClaimed() {
        assertEquals(
                1, told(Scale.LINEAR, "V", yearly(3.0, null, 10, 12, 14, 16)).size());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "5|5|false|One like it stands at 5.00 ohm; too few to call one apart.",
                "5|4,6,5|false|3 like it stand at 4.00 to 6.00 ohm; too few to call one apart.",
                "5|1,2,3,4,5,6,7,8|false|8 like it stand at 1.00 to 8.00 ohm.",
                "50|1,2,3,4,5,6,7,8|true|8 like it stand at 1.00 to 8.00 ohm; this one stands apart.",
                "5|-9,2,3,4,5,6,7,8,9,90|false|10 like it stand, but for a tenth at either end, at 2.00 to 9.00 ohm."
            })
    void whereItStandsAmongItsLike(double value, String others, boolean outlier, String words) {
        double[] values = Arrays.stream(others.split(","))
                .mapToDouble(Double::parseDouble)
                .toArray();
        assertEquals(List.of(words), Telling.peers(Telling.Like.of(values), "ohm", outlier));
        assertEquals(List.of(), Telling.peers(null, "ohm", outlier));
    }

    /** Seasons as they are said, and years beyond what seasons say anything of; open ends; what is over. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "56.25|56.45|56.35|at its limit between spring 2026 and summer 2026",
                "56.05|56.1|56.08|at its limit in winter 2025/26",
                "56.96|57.1|57.0|at its limit in winter 2026/27",
                "56.0|56.2|55.9|at its limit now",
                "55.0|56.6|56.2|at its limit between now and summer 2026",
                "63.2|66.2|64.0|at its limit between 2033 and 2036",
                "58.2|80|60.0|at its limit not before spring 2028",
                "77|90|80.0|not at its limit within 20 years"
            })
    void aRangeOfTimeInWords(double from, double to, double crossing, String words) {
        assertEquals(words, TrendWords.meets(new Line.Range(from, to), crossing, 56.0));
    }
}
