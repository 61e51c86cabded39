package org.juratest.core.run;

import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.standard.StandardTable;

/** Events of the run as a whole. */
public final class RunEvents {

    private static final Set<Class<?>> CAN_BE_WITHDRAWN = Set.of(
            StepEvents.Note.class,
            StepEvents.Photo.class,
            StepEvents.HoldReleased.class,
            StepEvents.Restored.class,
            StepEvents.AnswerGiven.class,
            StepEvents.ConditionEntered.class,
            StepEvents.StepSkipped.class,
            StepEvents.WentOn.class,
            StepEvents.CoolingOverruled.class,
            SetupMoved.class,
            AttemptEvents.AttemptSettled.class,
            AttemptEvents.AdjustmentMade.class,
            AttemptEvents.LimitChanged.class,
            AttemptEvents.ParamChanged.class,
            AttemptEvents.BackToProcedure.class);

    private RunEvents() {}

    /**
     * The run begins: everything it will be judged by, as it was then.
     *
     * @param job job it belongs to
     * @param procedureHash SHA-256 of the frozen procedure version
     * @param procedure fitted to the device
     * @param priors earlier counting values, newest first
     * @param envelope the curve of the device; absent if it is not known
     * @param limits those resolved at the start, by {@code step/point/lane}
     * @param software version that judges
     * @param tables of standards that its methods judge by, by group; absent where none does, and in older runs
     */
    public record Opened(
            String job,
            String reason,
            String procedureHash,
            Procedure procedure,
            AssetFacts asset,
            List<GearFacts> gear,
            List<PriorReading> priors,
            @Nullable Envelope envelope,
            Map<String, ResolvedLimit> limits,
            String software,
            String zone,
            @Nullable Map<String, StandardTable> tables)
            implements EventData {

        public Opened {
            tables = tables == null || tables.isEmpty() ? null : Collections.unmodifiableMap(new TreeMap<>(tables));
            gear = List.copyOf(gear);
            priors = List.copyOf(priors);
            limits = Collections.unmodifiableMap(new TreeMap<>(limits));
        }

        /** One whose methods judge by no table. */
        public Opened(
                String job,
                String reason,
                String procedureHash,
                Procedure procedure,
                AssetFacts asset,
                List<GearFacts> gear,
                List<PriorReading> priors,
                @Nullable Envelope envelope,
                Map<String, ResolvedLimit> limits,
                String software,
                String zone) {
            this(job, reason, procedureHash, procedure, asset, gear, priors, envelope, limits, software, zone, null);
        }

        /** The table of a group that it is judged by; absent in runs that were opened before there were any. */
        public @Nullable StandardTable table(String group) {
            return tables == null ? null : tables.get(group);
        }

        @Override
        public void fold(RunState next, Event event) {
            next.opened = this;
            next.scope = procedure.atFirst();
            Map<PointKey, ResolvedLimit> resolved = new TreeMap<>();
            limits.forEach((key, limit) -> resolved.put(PointKey.parse(key), limit));
            next.limits = Collections.unmodifiableMap(resolved);
        }
    }

    /** Which steps and lanes take part. */
    public record ScopeSet(Scope scope) implements EventData {
        /**
         * What is written when a person asks for it: {@link Scope#over} the procedure of the run.
         *
         * @throws Refusal naming {@code scope.withSteps} where it names no step, or one that is left out as well
         */
        public ScopeSet over(RunState before) {
            if (scope.withSteps() != null) {
                scope.withSteps().forEach(id -> {
                    known(id, before, "scope.withSteps");
                    if (!scope.step(id)) {
                        throw new Refusal(
                                "contradiction",
                                "\"" + id + "\" cannot take part and be left out as well.",
                                "scope.withSteps");
                    }
                });
            }
            return new ScopeSet(scope.over(before.procedure()));
        }

        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.fresh(before);
            check(scope, before);
        }

