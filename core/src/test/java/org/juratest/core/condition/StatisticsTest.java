package org.juratest.core.condition;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What trends are made of, against published tables, published examples and what can be counted out. */
class StatisticsTest {

    static List<Timed> series(double... values) {
        return IntStream.range(0, values.length)
                .mapToObj(i -> new Timed(i, values[i]))
                .toList();
    }

    // ---- Kendall's S

    /** M. G. Kendall, Rank Correlation Methods, appendix table 1; the same in M. Hollander, D. A. Wolfe, table A.30. */
    @ParameterizedTest
    @CsvSource({
        "4, 6, 0.042", "4, 4, 0.167", "5, 10, 0.0083", "5, 8, 0.042", "5, 6, 0.117", "6, 15, 0.0014", "6, 11, 0.028",
        "7, 13, 0.035", "7, 15, 0.015", "8, 16, 0.031", "8, 18, 0.016", "9, 20, 0.022", "10, 21, 0.036", "10, 23, 0.023"
    })
    void chancesOfSAreThoseOfTheTable(int n, int s, double upper) {
        assertEquals(upper, KendallDistribution.untied(n).twoSided(s) / 2, 0.0006);
    }

    /** Every order of the values is gone through; ties count as they are. */
    @ParameterizedTest
    @ValueSource(strings = {"1 2 3 4", "1 1 2 3 4", "1 1 2 2 3 3", "1 1 1 2 3", "2 2 2 2", "1 2 2 2 2 3 4"})
    void chancesWithTiesAreThoseOfAllOrders(String text) {
        double[] values =
                Arrays.stream(text.split(" ")).mapToDouble(Double::parseDouble).toArray();
        List<Integer> all = new ArrayList<>();
        orders(values, 0, all);
        KendallDistribution counted = KendallDistribution.of(values);
        for (int s = 0; s <= 21; s++) {
            int at = s;
            double share = all.stream().filter(a -> Math.abs(a) >= at).count() / (double) all.size();
            assertEquals(s == 0 ? 1 : share, counted.twoSided(s), 1e-12, "S = " + s);
        }
        double mean = all.stream().mapToInt(a -> a * a).average().orElseThrow();
        assertEquals(mean, counted.variance(), 1e-9, "the variance that is corrected for ties");
    }

    private static void orders(double[] values, int from, List<Integer> all) {
        if (from == values.length) {
            int s = 0;
            for (int i = 0; i < values.length; i++) {
                for (int j = 0; j < i; j++) {
                    s += (int) Math.signum(values[i] - values[j]);
                }
            }
            all.add(s);
        }
        for (int i = from; i < values.length; i++) {
            swap(values, from, i);
            orders(values, from + 1, all);
            swap(values, from, i);
        }
    }

    private static void swap(double[] values, int i, int j) {
        double kept = values[i];
        values[i] = values[j];
        values[j] = kept;
    }

    @Test
    void manyValuesAreNearNormalAndMeetWhatIsCounted() {
        double counted = KendallDistribution.untied(40).twoSided(180);
        double[] values = IntStream.range(0, 41).mapToDouble(i -> i).toArray();
        KendallDistribution normal = KendallDistribution.of(values);
        assertFalse(normal.isExact());
        assertEquals(counted, KendallDistribution.untied(40).twoSided(-180), 1e-15);
        assertEquals(41 * 40 * 87 / 18.0, normal.variance(), 1e-9);
        // z = 179 / sqrt(40 * 39 * 85 / 18) = 2.0855
        assertEquals(0.037, counted, 0.001);
    }

    @Test
    void pooledSegmentsAreCountedTogether() {
        // Two of three each: S = 6 needs both in order, 1 of 36 one way.
        KendallDistribution two = KendallDistribution.untied(3).and(KendallDistribution.untied(3));
        assertEquals(2 / 36.0, two.twoSided(6), 1e-15);
        assertEquals(2 * 5 / 36.0, two.twoSided(4), 1e-15);
        assertEquals(6, two.pairs());
    }

    // ---- slopes

    /**
     * M. Hollander, D. A. Wolfe, Nonparametric Statistical Methods, examples 9.1 and 9.2: double ratios of five years.
     */
    @Test
    void theTheilSenSlopeOfTheDoubleRatiosIsThatOfTheBook() {
        Monotony found = Monotony.of(List.of(
                new Timed(1, 1.26), new Timed(2, 1.27), new Timed(3, 1.12), new Timed(4, 1.16), new Timed(5, 1.03)));
        assertEquals(-6, found.s());
        assertEquals(2 * 0.117, found.p(), 0.001);
        assertEquals(-0.05625, found.slope().orElseThrow(), 1e-12);
        assertEquals(-0.15, found.low().orElseThrow(), 1e-12);
        assertEquals(0.04, found.high().orElseThrow(), 1e-12);
    }

