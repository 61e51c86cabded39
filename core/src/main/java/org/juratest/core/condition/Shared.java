package org.juratest.core.condition;

import java.util.Comparator;
import java.util.List;
import org.hipparchus.distribution.discrete.HypergeometricDistribution;

/**
 * What a chosen group has in common beyond chance.
 *
 * @param attribute what kind of thing: "batch"
 * @param value which: "B14"
 * @param inGroup how many of the group have it
 * @param inFleet how many of all have it
 * @param odds chance of as many or more in a group drawn by lot (hypergeometric), times the attributes tried
 *     (Bonferroni); at most 1
 */
public record Shared(String attribute, String value, int inGroup, int inFleet, double odds) {

    /** Odds from which on it is no chance. */
    public static final double RARE = 0.05;

    /**
     * An attribute's value with how often it is there.
     *
     * @throws IllegalArgumentException if more of the group have it than of all
     */
    public record Tried(String attribute, String value, int inGroup, int inFleet) {
        public Tried {
            if (inGroup < 0 || inGroup > inFleet) {
                throw new IllegalArgumentException(
                        inGroup + " of a group cannot have what " + inFleet + " of all have");
            }
        }
    }

    /**
     * What a group shares, least likely first. Only what two or more of it have counts as tried.
     *
     * @param group how many there are in the group
     * @param fleet how many there are in all, the group among them
     */
    public static List<Shared> of(int group, int fleet, List<Tried> all) {
        if (group < 2 || group >= fleet) {
            return List.of();
        }
        List<Tried> tried = all.stream().filter(t -> t.inGroup >= 2).toList();
        return tried.stream()
                .map(t -> new Shared(
                        t.attribute,
                        t.value,
                        t.inGroup,
                        t.inFleet,
                        Math.min(1, tried.size() * chance(group, fleet, t))))
                .filter(s -> s.odds <= RARE)
                .sorted(Comparator.comparingDouble(Shared::odds)
                        .thenComparing(Shared::inGroup, Comparator.reverseOrder()))
                .toList();
    }

    private static double chance(int group, int fleet, Tried t) {
        return new HypergeometricDistribution(fleet, t.inFleet, group).upperCumulativeProbability(t.inGroup);
    }
}
