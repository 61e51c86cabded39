package org.juratest.core.condition;

import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.hipparchus.distribution.continuous.NormalDistribution;
import org.hipparchus.distribution.continuous.TDistribution;
import org.hipparchus.util.KthSelector;

/** Whether the residuals of a line allow intervals by least squares, and a range that does not ask for it. */
final class Scatter {

    private static final double ONE_IN = 0.05;
    /** Fewer residuals say nothing of their shape. */
    private static final int FEWEST = 8;
    /** A* squared at 5 % for a normal distribution of unknown mean and variance (M. A. Stephens 1974). */
    private static final double ANDERSON_DARLING = 0.752;

    /** For tails of 10 %; where many values lie behind each line the fewer lines say as much. */
    private static final int MOST_RESAMPLES = 1999;

    private static final int FEWEST_RESAMPLES = 299;
    private static final int ENOUGH_SLOPES = 2_000_000;
    private static final KthSelector SELECTOR = new KthSelector();
    private static final double SMOOTHED = 0.25;
    private static final long SEED = 19_680_114L;
    private static final NormalDistribution NORMAL = new NormalDistribution();

    private Scatter() {}

    /**
     * No residual lies apart from the others (the largest externally studentised one against Student's t, its level
     * divided by their number: R. D. Cook, S. Weisberg, Residuals and Influence in Regression, 1982, 2.2.2), and from 8
     * values on they are not far from normal (T. W. Anderson, D. A. Darling 1954, by M. A. Stephens 1974).
     */
    static boolean allowsLeastSquares(Line line, List<Timed> segment) {
        int n = segment.size();
        if (line.freedom() < 2) {
            return true;
        }
        double noise = 1e-9 * Math.max(Math.abs(line.level()), Math.abs(line.slope()));
        if (!(line.deviation() > noise)) {
            return true;
        }
        double largest = 0;
        for (Timed t : segment) {
            largest = Math.max(largest, Math.abs(studentised(line, t)));
        }
        TDistribution student = new TDistribution(line.freedom() - 1);
        if (2 * n * (1 - student.cumulativeProbability(largest)) < ONE_IN) {
            return false;
        }
        return n < FEWEST || andersonDarling(line, segment) <= ANDERSON_DARLING;
    }

    private static double studentised(Line line, Timed t) {
        double away = t.years() - line.years();
        double leverage = 1.0 / line.n() + away * away / line.sxx();
        double inner = line.residual(t) / (line.deviation() * Math.sqrt(Math.max(1e-12, 1 - leverage)));
        int freedom = line.freedom();
        double left = freedom - inner * inner;
        return left <= 0 ? Double.POSITIVE_INFINITY : inner * Math.sqrt((freedom - 1) / left);
    }

    private static double andersonDarling(Line line, List<Timed> segment) {
        int n = segment.size();
        double[] z = segment.stream()
                .mapToDouble(t -> line.residual(t) / line.deviation())
                .sorted()
                .toArray();
        double sum = 0;
        for (int i = 0; i < n; i++) {
            double below = Math.max(1e-300, NORMAL.cumulativeProbability(z[i]));
            double above = Math.max(1e-300, NORMAL.cumulativeProbability(-z[n - 1 - i]));
            sum += (2 * i + 1) * (Math.log(below) + Math.log(above));
        }
        double a = -n - sum / n;
        return a * (1 + 0.75 / n + 2.25 / n / n);
    }

    /** A line by its slope a year and its value at 1970. */
    private record Resampled(double slope, double level) {
        double at(double time) {
            return level + slope * time;
        }
    }

    /**
     * Theil-Sen lines of resampled residuals (B. Efron, R. J. Tibshirani, An Introduction to the Bootstrap, 1993, 9.4),
     * centred on their median as the line is: on their mean, one wild value would draw all lines to its other side.
     * Seeded: the same values have the same lines.
     */
    private static Resampled[] resampled(List<Timed> segment, double slope, double share) {
        int n = segment.size();
        double level = level(segment, slope);
        double[] times = segment.stream().mapToDouble(Timed::years).toArray();
        double[] residuals = new double[n];
        double[] line = new double[n];
        for (int i = 0; i < n; i++) {
            residuals[i] = segment.get(i).value() - level - slope * times[i];
            line[i] = level + slope * times[i];
        }
        // Few residuals leave gaps that the values need not have: each is drawn with a spread of its own (Efron, 16.5).
        double[] sizes = Arrays.stream(residuals).map(Math::abs).sorted().toArray();
        double smooth = SMOOTHED * Monotony.median(sizes) / Peers.NORMAL;
        // Residuals of a fit are smaller than what scatters.
        int freedom = Math.max(1, n - 2);
        double quantile = (1 + share) / 2;
        double wider = Math.sqrt((double) n / freedom)
                * Student.quantile(freedom, quantile)
                / NORMAL.inverseCumulativeProbability(quantile);
        Random random = new Random(SEED);
        Pairs pairs = Pairs.of(segment);
        Resampled[] lines = new Resampled
                [Math.max(FEWEST_RESAMPLES, Math.min(MOST_RESAMPLES, ENOUGH_SLOPES / Math.max(1, pairs.apart.length)))];
        Slopes slopes = new Slopes(pairs);
        double[] values = new double[n];
        for (int r = 0; r < lines.length; r++) {
            for (int i = 0; i < n; i++) {
                values[i] = line[i] + (residuals[random.nextInt(n)] + smooth * random.nextGaussian()) * wider;
            }
            double own = slopes.of(values);
            lines[r] = new Resampled(own, level(times, values, own));
        }
        return lines;
    }

