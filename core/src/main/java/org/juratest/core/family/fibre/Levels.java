package org.juratest.core.family.fibre;

import java.util.Arrays;

/**
 * The levels of a trace with their local noise, and lines through parts of it in constant time by sums from the front.
 * Distances are km here, so that slopes are dB/km.
 */
final class Levels {

    /** Samples whose scatter is taken as one figure. */
    private static final int BLOCK = 128;
    /** Standard deviation of a normal distribution over its median absolute deviation. */
    private static final double MAD = 1.4826;
    /** Noise below which the resolution of the samples (0.001 dB) is what limits. */
    private static final double FINEST = 0.001 / Math.sqrt(12);
    /** How well the slope of a piece of fibre is known before it is looked at, dB/km. */
    private static final double SLOPE_KNOWN = 0.03;

    private final OtdrTrace trace;
    private final double[] sigma;
    private final double[] behind;
    private final int cut;
    private final double[] w;
    private final double[] wx;
    private final double[] wy;
    private final double[] wxx;
    private final double[] wxy;
    private final double[] y;
    private final double[] variance;
    private double slope = -0.3;

    /**
     * A line.
     *
     * @param x where its level is told, km from the first sample
     * @param level at x, dB
     * @param slope dB/km, mostly negative
     * @param levelVariance of the level at x
     * @param slopeVariance of the slope
     */
    record Line(double x, double level, double slope, double levelVariance, double slopeVariance) {

        double at(double where) {
            return level + slope * (where - x);
        }

        double varianceAt(double where) {
            return levelVariance + slopeVariance * (where - x) * (where - x);
        }
    }

    /** @param cut sample from which on scatter is another matter than before it: where the fibre ends */
    Levels(OtdrTrace trace, int cut) {
        this.trace = trace;
        this.cut = cut;
        int n = trace.level().length;
        this.sigma = scatter(trace.level(), 0, cut);
        this.behind = scatter(trace.level(), cut, n);
        double more = correlation();
        for (double[] some : new double[][] {sigma, behind}) {
            for (int b = 0; b < some.length; b++) {
                some[b] = Math.max(FINEST, some[b] * more);
            }
        }
        this.w = new double[n + 1];
        this.wx = new double[n + 1];
        this.wy = new double[n + 1];
        this.wxx = new double[n + 1];
        this.wxy = new double[n + 1];
        this.y = new double[n + 1];
        this.variance = new double[n + 1];
        for (int i = 0; i < n; i++) {
            double s = sigma(i);
            double weight = 1 / (s * s);
            double x = x(i);
            double level = trace.level()[i];
            w[i + 1] = w[i] + weight;
            wx[i + 1] = wx[i] + weight * x;
            wy[i + 1] = wy[i] + weight * level;
            wxx[i + 1] = wxx[i] + weight * x * x;
            wxy[i + 1] = wxy[i] + weight * x * level;
            y[i + 1] = y[i] + level;
            variance[i + 1] = variance[i] + s * s;
        }
    }

    OtdrTrace trace() {
        return trace;
    }

    int size() {
        return trace.level().length;
    }

    double at(int i) {
        return trace.level()[i];
    }

    /** Distance from the first sample, km. */
    double x(double i) {
        return i * trace.spacing() / 1000;
    }

    /** Standard deviation of a sample's level, dB. */
    double sigma(int i) {
        double[] of = i < cut ? sigma : behind;
        int from = i < cut ? 0 : cut;
        return of[Math.min((i - from) / BLOCK, of.length - 1)];
    }

    /** Mean of the samples from {@code from} on, before {@code to}. */
    double mean(int from, int to) {
        return (y[to] - y[from]) / (to - from);
    }

    /** Variance of that mean. */
    double meanVariance(int from, int to) {
        double n = to - from;
        return (variance[to] - variance[from]) / (n * n);
    }

    /** What is taken for the slope of the fibre where a piece is too short to tell, dB/km. */
    double slope() {
        return slope;
    }

    void slope(double found) {
        slope = found;
    }

    /**
     * The line through the samples from {@code from} on, before {@code to}, by weighted least squares; the slope found
     * for the whole fibre goes in as one more observation, so that a short piece has its level and not a slope of
     * noise.
     */
    Line line(int from, int to) {
        double sum = w[to] - w[from];
        double x = (wx[to] - wx[from]) / sum;
        double level = (wy[to] - wy[from]) / sum;
        double xx = Math.max(0, wxx[to] - wxx[from] - sum * x * x);
        double xy = wxy[to] - wxy[from] - sum * x * level;
        double known = 1 / (SLOPE_KNOWN * SLOPE_KNOWN);
        double found = (xy + known * slope) / (xx + known);
        return new Line(x, level, found, 1 / sum, 1 / (xx + known));
    }

    /** Scatter of each block, of second differences: a slope has none, and a step or a peak is one outlier. */
    private static double[] scatter(double[] level, int start, int end) {
        int blocks = Math.max(1, (end - start) / BLOCK);
        double[] found = new double[blocks];
        for (int b = 0; b < blocks; b++) {
            int from = start + b * BLOCK;
            int to = b == blocks - 1 ? end : from + BLOCK;
            double[] second = new double[Math.max(0, to - from - 2)];
            for (int i = 0; i < second.length; i++) {
                second[i] = Math.abs(level[from + i] - 2 * level[from + i + 1] + level[from + i + 2]);
            }
            found[b] = MAD * median(second) / Math.sqrt(6);
        }
        double[] smooth = found.clone();
        for (int b = 1; b < blocks - 1; b++) {
            smooth[b] = median(new double[] {found[b - 1], found[b], found[b + 1]});
        }
        return smooth;
    }

    /**
     * How much more means of neighbours scatter than they would if each sample had noise of its own (a receiver's
     * bandwidth makes neighbours alike); at least 1.
     */
    private double correlation() {
        int q = Math.max(8, Math.min(32, trace.pulseSamples()));
        int blocks = cut / q;
        if (blocks < 40) {
            return 1;
        }
        double[] means = new double[blocks];
        for (int b = 0; b < blocks; b++) {
            double sum = 0;
            for (int i = b * q; i < (b + 1) * q; i++) {
                sum += trace.level()[i];
            }
            means[b] = sum / q;
        }
        double[] ratio = new double[blocks - 2];
        for (int b = 0; b < ratio.length; b++) {
            double expected = Math.max(FINEST, sigma((b + 1) * q)) / Math.sqrt(q);
            ratio[b] = Math.abs(means[b] - 2 * means[b + 1] + means[b + 2]) / expected;
        }
        return Math.max(1, MAD * median(ratio) / Math.sqrt(6));
    }

    /** The median; the array is put in order by it. 0 for none. */
    static double median(double[] values) {
        if (values.length == 0) {
            return 0;
        }
        Arrays.sort(values);
        int half = values.length / 2;
        return values.length % 2 == 1 ? values[half] : (values[half - 1] + values[half]) / 2;
    }
}
