package org.juratest.server.run;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.GearNeed;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Changed;
import org.juratest.core.run.Decisions;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Output;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.PriorReading;
import org.juratest.core.run.References;
import org.juratest.core.run.Rules;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.run.EventCodec;

/**
 * A run as a screen needs it.
 *
 * @param n number of its last event
 * @param personEvents what {@code If-Match} must say
 * @param unconfirmed gear that has not confirmed that its output is off: to be treated as live
 * @param pastDue ids of gear whose calibration does not hold today
 * @param drivenBy person at that screen
 * @param identified serial number read off the device; absent before anyone did
 * @param otherDevice that number is not the asset's: nothing may be tested
 * @param interrupted what cut it off; absent if nothing did
 * @param lastOff how an output last went off; absent if none was on
 * @param head SHA-256 of the last event
 * @param busy a server process works with its gear, from the press to the end, gaps between measurements included
 * @param variant it is carried out by; absent where by the procedure as it stands
 * @param device what the device said of itself; absent where nobody asked it
 * @param compared that, beside the register
 * @param altered parameters that differ from the procedure's, by {@code step/param} or {@code step/param/lane}
 * @param family of the procedure: what its pages are made by
 * @param cautions what should be known before it begins, such as a lane outside a path loss table
 * @param provedOnce shared steps that one lane proves for the others
 */
