package org.juratest.core.condition;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.OptionalInt;
import java.util.TreeSet;

/** Steps without a recorded cause: another device, another set-up, a repair that nobody entered. */
public final class Steps {

    private static final double SHARE = 0.99;
    private static final int FEWEST_BEFORE = 3;
    /** Share of a value within which nothing is a step, however little the few before it scatter. */
    private static final double LEAST = 0.005;

    /** A. N. Pettitt's test cannot reach 5 % with fewer than 11 values; here from 12 on. */
    private static final int FEWEST_PETTITT = 12;

    private static final double ONE_IN = 0.05;

    private Steps() {}

    /**
     * Values of a segment that came by a step: outside the 99 % prediction interval of the line through those before
     * them, and changed since the last by more than both uncertainties together. One that lies apart and is not
     * followed by another is told, and left out of what the next are held against; where the next lies there too, the
     * level begins anew with it. From 12 values on Pettitt's test tells one more, where two levels describe the values
     * better than a line.
     *
     * @param segment in the order of time
     * @param uncertainties expanded, of each value; 0 where it is not known
     * @return places in the segment, in order
     */
    public static List<Integer> of(List<Timed> segment, double[] uncertainties) {
        TreeSet<Integer> found = new TreeSet<>();
        List<Timed> before = new ArrayList<>();
        int apart = -1;
        for (int i = 0; i < segment.size(); i++) {
            Timed now = segment.get(i);
            boolean outside = before.size() >= FEWEST_BEFORE && isOutside(before, now);
            if (!outside) {
                apart = -1;
                before.add(now);
            } else if (apart >= 0) {
                before = new ArrayList<>(segment.subList(apart, i + 1));
                apart = -1;
            } else {
                double change = Math.abs(now.value() - segment.get(i - 1).value());
                if (change > Math.hypot(uncertainties[i], uncertainties[i - 1])) {
                    found.add(i);
                    apart = i;
                } else {
                    before.add(now);
                }
            }
        }
        pettitt(segment).ifPresent(i -> {
            // A step that is told within a value of it is the same one.
            if (found.stream().noneMatch(f -> Math.abs(f - i) <= 1)) {
                found.add(i);
            }
        });
        return List.copyOf(found);
    }

    private static boolean isOutside(List<Timed> before, Timed now) {
        Line line = Line.of(before);
        if (line == null || line.freedom() < 1) {
            return false;
        }
        double half = line.halfOfNext(now.years(), SHARE);
        double nothing = LEAST * Math.max(Math.abs(line.at(now.years())), Math.abs(now.value()));
        return Math.abs(now.value() - line.at(now.years())) > Math.max(half, nothing);
    }

    /**
     * The first value after a change of level (A. N. Pettitt, "A non-parametric approach to the change-point problem",
     * Appl. Stat. 28, 1979), at 5 %, where two levels leave less than a line does; empty where there is none, or too
     * few values.
     */
    static OptionalInt pettitt(List<Timed> segment) {
        int n = segment.size();
        if (n < FEWEST_PETTITT) {
            return OptionalInt.empty();
        }
        double[] values = segment.stream().mapToDouble(Timed::value).toArray();
        Pettitt found = Pettitt.of(values);
        Line line = Line.of(segment);
        if (found.p() > ONE_IN || line == null) {
            return OptionalInt.empty();
        }
        double levels = squares(values, 0, found.before()) + squares(values, found.before(), n);
        double straight = line.deviation() * line.deviation() * line.freedom();
        return levels < straight ? OptionalInt.of(found.before()) : OptionalInt.empty();
    }

    private static double squares(double[] values, int from, int to) {
        double mean = Arrays.stream(values, from, to).average().orElse(0);
        return Arrays.stream(values, from, to).map(v -> (v - mean) * (v - mean)).sum();
    }

    /**
     * Pettitt's statistic.
     *
     * @param k greatest difference of ranks
     * @param before values before the change
     * @param p approximate, two-sided: 2 exp(-6 k^2 / (n^3 + n^2))
     */
    record Pettitt(double k, int before, double p) {
        static Pettitt of(double[] values) {
            int n = values.length;
            double u = 0;
            double k = 0;
            int before = 0;
            for (int t = 0; t < n - 1; t++) {
                for (double other : values) {
                    u += Math.signum(values[t] - other);
                }
                if (Math.abs(u) > k) {
                    k = Math.abs(u);
                    before = t + 1;
                }
            }
            return new Pettitt(
                    k, before, Math.min(1, 2 * Math.exp(-6 * k * k / ((double) n * n * n + (double) n * n))));
        }
    }
}
