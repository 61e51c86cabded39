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
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.jspecify.annotations.Nullable;

/**
 * A run as its events tell it: a pure fold. {@link #after} gives a new state and leaves this one as it is. An event seen
 * before changes nothing, a gap is refused, an unknown type is kept without being folded. A {@code withdrawn} event is
 * folded by telling the run again without its target.
 *
 * <p>Immutable to its users. The fields are written only by events while {@link #after} builds the next state, and the
 * collections in them are replaced, never changed.
 */
public final class RunState {

  /** Where a run stands. */
  public enum Status { OPEN, FINISHED, ABORTED }

  /** A run before its first event. */
  public static final RunState EMPTY = new RunState();

  List<Event> events = List.of();
  Set<UUID> withdrawn = Set.of();
  long personEvents;
  RunEvents.@Nullable Opened opened;
  Scope scope = Scope.ALL;
  Status status = Status.OPEN;
  Output output = Output.SAFE;
  @Nullable String currentStep;
  @Nullable String interrupted;
  @Nullable String driver;
  Map<String, Instant> begun = Map.of();
  Map<String, UUID> confirmed = Map.of();
  Map<String, UUID> restored = Map.of();
  Map<String, String> skipped = Map.of();
  Map<PointKey, StepEvents.AnswerGiven> answers = Map.of();
  Map<String, Quantity> conditions = Map.of();
  Map<String, AttemptEvents.LimitChanged> changedLimits = Map.of();
  Map<String, UUID> changedLimitEvents = Map.of();
  Map<PointKey, ResolvedLimit> limits = Map.of();
  Map<UUID, Attempt> attempts = Map.of();
  List<AttemptEvents.TraceTaken> traces = List.of();
  List<Adjustment> adjustments = List.of();
  Map<String, String> gearLost = Map.of();
  Map<String, String> unconfirmed = Map.of();
  Map<String, Instant> outputOffAt = Map.of();
  @Nullable String coolingOverruled;
  @Nullable String identified;
  Map<String, GearFacts> exchanged = Map.of();
  List<Event> remarks = List.of();
  List<Event> signatures = List.of();
  List<Event> unknown = List.of();
  RunEvents.@Nullable Finished finished;
  @Nullable String abortReason;

  /**
   * An adjustment with its place among the events.
   *
   * @param at number of its event
   */
  public record Adjustment(long at, Set<PointKey> points, String what) {
  }

  private RunState() {
  }

  private RunState(RunState from) {
    events = from.events;
    withdrawn = from.withdrawn;
    personEvents = from.personEvents;
    opened = from.opened;
    scope = from.scope;
    status = from.status;
    output = from.output;
    currentStep = from.currentStep;
    interrupted = from.interrupted;
    driver = from.driver;
    begun = from.begun;
    confirmed = from.confirmed;
    restored = from.restored;
    skipped = from.skipped;
    answers = from.answers;
    conditions = from.conditions;
    changedLimits = from.changedLimits;
    changedLimitEvents = from.changedLimitEvents;
    limits = from.limits;
    attempts = from.attempts;
    traces = from.traces;
    adjustments = from.adjustments;
    gearLost = from.gearLost;
    unconfirmed = from.unconfirmed;
    outputOffAt = from.outputOffAt;
    coolingOverruled = from.coolingOverruled;
    identified = from.identified;
    exchanged = from.exchanged;
    remarks = from.remarks;
    signatures = from.signatures;
    unknown = from.unknown;
    finished = from.finished;
    abortReason = from.abortReason;
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
      boolean skip = gone.contains(event.id()) || event.data() instanceof RunEvents.Withdrawn
          || event.data() instanceof AttemptEvents.LimitResolved r && r.change() != null && gone.contains(r.change());
      if (!skip) {
        event.data().fold(told, event);
      }
    }
    told.events = events;
    told.personEvents = personEvents;
    return told;
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
      unconfirmed = readBack.off() ? removed(unconfirmed, gear) : put(unconfirmed, gear, readBack.words());
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

  public Procedure procedure() {
    return opened().procedure();
  }

