package org.juratest.core.condition;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A line of least squares through the values of one segment, or of several that have the slope in common and each a
 * level of its own (then at the level of the last one).
 *
 * @param years mean time of the segment whose level it has
 * @param level at that time
 * @param slope a year
 * @param n values of that segment
 * @param sxx sum over all segments of squared times from their means
 * @param deviation of the values from the line; NaN without a degree of freedom
 * @param freedom degrees of freedom
 */
public record Line(double years, double level, double slope, int n, double sxx, double deviation, int freedom) {

    /** Of one segment; absent where its times do not differ. */
    public static @Nullable Line of(List<Timed> segment) {
        return pooled(List.of(segment));
    }

    /** Of several segments, the last of which has at least one value; absent where times do not differ within any. */
    public static @Nullable Line pooled(List<List<Timed>> segments) {
        double sxx = 0;
        double sxy = 0;
        double syy = 0;
        int all = 0;
        int levels = 0;
        double x = 0;
        double y = 0;
        for (List<Timed> segment : segments) {
            if (segment.isEmpty()) {
                continue;
            }
            x = segment.stream().mapToDouble(Timed::years).sum() / segment.size();
            y = segment.stream().mapToDouble(Timed::value).sum() / segment.size();
            for (Timed t : segment) {
                sxx += (t.years() - x) * (t.years() - x);
                sxy += (t.years() - x) * (t.value() - y);
                syy += (t.value() - y) * (t.value() - y);
            }
            all += segment.size();
            levels++;
        }
        if (!(sxx > 0)) {
            return null;
        }
        double slope = sxy / sxx;
        int freedom = all - levels - 1;
        double deviation = freedom > 0 ? Math.sqrt(Math.max(0, syy - slope * sxy) / freedom) : Double.NaN;
        int n = segments.get(segments.size() - 1).size();
        return new Line(x, y, slope, n, sxx, deviation, freedom);
    }

    public double at(double time) {
        return level + slope * (time - years);
    }

    /** Residual of a value of the segment whose level it has. */
    double residual(Timed value) {
        return value.value() - at(value.years());
    }

    /** Half of the interval of the slope; NaN without a degree of freedom. */
    public double slopeHalf(double share) {
        return t(share) * deviation / Math.sqrt(sxx);
    }

    /** Half of the interval of the line at a time. */
    public double half(double time, double share) {
        double away = time - years;
        return t(share) * deviation * Math.sqrt(1.0 / n + away * away / sxx);
    }

    /** Half of the interval in which one more value is expected at a time. */
    public double halfOfNext(double time, double share) {
        return t(share) * spreadOfNext(time);
    }

    /** Standard deviation of one more value at a time, from the line there. */
    double spreadOfNext(double time) {
        double away = time - years;
        return deviation * Math.sqrt(1 + 1.0 / n + away * away / sxx);
    }

    /** Factor of a two-sided interval; NaN without a degree of freedom. */
    double t(double share) {
        return freedom > 0 ? Student.quantile(freedom, (1 + share) / 2) : Double.NaN;
    }

    /** When it meets a level; infinite where it is level itself. */
    public double meets(double limit) {
        return years + (limit - level) / slope;
    }

    /**
     * When a line through the values may meet a level, at a share: inverse prediction (E. C. Fieller, "Some problems in
     * interval estimation", J. R. Stat. Soc. B 16, 1954; N. R. Draper, H. Smith, Applied Regression Analysis, 3.2), of
     * the line and not of a single value. An end is open where the slope's interval at that share contains zero.
     */
    public Range meeting(double limit, double share) {
        double t = t(share);
        if (Double.isNaN(t)) {
            return Range.OPEN;
        }
        // (level - limit + slope x)^2 <= t^2 deviation^2 (1 / n + x^2 / sxx), x from the mean time.
        double scatter = t * t * deviation * deviation;
        double a = slope * slope - scatter / sxx;
        double b = slope * (level - limit);
        double c = (level - limit) * (level - limit) - scatter / n;
        double root = b * b - a * c;
        if (a > 0) {
            double spread = Math.sqrt(Math.max(0, root));
            return new Range(years + (-b - spread) / a, years + (-b + spread) / a);
        }
        if (root < 0 || a == 0 && b == 0) {
            return Range.OPEN;
        }
        // The slope may be zero: what is left is everything but what lies between two roots.
        boolean later = (limit - level) * slope > 0;
        double spread = Math.sqrt(root);
        double first = a == 0 ? -c / (2 * b) : (-b + spread) / a;
        double second = a == 0 ? first : (-b - spread) / a;
        double upper = Math.max(first, second);
        double lower = Math.min(first, second);
        return later
                ? new Range(years + upper, Double.POSITIVE_INFINITY)
                : new Range(Double.NEGATIVE_INFINITY, years + lower);
    }

    /** A range of time, years; infinite at an open end. */
    public record Range(double from, double to) {
        static final Range OPEN = new Range(Double.NEGATIVE_INFINITY, Double.POSITIVE_INFINITY);
    }
}
