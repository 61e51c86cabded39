package org.juratest.server.run;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.Event;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Output;
import org.juratest.core.run.PriorReading;
import org.juratest.core.run.Rules;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.run.EventCodec;
import org.jspecify.annotations.Nullable;

/**
 * A run as a screen needs it.
 *
 * @param n            number of its last event
 * @param personEvents what {@code If-Match} must say
 * @param unconfirmed  gear that has not confirmed that its output is off: to be treated as live
 * @param driver       screen that drives; absent if none does
 * @param interrupted  what cut it off; absent if nothing did
 * @param head         SHA-256 of the last event
 */
record RunView(UUID id, long n, long personEvents, RunState.Status status, String job, String reason, String procedure, int version,
    String title, AssetFacts asset, List<GearFacts> gear, Map<String, String> gearLost, Map<String, String> unconfirmed,
    @Nullable TimeCurrentBand band,
    List<PriorReading> priors, Output output, @Nullable String driver, @Nullable String currentStep, @Nullable String interrupted,
    @Nullable String abortReason, Map<String, Quantity> conditions, List<StepView> steps, RunJudgement judgement,
    List<Attempt> attempts, List<AnswerView> answers, List<RunState.Adjustment> adjustments, List<EventView> remarks,
    List<EventView> unknown, @Nullable String record, String head) {

  /**
   * One step.
   *
   * @param lanes   ids it repeats over in this run
   * @param skipped reason; absent if it was not
   * @param cooling s before the next injection; 0 if none
   */
  record StepView(String id, String kind, String title, String text, @Nullable String sketch, boolean hazard, double minutes,
      @Nullable String gear, boolean inScope, boolean begun, @Nullable String skipped, List<LaneView> lanes, Map<String, Param> params,
      Map<String, Param> maxima, List<ConfirmationView> confirmations, double cooling) {
  }

  /** A lane with its label. */
  record LaneView(String id, String label) {
  }

  /** A confirmation and how it stands. */
  record ConfirmationView(String id, String text, @Nullable String back, @Nullable String backBefore, boolean confirmed,
      boolean restored) {
  }

  /** An inspection's answer. */
  record AnswerView(String point, StepEvents.Answer answer, @Nullable String words) {
  }

  /** An event in short. */
  record EventView(UUID id, long n, Instant at, String by, String type, Map<String, Object> data, boolean withdrawn) {
  }

  static RunView of(RunState state, Instant now) {
    RunEvents.Opened opened = state.opened();
    RunEvents.Finished finished = state.finished();
    Event last = state.events().get(state.events().size() - 1);
    return new RunView(last.run(), state.n(), state.personEvents(), state.status(), opened.job(), opened.reason(),
        opened.procedure().code(), opened.procedure().version(), opened.procedure().title(), opened.asset(), opened.gear(),
        state.gearLost(), state.unconfirmed(), opened.band(), opened.priors(), state.output(), state.driver(), state.currentStep(), state.interrupted(),
        state.abortReason(), state.conditions(), opened.procedure().steps().stream().map(s -> step(state, s, now)).toList(),
        finished != null ? finished.judgement() : RunJudgement.of(state), state.attempts(),
        state.answers().values().stream().map(a -> new AnswerView(a.step() + "/" + a.point() + "/" + a.lane(), a.answer(), a.words())).toList(),
        state.adjustments(), events(state, state.remarks()), events(state, state.unknown()),
        finished == null ? null : finished.record(), EventCodec.hash(EventCodec.write(last)));
  }

  private static StepView step(RunState state, Step step, Instant now) {
    boolean inScope = state.scope().step(step.id());
    List<LaneView> lanes = step.lanes() == null ? List.of() : state.procedure().lanesOf(step, state.scope()).stream()
        .map(l -> new LaneView(l, state.procedure().laneName(step, l))).toList();
    Duration cooling = inScope ? Rules.cooling(state, step, now) : Duration.ZERO;
    return new StepView(step.id(), step.kind().name().toLowerCase(java.util.Locale.ROOT), step.title(), step.text(), step.sketch(),
        step.hazard(), step.minutes(), step.gear(), inScope, state.hasBegun(step.id()), state.skipped().get(step.id()), lanes,
        step.params(), step.maxima(), step.confirmations().stream().map(c -> confirmation(state, step, c)).toList(),
        cooling.toMillis() / 1000.0);
  }

  private static ConfirmationView confirmation(RunState state, Step step, Confirmation c) {
    return new ConfirmationView(c.id(), c.text(), c.back(), c.backBefore(), state.isConfirmed(step.id(), c.id()),
        state.isRestored(step.id(), c.id()));
  }

  @SuppressWarnings("unchecked")
  private static List<EventView> events(RunState state, List<Event> events) {
    return events.stream().map(e -> new EventView(e.id(), e.n(), e.at(), e.by().toString(), e.data().type(),
        CoreJson.mapper().convertValue(e.data(), Map.class), state.isWithdrawn(e.id()))).toList();
  }
}
