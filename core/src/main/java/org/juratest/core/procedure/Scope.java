package org.juratest.core.procedure;

import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * Which steps and lanes take part in a run. What is left out is listed as not tested.
 *
 * @param withoutSteps step ids left out
 * @param withoutLanes lane ids left out, by lane set
 */
public record Scope(Set<String> withoutSteps, Map<String, Set<String>> withoutLanes) {

  public static final Scope ALL = new Scope(Set.of(), Map.of());

  public Scope {
    // Sorted, so that the stored event does not depend on hash order.
    withoutSteps = java.util.Collections.unmodifiableSortedSet(new TreeSet<>(withoutSteps));
    TreeMap<String, Set<String>> lanes = new TreeMap<>();
    withoutLanes.forEach((set, ids) -> lanes.put(set, java.util.Collections.unmodifiableSortedSet(new TreeSet<>(ids))));
    withoutLanes = java.util.Collections.unmodifiableMap(lanes);
  }

  public boolean step(String id) {
    return !withoutSteps.contains(id);
  }

  public boolean lane(String laneSet, String lane) {
    return !withoutLanes.getOrDefault(laneSet, Set.of()).contains(lane);
  }
}