        static void check(Scope scope, RunState before) {
            scope.withoutSteps().forEach(id -> known(id, before, "scope.withoutSteps"));
            scope.withoutLanes()
                    .forEach((set, lanes) -> lanes.forEach(lane -> {
                        if (!before.procedure().laneSets().containsKey(set)
                                || before.procedure()
                                        .laneSets()
                                        .get(set)
                                        .lane(lane)
                                        .isEmpty()) {
                            throw new Refusal(
                                    "unknown-lane",
                                    "This procedure has no lane \"" + set + "/" + lane + "\".",
                                    "scope.withoutLanes");
                        }
                    }));
            if (scope.withoutPairs() != null) {
                scope.withoutPairs().forEach(pair -> {
                    int slash = pair.indexOf('/');
                    Step step = before.procedure()
                            .step(slash < 0 ? pair : pair.substring(0, slash))
                            .orElse(null);
                    if (step == null
                            || step.lanes() == null
                            || before.procedure()
                                    .laneSets()
                                    .get(step.lanes())
                                    .lane(pair.substring(slash + 1))
                                    .isEmpty()) {
                        throw new Refusal(
                                "unknown-lane",
                                "This procedure has no step and lane \"" + pair + "\".",
                                "scope.withoutPairs");
                    }
                });
            }
            scope.withoutSteps().stream()
                    .map(before::stepOf)
                    .filter(s -> !Rules.mayLeaveOut(s, scope))
                    .findFirst()
                    .ifPresent(s -> {
                        throw new Refusal(
                                "hold-cannot-be-left-out",
                                "\"" + s.title() + "\" makes the work safe; it is part of every run"
                                        + (s.hold() == null
                                                        || s.hold().onlyFor().isEmpty()
                                                ? "."
                                                : " with "
                                                        + String.join(
                                                                ", ",
                                                                s.hold().onlyFor().stream()
                                                                        .filter(scope::step)
                                                                        .map(id -> "\""
                                                                                + before.stepOf(id)
                                                                                        .title() + "\"")
                                                                        .toList())
                                                        + "."),
                                "scope.withoutSteps");
                    });
            if (before.procedure().keys(scope).isEmpty()) {
                throw new Refusal("empty-scope", "With this scope nothing would be tested.", "scope");
            }
        }

