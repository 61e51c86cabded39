package org.juratest.core.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.ProcedureResolver;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;

/**
 * A run as its events tell it: a pure fold. {@link #after} gives a new state and leaves this one as it is. An event
 * seen before changes nothing, a gap is refused, an unknown type is kept without being folded. A {@code withdrawn}
 * event is folded by telling the run again without its target.
 *
 * <p>Immutable to its users. The fields are written only by events while {@link #after} builds the next state, and the
 * collections in them are replaced, never changed.
 */
public final class RunState {

    /** Where a run stands. */
    public enum Status {
        OPEN,
        FINISHED,
        ABORTED
    }

    /** A run before its first event. */
    public static final RunState EMPTY = new RunState();

    List<Event> events = List.of();
    Set<UUID> withdrawn = Set.of();
    long personEvents;
    RunEvents.@Nullable Opened opened;
    Scope scope = Scope.ALL;
    Status status = Status.OPEN;
    Output output = Output.SAFE;
    OutputEvents.@Nullable Armed arming;

    @Nullable
    String busyWith;

    @Nullable
    String currentStep;

    @Nullable
    String interrupted;

    @Nullable
    String driver;

    @Nullable
    String driverPerson;

    Map<String, Instant> begun = Map.of();
    Map<Held, UUID> confirmed = Map.of();
    Map<Held, UUID> restored = Map.of();
    Map<String, String> skipped = Map.of();
    /** Numbers of the events by which a person went on after a step had failed, by that step. */
    Map<String, Long> wentOn = Map.of();

    Map<PointKey, StepEvents.AnswerGiven> answers = Map.of();
    Map<String, Quantity> conditions = Map.of();
    Map<Changed, AttemptEvents.LimitChanged> changedLimits = Map.of();
    Map<Changed, UUID> changedLimitEvents = Map.of();
    Map<PointKey, ResolvedLimit> limits = Map.of();
    Map<UUID, Attempt> attempts = Map.of();
    List<AttemptEvents.Captured> captures = List.of();
    List<AttemptEvents.FeatureFound> features = List.of();
    List<Moved> moved = List.of();
    Map<Charge.Place, Charge> charges = Map.of();

    @Nullable
    Procedure changedProcedure;

    RunEvents.@Nullable VariantApplied variant;
    Map<Changed, Double> changedParams = Map.of();
    List<Adjustment> adjustments = List.of();
    Map<String, String> gearLost = Map.of();
    Map<String, String> unconfirmed = Map.of();
    Map<String, Instant> outputOffAt = Map.of();

    @Nullable
    String coolingOverruled;

    @Nullable
    String identified;

    RunEvents.@Nullable DeviceIdentity device;
    Map<String, GearFacts> exchanged = Map.of();
    List<Event> remarks = List.of();
    List<Event> signatures = List.of();
    List<Event> unknown = List.of();
    RunEvents.@Nullable Finished finished;

    RunEvents.@Nullable Imported imported;

    @Nullable
    String abortReason;

    /**
     * An adjustment with its place among the events.
     *
     * @param at number of its event
     * @param settings changed over the data port; empty where a person adjusted by hand
     */
    public record Adjustment(long at, Set<PointKey> points, String what, List<AttemptEvents.SettingChange> settings) {}

    /** A confirmation of a step. */
    record Held(String step, String confirmation) {}

    /** Media type of a kept trace. */
    public static final String TRACE_TYPE = "application/x-juratest-trace";

    /**
     * A change of the set-up.
     *
     * @param at number of its event
     * @param need gear need that was changed; absent where all that was connected is concerned
     */
    public record Moved(long at, @Nullable String need, String words) {}

    private RunState() {}

