package org.juratest.core.condition;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;

/**
 * A test point over time: its segments, what goes one way in each, and when the last of them meets its limit.
 *
 * @param segments in the order of time; one for all of them where they are pooled
 * @param steps places of values that came by a step, among all
 * @param pooled whether the segments have one slope in common
 */
public record Trend(List<Segment> segments, List<Integer> steps, boolean pooled) {

    /** One gate for all: above it there is no drift. */
    public static final double GATE = 0.1;
    /** Fewer values are no ground for a forecast. */
    public static final int FEWEST = 4;
    /** Share of the range of a forecast. */
    public static final double SHARE = 0.8;

    /**
     * A value as it comes.
     *
     * @param at on the series' axis
     * @param low limit it was judged by, on the same axis; absent where there is none
     * @param high likewise
     * @param uncertainty expanded, on the same axis; 0 where it is not known
     * @param cut whether a repair, an adjustment or an exchange lies between it and the one before
     */
    public record Visit(Timed at, @Nullable Double low, @Nullable Double high, double uncertainty, boolean cut) {}

    /** How a range was found. */
    public enum Method {
        /** Inverse prediction of least squares. */
        FIELLER,
        /** Resampled residuals of the Theil-Sen line. */
        BOOTSTRAP,
        /** None: nothing drifts, or too little is known. */
        NONE
    }

    /** What is to be said of a segment's way to its limit. */
    public enum Outlook {
        /** Fewer values than a forecast needs. */
        TOO_FEW,
        /** Nothing goes one way. */
        NO_DRIFT,
        /** There is no limit to meet. */
        NO_LIMIT,
        /** It goes away from its limit. */
        AWAY,
        /** It meets its limit. */
        TOWARDS,
        /** Its last value is past its limit. */
        PAST
    }

    /**
     * Values between two cuts, or several segments pooled.
     *
     * @param from first value, by its place among all
     * @param to last value
     * @param n values
     * @param line of least squares; absent where times do not differ
     * @param crossing when the line meets the limit, years; empty where it does not
     * @param range at 80 %; absent where there is no crossing
     */
    public record Segment(
            int from,
            int to,
            int n,
            Monotony monotony,
            @Nullable Line line,
            OptionalDouble crossing,
            Line.@Nullable Range range,
            Method method,
            Outlook outlook) {

        /** Whether its values go one way. */
        public boolean drifts() {
            return n >= FEWEST
                    && monotony.p() <= GATE
                    && monotony.slope().isPresent()
                    && monotony.slope().getAsDouble() != 0;
        }
    }

    /**
     * Of values in the order of time.
     *
     * @throws IllegalArgumentException if one lies before the one above it
     */
    public static Trend of(List<Visit> visits) {
        for (int i = 1; i < visits.size(); i++) {
            if (visits.get(i).at().years() < visits.get(i - 1).at().years()) {
                throw new IllegalArgumentException("value " + (i + 1) + " lies before the one above it");
            }
        }
        List<int[]> cuts = new ArrayList<>();
        int from = 0;
        for (int i = 1; i <= visits.size(); i++) {
            if (i == visits.size() || visits.get(i).cut()) {
                cuts.add(new int[] {from, i});
                from = i;
            }
        }
        if (visits.isEmpty()) {
            return new Trend(List.of(), List.of(), false);
        }
        List<Integer> steps = new ArrayList<>();
        for (int[] cut : cuts) {
            List<Visit> own = visits.subList(cut[0], cut[1]);
            double[] uncertainties =
                    own.stream().mapToDouble(Visit::uncertainty).toArray();
            Steps.of(times(own), uncertainties).forEach(s -> steps.add(cut[0] + s));
        }
        if (arePooled(cuts)) {
            return new Trend(List.of(pooled(visits, cuts)), steps, true);
        }
        return new Trend(cuts.stream().map(c -> segment(visits, c[0], c[1])).toList(), steps, false);
    }

    /** No segment is long enough to speak for itself, and more than one can be compared within. */
    private static boolean arePooled(List<int[]> cuts) {
        return cuts.stream().allMatch(c -> c[1] - c[0] < FEWEST)
                && cuts.stream().filter(c -> c[1] - c[0] > 1).count() > 1;
    }

    private static List<Timed> times(List<Visit> visits) {
        return visits.stream().map(Visit::at).toList();
    }

    private static Segment segment(List<Visit> visits, int from, int to) {
        List<Timed> values = times(visits.subList(from, to));
        Monotony monotony = Monotony.of(values);
        Line line = Line.of(values);
        boolean straight = line != null && Scatter.allowsLeastSquares(line, values);
        return finished(visits, from, to, values.size(), monotony, line, straight, values);
    }

    private static Segment pooled(List<Visit> visits, List<int[]> cuts) {
        List<List<Timed>> segments =
                cuts.stream().map(c -> times(visits.subList(c[0], c[1]))).toList();
        Monotony monotony = Monotony.pooled(segments);
        Line line = Line.pooled(segments);
        return finished(visits, 0, visits.size(), visits.size(), monotony, line, true, List.of());
    }

    private static Segment finished(
            List<Visit> visits,
            int from,
            int to,
            int n,
            Monotony monotony,
            @Nullable Line line,
            boolean straight,
            List<Timed> values) {
        Visit last = visits.get(to - 1);
        boolean past = isPast(last);
        Segment bare = new Segment(
                from,
                to - 1,
                n,
                monotony,
                line,
                OptionalDouble.empty(),
                null,
                Method.NONE,
                past ? Outlook.PAST : n < FEWEST ? Outlook.TOO_FEW : Outlook.NO_DRIFT);
        if (!bare.drifts() || line == null) {
            return bare;
        }
        double slope = straight ? line.slope() : monotony.slope().orElseThrow();
        Double limit = slope > 0 ? last.high() : last.low();
        if (limit == null || slope == 0) {
            return past
                    ? bare
                    : told(bare, last.low() == null && last.high() == null ? Outlook.NO_LIMIT : Outlook.AWAY);
        }
        double crossing = straight ? line.meets(limit) : (limit - Scatter.level(values, slope)) / slope;
        Line.Range range = straight ? line.meeting(limit, SHARE) : Scatter.meeting(values, slope, limit, SHARE);
        return new Segment(
                from,
                to - 1,
                n,
                monotony,
                line,
                OptionalDouble.of(crossing),
                range,
                straight ? Method.FIELLER : Method.BOOTSTRAP,
                past ? Outlook.PAST : Outlook.TOWARDS);
    }

    private static Segment told(Segment s, Outlook outlook) {
        return new Segment(s.from, s.to, s.n, s.monotony, s.line, OptionalDouble.empty(), null, Method.NONE, outlook);
    }

    private static boolean isPast(Visit last) {
        double value = last.at().value();
        return last.high() != null && value > Objects.requireNonNull(last.high())
                || last.low() != null && value < Objects.requireNonNull(last.low());
    }

    /** The segment that says what comes; absent where there is no value. */
    public @Nullable Segment last() {
        return segments.isEmpty() ? null : segments.get(segments.size() - 1);
    }
}