  /** Gear of the run: that it was opened with, or what took its place. */
  public List<GearFacts> gear() {
    List<GearFacts> gear = new ArrayList<>(opened().gear());
    gear.replaceAll(g -> exchanged.getOrDefault(g.need(), g));
    exchanged.values().stream().filter(g -> gear.stream().noneMatch(there -> there.need().equals(g.need()))).forEach(gear::add);
    return List.copyOf(gear);
  }

  /** The serial number a person read off the device; absent before anyone did. */
  public @Nullable String identified() {
    return identified;
  }

  /** Whether the device in front of the person is not the one of this run, by its serial number. */
  public boolean isOtherDevice() {
    return identified != null && !sameSerial(identified, opened().asset().serial());
  }

  /** Serial numbers agree if they do without blanks, dashes, dots and case: plates and registers differ in these. */
  private static boolean sameSerial(String a, String b) {
    return bare(a).equals(bare(b));
  }

  private static String bare(String serial) {
    return serial.replaceAll("[\\s./\u2010-\u2015-]", "").toUpperCase(java.util.Locale.ROOT);
  }

  public @Nullable TimeCurrentBand band() {
    return opened().band();
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

  public @Nullable String currentStep() {
    return currentStep;
  }

  /** What happened when the run was cut off; absent if it was not, or has been resumed. */
  public @Nullable String interrupted() {
    return interrupted;
  }

  /** The screen that drives the run; absent before any took it. */
  public @Nullable String driver() {
    return driver;
  }

  public boolean hasBegun(String step) {
    return begun.containsKey(step);
  }

  public boolean isConfirmed(String step, String confirmation) {
    return confirmed.containsKey(step + "/" + confirmation);
  }

  public boolean isRestored(String step, String confirmation) {
    return restored.containsKey(step + "/" + confirmation);
  }

  /** The event that ticked a confirmation; absent before. */
  public @Nullable UUID confirmedBy(String step, String confirmation) {
    return confirmed.get(step + "/" + confirmation);
  }

  /** The event that put back what a confirmation stands for; absent before. */
  public @Nullable UUID restoredBy(String step, String confirmation) {
    return restored.get(step + "/" + confirmation);
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

  /** Changes of limits for this run, by {@code step/point}. */
  public Map<String, AttemptEvents.LimitChanged> changedLimits() {
    return changedLimits;
  }

  /** The limit of a point in this run: the procedure's, or the one it was changed to. */
  public @Nullable LimitSpec limitSpec(PointKey key) {
    AttemptEvents.LimitChanged change = changedLimits.get(key.step() + "/" + key.point());
    if (change != null) {
      return change.limit();
    }
    return procedure().step(key.step()).flatMap(s -> s.point(key.point())).map(p -> p.limit()).orElse(null);
  }

  /** Attempts in the order they began. */
  public List<Attempt> attempts() {
    return List.copyOf(attempts.values());
  }

  public Optional<Attempt> attempt(UUID id) {
    return Optional.ofNullable(attempts.get(id));
  }

  /** Attempts at a step and lane in order. */
  public List<Attempt> attempts(String step, String lane) {
    return attempts.values().stream().filter(a -> a.step().equals(step) && a.lane().equals(lane)).toList();
  }

  /** Traces in the order they were captured. */
  public List<AttemptEvents.TraceTaken> traces() {
    return traces;
  }

  public List<Adjustment> adjustments() {
    return adjustments;
  }

  /** Gear that does not answer, with what happened, by gear id. */
  public Map<String, String> gearLost() {
    return gearLost;
  }

  /**
   * Gear that was told to switch off and has not confirmed it, with what it answered, by gear id: to be treated as live until it
   * does.
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

  /** When the run was finished; absent before. Signatures and amendments come later. */
  public @Nullable Instant finishedAt() {
    return events.stream().filter(e -> e.data() instanceof RunEvents.Finished).map(Event::at).findFirst().orElse(null);
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
    Step step = procedure().step(id)
        .orElseThrow(() -> new Refusal("unknown-step", "This procedure has no step \"" + id + "\".", "step"));
    if (!scope.step(id)) {
      throw new Refusal("out-of-scope", "\"" + step.title() + "\" was left out of this run.", "step");
    }
    return step;
  }
}