    private RunState(RunState from) {
        events = from.events;
        withdrawn = from.withdrawn;
        personEvents = from.personEvents;
        opened = from.opened;
        scope = from.scope;
        status = from.status;
        output = from.output;
        arming = from.arming;
        busyWith = from.busyWith;
        currentStep = from.currentStep;
        interrupted = from.interrupted;
        driver = from.driver;
        driverPerson = from.driverPerson;
        begun = from.begun;
        confirmed = from.confirmed;
        restored = from.restored;
        skipped = from.skipped;
        wentOn = from.wentOn;
        answers = from.answers;
        conditions = from.conditions;
        changedLimits = from.changedLimits;
        changedLimitEvents = from.changedLimitEvents;
        limits = from.limits;
        attempts = from.attempts;
        captures = from.captures;
        features = from.features;
        moved = from.moved;
        charges = from.charges;
        changedProcedure = from.changedProcedure;
        variant = from.variant;
        changedParams = from.changedParams;
        adjustments = from.adjustments;
        gearLost = from.gearLost;
        unconfirmed = from.unconfirmed;
        outputOffAt = from.outputOffAt;
        coolingOverruled = from.coolingOverruled;
        identified = from.identified;
        device = from.device;
        exchanged = from.exchanged;
        remarks = from.remarks;
        signatures = from.signatures;
        unknown = from.unknown;
        finished = from.finished;
        abortReason = from.abortReason;
        imported = from.imported;
    }

    /** The state of a list of events. */
    public static RunState of(List<Event> events) {
        RunState state = EMPTY;
        for (Event event : events) {
            state = state.after(event);
        }
        return state;
    }

    /**
     * The state with one more event.
     *
     * @return this state if the event was seen before
     * @throws ChainException if the event leaves a gap, or is another one than the event already in its place
     */
    public RunState after(Event event) {
        if (event.n() < events.size()) {
            if (events.get((int) event.n()).id().equals(event.id())) {
                return this;
            }
            throw new ChainException(event, "is not the event that already stands there");
        }
        if (event.n() > events.size()) {
            throw new ChainException(event, "leaves a gap after event " + (events.size() - 1));
        }
        if (!events.isEmpty() && !events.get(0).run().equals(event.run())) {
            throw new ChainException(event, "is of another run");
        }
        RunState next = new RunState(this);
        next.events = added(events, event);
        if (event.by().isPerson()) {
            next.personEvents++;
        }
        if (event.data() instanceof RunEvents.Withdrawn undo) {
            return next.without(undo.target());
        }
        event.data().fold(next, event);
        return next;
    }

    private RunState without(UUID target) {
        Set<UUID> gone = new HashSet<>(withdrawn);
        gone.add(target);
        RunState told = new RunState();
        told.withdrawn = Set.copyOf(gone);
        for (Event event : events) {
            boolean skip = gone.contains(event.id())
                    || event.data() instanceof RunEvents.Withdrawn
                    || event.data() instanceof AttemptEvents.LimitResolved r
                            && r.change() != null
                            && gone.contains(r.change());
            if (!skip) {
                event.data().fold(told, event);
            }
        }
        told.events = events;
        told.personEvents = personEvents;
        return told;
    }

    void changeLimit(AttemptEvents.LimitChanged change, UUID event) {
        Changed key = new Changed(change.step(), change.point(), change.lane());
        if (change.lane() == null) {
            // A change for all lanes takes the place of those for single ones.
            changedLimits = without(changedLimits, key);
            changedLimitEvents = without(changedLimitEvents, key);
        }
        changedLimits = put(changedLimits, key, change);
        limitsAnew(change.step(), change.point(), change.lane(), event);
    }

    /** Limits of a step's point are to be made plain again, because of an event. */
    private void limitsAnew(String step, @Nullable String point, @Nullable String lane, UUID event) {
        for (PointKey key : limits.keySet()) {
            if (key.step().equals(step)
                    && (point == null || key.point().equals(point))
                    && (lane == null || key.lane().equals(lane))) {
                limits = removed(limits, key);
                changedLimitEvents = put(
                        changedLimitEvents, new Changed(step, key.point(), lane == null ? null : key.lane()), event);
            }
        }
    }