        private static void known(String id, RunState before, String field) {
            before.procedure()
                    .step(id)
                    .orElseThrow(
                            () -> new Refusal("unknown-step", "This procedure has no step \"" + id + "\".", field));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.scope = scope;
        }
    }

    /**
     * The run is carried out by a saved variant of its procedure: a scope, limits and parameters.
     *
     * @param variant its code; absent for the procedure as it stands
     * @param name in words; absent likewise
     * @param revision from 1; absent likewise
     * @param hash SHA-256 of the revision's document; absent likewise
     */
    public record VariantApplied(
            @Nullable String variant,
            @Nullable String name,
            @Nullable Integer revision,
            @Nullable String hash,
            Scope scope,
            List<AttemptEvents.LimitChanged> limits,
            List<AttemptEvents.ParamChanged> params)
            implements EventData {

        public VariantApplied {
            limits = List.copyOf(limits);
            params = List.copyOf(params);
        }

        /** The procedure as it stands: what takes part in a run before a person chooses, and nothing changed. */
        public static VariantApplied none(RunState before) {
            return new VariantApplied(null, null, null, null, before.procedure().atFirst(), List.of(), List.of());
        }

        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.fresh(before);
            ScopeSet.check(scope, before);
            limits.forEach(l -> {
                Step step = before.procedure()
                        .step(l.step())
                        .orElseThrow(() -> new Refusal(
                                "unknown-step", "This procedure has no step \"" + l.step() + "\".", "limits"));
                Rules.limit(
                        step.point(l.point())
                                .orElseThrow(() -> new Refusal(
                                        "unknown-point",
                                        "\"" + step.title() + "\" has no point \"" + l.point() + "\".",
                                        "limits")),
                        l.limit(),
                        "limits");
                Rules.anyLane(before, step, l.lane());
            });
            params.forEach(p -> Rules.param(before, p.step(), p.param(), p.lane(), p.value()));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.applyVariant(this, event.id());
        }
    }

    /**
     * What a device said of itself over its data port.
     *
     * @param configuration name of what it is programmed with; absent if it has none
     * @param spans what it covers, by lane
     */
    public record DeviceIdentity(
            String maker,
            String model,
            String serial,
            String firmware,
            @Nullable String configuration,
            List<DeviceSpan> spans) {
        public DeviceIdentity {
            spans = List.copyOf(spans);
        }
    }

    /** From where to where a lane of a device reaches, in the base unit of what it is a span of. */
    public record DeviceSpan(String lane, double low, double high) {}

    /**
     * The serial number a person read off the device, or the device said over its data port. One that is not the run's
     * stops it until it is settled.
     *
     * @param serial as on the plate
     * @param device what it said of itself; absent where a person read the plate
     */
    public record AssetIdentified(String serial, @Nullable DeviceIdentity device) implements EventData {

        public AssetIdentified(String serial) {
            this(serial, null);
        }

        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "Nothing can be identified");
            Rules.words(serial, "serial");
        }

        @Override
        public void fold(RunState next, Event event) {
            next.identified = serial;
            next.device = device;
        }
    }

    /** Other gear takes over a need from now on. */
    public record GearChosen(GearFacts gear) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            if (before.output().mode() != Output.Mode.SAFE) {
                throw new Refusal("output-not-safe", "Gear cannot be changed while the output is armed or live.");
            }
            if (before.procedure().gear().stream().noneMatch(n -> n.id().equals(gear.need()))) {
                throw new Refusal("unknown-need", "The procedure needs no gear \"" + gear.need() + "\".", "need");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.exchanged = RunState.put(next.exchanged, gear.need(), gear);
            // A lead is part of everything that is connected by it.
            next.moved = RunState.added(
                    next.moved,
                    new RunState.Moved(
                            event.n(), gear.path() == null ? gear.need() : null, gear.name() + " was taken since"));
        }
    }

    /** A person says that something of the set-up is no longer as it was: references taken before are void. */
    public record SetupMoved(String words) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "The set-up cannot be changed");
            Rules.words(words, "words");
        }

        @Override
        public void fold(RunState next, Event event) {
            next.moved = RunState.added(next.moved, new RunState.Moved(event.n(), null, words));
        }
    }

    /**
     * Another screen drives the run from now on.
     *
     * @param screen its handle, the SHA-256 of its id: the id is a secret by which it acts; in runs of early versions
     *     the id itself
     */
    public record ScreenTaken(String screen) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "Another screen cannot take over");
        }

        @Override
        public void fold(RunState next, Event event) {
            next.driver = screen;
            next.driverPerson = event.by().isPerson() ? event.by().id() : null;
        }
    }

    /** The run was cut off with an output armed or live. */
    public record Interrupted(String what, ReadBack readBack) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, before.output().mode() == Output.Mode.LIVE || before.isBusy());
        }

        @Override
        public void fold(RunState next, Event event) {
            next.interrupted = what;
            next.switchedOff(readBack);
            next.busyWith = null;
        }
    }

    /** A person has read what happened and goes on. */
    public record Resumed() implements EventData {
        @Override
        public void check(RunState before) {
            if (before.interrupted() == null) {
                throw new Refusal("not-interrupted", "This run is not interrupted.");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.interrupted = null;
        }
    }

    /**
     * What was measured elsewhere is brought in by files; attempts with their readings follow.
     *
     * @param taken when the newest of them was measured; absent where no file says
     * @param files how many
     */
    public record Imported(@Nullable Instant taken, int files) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, before.output().mode() == Output.Mode.SAFE && !before.isBusy());
        }

        @Override
        public void fold(RunState next, Event event) {
            next.imported = this;
        }
    }

    /** The run ends without a record. */
    public record Aborted(String reason) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, before.output().mode() == Output.Mode.SAFE && !before.isBusy());
        }

        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "The run cannot be given up");
            Rules.words(reason, "reason");
        }

        @Override
        public void fold(RunState next, Event event) {
            next.status = RunState.Status.ABORTED;
            next.abortReason = reason;
        }
    }

    /** The run ends; its judgement is frozen. */
    public record Finished(String record, RunJudgement judgement, String software) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, before.output().mode() == Output.Mode.SAFE && !before.isBusy());
        }

        @Override
        public void check(RunState before) {
            Rules.canFinish(before);
        }

        @Override
        public void fold(RunState next, Event event) {
            next.status = RunState.Status.FINISHED;
            next.finished = this;
        }
    }

    /** Takes back an earlier event, which stays visible. Readings are never withdrawn, only their attempt voided. */
    public record Withdrawn(UUID target, String reason) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "Nothing can be taken back");
            Event event = before.events().stream()
                    .filter(e -> e.id().equals(target))
                    .findFirst()
                    .orElseThrow(() -> new Refusal("unknown-event", "This run has no event " + target + ".", "target"));
            if (!CAN_BE_WITHDRAWN.contains(event.data().getClass()) || before.isWithdrawn(target)) {
                throw new Refusal(
                        "cannot-be-withdrawn",
                        "This cannot be taken back"
                                + (event.data() instanceof AttemptEvents.ReadingTaken
                                        ? "; void its attempt instead."
                                        : "."),
                        "target");
            }
            if (event.data() instanceof AttemptEvents.ParamChanged p
                    && !before.attempts(p.step(), p.lane()).isEmpty()) {
                throw new Refusal(
                        "cannot-be-withdrawn",
                        "The step was measured with this parameter already; it stays as it is in this run.",
                        "target");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            throw new IllegalStateException("folded by telling the run again");
        }
    }
}
