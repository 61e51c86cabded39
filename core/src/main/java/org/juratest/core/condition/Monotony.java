package org.juratest.core.condition;

import java.util.Arrays;
import java.util.List;
import java.util.OptionalDouble;
import org.hipparchus.util.KthSelector;

/**
 * Whether and how steeply values go one way, without asking how they scatter: the Mann-Kendall test (H. B. Mann 1945;
 * M. G. Kendall 1970) and the Theil-Sen slope with its interval by ranks (P. K. Sen, "Estimates of the regression
 * coefficient based on Kendall's tau", J. Am. Stat. Assoc. 63, 1968). Over several segments only values of one segment
 * are compared with each other.
 *
 * @param n values
 * @param s Kendall's S
 * @param p two-sided; 1 where nothing can be compared
 * @param slope a year; empty where no two values of a segment are apart in time
 * @param low lower end of the 95 % interval of the slope
 * @param high upper end
 */
public record Monotony(int n, int s, double p, OptionalDouble slope, OptionalDouble low, OptionalDouble high) {

    private static final double SHARE = 0.95;

    /** Of four places among the same slopes each search goes on where the one before it ended. */
    private static final KthSelector SELECTOR = new KthSelector();

    private static final int KNOWN_PIVOTS = 1023;

    /** Of one segment, in any order. */
    public static Monotony of(List<Timed> segment) {
        return pooled(List.of(segment));
    }

    /** Of several segments that have a slope in common. */
    public static Monotony pooled(List<List<Timed>> segments) {
        int n = 0;
        int s = 0;
        double tiedVariance = 0;
        boolean timesTied = false;
        KendallDistribution untied = KendallDistribution.untied(1);
        KendallDistribution tied = untied;
        double[] slopes = new double
                [segments.stream().mapToInt(t -> t.size() * (t.size() - 1) / 2).sum()];
        int pairs = 0;
        for (List<Timed> segment : segments) {
            n += segment.size();
            double[] values = segment.stream().mapToDouble(Timed::value).toArray();
            double[] times = segment.stream().mapToDouble(Timed::years).toArray();
            for (int i = 0; i < values.length; i++) {
                for (int j = 0; j < i; j++) {
                    double apart = times[i] - times[j];
                    double change = values[i] - values[j];
                    if (apart == 0) {
                        timesTied = true;
                    } else {
                        s += (int) (Math.signum(apart) * Math.signum(change));
                        slopes[pairs++] = change / apart;
                    }
                }
            }
            tied = tied.and(KendallDistribution.of(values));
            untied = untied.and(KendallDistribution.untied(segment.size()));
            tiedVariance += variance(times, values);
        }
        double p = timesTied ? normal(s, tiedVariance) : tied.twoSided(s);
        if (pairs == 0) {
            return new Monotony(n, s, p, OptionalDouble.empty(), OptionalDouble.empty(), OptionalDouble.empty());
        }
        double[] all = Arrays.copyOf(slopes, pairs);
        // Pairs at one time have no slope; the ranks are those of as many pairs as there are.
        int rank = Math.max(1, untied.lowestRank(SHARE) - (untied.pairs() - pairs) / 2);
        int[] known = new int[KNOWN_PIVOTS];
        Arrays.fill(known, -1);
        double low = SELECTOR.select(all, known, rank - 1);
        double lower = SELECTOR.select(all, known, (pairs - 1) / 2);
        double upper = SELECTOR.select(all, known, pairs / 2);
        double high = SELECTOR.select(all, known, pairs - rank);
        return new Monotony(
                n, s, p, OptionalDouble.of((lower + upper) / 2), OptionalDouble.of(low), OptionalDouble.of(high));
    }

    private static double normal(int s, double variance) {
        if (s == 0 || !(variance > 0)) {
            return 1;
        }
        return 2
                * (1
                        - new org.hipparchus.distribution.continuous.NormalDistribution()
                                .cumulativeProbability((Math.abs(s) - 1) / Math.sqrt(variance)));
    }

    /** Variance of S with ties in times and in values (Kendall 1970, 4.2, equation 4.3). */
    private static double variance(double[] times, double[] values) {
        double n = times.length;
        double[] x = sums(times);
        double[] y = sums(values);
        double variance = (n * (n - 1) * (2 * n + 5) - x[2] - y[2]) / 18;
        if (n > 1) {
            variance += x[0] * y[0] / (2 * n * (n - 1));
        }
        if (n > 2) {
            variance += x[1] * y[1] / (9 * n * (n - 1) * (n - 2));
        }
        return variance;
    }

    /** Over groups of t equal ones: t (t - 1), t (t - 1) (t - 2), t (t - 1) (2 t + 5). */
    private static double[] sums(double[] values) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        double[] sums = new double[3];
        int from = 0;
        for (int i = 1; i <= sorted.length; i++) {
            if (i == sorted.length || sorted[i] > sorted[from]) {
                double t = i - from;
                sums[0] += t * (t - 1);
                sums[1] += t * (t - 1) * (t - 2);
                sums[2] += t * (t - 1) * (2 * t + 5);
                from = i;
            }
        }
        return sums;
    }

    /** The middle of sorted values, or the mean of the two in the middle. */
    static double median(double[] sorted) {
        int n = sorted.length;
        return (sorted[(n - 1) / 2] + sorted[n / 2]) / 2;
    }
}
