package org.juratest.core.condition;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.hipparchus.distribution.continuous.TDistribution;

/** Quantiles of Student's t, each worked out once: a fleet asks for the same few a million times. */
final class Student {

    /** Degrees of freedom up to which a quantile is kept; beyond, values are rare enough. */
    private static final int KEPT_TO = 1000;
    /**
     * Shares are the few that are set, but a risk can be chosen: what nobody asks for any more is not kept for ever.
     */
    private static final int MOST_KEPT = 20_000;

    private record Asked(int freedom, double below) {}

    private static final Map<Asked, Double> KEPT = new ConcurrentHashMap<>();

    private Student() {}

    /**
     * The value below which a share of the distribution lies.
     *
     * @param freedom degrees of freedom, from 1 on
     * @param below more than 0, less than 1
     */
    static double quantile(int freedom, double below) {
        if (freedom > KEPT_TO) {
            return new TDistribution(freedom).inverseCumulativeProbability(below);
        }
        if (KEPT.size() > MOST_KEPT) {
            KEPT.clear();
        }
        return KEPT.computeIfAbsent(
                new Asked(freedom, below), a -> new TDistribution(a.freedom).inverseCumulativeProbability(a.below));
    }
}
