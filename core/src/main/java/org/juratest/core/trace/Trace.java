package org.juratest.core.trace;

import org.juratest.core.quantity.Unit;
import org.juratest.core.quantity.UnitMismatchException;

/**
 * Values measured against time or distance, counted from where it begins: the trigger, the start of the output.
 *
 * @param name what was measured, in words
 * @param xUnit unit of {@code x}
 * @param yUnit unit of {@code y}
 * @param x strictly ascending, finite; as long as {@code y}
 * @param y finite; 1 to {@value #MOST} values
 */
public record Trace(String name, Unit xUnit, Unit yUnit, double[] x, double[] y) {

    /** Most values of a trace. */
    public static final int MOST = 1_000_000;

    public Trace {
        x = x.clone();
        y = y.clone();
        if (x.length == 0 || x.length > MOST || x.length != y.length) {
            throw new IllegalArgumentException(
                    "a trace has 1 to " + MOST + " pairs of values, not " + x.length + " and " + y.length);
        }
        for (int i = 0; i < x.length; i++) {
            if (!(Math.abs(x[i]) <= Double.MAX_VALUE) || !(Math.abs(y[i]) <= Double.MAX_VALUE)) {
                throw new IllegalArgumentException("value " + i + " of a trace is not finite: " + x[i] + ", " + y[i]);
            }
            if (i > 0 && !(x[i] > x[i - 1])) {
                throw new IllegalArgumentException(
                        "a trace ascends; value " + i + " stands at " + x[i] + " after " + x[i - 1]);
            }
        }
    }

    @Override
    public double[] x() {
        return x.clone();
    }

    @Override
    public double[] y() {
        return y.clone();
    }

    /**
     * The value at a place, linear between its neighbours; NaN outside the trace and for NaN: a trace says nothing of
     * where it was not measured.
     */
    public double at(double place) {
        int found = java.util.Arrays.binarySearch(x, place);
        if (found >= 0) {
            return y[found];
        }
        int after = -found - 1;
        if (Double.isNaN(place) || after == 0 || after == x.length) {
            return Double.NaN;
        }
        double share = (place - x[after - 1]) / (x[after] - x[after - 1]);
        return y[after - 1] + share * (y[after] - y[after - 1]);
    }

    /**
     * This trace less an earlier one, at this one's places and in its units; NaN where the earlier one has no value.
     * Both count from where they begin, which aligns them.
     *
     * @throws UnitMismatchException if the units are of other dimensions
     */
    public double[] minus(Trace earlier) {
        double[] difference = new double[x.length];
        for (int i = 0; i < x.length; i++) {
            double then = earlier.at(xUnit.convert(x[i], earlier.xUnit));
            difference[i] = y[i] - earlier.yUnit.convert(then, yUnit);
        }
        return difference;
    }
}
