package org.juratest.core.condition;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.OptionalDouble;

/**
 * Drift between visits: as found now less as left then, a year. What was adjusted at a visit does not hide what had
 * drifted before it.
 *
 * @param from time of the earlier visit, years
 * @param to time of the later one
 * @param perYear on the series' axis
 */
public record Drift(double from, double to, double perYear) {

    /**
     * A visit.
     *
     * @param asFound before anything was done; equal to {@code asLeft} where nothing was
     */
    public record Visit(double years, double asFound, double asLeft) {}

    /** Between each two visits that are apart in time, in their order. */
    public static List<Drift> between(List<Visit> visits) {
        List<Drift> all = new ArrayList<>();
        for (int i = 1; i < visits.size(); i++) {
            Visit then = visits.get(i - 1);
            Visit now = visits.get(i);
            if (now.years > then.years) {
                all.add(new Drift(then.years, now.years, (now.asFound - then.asLeft) / (now.years - then.years)));
            }
        }
        return all;
    }

    /**
     * The values a trend is made of: as found, and where something was adjusted as left after it, in a segment of its
     * own.
     */
    public static List<Timed> values(List<Visit> visits) {
        List<Timed> values = new ArrayList<>();
        for (Visit v : visits) {
            values.add(new Timed(v.years, v.asFound));
            if (v.asLeft != v.asFound) {
                values.add(new Timed(v.years, v.asLeft));
            }
        }
        return values;
    }

    /** The middle of several drifts; empty where there is none. */
    public static OptionalDouble median(List<Drift> all) {
        double[] sorted = all.stream().mapToDouble(Drift::perYear).toArray();
        Arrays.sort(sorted);
        return sorted.length == 0 ? OptionalDouble.empty() : OptionalDouble.of(Monotony.median(sorted));
    }
}