    void changeParam(String step, String param, @Nullable String lane, double value, UUID event) {
        changedProcedure = ProcedureResolver.with(
                procedure(), opened().asset().nameplate(), opened().envelope(), step, param, lane, value);
        changedParams = put(changedParams, new Changed(step, param, lane), value);
        limitsAnew(step, null, lane, event);
    }

    void backToProcedure(AttemptEvents.BackToProcedure back, UUID event) {
        if (back.point() != null) {
            limitBack(new Changed(back.step(), back.point(), back.lane()));
            limitsAnew(back.step(), back.point(), back.lane(), event);
            return;
        }
        Changed key = new Changed(back.step(), String.valueOf(back.param()), back.lane());
        Map<Changed, Double> kept = without(changedParams, key);
        Double all = kept.get(key.onAll());
        if (back.lane() != null && all != null) {
            kept = removed(kept, key.onAll());
            for (String other : procedure().lanesOf(stepOf(back.step()), Scope.ALL)) {
                kept = other.equals(back.lane()) ? kept : put(kept, key.on(other), all);
            }
        }
        changedProcedure = null;
        changedParams = Map.of();
        kept.forEach((k, value) -> changeParam(k.step(), k.name(), k.lane(), value, event));
        limitsAnew(back.step(), null, back.lane(), event);
    }

    private void limitBack(Changed key) {
        AttemptEvents.LimitChanged all = changedLimits.get(key.onAll());
        changedLimits = without(changedLimits, key);
        if (all == null || key.lane() == null) {
            return;
        }
        // What was changed for all lanes stays so on the others.
        changedLimits = removed(changedLimits, key.onAll());
        for (String other : procedure().lanesOf(stepOf(key.step()), Scope.ALL)) {
            if (!other.equals(key.lane())) {
                changedLimits = put(
                        changedLimits,
                        key.on(other),
                        new AttemptEvents.LimitChanged(all.step(), all.point(), all.limit(), all.reason(), other));
            }
        }
    }

    /** Changes without one: on its lane, or on all of them where it is of all. */
    private static <V> Map<Changed, V> without(Map<Changed, V> changes, Changed key) {
        Map<Changed, V> fewer = changes;
        for (Changed there : changes.keySet()) {
            if (key.lane() != null ? there.equals(key) : there.isOf(key)) {
                fewer = removed(fewer, there);
            }
        }
        return fewer;
    }

    /** The run goes by a variant, and by nothing that was changed before. */
    void applyVariant(RunEvents.VariantApplied applied, UUID event) {
        variant = applied.variant() == null ? null : applied;
        scope = applied.scope();
        changedProcedure = null;
        changedParams = Map.of();
        for (Changed there : Set.copyOf(changedLimitEvents.keySet())) {
            limitsAnew(there.step(), there.name(), there.lane(), event);
        }
        changedLimits = Map.of();
        applied.limits().forEach(l -> changeLimit(l, event));
        applied.params().forEach(p -> changeParam(p.step(), p.param(), p.lane(), p.value(), event));
    }

    static <T> List<T> added(List<T> list, T item) {
        List<T> more = new ArrayList<>(list.size() + 1);
        more.addAll(list);
        more.add(item);
        return Collections.unmodifiableList(more);
    }

    static <K, V> Map<K, V> put(Map<K, V> map, K key, V value) {
        Map<K, V> more = new LinkedHashMap<>(map);
        more.put(key, value);
        return Collections.unmodifiableMap(more);
    }

    static <K, V> Map<K, V> removed(Map<K, V> map, K key) {
        Map<K, V> fewer = new LinkedHashMap<>(map);
        fewer.remove(key);
        return Collections.unmodifiableMap(fewer);
    }

    /** The output was told to go off; whether it is, is what the gear answered. */
    void switchedOff(ReadBack readBack) {
        String gear = output.gear();
        if (gear != null) {
            for (ReadBack.Part part : readBack.each(gear)) {
                unconfirmed =
                        part.off() ? removed(unconfirmed, part.gear()) : put(unconfirmed, part.gear(), part.words());
            }
        }
        output = Output.SAFE;
    }

