package org.juratest.core.signal;

import java.util.Arrays;

/**
 * The true rms of a sampled signal over any span: the signal runs straight from sample to sample, so that samples need
 * not be evenly spaced and a span need not begin at one. A span costs no more for being long.
 */
public final class MeanSquare {

    private final double[] time;
    private final double[] value;
    /** Integral of the square from the first sample on. */
    private final double[] upTo;

    private final double perSecond;

    /**
     * @param time s, ascending
     * @param value of each
     * @throws SignalException if there are fewer than two samples, or times do not ascend, or a value is not finite
     */
    public MeanSquare(double[] time, double[] value) {
        if (time.length != value.length || time.length < 2) {
            throw new SignalException(
                    "too-short", time.length + " times and " + value.length + " values: at least two of both");
        }
        this.time = time;
        this.value = value;
        this.upTo = new double[time.length];
        for (int i = 1; i < time.length; i++) {
            double step = time[i] - time[i - 1];
            double a = value[i - 1];
            double b = value[i];
            if (!(step > 0) || !(Math.abs(b) <= Double.MAX_VALUE && Math.abs(a) <= Double.MAX_VALUE)) {
                throw new SignalException("bad-samples", "sample " + (i + 1) + ": times ascend, and values are finite");
            }
            upTo[i] = upTo[i - 1] + step * (a * a + a * b + b * b) / 3;
        }
        this.perSecond = (time.length - 1) / (time[time.length - 1] - time[0]);
    }

    public double first() {
        return time[0];
    }

    public double last() {
        return time[time.length - 1];
    }

    /** Number of the last sample that is not after {@code at}, s; 0 before the first. */
    public int before(double at) {
        // Most records are evenly sampled: look where it would be then, and only otherwise search.
        int guess = (int) Math.max(0, Math.min(time.length - 1, (at - time[0]) * perSecond));
        for (int i = Math.max(0, guess - 1); i <= Math.min(time.length - 1, guess + 1); i++) {
            if (time[i] <= at && (i == time.length - 1 || time[i + 1] > at)) {
                return i;
            }
        }
        int found = Arrays.binarySearch(time, at);
        return Math.max(0, found >= 0 ? found : -found - 2);
    }

    private double integral(double at) {
        if (at <= time[0]) {
            return 0;
        }
        if (at >= last()) {
            return upTo[upTo.length - 1];
        }
        int i = before(at);
        double part = (at - time[i]) / (time[i + 1] - time[i]);
        double a = value[i];
        double b = a + part * (value[i + 1] - a);
        return upTo[i] + (at - time[i]) * (a * a + a * b + b * b) / 3;
    }

    /**
     * Mean of the square from {@code from} to {@code to}, s; what lies outside the record is left out.
     *
     * @return NaN where nothing is left
     */
    public double over(double from, double to) {
        double begin = Math.max(from, first());
        double end = Math.min(to, last());
        return end > begin ? Math.max(0, integral(end) - integral(begin)) / (end - begin) : Double.NaN;
    }

    /** The true rms from {@code from} to {@code to}, s; NaN where the record has nothing. */
    public double rms(double from, double to) {
        return Math.sqrt(over(from, to));
    }
}
