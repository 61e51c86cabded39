package org.juratest.core.procedure;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * One step of a procedure.
 *
 * @param method name of the measuring method; only with measurement, search and capture
 * @param lanes name of the lane set it repeats over; absent: once
 * @param maxima greatest values the client can never exceed
 * @param gear id of the gear need it uses
 * @param hazard whether it can energise something
 * @param sketch name of the connection sketch
 * @param minutes usual duration
 * @param notAfterFailIn step whose failed points forbid this one on lanes they touch
 * @param coolMinutes pause after an output before the next, minutes
 * @param repeats how repeats without an adjustment count together
 * @param more what only some steps have; absent for the others
 */
public record Step(
        String id,
        StepKind kind,
        String title,
        String text,
        @Nullable String method,
        @Nullable String lanes,
        Map<String, Param> params,
        Map<String, Param> maxima,
        @Nullable String gear,
        boolean hazard,
        @Nullable Hold hold,
        @Nullable String sketch,
        double minutes,
        boolean required,
        @Nullable String notAfterFailIn,
        @Nullable Double coolMinutes,
        Repeats repeats,
        List<TestPoint> points,
        @Nullable More more) {

    /**
     * What only some steps have.
     *
     * @param also ids of further gear needs it uses beside its own
     * @param shared whether what is proved on one lane holds for all, such as a reference that they have in common
     * @param flows whether nothing has to be done by hand before it, nor between its lanes
     * @param ifRated rating without which the device has no such step; absent: every device has it
     * @param touches ids of earlier steps whose values it changes: an alignment
     */
    public record More(
            List<String> also, boolean shared, boolean flows, @Nullable String ifRated, List<String> touches) {
        public More {
            also = List.copyOf(also);
            touches = List.copyOf(touches);
        }
    }

    private static final More NOTHING_MORE = new More(List.of(), false, false, null, List.of());

    /** A step with nothing of what only some have. */
    public Step(
            String id,
            StepKind kind,
            String title,
            String text,
            @Nullable String method,
            @Nullable String lanes,
            Map<String, Param> params,
            Map<String, Param> maxima,
            @Nullable String gear,
            boolean hazard,
            @Nullable Hold hold,
            @Nullable String sketch,
            double minutes,
            boolean required,
            @Nullable String notAfterFailIn,
            @Nullable Double coolMinutes,
            Repeats repeats,
            List<TestPoint> points) {
        this(
                id,
                kind,
                title,
                text,
                method,
                lanes,
                params,
                maxima,
                gear,
                hazard,
                hold,
                sketch,
                minutes,
                required,
                notAfterFailIn,
                coolMinutes,
                repeats,
                points,
                null);
    }

    /** How repeats count together. */
    public enum Repeats {
        WORST,
        MEAN
    }

    public Step {
        params = Map.copyOf(params);
        maxima = Map.copyOf(maxima);
        points = List.copyOf(points);
    }

    public Optional<TestPoint> point(String pointId) {
        return points.stream().filter(p -> p.id().equals(pointId)).findFirst();
    }

    public List<Confirmation> confirmations() {
        return hold == null ? List.of() : hold.confirmations();
    }

    private More others() {
        return more == null ? NOTHING_MORE : more;
    }

    /** Ids of the gear needs it uses: its own first; none for a step without gear. */
    public List<String> needs() {
        return gear == null
                ? List.of()
                : java.util.stream.Stream.concat(java.util.stream.Stream.of(gear), others().also.stream())
                        .toList();
    }

    /** Ids of further gear needs it uses. */
    public List<String> furtherNeeds() {
        return others().also;
    }

    /** Whether what is proved on one lane holds for all. */
    public boolean provesAllLanes() {
        return others().shared;
    }

    /** Whether it can follow the step before by itself. */
    public boolean followsByItself() {
        return others().flows;
    }

    /** Rating without which the device has no such step; absent: every device has it. */
    public @Nullable String onlyIfRated() {
        return others().ifRated;
    }

    /** Ids of earlier steps whose values it changes. */
    public List<String> alters() {
        return others().touches;
    }

    /** The step as it is on one lane: parameters and greatest values that differ between lanes are plain. */
    public Step at(String lane) {
        Map<String, Param> own = new java.util.TreeMap<>();
        params.forEach((name, p) -> own.put(name, p.at(lane)));
        Map<String, Param> most = new java.util.TreeMap<>();
        maxima.forEach((name, p) -> most.put(name, p.at(lane)));
        return resolved(own, most);
    }

    /** The step with its parameters resolved. */
    Step resolved(Map<String, Param> resolvedParams, Map<String, Param> resolvedMaxima) {
        return new Step(
                id,
                kind,
                title,
                text,
                method,
                lanes,
                resolvedParams,
                resolvedMaxima,
                gear,
                hazard,
                hold,
                sketch,
                minutes,
                required,
                notAfterFailIn,
                coolMinutes,
                repeats,
                points,
                more);
    }

    /** The step with one parameter set to a value, on one lane or on all. */
    Step with(String param, @Nullable String lane, double value, Map<String, LaneSet> laneSets) {
        Map<String, Param> changed = new java.util.TreeMap<>(params);
        Param before = params.get(param);
        if (before == null) {
            throw new IllegalArgumentException("the step \"" + id + "\" has no parameter \"" + param + "\"");
        }
        if (lane == null) {
            changed.put(param, before.set(value));
        } else {
            Map<String, Double> values = new java.util.TreeMap<>();
            laneSets.get(String.valueOf(lanes)).lanes().forEach(l -> {
                Double there = before.at(l.id()).value();
                if (there != null) {
                    values.put(l.id(), there);
                }
            });
            values.put(lane, value);
            changed.put(param, new Param(null, null, Map.of(), before.unit(), null, values, before.range()));
        }
        return resolved(changed, maxima);
    }

    /** The step without what refers to steps that the device does not have. */
    Step among(java.util.Set<String> steps) {
        Hold kept = hold == null
                ? null
                : new Hold(
                        hold.confirmations().stream()
                                .map(c -> c.backBefore() == null || steps.contains(c.backBefore())
                                        ? c
                                        : new Confirmation(c.id(), c.text(), c.back(), null))
                                .toList(),
                        hold.onlyFor().stream().filter(steps::contains).toList());
        More others = more == null
                ? null
                : new More(
                        more.also,
                        more.shared,
                        more.flows,
                        more.ifRated,
                        more.touches.stream().filter(steps::contains).toList());
        return new Step(
                id,
                kind,
                title,
                text,
                method,
                lanes,
                params,
                maxima,
                gear,
                hazard,
                kept,
                sketch,
                minutes,
                required,
                notAfterFailIn == null || steps.contains(notAfterFailIn) ? notAfterFailIn : null,
                coolMinutes,
                repeats,
                points,
                others);
    }
}