    void changeAttempt(UUID id, UnaryOperator<Attempt> change) {
        Attempt attempt = attempts.get(id);
        if (attempt != null) {
            attempts = put(attempts, id, change.apply(attempt));
        }
    }

    public boolean isOpened() {
        return opened != null;
    }

    /**
     * What the run was opened with.
     *
     * @throws IllegalStateException before the first event
     */
    public RunEvents.Opened opened() {
        if (opened == null) {
            throw new IllegalStateException("the run has no first event");
        }
        return opened;
    }

    /** The procedure of the run: fitted to the device, with the parameters that were changed for this run. */
    public Procedure procedure() {
        return changedProcedure == null ? opened().procedure() : changedProcedure;
    }

    /** The variant it is carried out by; absent where it is the procedure as it stands. */
    public RunEvents.@Nullable VariantApplied variant() {
        return variant;
    }

    /** Parameters changed for this run. */
    public Map<Changed, Double> changedParams() {
        return changedParams;
    }

    /** Gear of the run: that it was opened with, or what took its place. */
    public List<GearFacts> gear() {
        List<GearFacts> gear = new ArrayList<>(opened().gear());
        gear.replaceAll(g -> exchanged.getOrDefault(g.need(), g));
        exchanged.values().stream()
                .filter(g -> gear.stream().noneMatch(there -> there.need().equals(g.need())))
                .forEach(gear::add);
        return List.copyOf(gear);
    }

    /** The serial number a person read off the device; absent before anyone did. */
    public @Nullable String identified() {
        return identified;
    }

    /** What the device said of itself over its data port; absent where nobody asked it. */
    public RunEvents.@Nullable DeviceIdentity device() {
        return device;
    }

    /** Whether the device in front of the person is not the one of this run, by its serial number. */
    public boolean isOtherDevice() {
        return identified != null && !isOf(identified);
    }

    /** Whether a serial number is that of this run's device. */
    public boolean isOf(String serial) {
        return sameSerial(serial, opened().asset().serial());
    }

    /** Serial numbers agree if they do without blanks, dashes, dots and case: plates and registers differ in these. */
    private static boolean sameSerial(String a, String b) {
        return bare(a).equals(bare(b));
    }

    private static String bare(String serial) {
        return serial.replaceAll("[\\s./\u2010-\u2015-]", "").toUpperCase(java.util.Locale.ROOT);
    }

    public @Nullable Envelope envelope() {
        return opened().envelope();
    }

    /** All events, those of unknown type and those withdrawn included. */
    public List<Event> events() {
        return events;
    }

    /** Number of the last event, -1 before the first. */
    public long n() {
        return events.size() - 1L;
    }

    /** How many events persons made: what {@code If-Match} counts. */
    public long personEvents() {
        return personEvents;
    }

    public boolean isWithdrawn(UUID event) {
        return withdrawn.contains(event);
    }

    public Scope scope() {
        return scope;
    }

    public Status status() {
        return status;
    }

    public Output output() {
        return output;
    }

    /** The last arming; absent before any. */
    public OutputEvents.@Nullable Armed arming() {
        return arming;
    }

    /**
     * Whether a conductor works with the run's gear: from the use of the token until it has ended, gaps between
     * measurements included.
     */
    public boolean isBusy() {
        return busyWith != null;
    }

    /** Process whose conductor works with the run's gear; absent while none does. */
    public @Nullable String busyWith() {
        return busyWith;
    }

    /** Person at the screen that drives; absent before any took the run. */
    public @Nullable String driverPerson() {
        return driverPerson;
    }

    public @Nullable String currentStep() {
        return currentStep;
    }

    /** What happened when the run was cut off; absent if it was not, or has been resumed. */
    public @Nullable String interrupted() {
        return interrupted;
    }