    /**
     * Ranks of the interval by the table of S at 2.5 %: of 6 values the 2nd and 14th of 15 slopes, of 8 the 6th and
     * 23rd.
     */
    @ParameterizedTest
    @CsvSource({"4, 1", "5, 1", "6, 2", "7, 4", "8, 6"})
    void theIntervalOfTheSlopeIsByRanks(int n, int rank) {
        Random random = new Random(n);
        List<Timed> values = IntStream.range(0, n)
                .mapToObj(i -> new Timed(i, random.nextGaussian()))
                .toList();
        double[] slopes = IntStream.range(0, n)
                .boxed()
                .flatMapToDouble(i -> IntStream.range(0, i)
                        .mapToDouble(j -> (values.get(i).value() - values.get(j).value()) / (i - j)))
                .sorted()
                .toArray();
        Monotony found = Monotony.of(values);
        assertEquals(slopes[rank - 1], found.low().orElseThrow());
        assertEquals(slopes[slopes.length - rank], found.high().orElseThrow());
    }

    @Test
    void whatCannotBeComparedHasNoSlope() {
        assertTrue(Monotony.of(List.of()).slope().isEmpty());
        assertTrue(Monotony.of(series(3)).slope().isEmpty());
        assertEquals(1, Monotony.of(series(3)).p());
        Monotony atOnce = Monotony.of(List.of(new Timed(1, 2), new Timed(1, 3)));
        assertTrue(atOnce.slope().isEmpty());
        assertEquals(1, atOnce.p());
        assertEquals(1, Monotony.of(series(5, 5, 5, 5, 5)).p());
        assertEquals(0, Monotony.of(series(5, 5, 5, 5, 5)).slope().orElseThrow());
        assertThrows(IllegalArgumentException.class, () -> new Timed(1, Double.NaN));
        assertThrows(IllegalArgumentException.class, () -> new Timed(Double.POSITIVE_INFINITY, 1));
    }

    /** Two values at one time are not held against each other; the variance is Kendall's for ties both ways. */
    @Test
    void twoAtOneTimeAreNotComparedWithEachOther() {
        Monotony found = Monotony.of(
                List.of(new Timed(1, 1), new Timed(1, 9), new Timed(2, 10), new Timed(3, 11), new Timed(4, 12)));
        assertEquals(9, found.s());
        // var = (5 4 15 - 2 1 9) / 18 = 15.667, z = 8 / 3.958
        assertEquals(0.0433, found.p(), 0.0005);
    }

    // ---- least squares

    /** NIST Statistical Reference Datasets, linear regression, Norris (certified values). */
    @Test
    void theLineOfNorrisIsTheCertifiedOne() {
        double[] x = {
            0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6, 775.5, 666.9, 338.0,
            447.5, 11.6, 556.0, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8, 339.1, 887.2, 999.0, 779.0, 11.1, 118.3,
            229.2, 669.1, 448.9, 0.5
        };
        double[] y = {
            0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8, 339.3,
            448.9, 10.8, 557.7, 228.3, 998.0, 888.8, 119.6, 0.3, 0.6, 557.6, 339.3, 888.0, 998.5, 778.9, 10.2, 117.6,
            228.9, 668.4, 449.2, 0.2
        };
        Line line = Line.of(IntStream.range(0, x.length)
                .mapToObj(i -> new Timed(x[i], y[i]))
                .toList());
        assertNotNull(line);
        assertEquals(1.00211681802045, line.slope(), 1e-12);
        assertEquals(-0.262323073774029, line.at(0), 1e-10);
        assertEquals(0.884796396144373, line.deviation(), 1e-10);
        assertEquals(0.429796848199937e-3, line.deviation() / Math.sqrt(line.sxx()), 1e-13);
    }

