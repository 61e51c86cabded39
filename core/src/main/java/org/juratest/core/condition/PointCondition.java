package org.juratest.core.condition;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.Verdict;

/**
 * How one test point of a device stands: how much of its margin is used, how fast, and when the rest is.
 *
 * @param visits counted
 * @param trend of its values
 * @param value counting, of the last visit, in the point's unit
 * @param margin used by it; absent where undefined
 * @param drift margin used up in a year: of the line where something drifts, else of the Theil-Sen slope; empty where
 *     fewer than {@value #FEWEST_RATED} values can be compared, or there is no ideal
 * @param verdict of the last visit
 * @param stepped whether its last value came by a step
 * @param limitMoved whether the last visit was judged by another limit than the one before
 */
public record PointCondition(
        int visits,
        Trend trend,
        double value,
        @Nullable Double margin,
        OptionalDouble drift,
        Verdict verdict,
        boolean stepped,
        boolean limitMoved) {

    private static final int FEWEST_RATED = 3;

    /**
     * A test point at one visit.
     *
     * @param asFound before anything was done, in the point's unit
     * @param counting what the verdict is of: as left where something was adjusted
     * @param uncertainty expanded; 0 where it is not known
     * @param margin used by what counts; absent where undefined
     * @param exact whether it is the value itself, and not only more or less than it: such a one is in no trend
     * @param cut whether a repair lies between this visit and the one before
     */
    public record Visit(
            Instant at,
            double asFound,
            double counting,
            @Nullable Double low,
            @Nullable Double high,
            @Nullable Double ideal,
            double uncertainty,
            @Nullable Double margin,
            Verdict verdict,
            boolean exact,
            boolean cut) {}

    /**
     * Of visits in the order of time. What has no place on a logarithmic axis is left out of the trend.
     *
     * @throws IllegalArgumentException if there is none
     */
    public static PointCondition of(List<Visit> visits, Scale scale) {
        if (visits.isEmpty()) {
            throw new IllegalArgumentException("a test point without a visit");
        }
        List<Trend.Visit> values = values(visits, scale);
        Trend trend = Trend.of(values);
        Visit last = visits.get(visits.size() - 1);
        Visit before = visits.size() < 2 ? last : visits.get(visits.size() - 2);
        return new PointCondition(
                visits.size(),
                trend,
                last.counting,
                last.margin,
                drift(trend, last, scale),
                last.verdict,
                last.exact && trend.steps().contains(values.size() - 1),
                !same(before.low, last.low) || !same(before.high, last.high));
    }

    /**
     * The values its trend is made of, on the series' axis: as found, and where something was adjusted as left after
     * it.
     */
    public static List<Trend.Visit> values(List<Visit> visits, Scale scale) {
        List<Trend.Visit> values = new ArrayList<>();
        boolean cut = false;
        for (Visit v : visits) {
            cut |= v.cut;
            cut &= !(v.exact && added(values, v, v.asFound, scale, cut));
            if (v.counting != v.asFound) {
                cut = !(v.exact && added(values, v, v.counting, scale, true));
            }
        }
        return values;
    }

    /** Adds a value where it has a place on the axis; gives whether it has. */
    private static boolean added(List<Trend.Visit> values, Visit v, double value, Scale scale, boolean cut) {
        double at = scale.coordinate(value);
        if (!(Math.abs(at) <= Double.MAX_VALUE)) {
            return false;
        }
        double u = scale == Scale.LINEAR ? v.uncertainty : v.uncertainty / (value * Math.log(10));
        values.add(new Trend.Visit(
                new Timed(Timed.years(v.at), at), on(scale, v.low), on(scale, v.high), u, cut && !values.isEmpty()));
        return true;
    }

    private static @Nullable Double on(Scale scale, @Nullable Double value) {
        double at = value == null ? Double.NaN : scale.coordinate(value);
        return Double.isNaN(at) ? null : (Double) at;
    }

    private static boolean same(@Nullable Double a, @Nullable Double b) {
        return a == null ? b == null : a.equals(b);
    }

    private static OptionalDouble drift(Trend trend, Visit last, Scale scale) {
        Trend.Segment segment = trend.last();
        Double ideal = on(scale, last.ideal);
        if (segment == null || ideal == null || segment.n() < FEWEST_RATED) {
            return OptionalDouble.empty();
        }
        Line line = segment.line();
        OptionalDouble slope = segment.drifts() && segment.method() != Trend.Method.BOOTSTRAP && line != null
                ? OptionalDouble.of(line.slope())
                : segment.monotony().slope();
        Double low = on(scale, last.low);
        Double high = on(scale, last.high);
        // Between two limits it is the one on whose side it stands.
        boolean upper = high != null && (low == null || scale.coordinate(last.counting) >= ideal);
        Double limit = upper ? high : low;
        return slope.isEmpty() || limit == null || limit.equals(ideal)
                ? OptionalDouble.empty()
                : OptionalDouble.of(slope.getAsDouble() / (limit - ideal));
    }

    /** When its limit is met, years since 1970; empty where nothing drifts towards one. */
    public OptionalDouble crossing() {
        Trend.Segment last = trend.last();
        return last == null || last.outlook() != Trend.Outlook.TOWARDS ? OptionalDouble.empty() : last.crossing();
    }
}
