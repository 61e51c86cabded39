package org.juratest.core.procedure;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * One step of a procedure.
 *
 * @param method name of the measuring method; only with what is measured
 * @param lanes name of the lane set it repeats over; absent: once
 * @param maxima greatest values the client can never exceed
 * @param gear id of the gear need it uses
 * @param hazard whether it can energise something
 * @param sketch name of the connection sketch
 * @param minutes usual duration
 * @param notAfterFailIn step whose failed points, and those still to be measured, forbid this one on lanes they touch;
 *     of an instruction its confirmations
 * @param coolMinutes pause after an output before the next, minutes
 * @param repeats how repeats without an adjustment count together
 * @param more what only some steps have; absent for the others
 * @param features rows it may discover; absent for none
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
        @Nullable Relations more,
        @Nullable List<FeatureSpec> features) {

    /** Between the id of a column and the number of a row, in the id of a point that was discovered. */
    public static final String ROW = "#";

    /**
     * How a step stands to others, to further gear and to the device.
     *
     * @param also ids of further gear needs it uses beside its own
     * @param shared whether what is proved on one lane holds for all, such as a reference that they have in common
     * @param flows whether nothing has to be done by hand before it, nor between its lanes
     * @param ifRated rating without which the device has no such step; absent: every device has it
     * @param touches ids of earlier steps whose values it changes: an alignment
     * @param uses ids of earlier reference steps whose values it counts with
     * @param validMinutes how long a reference holds; absent for what is none
     * @param discharge what follows once its output is off; absent where nothing stays charged
     * @param askAfter id of an earlier step: where that failed, a person says whether to go on to this one
     * @param extra whether a run begins without it, and nothing is missing where it stays left out; absent: no
     */
    public record Relations(
            List<String> also,
            boolean shared,
            boolean flows,
            @Nullable String ifRated,
            List<String> touches,
            @Nullable List<String> uses,
            @Nullable Double validMinutes,
            @Nullable Discharge discharge,
            @Nullable String askAfter,
            @Nullable Boolean extra) {

        public Relations(
                List<String> also,
                boolean shared,
                boolean flows,
                @Nullable String ifRated,
                List<String> touches,
                @Nullable List<String> uses,
                @Nullable Double validMinutes,
                @Nullable Discharge discharge) {
            this(also, shared, flows, ifRated, touches, uses, validMinutes, discharge, null, null);
        }

        /** One that a run begins with. */
        public Relations(
                List<String> also,
                boolean shared,
                boolean flows,
                @Nullable String ifRated,
                List<String> touches,
                @Nullable List<String> uses,
                @Nullable Double validMinutes,
                @Nullable Discharge discharge,
                @Nullable String askAfter) {
            this(also, shared, flows, ifRated, touches, uses, validMinutes, discharge, askAfter, null);
        }

        public Relations {
            also = List.copyOf(also);
            touches = List.copyOf(touches);
            uses = uses == null || uses.isEmpty() ? null : List.copyOf(uses);
            extra = Boolean.TRUE.equals(extra) ? Boolean.TRUE : null;
        }

        /** One with nothing of the kind. */
        static final Relations NONE = new Relations(List.of(), false, false, null, List.of(), null, null, null);
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
        features = features == null || features.isEmpty() ? null : List.copyOf(features);
    }

    /** Begins a step without anything that it need not have: required, without gear, lanes and points. */
    public static Builder builder(String id, StepKind kind, String title) {
        return new Builder(id, kind, title);
    }

    /** Begins a step that is like this one. */
    public Builder toBuilder() {
        return new Builder(this);
    }

    /**
     * A point by its id; that of a row that was found, {@code column#row}, is the column's point with the row in its
     * label.
     */
    public Optional<TestPoint> point(String pointId) {
        int row = pointId.indexOf(ROW);
        if (row < 0) {
            return points.stream().filter(p -> p.id().equals(pointId)).findFirst();
        }
        String column = pointId.substring(0, row);
        return feature(column).flatMap(f -> f.column(column)
                .map(c -> c.ofRow(pointId, f.label() + " " + pointId.substring(row + 1) + ", " + c.label())));
    }

    /** The feature that has a column. */
    public Optional<FeatureSpec> feature(String column) {
        return discovers().stream().filter(f -> f.column(column).isPresent()).findFirst();
    }

    /** Features it may discover. */
    public List<FeatureSpec> discovers() {
        return features == null ? List.of() : features;
    }

    /** Its points, and the columns of its features. */
    public Stream<TestPoint> everyPoint() {
        return Stream.concat(points.stream(), discovers().stream().flatMap(f -> f.columns().stream()));
    }

    public List<Confirmation> confirmations() {
        return hold == null ? List.of() : hold.confirmations();
    }

    private Relations others() {
        return more == null ? Relations.NONE : more;
    }

    /** Ids of the gear needs it uses: its own first; none for a step without gear. */
    public List<String> needs() {
        return gear == null
                ? List.of()
                : Stream.concat(Stream.of(gear), others().also.stream()).toList();
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

    /** Whether a run begins without it. */
    public boolean beginsWithout() {
        return others().extra != null;
    }

    /** Rating without which the device has no such step; absent: every device has it. */
    public @Nullable String onlyIfRated() {
        return others().ifRated;
    }

    /** Ids of earlier steps whose values it changes. */
    public List<String> alters() {
        return others().touches;
    }

    /** Ids of the reference steps whose values it counts with. */
    public List<String> references() {
        List<String> uses = others().uses;
        return uses == null ? List.of() : uses;
    }

    /** Id of the earlier step that, where it failed, makes a person decide before this one; absent for none. */
    public @Nullable String asksAfter() {
        return others().askAfter;
    }

    /** How long what it takes holds for steps that use it, minutes; absent where it never ends. */
    public @Nullable Double validMinutes() {
        return others().validMinutes;
    }

    /** What follows once its output is off; absent where nothing stays charged. */
    public @Nullable Discharge discharge() {
        return others().discharge;
    }

    /** The step as it is on one lane: parameters and greatest values that differ between lanes are plain. */
    public Step at(String lane) {
        Map<String, Param> own = new TreeMap<>();
        params.forEach((name, p) -> own.put(name, p.at(lane)));
        Map<String, Param> most = new TreeMap<>();
        maxima.forEach((name, p) -> most.put(name, p.at(lane)));
        return resolved(own, most);
    }

    /** The step with its parameters resolved. */
    Step resolved(Map<String, Param> resolvedParams, Map<String, Param> resolvedMaxima) {
        return toBuilder().params(resolvedParams).maxima(resolvedMaxima).build();
    }

    /** The step with one parameter set to a value, on one lane or on all. */
    Step with(String param, @Nullable String lane, double value, Map<String, LaneSet> laneSets) {
        Map<String, Param> changed = new TreeMap<>(params);
        Param before = params.get(param);
        if (before == null) {
            throw new IllegalArgumentException("the step \"" + id + "\" has no parameter \"" + param + "\"");
        }
        if (lane == null) {
            changed.put(param, before.set(value));
        } else {
            Map<String, Double> values = new TreeMap<>();
            laneSets.get(String.valueOf(lanes)).lanes().forEach(l -> {
                Double there = before.at(l.id()).value();
                if (there != null) {
                    values.put(l.id(), there);
                }
            });
            values.put(lane, value);
            changed.put(
                    param,
                    new Param(null, null, Map.of(), before.unit(), null, values, before.range(), before.learned()));
        }
        return resolved(changed, maxima);
    }

    /** The step without what refers to steps that the device does not have. */
    Step among(java.util.Set<String> steps) {
        Builder own = toBuilder();
        if (hold != null) {
            own.hold(new Hold(
                    hold.confirmations().stream()
                            .map(c -> c.backBefore() == null || steps.contains(c.backBefore())
                                    ? c
                                    : new Confirmation(c.id(), c.text(), c.back(), null))
                            .toList(),
                    hold.onlyFor().stream().filter(steps::contains).toList()));
        }
        if (more != null) {
            own.more(new Relations(
                    more.also,
                    more.shared,
                    more.flows,
                    more.ifRated,
                    more.touches.stream().filter(steps::contains).toList(),
                    references().stream().filter(steps::contains).toList(),
                    more.validMinutes,
                    more.discharge,
                    more.askAfter != null && steps.contains(more.askAfter) ? more.askAfter : null,
                    more.extra));
        }
        return notAfterFailIn == null || steps.contains(notAfterFailIn)
                ? own.build()
                : own.notAfterFailIn(null).build();
    }

    /** Puts a step together. */
    public static final class Builder {

        private String id;
        private StepKind kind;
        private final String title;
        private String text = "";
        private @Nullable String method;
        private @Nullable String lanes;
        private Map<String, Param> params = Map.of();
        private Map<String, Param> maxima = Map.of();
        private @Nullable String gear;
        private boolean hazard;
        private @Nullable Hold hold;
        private @Nullable String sketch;
        private double minutes = 1;
        private boolean required = true;
        private @Nullable String notAfterFailIn;
        private @Nullable Double coolMinutes;
        private Repeats repeats = Repeats.WORST;
        private List<TestPoint> points = List.of();
        private @Nullable Relations more;
        private @Nullable List<FeatureSpec> features;

        private Builder(String id, StepKind kind, String title) {
            this.id = id;
            this.kind = kind;
            this.title = title;
        }

        private Builder(Step like) {
            this(like.id, like.kind, like.title);
            text = like.text;
            method = like.method;
            lanes = like.lanes;
            params = like.params;
            maxima = like.maxima;
            gear = like.gear;
            hazard = like.hazard;
            hold = like.hold;
            sketch = like.sketch;
            minutes = like.minutes;
            required = like.required;
            notAfterFailIn = like.notAfterFailIn;
            coolMinutes = like.coolMinutes;
            repeats = like.repeats;
            points = like.points;
            more = like.more;
            features = like.features;
        }

        public Builder id(String to) {
            id = to;
            return this;
        }

        public Builder kind(StepKind to) {
            kind = to;
            return this;
        }

        public Builder text(String to) {
            text = to;
            return this;
        }

        public Builder method(@Nullable String to) {
            method = to;
            return this;
        }

        public Builder lanes(@Nullable String to) {
            lanes = to;
            return this;
        }

        public Builder params(Map<String, Param> to) {
            params = to;
            return this;
        }

        public Builder maxima(Map<String, Param> to) {
            maxima = to;
            return this;
        }

        public Builder gear(@Nullable String to) {
            gear = to;
            return this;
        }

        public Builder hazard(boolean to) {
            hazard = to;
            return this;
        }

        public Builder hold(@Nullable Hold to) {
            hold = to;
            return this;
        }

        public Builder minutes(double to) {
            minutes = to;
            return this;
        }

        public Builder required(boolean to) {
            required = to;
            return this;
        }

        public Builder notAfterFailIn(@Nullable String to) {
            notAfterFailIn = to;
            return this;
        }

        public Builder coolMinutes(@Nullable Double to) {
            coolMinutes = to;
            return this;
        }

        public Builder repeats(Repeats to) {
            repeats = to;
            return this;
        }

        public Builder points(List<TestPoint> to) {
            points = to;
            return this;
        }

        public Builder more(@Nullable Relations to) {
            more = to;
            return this;
        }

        public Builder features(@Nullable List<FeatureSpec> to) {
            features = to;
            return this;
        }

        /** One point more. */
        public Builder point(TestPoint one) {
            List<TestPoint> all = new ArrayList<>(points);
            all.add(one);
            points = all;
            return this;
        }

        public Step build() {
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
                    hold,
                    sketch,
                    minutes,
                    required,
                    notAfterFailIn,
                    coolMinutes,
                    repeats,
                    points,
                    more,
                    features);
        }
    }
}
