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
 * @param withSteps as it is asked for: steps that a run begins without and that are wanted; absent for none. A scope
 *     that a run is carried out with ({@link #over}) has none of it: it says of each such step that it is left out
 */
public record Scope(
        Set<String> withoutSteps,
        Map<String, Set<String>> withoutLanes,
        @Nullable Set<String> withoutPairs,
        @Nullable Set<String> withSteps) {

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
        withSteps = withSteps == null || withSteps.isEmpty()
                ? null
                : java.util.Collections.unmodifiableSortedSet(new TreeSet<>(withSteps));
    }

    public Scope(Set<String> withoutSteps, Map<String, Set<String>> withoutLanes) {
        this(withoutSteps, withoutLanes, null, null);
    }

    public Scope(Set<String> withoutSteps, Map<String, Set<String>> withoutLanes, @Nullable Set<String> withoutPairs) {
        this(withoutSteps, withoutLanes, withoutPairs, null);
    }

    /**
     * This scope over a procedure: a step that a run begins without takes part only where it is asked for by name. So
     * nobody gets a step unasked who says only what to leave out, nor by a variant that is older than the step.
     */
    public Scope over(Procedure procedure) {
        Set<String> without = new TreeSet<>(withoutSteps);
        procedure.steps().stream()
                .filter(Step::beginsWithout)
                .map(Step::id)
                .filter(id -> withSteps == null || !withSteps.contains(id))
                .forEach(without::add);
        return new Scope(without, withoutLanes, withoutPairs);
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
