package org.juratest.core.condition;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.hipparchus.distribution.continuous.TDistribution;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What is left out to be fast changes no figure. */
class ScatterTest {

    private static List<Timed> visits(int n, Random random, boolean tied) {
        List<Timed> visits = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            visits.add(new Timed(tied ? i / 2 : i + random.nextDouble() / 2, random.nextGaussian()));
        }
        return visits;
    }

    /** Slope by slope, sorted: the definition. */
    private static double sorted(List<Timed> visits, double[] values) {
        List<Double> slopes = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            for (int j = 0; j < i; j++) {
                double apart = visits.get(i).years() - visits.get(j).years();
                if (apart != 0) {
                    slopes.add((values[i] - values[j]) / apart);
                }
            }
        }
        return Monotony.median(
                slopes.stream().mapToDouble(Double::doubleValue).sorted().toArray());
    }

    @ParameterizedTest
    @CsvSource({"4, false", "5, false", "6, true", "9, true", "12, false", "30, true", "47, false", "80, false"})
    void slopesOfManySetsAreTheirMediansWhateverLiesFarAway(int n, boolean tied) {
        Random random = new Random(n);
        List<Timed> visits = visits(n, random, tied);
        Scatter.Slopes slopes = new Scatter.Slopes(Scatter.Pairs.of(visits));
        for (int set = 0; set < 300; set++) {
            // Now and then all of it goes another way, where none of those before was near.
            double way = set % 50 == 49 ? 30 * random.nextGaussian() : 0;
            double[] values = new double[n];
            for (int i = 0; i < n; i++) {
                values[i] = way * visits.get(i).years() + random.nextGaussian();
            }
            if (set % 7 == 0) {
                Arrays.fill(values, 0, n / 2, 1);
            }
            assertEquals(sorted(visits, values), slopes.of(values), 0, "set " + set);
        }
    }

    /** The range of a long series is found by fewer lines than that of a short one, and says the same. */
    @Test
    void aLongSeriesHasTheRangeOfItsSlope() {
        Random random = new Random(3);
        List<Timed> visits = new ArrayList<>();
        for (int i = 0; i < 120; i++) {
            // Every tenth value lies far out: least squares would not do.
            visits.add(new Timed(i / 12.0, i / 12.0 + (i % 10 == 0 ? 4 : 0.3) * random.nextGaussian()));
        }
        Line.Range range = Scatter.meeting(visits, Monotony.of(visits).slope().orElseThrow(), 20, 0.8);
        assertEquals(20, (range.from() + range.to()) / 2, 0.5, range.toString());
        assertEquals(0.9, range.to() - range.from(), 0.5, range.toString());
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 7, 40, 1000, 1001, 5000})
    void quantilesOfStudentAreTheLibrarysHoweverOftenTheyAreAsked(int freedom) {
        for (double below : new double[] {0.025, 0.5, 0.9, 0.995}) {
            double expected = new TDistribution(freedom).inverseCumulativeProbability(below);
            assertEquals(expected, Student.quantile(freedom, below), 0);
            assertEquals(expected, Student.quantile(freedom, below), 0);
        }
    }
}