    /** Worked by hand: 1, 2, 4, 5 at 0 to 3: slope 1.4, level 3, s^2 = 0.1, sxx = 5, t(0.80, 2) = 1.8856. */
    @Test
    void theRangeOfACrossingIsFiellers() {
        Line line = Line.of(series(1, 2, 4, 5));
        assertNotNull(line);
        assertEquals(1.4, line.slope(), 1e-12);
        assertEquals(Math.sqrt(0.1), line.deviation(), 1e-12);
        assertEquals(1.5 + (10 - 3) / 1.4, line.meets(10), 1e-12);
        Line.Range range = line.meeting(10, 0.8);
        // At both ends the line's own interval reaches the limit just so.
        assertEquals(10, line.at(range.from()) + line.half(range.from(), 0.8), 1e-9);
        assertEquals(10, line.at(range.to()) - line.half(range.to(), 0.8), 1e-9);
        double g = 1.885618083 * 1.885618083 * 0.1 / (1.4 * 1.4 * 5);
        double middle = 1.5 + 5 / (1 - g);
        assertEquals(middle, (range.from() + range.to()) / 2, 1e-6);
    }

    @Test
    void theLateEndIsOpenWhereTheSlopeMayBeNone() {
        Line line = Line.of(series(1, 3, 1.5, 3.2, 1.2));
        assertNotNull(line);
        Line.Range range = line.meeting(5, 0.8);
        assertEquals(Double.POSITIVE_INFINITY, range.to());
        assertTrue(range.from() > 4, "not before: " + range);
        assertEquals(5, line.at(range.from()) + line.half(range.from(), 0.8), 1e-9);
    }

    /** Of 3,000 lines of known crossing, 80 % of the ranges hold it. */
    @Test
    void rangesHoldTheCrossingAsOftenAsTheySay() {
        Random random = new Random(17);
        int held = 0;
        int boot = 0;
        int all = 3000;
        for (int k = 0; k < all; k++) {
            List<Timed> values = IntStream.range(0, 8)
                    .mapToObj(i -> new Timed(i, 10 + 2 * i + random.nextGaussian()))
                    .toList();
            Line line = Line.of(values);
            assertNotNull(line);
            Line.Range range = line.meeting(40, 0.8);
            held += range.from() <= 15 && 15 <= range.to() ? 1 : 0;
            if (k % 5 == 0) {
                List<Timed> wild = new ArrayList<>(values);
                wild.set(k / 5 % 8, new Timed(k / 5 % 8, values.get(k / 5 % 8).value() + 9));
                Line.Range other =
                        Scatter.meeting(wild, Monotony.of(wild).slope().orElseThrow(), 40, 0.8);
                boot += other.from() <= 15 && 15 <= other.to() ? 1 : 0;
            }
        }
        assertEquals(0.8, held / (double) all, 0.025);
        assertEquals(0.8, boot / (all / 5.0), 0.05, "with one wild value among them");
    }

    @Test
    void aBootstrapIsTheSameEveryTime() {
        List<Timed> values = series(1, 2, 3, 4, 30, 6, 7);
        assertEquals(Scatter.meeting(values, 1, 12, 0.8), Scatter.meeting(values, 1, 12, 0.8));
    }

    @Test
    void oneWildValueOrALopsidedScatterForbidsLeastSquares() {
        List<Timed> wild = series(1, 2.1, 2.9, 30, 5.1, 5.9, 7.2);
        assertFalse(Scatter.allowsLeastSquares(line(wild), wild));
        List<Timed> good = series(1, 2.1, 2.9, 4.2, 5.1, 5.9, 7.2);
        assertTrue(Scatter.allowsLeastSquares(line(good), good));
        List<Timed> straight = series(1, 2, 3, 4);
        assertTrue(Scatter.allowsLeastSquares(line(straight), straight), "nothing scatters");
        Random random = new Random(3);
        List<Timed> lopsided = IntStream.range(0, 60)
                .mapToObj(i -> new Timed(i, i - 3 * Math.log(random.nextDouble())))
                .toList();
        assertFalse(Scatter.allowsLeastSquares(line(lopsided), lopsided));
    }

    private static Line line(List<Timed> values) {
        Line line = Line.of(values);
        assertNotNull(line);
        return line;
    }

    @Test
    void segmentsWithALevelEachHaveTheSlopeOfTheirDifferences() {
        List<List<Timed>> segments = List.of(
                List.of(new Timed(0, 5), new Timed(1, 7)),
                List.of(new Timed(1, 1), new Timed(2, 3)),
                List.of(new Timed(2, 0), new Timed(3, 2)));
        Line line = Line.pooled(segments);
        assertNotNull(line);
        assertEquals(2, line.slope(), 1e-12);
        assertEquals(2, line.freedom());
        assertEquals(2, line.at(3), 1e-12, "at the level of the last");
        assertNull(Line.of(series(4)));
    }

