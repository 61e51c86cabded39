package org.juratest.core.procedure;

import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * Which steps and lanes take part in a run. What is left out is listed as not tested.
 *
 * @param withoutSteps step ids left out
 * @param withoutLanes lane ids left out, by lane set
 * @param withoutPairs lanes of single steps left out, as {@code step/lane}; absent for none
 */
public record Scope(
        Set<String> withoutSteps, Map<String, Set<String>> withoutLanes, @Nullable Set<String> withoutPairs) {

    public static final Scope ALL = new Scope(Set.of(), Map.of());

    public Scope {
        // Sorted, so that the stored event does not depend on hash order.
        withoutSteps = java.util.Collections.unmodifiableSortedSet(new TreeSet<>(withoutSteps));
        TreeMap<String, Set<String>> lanes = new TreeMap<>();
        withoutLanes.forEach(
                (set, ids) -> lanes.put(set, java.util.Collections.unmodifiableSortedSet(new TreeSet<>(ids))));
        withoutLanes = java.util.Collections.unmodifiableMap(lanes);
        // Absent rather than empty: scopes of before there were pairs read and hash as they did.
        withoutPairs = withoutPairs == null || withoutPairs.isEmpty()
                ? null
                : java.util.Collections.unmodifiableSortedSet(new TreeSet<>(withoutPairs));
    }

    public Scope(Set<String> withoutSteps, Map<String, Set<String>> withoutLanes) {
        this(withoutSteps, withoutLanes, null);
    }

    /** Whether a lane takes part in a step. */
    public boolean pair(String step, String lane) {
        return withoutPairs == null || !withoutPairs.contains(step + "/" + lane);
    }

    public boolean step(String id) {
        return !withoutSteps.contains(id);
    }

    public boolean lane(String laneSet, String lane) {
        return !withoutLanes.getOrDefault(laneSet, Set.of()).contains(lane);
    }
}