    /** Handle of the screen that drives the run, never its id, which is a secret; absent before any took it. */
    public @Nullable String driver() {
        return driver;
    }

    public boolean hasBegun(String step) {
        return begun.containsKey(step);
    }

    public boolean isConfirmed(String step, String confirmation) {
        return confirmed.containsKey(new Held(step, confirmation));
    }

    public boolean isRestored(String step, String confirmation) {
        return restored.containsKey(new Held(step, confirmation));
    }

    /** The event that ticked a confirmation; absent before. */
    public @Nullable UUID confirmedBy(String step, String confirmation) {
        return confirmed.get(new Held(step, confirmation));
    }

    /** The event that put back what a confirmation stands for; absent before. */
    public @Nullable UUID restoredBy(String step, String confirmation) {
        return restored.get(new Held(step, confirmation));
    }

    /** Reasons of the steps that were skipped, by step. */
    public Map<String, String> skipped() {
        return skipped;
    }

    public Map<PointKey, StepEvents.AnswerGiven> answers() {
        return answers;
    }

    public Map<String, Quantity> conditions() {
        return conditions;
    }

    /** Limits that are plain numbers by now, or known never to be. */
    public Map<PointKey, ResolvedLimit> limits() {
        return limits;
    }

    /** Changes of limits for this run. */
    public Map<Changed, AttemptEvents.LimitChanged> changedLimits() {
        return changedLimits;
    }

    /** The limit of a point in this run: the procedure's, or the one it was changed to. */
    public @Nullable LimitSpec limitSpec(PointKey key) {
        AttemptEvents.LimitChanged change = limitChange(key);
        return change != null ? change.limit() : stated(key);
    }

    /** The change of a point's limit in this run; absent where there is none. */
    public AttemptEvents.@Nullable LimitChanged limitChange(PointKey key) {
        return own(changedLimits, key);
    }

    /** The event that changed a point's limit, or a parameter that it follows from; absent where there is none. */
    @Nullable
    UUID limitChangeEvent(PointKey key) {
        return own(changedLimitEvents, key);
    }

    /** What was changed of a point: on its lane, or else on all. */
    private static <V> @Nullable V own(Map<Changed, V> changes, PointKey key) {
        Changed there = new Changed(key.step(), key.point(), key.lane());
        V own = changes.get(there);
        return own != null ? own : changes.get(there.onAll());
    }

    /** Whether a point's limit differs from what the procedure says. */
    public boolean isLimitChanged(PointKey key) {
        return limitChange(key) != null && !java.util.Objects.equals(limitSpec(key), stated(key));
    }

    private @Nullable LimitSpec stated(PointKey key) {
        return procedure()
                .step(key.step())
                .flatMap(s -> s.point(key.point()))
                .map(p -> p.limit())
                .orElse(null);
    }

    /** Attempts in the order they began. */
    public List<Attempt> attempts() {
        return List.copyOf(attempts.values());
    }

    public Optional<Attempt> attempt(UUID id) {
        return Optional.ofNullable(attempts.get(id));
    }

    /** Attempts at a step and lane in order; at all its lanes where the lane is absent. */
    public List<Attempt> attempts(String step, @Nullable String lane) {
        return attempts.values().stream()
                .filter(a -> a.step().equals(step) && (lane == null || a.lane().equals(lane)))
                .toList();
    }

    /** What was captured, in order. */
    public List<AttemptEvents.Captured> captures() {
        return captures;
    }

    /** Captures of a kind, in order. */
    public List<AttemptEvents.Captured> captures(AttemptEvents.CaptureKind kind) {
        return captures.stream().filter(c -> c.kind() == kind).toList();
    }

    /** Rows that measurements discovered, in order; a row that was found again is there again. */
    public List<AttemptEvents.FeatureFound> features() {
        return features;
    }