    /**
     * When the Theil-Sen line of resampled residuals meets a level: the range that holds a share of the resamples (B.
     * Efron, R. J. Tibshirani, An Introduction to the Bootstrap, 1993, 13.3).
     */
    static Line.Range meeting(List<Timed> segment, double slope, double limit, double share) {
        int n = segment.size();
        double level = level(segment, slope);
        boolean later = slope * (limit - level - slope * segment.get(n - 1).years()) > 0
                || slope * (limit - level - slope * segment.get(0).years()) > 0;
        double[] meets = Arrays.stream(resampled(segment, slope, share))
                .mapToDouble(line -> line.slope == 0 || Math.signum(line.slope) != Math.signum(slope)
                        // A line that turned the other way never gets there.
                        ? later ? Double.POSITIVE_INFINITY : Double.NEGATIVE_INFINITY
                        : (limit - line.level) / line.slope)
                .sorted()
                .toArray();
        return new Line.Range(quantile(meets, (1 - share) / 2, false), quantile(meets, (1 - share) / 2, true));
    }

    private static double quantile(double[] sorted, double tail, boolean upper) {
        int last = sorted.length - 1;
        return sorted[(int) (upper ? Math.ceil((1 - tail) * last) : Math.floor(tail * last))];
    }

    /** Between which values the resampled lines run at some times, at a share: lower ends, upper ends. */
    static double[][] between(List<Timed> segment, double slope, double[] times, double share) {
        Resampled[] lines = resampled(segment, slope, share);
        double[][] ends = new double[2][times.length];
        for (int i = 0; i < times.length; i++) {
            double time = times[i];
            double[] values =
                    Arrays.stream(lines).mapToDouble(l -> l.at(time)).sorted().toArray();
            ends[0][i] = quantile(values, (1 - share) / 2, false);
            ends[1][i] = quantile(values, (1 - share) / 2, true);
        }
        return ends;
    }

    /** Value at 1970 of the line of a slope through the middle of the values. */
    static double level(List<Timed> segment, double slope) {
        return level(
                segment.stream().mapToDouble(Timed::years).toArray(),
                segment.stream().mapToDouble(Timed::value).toArray(),
                slope);
    }

    private static double level(double[] times, double[] values, double slope) {
        double[] levels = new double[values.length];
        for (int i = 0; i < levels.length; i++) {
            levels[i] = values[i] - slope * times[i];
        }
        return middle(levels, (levels.length - 1) / 2, levels.length / 2);
    }

    /**
     * Pairs of values that are apart in time, of values in its order.
     *
     * @param earlier of each value, how many of the first ones lie before it in time
     * @param apart how far from each of them, years; value after value
     */
    record Pairs(int[] earlier, double[] apart) {

        static Pairs of(List<Timed> segment) {
            int n = segment.size();
            int[] earlier = new int[n];
            double[] apart = new double[n * (n - 1) / 2];
            int count = 0;
            for (int i = 0; i < n; i++) {
                double now = segment.get(i).years();
                int j = 0;
                while (j < i && segment.get(j).years() < now) {
                    apart[count++] = now - segment.get(j++).years();
                }
                earlier[i] = j;
            }
            return new Pairs(earlier, Arrays.copyOf(apart, count));
        }
    }

    /**
     * Theil-Sen slopes of many sets of values at the same times. Their medians lie close together among the slopes of
     * all pairs: what lies far to either side of those that were found is counted only.
     */
    static final class Slopes {

        private static final int KNOWN = 10;
        /** Within so many of their standard deviations nearly all of them lie. */
        private static final double NEAR = 2.5;

        private final Pairs pairs;
        private final double[] all;
        private final double[] near;
        private int found;
        private double mean;
        private double squares;

        Slopes(Pairs pairs) {
            this.pairs = pairs;
            this.all = new double[pairs.apart.length];
            // One more: what is not near is written behind the others, and written over.
            this.near = new double[all.length + 1];
        }

        double of(double[] values) {
            slopes(values);
            double margin = found < KNOWN ? 0 : NEAR * Math.sqrt(squares / found);
            double from = mean - margin;
            double to = mean + margin;
            int below = 0;
            int between = 0;
            // Without a branch: which way each goes cannot be foreseen.
            for (double slope : all) {
                near[between] = slope;
                below += slope < from ? 1 : 0;
                between += slope >= from & slope <= to ? 1 : 0;
            }
            int upper = all.length / 2;
            int lower = (all.length - 1) / 2;
            boolean within = margin > 0 && below <= lower && upper < below + between;
            double median = within
                    ? middle(Arrays.copyOf(near, between), lower - below, upper - below)
                    : middle(all, lower, upper);
            found++;
            double away = median - mean;
            mean += away / found;
            squares += away * (median - mean);
            return median;
        }

        /** In rows without a condition, which the machine works off several at a time. */
        private void slopes(double[] values) {
            double[] apart = pairs.apart;
            int row = 0;
            for (int i = 0; i < values.length; i++) {
                int earlier = pairs.earlier[i];
                double value = values[i];
                for (int j = 0; j < earlier; j++) {
                    all[row + j] = (value - values[j]) / apart[row + j];
                }
                row += earlier;
            }
        }
    }

    /** Mean of two values next to each other in order, or one, of some in any order, which are rearranged. */
    private static double middle(double[] values, int lower, int upper) {
        double greater = SELECTOR.select(values, null, upper);
        if (lower == upper) {
            return greater;
        }
        double below = Double.NEGATIVE_INFINITY;
        for (int i = 0; i < upper; i++) {
            below = Math.max(below, values[i]);
        }
        return (below + greater) / 2;
    }
}
