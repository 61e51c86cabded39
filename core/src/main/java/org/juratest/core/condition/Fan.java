package org.juratest.core.condition;

import java.util.ArrayList;
import java.util.List;

/**
 * The fitted line of a segment with the fan it may lie in, to be drawn: beyond its last value for the segment that says
 * what comes.
 *
 * @param years since 1970, ascending
 * @param line on the series' axis
 * @param low lower side of the fan, as long as {@code line}; empty where nothing is known of it
 * @param high upper side likewise
 */
public record Fan(List<Double> years, List<Double> line, List<Double> low, List<Double> high) {

    private static final int PLACES = 25;

    /**
     * Of every segment that drifts, in the order of time; of pooled segments each has its own level, and the last one
     * the fan.
     *
     * @param values the trend was made of
     * @param until how far the last one reaches, years
     */
    public static List<Fan> of(Trend trend, List<Trend.Visit> values, double until) {
        List<Fan> fans = new ArrayList<>();
        for (Trend.Segment segment : trend.segments()) {
            if (!segment.drifts() || segment.line() == null) {
                continue;
            }
            List<Timed> own = values.subList(segment.from(), segment.to() + 1).stream()
                    .map(Trend.Visit::at)
                    .toList();
            boolean last = segment.to() == values.size() - 1;
            if (trend.pooled()) {
                pooled(segment, values, until, fans);
            } else {
                double end = own.get(own.size() - 1).years();
                fans.add(one(segment, own, own.get(0).years(), last ? Math.max(until, end) : end));
            }
        }
        return fans;
    }

    private static void pooled(Trend.Segment segment, List<Trend.Visit> values, double until, List<Fan> fans) {
        Line line = java.util.Objects.requireNonNull(segment.line());
        int from = 0;
        for (int i = 1; i <= values.size(); i++) {
            if (i < values.size() && !values.get(i).cut()) {
                continue;
            }
            List<Timed> own =
                    values.subList(from, i).stream().map(Trend.Visit::at).toList();
            double start = own.get(0).years();
            double end = own.get(own.size() - 1).years();
            if (i == values.size()) {
                fans.add(one(segment, own, start, Math.max(until, end)));
            } else if (own.size() > 1) {
                double years = own.stream().mapToDouble(Timed::years).average().orElseThrow();
                double level = own.stream().mapToDouble(Timed::value).average().orElseThrow();
                fans.add(new Fan(
                        List.of(start, end),
                        List.of(level + line.slope() * (start - years), level + line.slope() * (end - years)),
                        List.of(),
                        List.of()));
            }
            from = i;
        }
    }

    private static Fan one(Trend.Segment segment, List<Timed> own, double from, double to) {
        double[] times = new double[PLACES];
        for (int i = 0; i < PLACES; i++) {
            times[i] = from + (to - from) * i / (PLACES - 1);
        }
        Line line = java.util.Objects.requireNonNull(segment.line());
        List<Double> at = new ArrayList<>();
        List<Double> low = new ArrayList<>();
        List<Double> high = new ArrayList<>();
        boolean resampled = segment.method() == Trend.Method.BOOTSTRAP;
        double slope = resampled ? segment.monotony().slope().orElseThrow() : line.slope();
        double level = resampled ? Scatter.level(own, slope) : 0;
        double[][] ends = resampled ? Scatter.between(own, slope, times, Trend.SHARE) : new double[0][];
        for (int i = 0; i < PLACES; i++) {
            double middle = resampled ? level + slope * times[i] : line.at(times[i]);
            double half = resampled ? 0 : line.half(times[i], Trend.SHARE);
            at.add(middle);
            if (resampled) {
                // Resampled lines are pulled to the middle by what is wild; the line itself is among what may be.
                low.add(Math.min(ends[0][i], middle));
                high.add(Math.max(ends[1][i], middle));
            } else if (!Double.isNaN(half)) {
                low.add(middle - half);
                high.add(middle + half);
            }
        }
        List<Double> years = new ArrayList<>();
        for (double time : times) {
            years.add(time);
        }
        return new Fan(years, at, low, high);
    }
}
