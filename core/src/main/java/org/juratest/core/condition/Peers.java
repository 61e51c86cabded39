package org.juratest.core.condition;

import java.util.Arrays;
import java.util.OptionalDouble;

/**
 * How a value stands among those of its like: the robust z of B. Iglewicz, D. C. Hoaglin (How to Detect and Handle
 * Outliers, 1993, 3.3), 0.6745 (v - median) / MAD.
 *
 * @param peers how many there are beside it
 * @param median of the peers
 * @param mad median of their absolute deviations from it
 * @param z robust; empty with fewer than 8 peers, and where half of them are equal
 */
public record Peers(int peers, double median, double mad, OptionalDouble z) {

    public static final int FEWEST = 8;
    public static final double OUTLIER = 3.5;
    /** The middle of the absolute deviations of a normal distribution, in its standard deviations. */
    static final double NORMAL = 0.6745;

    /**
     * Of a value and its peers, itself not among them.
     *
     * @param peers finite, at least one
     */
    public static Peers of(double value, double[] peers) {
        double[] sorted = peers.clone();
        Arrays.sort(sorted);
        double median = Monotony.median(sorted);
        double[] away =
                Arrays.stream(sorted).map(v -> Math.abs(v - median)).sorted().toArray();
        double mad = Monotony.median(away);
        return new Peers(
                peers.length,
                median,
                mad,
                peers.length >= FEWEST && mad > 0
                        ? OptionalDouble.of(NORMAL * (value - median) / mad)
                        : OptionalDouble.empty());
    }

    /** How another value stands among the same peers. */
    public Peers of(double value) {
        return new Peers(
                peers,
                median,
                mad,
                z.isPresent() ? OptionalDouble.of(NORMAL * (value - median) / mad) : OptionalDouble.empty());
    }

    /**
     * Whether it lies apart from them in the bad direction.
     *
     * @param bad 1 where more is worse, -1 where less is, 0 where either is
     */
    public boolean isOutlier(int bad) {
        return z.isPresent() && (bad == 0 ? Math.abs(z.getAsDouble()) : bad * z.getAsDouble()) > OUTLIER;
    }
}
