package org.juratest.core.family.meters;

import java.util.Arrays;
import java.util.OptionalDouble;
import org.juratest.core.signal.SignalException;

/** The excitation curve of a current transformer: voltage on its secondary against the current that magnetises it. */
public final class Excitation {

    private final double[] current;
    private final double[] voltage;

    /**
     * A point of the curve.
     *
     * @param current A
     * @param voltage V
     */
    public record Knee(double current, double voltage) {}

    /**
     * @param current rms, A, ascending
     * @param voltage rms, V, ascending
     * @throws SignalException if there are fewer than five points, or either does not ascend
     */
    public Excitation(double[] current, double[] voltage) {
        if (current.length != voltage.length || current.length < 5) {
            throw new SignalException(
                    "too-short",
                    current.length + " currents and " + voltage.length + " voltages: at least five of both");
        }
        for (int k = 0; k < current.length; k++) {
            boolean ascends = k == 0
                    ? current[0] > 0 && voltage[0] > 0
                    : current[k] > current[k - 1] && voltage[k] > voltage[k - 1];
            if (!ascends || !(current[k] <= Double.MAX_VALUE) || !(voltage[k] <= Double.MAX_VALUE)) {
                throw new SignalException(
                        "bad-samples", "point " + (k + 1) + ": current and voltage ascend from above 0");
            }
        }
        this.current = current.clone();
        this.voltage = voltage.clone();
    }

    /** The current at a voltage, straight on doubly logarithmic paper; empty outside the curve. */
    public OptionalDouble currentAt(double volts) {
        if (!(volts >= voltage[0]) || volts > voltage[voltage.length - 1]) {
            return OptionalDouble.empty();
        }
        int k = Arrays.binarySearch(voltage, volts);
        if (k >= 0) {
            return OptionalDouble.of(current[k]);
        }
        int to = -k - 1;
        double share = Math.log(volts / voltage[to - 1]) / Math.log(voltage[to] / voltage[to - 1]);
        return OptionalDouble.of(current[to - 1] * Math.pow(current[to] / current[to - 1], share));
    }

    /**
     * Where 10 % more voltage takes 50 % more current (IEC 61869-2): the least voltage at which it does.
     *
     * @return empty where the curve does not reach it
     */
    public OptionalDouble kneeVoltageIec() {
        double low = voltage[0];
        double high = voltage[voltage.length - 1] / 1.1;
        double before = low;
        int steps = 2000;
        for (int k = 1; k <= steps; k++) {
            double v = low * Math.pow(high / low, (double) k / steps);
            if (excess(v) >= 0) {
                return OptionalDouble.of(closed(before, v));
            }
            before = v;
        }
        return OptionalDouble.empty();
    }

    private double excess(double volts) {
        return currentAt(1.1 * volts).orElse(Double.NaN) / currentAt(volts).orElse(Double.NaN) - 1.5;
    }

    private double closed(double from, double to) {
        double a = from;
        double b = to;
        for (int k = 0; k < 60; k++) {
            double middle = Math.sqrt(a * b);
            if (excess(middle) >= 0) {
                b = middle;
            } else {
                a = middle;
            }
        }
        return b;
    }

    /** Likewise, with its current. */
    public java.util.Optional<Knee> kneeIec() {
        OptionalDouble v = kneeVoltageIec();
        return v.isEmpty()
                ? java.util.Optional.empty()
                : java.util.Optional.of(new Knee(currentAt(v.getAsDouble()).orElseThrow(), v.getAsDouble()));
    }

    /**
     * Where the curve has a slope of one on doubly logarithmic paper with squares of equal size (IEEE C57.13.1, for
     * cores without a gap): the last such place, as a curve begins flat and bends twice. Between the points a cubic
     * that is monotonic where they are gives the slope.
     *
     * @return empty where the slope never falls through one
     */
    public java.util.Optional<Knee> kneeIeee() {
        int n = current.length;
        double[] x = new double[n];
        double[] y = new double[n];
        for (int k = 0; k < n; k++) {
            x[k] = Math.log(current[k]);
            y[k] = Math.log(voltage[k]);
        }
        double[] slope = monotonic(x, y);
        for (int k = n - 2; k >= 0; k--) {
            int steps = 200;
            for (int s = steps; s > 0; s--) {
                double from = (s - 1.0) / steps;
                double to = (double) s / steps;
                double a = slopeAt(x, y, slope, k, from) - 1;
                double b = slopeAt(x, y, slope, k, to) - 1;
                if (a >= 0 && b < 0) {
                    double at = from + (to - from) * a / (a - b);
                    double h = x[k + 1] - x[k];
                    double i = Math.exp(x[k] + at * h);
                    return java.util.Optional.of(new Knee(i, Math.exp(valueAt(x, y, slope, k, at))));
                }
            }
        }
        return java.util.Optional.empty();
    }

    /** Slopes of Fritsch and Butland, SIAM J. Sci. Stat. Comput. 5 (1984): a curve that overshoots nowhere. */
    private static double[] monotonic(double[] x, double[] y) {
        int n = x.length;
        double[] d = new double[n - 1];
        for (int k = 0; k < n - 1; k++) {
            d[k] = (y[k + 1] - y[k]) / (x[k + 1] - x[k]);
        }
        double[] m = new double[n];
        m[0] = d[0];
        m[n - 1] = d[n - 2];
        for (int k = 1; k < n - 1; k++) {
            double left = x[k] - x[k - 1];
            double right = x[k + 1] - x[k];
            m[k] = 3 * (left + right) / ((2 * right + left) / d[k - 1] + (right + 2 * left) / d[k]);
        }
        return m;
    }

    private static double slopeAt(double[] x, double[] y, double[] m, int k, double t) {
        double h = x[k + 1] - x[k];
        double d = (y[k + 1] - y[k]) / h;
        return 6 * t * (1 - t) * d + (1 - t) * (1 - 3 * t) * m[k] + t * (3 * t - 2) * m[k + 1];
    }

    private static double valueAt(double[] x, double[] y, double[] m, int k, double t) {
        double h = x[k + 1] - x[k];
        double u = 1 - t;
        return y[k] * u * u * (1 + 2 * t)
                + y[k + 1] * t * t * (3 - 2 * t)
                + h * (m[k] * t * u * u - m[k + 1] * t * t * u);
    }

    /**
     * A resistance of copper at another temperature: R (234.5 + t2) / (234.5 + t1).
     *
     * @param ohms as measured
     * @param measured degC then
     * @param wanted degC
     */
    public static double copperAt(double ohms, double measured, double wanted) {
        return ohms * (234.5 + wanted) / (234.5 + measured);
    }
}
