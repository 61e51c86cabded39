package org.juratest.core.condition;

import java.util.List;
import org.hipparchus.distribution.continuous.TDistribution;
import org.jspecify.annotations.Nullable;

/**
 * The longest interval at which the chance that the next test finds a value outside stays under a risk, from what has
 * drifted and how it scatters (the thinking of ILAC-G24 / OIML D 10, method of control charts and in-service drift).
 *
 * @param months whole ones; 0 where even the next month is too late
 * @param chance of being outside at that interval
 * @param bounded whether the drift ends it; false where it is only the longest that was asked for
 */
public record IntervalAdvice(int months, double chance, boolean bounded) {

    /** Fewer degrees of freedom say nothing of the scatter. */
    private static final int FEWEST = 2;

    private static final double MONTH = 1.0 / 12;

    /** Longest interval that is advised, months: records that never left their limits say no more. */
    public static final int MOST = 120;

    /**
     * Of what a test point's last segment does, from its last value on; absent where too little is known, or there is
     * no limit.
     *
     * @param values the trend was made of
     */
    public static @Nullable IntervalAdvice of(Trend trend, List<Trend.Visit> values, double risk) {
        Trend.Segment segment = trend.last();
        if (segment == null || segment.line() == null) {
            return null;
        }
        Trend.Visit last = values.get(values.size() - 1);
        return of(segment.line(), last.low(), last.high(), last.at().years(), risk, MOST);
    }

    /**
     * Of a line, from its last value on.
     *
     * @param low lower limit; absent where there is none
     * @param high upper limit
     * @param last time of the last value, years
     * @param risk above 0, below 1
     * @param most longest interval that is advised, months
     * @return absent where too little is known, or there is no limit
     */
    public static @Nullable IntervalAdvice of(
            Line line, @Nullable Double low, @Nullable Double high, double last, double risk, int most) {
        if (!(risk > 0 && risk < 1)) {
            throw new IllegalArgumentException("a risk is above 0 and below 1, not " + risk);
        }
        if (line.freedom() < FEWEST || low == null && high == null) {
            return null;
        }
        // Where one side alone has the risk, and where both together cannot have it: the chance itself is worked out
        // only between the two, as it takes a hundred times as long.
        double alone = Student.quantile(line.freedom(), risk);
        double half = Student.quantile(line.freedom(), risk / 2);
        for (int month = 1; month <= most; month++) {
            double time = last + month * MONTH;
            double worst = Math.max(past(line, high, 1, time), past(line, low, -1, time));
            if (worst > alone || worst > half && outside(line, low, high, time) > risk) {
                return new IntervalAdvice(
                        month - 1, month == 1 ? 0 : outside(line, low, high, last + (month - 1) * MONTH), true);
            }
        }
        return new IntervalAdvice(most, outside(line, low, high, last + most * MONTH), false);
    }

    /** How far the line is past a limit, in spreads of one more value; without a spread infinite on its side. */
    private static double past(Line line, @Nullable Double limit, int side, double time) {
        return limit == null ? Double.NEGATIVE_INFINITY : side * (line.at(time) - limit) / line.spreadOfNext(time);
    }

    /** Chance that one more value at a time is outside. */
    static double outside(Line line, @Nullable Double low, @Nullable Double high, double time) {
        double at = line.at(time);
        double spread = line.spreadOfNext(time);
        if (!(spread > 0)) {
            return high != null && at > high || low != null && at < low ? 1 : 0;
        }
        TDistribution t = new TDistribution(line.freedom());
        return (high == null ? 0 : t.cumulativeProbability((at - high) / spread))
                + (low == null ? 0 : t.cumulativeProbability((low - at) / spread));
    }
}