record RunView(
        UUID id,
        long n,
        long personEvents,
        RunState.Status status,
        String job,
        String reason,
        String procedure,
        int version,
        String title,
        String family,
        Instant openedAt,
        String zone,
        AssetFacts asset,
        List<GearNeed> needs,
        List<GearFacts> gear,
        Map<String, String> gearLost,
        Map<String, String> unconfirmed,
        List<String> pastDue,
        List<PriorReading> priors,
        Output output,
        @Nullable OffView lastOff,
        @Nullable String drivenBy,
        @Nullable String currentStep,
        @Nullable String identified,
        boolean otherDevice,
        @Nullable String interrupted,
        @Nullable String abortReason,
        Map<String, Quantity> conditions,
        Scope scope,
        Map<String, LaneSetView> laneSets,
        List<StepView> steps,
        RunJudgement judgement,
        List<PointViews.PointView> points,
        List<Attempt> attempts,
        List<PointViews.ReadingView> readings,
        List<AnswerView> answers,
        List<RunState.Adjustment> adjustments,
        List<EventView> remarks,
        List<EventView> doings,
        List<EventView> unknown,
        @Nullable String record,
        String head,
        boolean busy,
        @Nullable VariantView variant,
        @Nullable DeviceView device,
        List<DeviceCheck.Compared> compared,
        List<String> altered,
        List<String> cautions,
        List<String> provedOnce,
        List<CaptureView> captures,
        List<ReferenceView> references,
        List<ChargeView> charges) {

    /** What was captured, by its SHA-256. */
    record CaptureView(
            UUID attempt,
            AttemptEvents.CaptureKind kind,
            String name,
            String sha256,
            String mediaType,
            Map<String, String> facts) {}

    /**
     * A reference and how it stands.
     *
     * @param attempt that took it; absent before one did
     * @param until when it ends to hold; absent where it has no end, or was not taken
     * @param fault why it does not hold; absent while it does
     */
    record ReferenceView(
            String step,
            String lane,
            @Nullable UUID attempt,
            @Nullable Instant takenAt,
            @Nullable Instant until,
            @Nullable String fault) {

        static List<ReferenceView> of(RunState state, Instant now) {
            return state.stepsInScope().stream()
                    .filter(s -> s.kind() == StepKind.REFERENCE)
                    .flatMap(s -> state.procedure().lanesOf(s, state.scope()).stream()
                            .map(lane -> References.standing(state, s, lane, now)))
                    .map(s -> new ReferenceView(
                            s.step().id(),
                            s.lane(),
                            s.attempt() == null ? null : s.attempt().id(),
                            s.attempt() == null ? null : s.attempt().takenAt(),
                            s.until(),
                            s.fault()))
                    .toList();
        }
    }

    /**
     * What may be charged still.
     *
     * @param below residual voltage at which it may be earthed, V
     * @param residual voltage left, V; absent before it was measured
     * @param free when it has been earthed for long enough; absent before it was earthed
     */
    record ChargeView(
            String step, String lane, String text, double below, @Nullable Double residual, @Nullable Instant free) {

        static List<ChargeView> of(RunState state, Instant now) {
            return state.charges().entrySet().stream()
                    .filter(e -> e.getValue().holds(now))
                    .map(e -> new ChargeView(
                            e.getKey().step(),
                            e.getKey().lane(),
                            e.getValue().rule().text(),
                            e.getValue().rule().below(),
                            e.getValue().residual(),
                            e.getValue().free()))
                    .toList();
        }
    }

    /** Who the device says it is. */
    record DeviceView(String maker, String model, String serial, String firmware, @Nullable String configuration) {

        static @Nullable DeviceView of(RunEvents.@Nullable DeviceIdentity device) {
            return device == null
                    ? null
                    : new DeviceView(
                            device.maker(), device.model(), device.serial(), device.firmware(), device.configuration());
        }
    }

    /** @param changed whether something differs from what it says by now */
    record VariantView(String code, String name, int revision, boolean changed) {}

    private static final String EQUIPMENT_TEMPERATURE =
            "condition:" + StepEvents.ConditionEntered.EQUIPMENT_TEMPERATURE;

    /** Types that a person may take back, beside confirmations, whose event their view names. */
    private static final Set<Class<? extends EventData>> DOINGS = Set.of(
            StepEvents.StepSkipped.class,
            StepEvents.WentOn.class,
            StepEvents.ConditionEntered.class,
            StepEvents.CoolingOverruled.class,
            AttemptEvents.AdjustmentMade.class,
            AttemptEvents.AttemptSettled.class,
            RunEvents.SetupMoved.class,
            AttemptEvents.LimitChanged.class,
            AttemptEvents.ParamChanged.class,
            AttemptEvents.BackToProcedure.class);

    /**
     * One step.
     *
     * @param mayLeaveOut whether the scope can do without it
     * @param flows whether it follows the step before by itself
     * @param shared whether one lane proves it for all
     * @param warm whether its values are corrected by the equipment's temperature
     * @param byHand whether its output is on only while a person holds it, who raises and lowers it
     * @param left lanes it is not done on in this run
     * @param laneSet lane set it repeats over; absent: once
     * @param lanes ids it repeats over in this run
     * @param skipped reason; absent if it was not
     * @param cooling s before the next output; 0 if none
     * @param uses references it counts with
     * @param window bounds at the place the step states; absent for steps without a curve
     * @param decide id of the step that failed and that somebody has to decide about before this one; absent for none
     */
    record StepView(
            String id,
            String kind,
            String title,
            String text,
            @Nullable String method,
            @Nullable String sketch,
            boolean hazard,
            double minutes,
            @Nullable String gear,
            boolean flows,
            boolean shared,
            boolean warm,
            boolean byHand,
            List<String> left,
            boolean inScope,
            boolean mayLeaveOut,
            boolean begun,
            @Nullable String skipped,
            @Nullable String laneSet,
            List<LaneView> lanes,
            Map<String, Param> params,
            Map<String, Param> maxima,
            List<ConfirmationView> confirmations,
            List<String> uses,
            double cooling,
            @Nullable WindowView window,
            @Nullable String decide) {}

    /** A lane with its label. */
    record LaneView(String id, String label) {}

    /** All lanes of a set, also those out of scope. */
    record LaneSetView(String label, List<LaneView> lanes) {}

    /**
     * The window of a step's nominal current.
     *
     * @param current A
     * @param earliest s
     * @param latest s
     * @param unknown why it is not known
     */
    record WindowView(double current, @Nullable Double earliest, @Nullable Double latest, @Nullable String unknown) {}

    /** How an output went off, and whether the gear confirmed it. */
    record OffView(Instant at, String words, boolean confirmed, String answered) {}

    /**
     * A confirmation and how it stands.
     *
     * @param event that confirmed it; absent before
     * @param restoration event that put it back; absent before
     */
    record ConfirmationView(
            String id,
            String text,
            @Nullable String back,
            @Nullable String backBefore,
            boolean confirmed,
            boolean restored,
            @Nullable UUID event,
            @Nullable UUID restoration) {}

    /** An inspection's answer. */
    record AnswerView(String point, StepEvents.Answer answer, @Nullable String words) {}

    /** An event in short. */
    record EventView(
            UUID id, long n, Instant at, String by, String type, Map<String, Object> data, boolean withdrawn) {}

    static RunView of(RunState state, Instant now) {
        RunEvents.Opened opened = state.opened();
        RunEvents.Finished finished = state.finished();
        Event first = state.events().get(0);
        Event last = state.events().get(state.events().size() - 1);
        RunJudgement judgement = finished != null ? finished.judgement() : RunJudgement.of(state);
        LocalDate today = LocalDate.ofInstant(now, ZoneId.of(opened.zone()));
        Map<String, LaneSetView> laneSets = new TreeMap<>();
        opened.procedure()
                .laneSets()
                .forEach((name, set) -> laneSets.put(
                        name,
                        new LaneSetView(
                                set.label(),
                                set.lanes().stream()
                                        .map(l -> new LaneView(l.id(), l.label()))
                                        .toList())));
        return new RunView(
                last.run(),
                state.n(),
                state.personEvents(),
                state.status(),
                opened.job(),
                opened.reason(),
                opened.procedure().code(),
                opened.procedure().version(),
                opened.procedure().title(),
                opened.procedure().family(),
                first.at(),
                opened.zone(),
                opened.asset(),
                opened.procedure().gear(),
                state.gear(),
                state.gearLost(),
                state.unconfirmed(),
                state.gear().stream()
                        .filter(g -> !g.holdsOn(today))
                        .map(GearFacts::id)
                        .toList(),
                opened.priors(),
                state.output(),
                lastOff(state),
                drivenBy(state),
                state.currentStep(),
                state.identified(),
                state.isOtherDevice(),
                state.interrupted(),
                state.abortReason(),
                state.conditions(),
                state.scope(),
                laneSets,
                state.procedure().steps().stream().map(s -> step(state, s, now)).toList(),
                judgement,
                PointViews.points(state, judgement),
                state.attempts(),
                PointViews.readings(state),
                state.answers().values().stream()
                        .map(a -> new AnswerView(a.step() + "/" + a.point() + "/" + a.lane(), a.answer(), a.words()))
                        .toList(),
                state.adjustments(),
                events(state, state.remarks()),
                events(
                        state,
                        state.events().stream()
                                .filter(e -> DOINGS.contains(e.data().getClass()))
                                .toList()),
                events(state, state.unknown()),
                finished == null ? null : finished.record(),
                EventCodec.hash(EventCodec.write(last)),
                state.isBusy(),
                variant(state),
                DeviceView.of(state.device()),
                DeviceCheck.compared(state),
                state.changedParams().keySet().stream().map(Changed::toString).toList(),
                DeviceCheck.cautions(state),
                judgement.provedOnce() == null ? List.of() : judgement.provedOnce(),
                state.captures().stream()
                        .map(c ->
                                new CaptureView(c.attempt(), c.kind(), c.name(), c.sha256(), c.mediaType(), c.facts()))
                        .toList(),
                ReferenceView.of(state, now),
                ChargeView.of(state, now));
    }

    private static @Nullable VariantView variant(RunState state) {
        RunEvents.VariantApplied applied = state.variant();
        if (applied == null || applied.variant() == null || applied.name() == null || applied.revision() == null) {
            return null;
        }
        // Anything decided after it, and not taken back, makes the run differ from it.
        boolean changed = false;
        for (Event event : state.events()) {
            if (event.data().equals(applied)) {
                changed = false;
            } else if ((event.data() instanceof AttemptEvents.LimitChanged
                            || event.data() instanceof AttemptEvents.ParamChanged
                            || event.data() instanceof AttemptEvents.BackToProcedure
                            || event.data() instanceof RunEvents.ScopeSet)
                    && !state.isWithdrawn(event.id())) {
                changed = true;
            }
        }
        return new VariantView(applied.variant(), applied.name(), applied.revision(), changed);
    }

    private static @Nullable OffView lastOff(RunState state) {
        for (int i = state.events().size() - 1; i >= 0; i--) {
            Event event = state.events().get(i);
            if (event.data() instanceof OutputEvents.OutputOff off) {
                return new OffView(
                        event.at(),
                        PointViews.words(off.words()),
                        off.readBack().off(),
                        off.readBack().words());
            }
            if (event.data() instanceof RunEvents.Interrupted cut) {
                return new OffView(
                        event.at(),
                        cut.what(),
                        cut.readBack().off(),
                        cut.readBack().words());
            }
            if (event.data() instanceof OutputEvents.GearBack back
                    && back.readBack().off()) {
                return new OffView(
                        event.at(),
                        "the gear answers again",
                        true,
                        back.readBack().words());
            }
        }
        return null;
    }

    private static @Nullable String drivenBy(RunState state) {
        return state.events().stream()
                .filter(e -> e.data() instanceof RunEvents.ScreenTaken)
                .reduce((a, b) -> b)
                .map(e -> e.by().id())
                .orElse(null);
    }

    private static StepView step(RunState state, Step step, Instant now) {
        boolean inScope = state.scope().step(step.id());
        List<LaneView> lanes = step.lanes() == null
                ? List.of()
                : state.procedure().lanesOf(step, state.scope()).stream()
                        .map(l -> new LaneView(l, state.procedure().laneName(step, l)))
                        .toList();
        Duration cooling = inScope ? Rules.cooling(state, step, now) : Duration.ZERO;
        return new StepView(
                step.id(),
                step.kind().name().toLowerCase(java.util.Locale.ROOT),
                step.title(),
                PointViews.words(step.text()),
                step.method(),
                step.sketch(),
                step.hazard(),
                step.minutes(),
                step.gear(),
                step.followsByItself(),
                step.provesAllLanes(),
                step.points().stream().anyMatch(p -> p.allCorrections().stream()
                        .anyMatch(c -> c.inputs().containsValue(EQUIPMENT_TEMPERATURE))),
                Methods.byName(String.valueOf(step.method()))
                        .map(m -> m.spec().byHand())
                        .orElse(false),
                left(state, step),
                inScope,
                Rules.mayLeaveOut(step, state.scope()),
                state.hasBegun(step.id()),
                state.skipped().get(step.id()),
                step.lanes(),
                lanes,
                step.params(),
                step.maxima(),
                step.confirmations().stream()
                        .map(c -> confirmation(state, step, c))
                        .toList(),
                step.references(),
                cooling.toMillis() / 1000.0,
                window(state, step),
                decide(state, step, inScope));
    }

    private static @Nullable String decide(RunState state, Step step, boolean inScope) {
        Step failed = inScope && state.status() == RunState.Status.OPEN ? Decisions.open(state, step) : null;
        return failed == null ? null : failed.id();
    }

    private static List<String> left(RunState state, Step step) {
        if (step.lanes() == null) {
            return List.of();
        }
        List<String> done = state.scope().step(step.id()) ? state.procedure().lanesOf(step, state.scope()) : List.of();
        return state.procedure().laneSets().get(step.lanes()).lanes().stream()
                .map(org.juratest.core.procedure.Lane::id)
                .filter(l -> !done.contains(l))
                .toList();
    }

    private static @Nullable WindowView window(RunState state, Step step) {
        Envelope envelope = state.envelope();
        boolean timed = step.points().stream()
                .anyMatch(p -> p.limit() != null && p.limit().kind() instanceof LimitKind.DeviceCurve);
        Param place = envelope == null ? null : step.params().get(envelope.over());
        if (!timed || envelope == null || place == null || place.value() == null) {
            return null;
        }
        Envelope.Bounds bounds = envelope.bounds(place.value());
        return new WindowView(place.value(), bounds.low(), bounds.high(), bounds.unknown());
    }

    private static ConfirmationView confirmation(RunState state, Step step, Confirmation c) {
        UUID confirmed = state.confirmedBy(step.id(), c.id());
        UUID restored = state.restoredBy(step.id(), c.id());
        return new ConfirmationView(
                c.id(),
                PointViews.words(c.text()),
                c.back(),
                c.backBefore(),
                confirmed != null,
                restored != null,
                confirmed,
                restored);
    }

    @SuppressWarnings("unchecked")
    private static List<EventView> events(RunState state, List<Event> events) {
        return events.stream()
                .map(e -> new EventView(
                        e.id(),
                        e.n(),
                        e.at(),
                        e.by().toString(),
                        e.data().type(),
                        CoreJson.mapper().convertValue(e.data(), Map.class),
                        state.isWithdrawn(e.id())))
                .toList();
    }
}
