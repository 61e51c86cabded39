package org.juratest.core.condition;

import java.util.Arrays;
import org.hipparchus.distribution.continuous.NormalDistribution;

/**
 * How Kendall's S (concordant less discordant pairs) is distributed where there is no trend and times differ: exact by
 * counting permutations of the values as they are tied (M. G. Kendall, Rank Correlation Methods, 4th ed. 1970, 5.2 and
 * 5.8; of tied values by Gaussian binomials), normal with the variance corrected for ties where there are many. Sums of
 * the S of independent segments are distributed as their convolution (R. M. Hirsch, J. R. Slack 1982).
 */
final class KendallDistribution {

    /** Beyond, counts lose nothing that is asked for, but time. */
    private static final int EXACT_TO = 40;

    private static final NormalDistribution NORMAL = new NormalDistribution();

    /** Chance of S = greatest - 2 i; empty where it is not counted. */
    private final double[] chances;
    /** Greatest S: the pairs that are not tied. */
    private final int greatest;

    private final double variance;

    private KendallDistribution(double[] chances, int greatest, double variance) {
        this.chances = chances;
        this.greatest = greatest;
        this.variance = variance;
    }

    /** Of one segment whose times all differ. */
    static KendallDistribution of(double[] values) {
        int n = values.length;
        int[] ties = ties(values);
        int pairs = n * (n - 1) / 2;
        double variance = n * (n - 1.0) * (2 * n + 5);
        for (int tie : ties) {
            pairs -= tie * (tie - 1) / 2;
            variance -= tie * (tie - 1.0) * (2 * tie + 5);
        }
        if (n > EXACT_TO) {
            return new KendallDistribution(new double[0], pairs, variance / 18);
        }
        // Numbers of inversions of a multiset: a product of Gaussian binomials, each group placed among those before.
        double[] chances = {1};
        int placed = 0;
        for (int tie : ties) {
            placed += tie;
            chances = product(chances, inversions(placed, tie));
        }
        return new KendallDistribution(chances, pairs, variance / 18);
    }

    /** Of values of which no two are equal; of a segment of one there is nothing but S = 0. */
    static KendallDistribution untied(int n) {
        double[] values = new double[n];
        Arrays.setAll(values, i -> i);
        return of(values);
    }

    /** Of the sum of two that are independent. */
    KendallDistribution and(KendallDistribution other) {
        boolean counted =
                chances.length > 0 && other.chances.length > 0 && greatest + other.greatest <= EXACT_TO * EXACT_TO / 2;
        return new KendallDistribution(
                counted ? product(chances, other.chances) : new double[0],
                greatest + other.greatest,
                variance + other.variance);
    }

    /** Pairs that count. */
    int pairs() {
        return greatest;
    }

    double variance() {
        return variance;
    }

    /** Whether chances were counted. */
    boolean isExact() {
        return chances.length > 0;
    }

    /** Chance of an S at least as far from zero, either way. */
    double twoSided(int s) {
        if (s == 0) {
            return 1;
        }
        if (chances.length == 0) {
            return 2 * (1 - NORMAL.cumulativeProbability((Math.abs(s) - 1) / Math.sqrt(variance)));
        }
        return Math.min(1, 2 * upper(Math.abs(s)));
    }

    private double upper(int s) {
        double sum = 0;
        for (int i = 0; i < chances.length && greatest - 2 * i >= s; i++) {
            sum += chances[i];
        }
        return sum;
    }

    /**
     * Rank of the lowest slope within the interval of a share, of all {@link #pairs} in their order from 1 on (P. K.
     * Sen 1968); 1 where even the whole range of slopes holds less.
     */
    int lowestRank(double share) {
        double alpha = (1 - share) / 2;
        if (chances.length == 0) {
            double c = NORMAL.inverseCumulativeProbability(1 - alpha) * Math.sqrt(variance);
            return Math.max(1, (int) Math.round((greatest - c) / 2));
        }
        // The least S whose tail is within alpha; the interval leaves out the slopes beyond the S next below it.
        double tail = 0;
        int left = 0;
        for (double chance : chances) {
            tail += chance;
            if (tail > alpha) {
                break;
            }
            left++;
        }
        return Math.max(1, left);
    }

    private static int[] ties(double[] values) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        int[] sizes = new int[sorted.length];
        int count = 0;
        for (int i = 0; i < sorted.length; i++) {
            if (i == 0 || sorted[i] > sorted[i - 1]) {
                count++;
            }
            sizes[count - 1]++;
        }
        return Arrays.copyOf(sizes, count);
    }

    /** Chances of 0 to k (n - k) inversions where k equal ones are placed among n in all. */
    private static double[] inversions(int n, int k) {
        // Pascal's rule of Gaussian binomials, as chances: the last place holds one of the k, or none.
        double[][] row = new double[k + 1][];
        row[0] = new double[] {1};
        for (int m = 1; m <= n; m++) {
            for (int j = Math.min(m, k); j >= 1; j--) {
                double own = (double) j / m;
                double[] next = new double[j * (m - j) + 1];
                if (row[j - 1] != null) {
                    for (int i = 0; i < row[j - 1].length; i++) {
                        next[i] += own * row[j - 1][i];
                    }
                }
                if (m > j) {
                    for (int i = 0; i < row[j].length; i++) {
                        next[i + j] += (1 - own) * row[j][i];
                    }
                }
                row[j] = next;
            }
        }
        return row[k];
    }

    private static double[] product(double[] a, double[] b) {
        double[] product = new double[a.length + b.length - 1];
        for (int i = 0; i < a.length; i++) {
            for (int j = 0; j < b.length; j++) {
                product[i + j] += a[i] * b[j];
            }
        }
        return product;
    }
}