    // ---- steps

    /**
     * The yearly flow of the Nile 1871 to 1970 changed after 1898 (G. W. Cobb 1978); K is counted out by its
     * definition.
     */
    @Test
    void theNileChangedIn1898() {
        double[] flow = {
            1120, 1160, 963, 1210, 1160, 1160, 813, 1230, 1370, 1140, 995, 935, 1110, 994, 1020, 960, 1180, 799, 958,
            1140, 1100, 1210, 1150, 1250, 1260, 1220, 1030, 1100, 774, 840, 874, 694, 940, 833, 701, 916, 692, 1020,
            1050, 969, 831, 726, 456, 824, 702, 1120, 1100, 832, 764, 821, 768, 845, 864, 862, 698, 845, 744, 796, 1040,
            759, 781, 865, 845, 944, 984, 897, 822, 1010, 771, 676, 649, 846, 812, 742, 801, 1040, 860, 874, 848, 890,
            744, 749, 838, 1050, 918, 986, 797, 923, 975, 815, 1020, 906, 901, 1170, 912, 746, 919, 718, 714, 740
        };
        Steps.Pettitt found = Steps.Pettitt.of(flow);
        double most = 0;
        for (int t = 1; t < flow.length; t++) {
            int at = t;
            most = Math.max(
                    most,
                    Math.abs(IntStream.range(0, at)
                            .mapToDouble(i -> IntStream.range(at, flow.length)
                                    .mapToDouble(j -> Math.signum(flow[i] - flow[j]))
                                    .sum())
                            .sum()));
        }
        assertEquals(most, found.k());
        assertEquals(28, found.before());
        assertTrue(found.p() < 1e-6);
        assertEquals(
                List.of(28),
                Steps.of(series(flow), new double[100]).stream()
                        .filter(i -> i == 28)
                        .toList());
    }

    @Test
    void aStepIsToldOnceAndOneWildValueDoesNotMakeTheNextOne() {
        assertEquals(List.of(5), steps(10, 10.1, 9.9, 10, 10.1, 15, 15.1, 14.9, 15));
        assertEquals(List.of(5), steps(10, 10.1, 9.9, 10, 10.1, 15, 10, 9.9, 10.1));
        assertEquals(List.of(), steps(10, 10.1, 9.9, 10, 10.1, 10));
        assertEquals(List.of(), steps(10, 12, 14, 16, 18, 20), "a drift is no step");
        assertEquals(List.of(), steps(10, 15, 10));
        assertEquals(List.of(), steps());
    }

    @Test
    void whatTheUncertaintyExplainsIsNoStep() {
        double[] values = {10, 10.1, 9.9, 10, 10.1, 15};
        double[] vague = {4, 4, 4, 4, 4, 4};
        assertEquals(List.of(), Steps.of(series(values), vague));
        assertEquals(List.of(5), Steps.of(series(values), new double[6]));
    }

    private static List<Integer> steps(double... values) {
        return Steps.of(series(values), new double[values.length]);
    }

    // ---- peers, groups, intervals

    @Test
    void anOutlierLiesApartInTheBadDirection() {
        double[] peers = {190, 195, 200, 205, 210, 215, 192, 208};
        Peers found = Peers.of(287, peers);
        assertEquals(202.5, found.median(), 1e-12);
        assertEquals(0.6745 * (287 - 202.5) / found.mad(), found.z().orElseThrow(), 1e-12);
        assertTrue(found.isOutlier(1));
        assertFalse(found.isOutlier(-1));
        assertTrue(Peers.of(100, peers).isOutlier(0));
        assertTrue(Peers.of(287, Arrays.copyOf(peers, 7)).z().isEmpty(), "too few peers");
        assertTrue(Peers.of(287, new double[] {1, 1, 1, 1, 1, 1, 1, 1}).z().isEmpty(), "no scatter");
    }

