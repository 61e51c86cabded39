package org.juratest.core.limit;

import java.util.Collection;
import org.jspecify.annotations.Nullable;

/**
 * The axis of a limit strip: how far it reaches, so that the allowed span and its history are seen and a value far
 * outside does not squeeze them. The screen and the report draw from the same axis.
 *
 * @param from value at the left end; above 0 on a logarithmic scale
 * @param to value at the right end; above {@code from}
 */
public record StripAxis(double from, double to, Scale scale) {

    /** Room beyond each of two limits, as a share of the span between them. */
    private static final double BEYOND = 0.3;
    /** Where the limit of a one-sided span stands, as a share of the axis. */
    private static final double LIMIT_AT = 0.75;
    /** Where the value farthest inside a one-sided span stands. */
    private static final double FARTHEST_AT = 0.3;

    public StripAxis {
        if (!drawable(from, to, scale)) {
            throw new IllegalArgumentException("a strip cannot reach from " + from + " to " + to);
        }
    }

    private static boolean drawable(double from, double to, Scale scale) {
        return from < to && Math.abs(to - from) <= Double.MAX_VALUE && (scale == Scale.LINEAR || from > 0);
    }

    /**
     * The axis for a limit and the values shown on it.
     *
     * @param limit absent or unresolved: the values alone decide
     * @param values finite ones count, others (and those without a logarithm on a logarithmic scale) are passed over
     * @return null where there is neither a limit nor a value, or where they lie too far out to be drawn
     */
    public static @Nullable StripAxis of(@Nullable ResolvedLimit limit, Scale scale, Collection<Double> values) {
        double[] seen = values.stream()
                .mapToDouble(scale::coordinate)
                .filter(c -> Math.abs(c) <= Double.MAX_VALUE)
                .sorted()
                .toArray();
        double low = side(limit == null ? null : limit.low(), scale);
        double high = side(limit == null ? null : limit.high(), scale);
        if (low < high) {
            return made(low - BEYOND * (high - low), high + BEYOND * (high - low), scale);
        }
        if (!Double.isNaN(high)) {
            return oneSided(high, limit == null ? Double.NaN : side(limit.ideal(), scale), seen, 1, scale);
        }
        if (!Double.isNaN(low)) {
            return oneSided(low, limit == null ? Double.NaN : side(limit.ideal(), scale), seen, -1, scale);
        }
        if (seen.length == 0) {
            return null;
        }
        double middle = (seen[0] + seen[seen.length - 1]) / 2;
        double half = Math.max((seen[seen.length - 1] - seen[0]) * 0.7, least(middle, scale));
        return made(middle - half, middle + half, scale);
    }

    /** @param direction 1: allowed below the limit, -1: above it */
    private static @Nullable StripAxis oneSided(double limit, double ideal, double[] seen, int direction, Scale scale) {
        double farthest = seen.length > 0 ? (direction > 0 ? seen[0] : seen[seen.length - 1]) : ideal;
        double inside = direction * (limit - farthest);
        if (!(inside > least(limit, scale))) {
            inside = least(limit, scale);
        }
        double unit = inside / (LIMIT_AT - FARTHEST_AT);
        double far = limit - direction * LIMIT_AT * unit;
        if (scale == Scale.LINEAR && direction > 0 && limit > 0 && far < 0 && (seen.length == 0 || seen[0] >= 0)) {
            far = 0;
        }
        double beyond = limit + direction * (1 - LIMIT_AT) * unit;
        return direction > 0 ? made(far, beyond, scale) : made(beyond, far, scale);
    }

    /** The least width worth drawing around a coordinate: a tenth of its magnitude, or a third of a decade. */
    private static double least(double coordinate, Scale scale) {
        return scale == Scale.LOGARITHMIC ? 1.0 / 3 : Math.max(Math.abs(coordinate) * 0.1, Double.MIN_NORMAL);
    }

    private static double side(@Nullable Double value, Scale scale) {
        double coordinate = value == null ? Double.NaN : scale.coordinate(value);
        return Math.abs(coordinate) <= Double.MAX_VALUE ? coordinate : Double.NaN;
    }

    private static @Nullable StripAxis made(double from, double to, Scale scale) {
        return drawable(scale.value(from), scale.value(to), scale)
                ? new StripAxis(scale.value(from), scale.value(to), scale)
                : null;
    }

    /**
     * Where a value stands, 0 at the left end and 1 at the right; outside that it is out of range; NaN for a value that
     * has no place.
     */
    public double fraction(double value) {
        double start = scale.coordinate(from);
        return (scale.coordinate(value) - start) / (scale.coordinate(to) - start);
    }
}
