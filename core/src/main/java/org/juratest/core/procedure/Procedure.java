package org.juratest.core.procedure;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.DecisionRule;

/**
 * A versioned procedure.
 *
 * @param format {@value #FORMAT}
 * @param version from 1; a version never changes once used
 * @param appliesTo asset classes
 * @param rule decision rule of its points, unless they state their own
 */
public record Procedure(
        String format,
        String code,
        int version,
        String title,
        String family,
        List<String> appliesTo,
        DecisionRule rule,
        List<GearNeed> gear,
        Map<String, LaneSet> laneSets,
        List<Step> steps) {

    public static final String FORMAT = "juratest-procedure/1";

    public Procedure {
        appliesTo = List.copyOf(appliesTo);
        gear = List.copyOf(gear);
        laneSets = Collections.unmodifiableMap(new LinkedHashMap<>(laneSets));
        steps = List.copyOf(steps);
    }

    public Optional<Step> step(String id) {
        return steps.stream().filter(s -> s.id().equals(id)).findFirst();
    }

    /** Lanes a step repeats over in a scope, in order; one {@link Lane#NONE} for a step without lanes. */
    public List<String> lanesOf(Step step, Scope scope) {
        LaneSet set = step.lanes() == null ? null : laneSets.get(step.lanes());
        if (set == null) {
            return List.of(Lane.NONE);
        }
        List<String> lanes = set.lanes().stream()
                .map(Lane::id)
                .filter(l -> scope.lane(step.lanes(), l) && scope.pair(step.id(), l))
                .toList();
        return step.provesAllLanes() && lanes.size() > 1 ? lanes.subList(0, 1) : lanes;
    }

    /** Lanes in scope on which a shared step is not done, because another one proves it for them. */
    public List<String> provedElsewhere(Step step, Scope scope) {
        LaneSet set = step.lanes() == null ? null : laneSets.get(step.lanes());
        List<String> done = lanesOf(step, scope);
        return set == null || !step.provesAllLanes() || done.isEmpty()
                ? List.of()
                : set.lanes().stream()
                        .map(Lane::id)
                        .filter(l -> scope.lane(step.lanes(), l) && scope.pair(step.id(), l) && !done.contains(l))
                        .toList();
    }

    /** The word for a lane of a step, such as "phase". */
    public String laneWord(Step step) {
        LaneSet set = step.lanes() == null ? null : laneSets.get(step.lanes());
        return set == null ? "lane" : set.label();
    }

    /** Points of the steps and lanes in a scope, in the order of the work. */
    public List<PointKey> keys(Scope scope) {
        List<PointKey> keys = new ArrayList<>();
        for (Step step : steps) {
            if (scope.step(step.id())) {
                for (String lane : lanesOf(step, scope)) {
                    step.points().forEach(point -> keys.add(new PointKey(step.id(), point.id(), lane)));
                }
            }
        }
        return keys;
    }

    /** What a lane of a step is called in words: "phase B", or nothing for a step without lanes. */
    public String laneName(Step step, String lane) {
        LaneSet set = step.lanes() == null ? null : laneSets.get(step.lanes());
        if (set == null) {
            return "";
        }
        return set.label() + " " + set.lane(lane).map(Lane::label).orElse(lane);
    }

    /** Which lane of a set a lane of a step is, or is made of; absent where it has nothing to do with that set. */
    public @Nullable String laneIn(Step step, String lane, String set) {
        LaneSet own = step.lanes() == null ? null : laneSets.get(step.lanes());
        return own == null
                ? null
                : own.lane(lane).map(l -> l.in(set, step.lanes())).orElse(null);
    }

    Procedure withResolved(Map<String, LaneSet> lanes, List<Step> resolvedSteps) {
        return new Procedure(format, code, version, title, family, appliesTo, rule, gear, lanes, resolvedSteps);
    }

    /** What takes part in a run before a person chooses: all but steps that are extra, and lanes that are optional. */
    public Scope atFirst() {
        Map<String, Set<String>> without = new TreeMap<>();
        laneSets.forEach((name, set) -> {
            Set<String> ids = set.lanes().stream()
                    .filter(Lane::beginsWithout)
                    .map(Lane::id)
                    .collect(Collectors.toSet());
            if (!ids.isEmpty()) {
                without.put(name, ids);
            }
        });
        Set<String> extra =
                steps.stream().filter(Step::beginsWithout).map(Step::id).collect(Collectors.toSet());
        return without.isEmpty() && extra.isEmpty() ? Scope.ALL : new Scope(extra, without);
    }
}