    /** R. A. Fisher, The Design of Experiments, 1935: the lady who tasted tea, all four of eight: 1 in 70. */
    @Test
    void theChanceOfAGroupIsThatOfTheTea() {
        List<Shared> found = Shared.of(4, 8, List.of(new Shared.Tried("milk", "first", 4, 4)));
        assertEquals(1 / 70.0, found.get(0).odds(), 1e-12);
        List<Shared> more = Shared.of(
                4,
                8,
                List.of(
                        new Shared.Tried("milk", "first", 4, 4),
                        new Shared.Tried("cup", "blue", 2, 4),
                        new Shared.Tried("cup", "red", 1, 4)));
        assertEquals(2 / 70.0, more.get(0).odds(), 1e-12, "what only one has was no try");
        assertEquals(1, more.size(), "half of them are no sign");
        assertEquals(List.of(), Shared.of(8, 8, List.of(new Shared.Tried("milk", "first", 4, 4))));
        assertThrows(IllegalArgumentException.class, () -> new Shared.Tried("milk", "first", 5, 4));
    }

    @Test
    void theAdvisedIntervalEndsWhereTheRiskIsReached() {
        List<Timed> values = series(10, 12.1, 13.9, 16, 18.1, 19.9);
        IntervalAdvice advice = IntervalAdvice.of(line(values), null, 24.0, 5, 0.05, 120);
        assertNotNull(advice);
        assertTrue(advice.bounded());
        double at = 5 + advice.months() / 12.0;
        assertTrue(IntervalAdvice.outside(line(values), null, 24.0, at) <= 0.05);
        assertTrue(IntervalAdvice.outside(line(values), null, 24.0, at + 1 / 12.0) > 0.05);
        // The line meets it after 2 years; the scatter takes some weeks off.
        assertTrue(advice.months() >= 18 && advice.months() <= 24, advice.toString());
        IntervalAdvice level = IntervalAdvice.of(line(series(10, 10.1, 9.9, 10, 10.1)), 5.0, 15.0, 4, 0.01, 48);
        assertNotNull(level);
        assertEquals(48, level.months());
        assertFalse(level.bounded());
        IntervalAdvice late = IntervalAdvice.of(line(values), null, 19.0, 5, 0.05, 48);
        assertNotNull(late);
        assertEquals(0, late.months());
        assertNull(IntervalAdvice.of(line(series(1, 2, 3)), null, 9.0, 2, 0.05, 48), "too few");
        assertNull(IntervalAdvice.of(line(values), null, null, 5, 0.05, 48), "no limit");
        assertThrows(
                IllegalArgumentException.class, () -> IntervalAdvice.of(line(values), null, 24.0, 5, Double.NaN, 48));
    }

    /** Month by month, whatever the line and its limits: the last one before the chance is above the risk. */
    @Test
    void theAdvisedIntervalIsTheLastMonthBeforeTheRisk() {
        Random random = new Random(23);
        int ended = 0;
        for (int k = 0; k < 300; k++) {
            double slope = random.nextGaussian();
            double scatter = random.nextInt(5) == 0 ? 0 : random.nextDouble();
            List<Timed> values = IntStream.range(0, 4 + random.nextInt(6))
                    .mapToObj(i -> new Timed(i, slope * i + scatter * random.nextGaussian()))
                    .toList();
            Double high = random.nextInt(4) == 0 ? null : (Double) (2 + 6 * random.nextDouble());
            Double low = high != null && random.nextBoolean() ? null : (Double) (-2 - 6 * random.nextDouble());
            double risk = List.of(0.01, 0.05, 0.2).get(random.nextInt(3));
            double last = values.size() - 1;
            IntervalAdvice advice = IntervalAdvice.of(line(values), low, high, last, risk, 60);
            assertNotNull(advice);
            int months = 0;
            while (months < 60 && IntervalAdvice.outside(line(values), low, high, last + (months + 1) / 12.0) <= risk) {
                months++;
            }
            assertEquals(months, advice.months(), values + " within " + low + " to " + high + " at " + risk);
            assertEquals(months < 60, advice.bounded());
            assertTrue(advice.chance() <= risk);
            ended += advice.bounded() ? 1 : 0;
        }
        assertTrue(ended > 50 && ended < 290, "both kinds were tried: " + ended);
    }

    @Test
    void whatDriftedIsAsFoundNowLessAsLeftThen() {
        List<Drift> found = Drift.between(
                List.of(new Drift.Visit(0, 1.0, 0.0), new Drift.Visit(1, 0.9, 0.1), new Drift.Visit(3, 2.1, 0.0)));
        assertEquals(2, found.size());
        assertEquals(0.9, found.get(0).perYear(), 1e-12);
        assertEquals(1.0, found.get(1).perYear(), 1e-12);
        assertEquals(0.95, Drift.median(found).orElseThrow(), 1e-12);
    }
}
