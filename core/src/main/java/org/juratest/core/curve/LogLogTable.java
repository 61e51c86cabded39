package org.juratest.core.curve;

import java.util.Arrays;
import java.util.OptionalDouble;

/**
 * A function given by points and interpolated linearly between them in log x and log y. Never extrapolated: outside the
 * first and last x there is no value. One point gives a value at that x alone.
 */
public final class LogLogTable {

    private final double[] x;
    private final double[] y;
    private final double[] logX;
    private final double[] logY;

    private LogLogTable(double[] x, double[] y) {
        this.x = x;
        this.y = y;
        this.logX = Arrays.stream(x).map(Math::log).toArray();
        this.logY = Arrays.stream(y).map(Math::log).toArray();
    }

    /**
     * A table of points.
     *
     * @param x strictly ascending, finite, positive
     * @param y finite, positive, as many as x
     * @throws IllegalArgumentException otherwise, naming the point (counted from 1)
     */
    public static LogLogTable of(double[] x, double[] y) {
        if (x.length == 0 || x.length != y.length) {
            throw new IllegalArgumentException("a curve needs as many times as currents, and at least one point: "
                    + x.length + " currents, " + y.length + " times");
        }
        for (int i = 0; i < x.length; i++) {
            if (!positive(x[i]) || !positive(y[i])) {
                throw new IllegalArgumentException(
                        "point " + (i + 1) + ": current and time must be finite and above 0");
            }
            if (i > 0 && !(x[i] > x[i - 1])) {
                throw new IllegalArgumentException("point " + (i + 1) + ": currents must ascend");
            }
        }
        return new LogLogTable(x.clone(), y.clone());
    }

    private static boolean positive(double value) {
        return value > 0 && value <= Double.MAX_VALUE;
    }

    /** The value at an x; empty outside the table and for NaN. */
    public OptionalDouble at(double at) {
        if (!(at >= x[0] && at <= x[x.length - 1])) {
            return OptionalDouble.empty();
        }
        int found = Arrays.binarySearch(x, at);
        if (found >= 0) {
            return OptionalDouble.of(y[found]);
        }
        int right = -found - 1;
        double share = (Math.log(at) - logX[right - 1]) / (logX[right] - logX[right - 1]);
        return OptionalDouble.of(Math.exp(logY[right - 1] + share * (logY[right] - logY[right - 1])));
    }

    /** The same curve with x and y scaled by positive factors. */
    public LogLogTable scaled(double byX, double byY) {
        return of(
                Arrays.stream(x).map(v -> v * byX).toArray(),
                Arrays.stream(y).map(v -> v * byY).toArray());
    }

    public double[] x() {
        return x.clone();
    }

    public double[] y() {
        return y.clone();
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof LogLogTable table && Arrays.equals(x, table.x) && Arrays.equals(y, table.y);
    }

    @Override
    public int hashCode() {
        return 31 * Arrays.hashCode(x) + Arrays.hashCode(y);
    }
}