    /** Rows of a feature on a lane that attempts which count have found, each once, in the order of their numbers. */
    public List<AttemptEvents.FeatureFound> rows(String step, String feature, String lane) {
        Map<Integer, AttemptEvents.FeatureFound> rows = new java.util.TreeMap<>();
        for (AttemptEvents.FeatureFound found : features) {
            Attempt attempt = attempts.get(found.attempt());
            if (attempt != null
                    && attempt.counts()
                    && attempt.step().equals(step)
                    && found.feature().equals(feature)
                    && found.lane().equals(lane)) {
                rows.put(found.row(), found);
            }
        }
        return List.copyOf(rows.values());
    }

    /** Points of the steps and lanes in scope, and of the rows that were discovered, in the order of the work. */
    public List<PointKey> keys() {
        List<PointKey> keys = procedure().keys(scope);
        if (features.isEmpty()) {
            return keys;
        }
        List<PointKey> all = new ArrayList<>();
        for (Step step : stepsInScope()) {
            for (String lane : procedure().lanesOf(step, scope)) {
                step.points().forEach(p -> all.add(new PointKey(step.id(), p.id(), lane)));
                step.discovers().forEach(f -> rows(step.id(), f.id(), lane).forEach(row -> f.columns()
                        .forEach(c -> all.add(new PointKey(step.id(), c.id() + Step.ROW + row.row(), lane)))));
            }
        }
        return all;
    }

    /** When and how the set-up was changed, so that references taken before no longer hold, in order. */
    public List<Moved> moved() {
        return moved;
    }

    /** What stays charged, or is earthed, by step and lane. */
    public Map<Charge.Place, Charge> charges() {
        return charges;
    }

    public List<Adjustment> adjustments() {
        return adjustments;
    }

    /** Gear that does not answer, with what happened, by gear id. */
    public Map<String, String> gearLost() {
        return gearLost;
    }

    /**
     * Gear that was told to switch off and has not confirmed it, with what it answered, by gear id: to be treated as
     * live until it does.
     */
    public Map<String, String> unconfirmed() {
        return unconfirmed;
    }

    /** Notes and photos. */
    public List<Event> remarks() {
        return remarks;
    }

    /** Signatures, reviews and amendments. */
    public List<Event> signatures() {
        return signatures;
    }

    /** Events of types this program does not know. */
    public List<Event> unknown() {
        return unknown;
    }

    public RunEvents.@Nullable Finished finished() {
        return finished;
    }

    /**
     * When the run was finished; absent before. Signatures and amendments come later. One whose readings were all
     * brought in by files counts from when they were measured, for that is how old they are.
     */
    public @Nullable Instant finishedAt() {
        Instant taken = imported == null || attempts.values().stream().anyMatch(a -> a.gear() != null)
                ? null
                : imported.taken();
        return events.stream()
                .filter(e -> e.data() instanceof RunEvents.Finished)
                .map(e -> taken == null || taken.isAfter(e.at()) ? e.at() : taken)
                .findFirst()
                .orElse(null);
    }

    /** What was brought in by files last; absent where nothing was. */
    public RunEvents.@Nullable Imported imported() {
        return imported;
    }

    public @Nullable String abortReason() {
        return abortReason;
    }

    /** Steps in scope, in order. */
    public List<Step> stepsInScope() {
        return procedure().steps().stream().filter(s -> scope.step(s.id())).toList();
    }

    /** The step of an id that is known to exist, in scope or not. */
    Step stepOf(String id) {
        return procedure().step(id).orElseThrow();
    }

    /**
     * The step of an id.
     *
     * @throws Refusal if the procedure has none, or it is out of scope
     */
    public Step stepInScope(String id) {
        Step step = procedure()
                .step(id)
                .orElseThrow(() -> new Refusal("unknown-step", "This procedure has no step \"" + id + "\".", "step"));
        if (!scope.step(id)) {
            throw new Refusal("out-of-scope", "\"" + step.title() + "\" was left out of this run.", "step");
        }
        return step;
    }
}
