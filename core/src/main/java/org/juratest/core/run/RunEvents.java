package org.juratest.core.run;

import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Scope;
import org.jspecify.annotations.Nullable;

/** Events of the run as a whole. */
public final class RunEvents {

  private static final Set<Class<?>> CAN_BE_WITHDRAWN = Set.of(StepEvents.Note.class, StepEvents.Photo.class,
      StepEvents.HoldReleased.class, StepEvents.Restored.class, StepEvents.AnswerGiven.class,
      StepEvents.ConditionEntered.class, StepEvents.StepSkipped.class, StepEvents.CoolingOverruled.class,
      AttemptEvents.AdjustmentMade.class, AttemptEvents.LimitChanged.class);

  private RunEvents() {
  }

  /**
   * The run begins: everything it will be judged by, as it was then.
   *
   * @param job           job it belongs to
   * @param procedureHash SHA-256 of the frozen procedure version
   * @param procedure     fitted to the device
   * @param priors        earlier counting values, newest first
   * @param band          the device's time-current band; absent if its curve is not known
   * @param limits        those resolved at the start, by {@code step/point/lane}
   * @param software      version that judges
   */
  public record Opened(String job, String reason, String procedureHash, Procedure procedure, AssetFacts asset, List<GearFacts> gear,
      List<PriorReading> priors, @Nullable TimeCurrentBand band, Map<String, ResolvedLimit> limits, String software,
      String zone) implements EventData {

    public Opened {
      gear = List.copyOf(gear);
      priors = List.copyOf(priors);
      limits = Collections.unmodifiableMap(new TreeMap<>(limits));
    }

    @Override
    public void fold(RunState next, Event event) {
      next.opened = this;
      Map<PointKey, ResolvedLimit> resolved = new TreeMap<>();
      limits.forEach((key, limit) -> resolved.put(PointKey.parse(key), limit));
      next.limits = Collections.unmodifiableMap(resolved);
    }
  }

  /** Which steps and lanes take part. */
  public record ScopeSet(Scope scope) implements EventData {
    @Override
    public void check(RunState before) {
      Rules.open(before);
      if (!before.attempts().isEmpty() || !before.answers().isEmpty()) {
        throw new Refusal("scope-fixed", "What is tested is chosen before the first reading; skip a step instead, with a reason.");
      }
      scope.withoutSteps().forEach(id -> before.procedure().step(id).orElseThrow(
          () -> new Refusal("unknown-step", "This procedure has no step \"" + id + "\".", "scope.withoutSteps")));
      scope.withoutLanes().forEach((set, lanes) -> lanes.forEach(lane -> {
        if (!before.procedure().laneSets().containsKey(set)
            || before.procedure().laneSets().get(set).lane(lane).isEmpty()) {
          throw new Refusal("unknown-lane", "This procedure has no lane \"" + set + "/" + lane + "\".", "scope.withoutLanes");
        }
      }));
      scope.withoutSteps().stream().map(before::stepOf).filter(s -> !Rules.mayLeaveOut(s, scope)).findFirst().ifPresent(s -> {
        throw new Refusal("hold-cannot-be-left-out", "\"" + s.title() + "\" makes the work safe; it is part of every run"
            + (s.hold() == null || s.hold().onlyFor().isEmpty() ? "." : " with " + String.join(", ",
                s.hold().onlyFor().stream().filter(scope::step).map(id -> "\"" + before.stepOf(id).title() + "\"").toList()) + "."),
            "scope.withoutSteps");
      });
      if (before.procedure().keys(scope).isEmpty()) {
        throw new Refusal("empty-scope", "With this scope nothing would be tested.", "scope");
      }
    }

    @Override
    public void fold(RunState next, Event event) {
      next.scope = scope;
    }
  }

  /**
   * The serial number a person read off the device. One that is not the run's stops it until it is settled.
   *
   * @param serial as on the plate
   */
  public record AssetIdentified(String serial) implements EventData {
    @Override
    public void check(RunState before) {
      Rules.open(before);
      Rules.notLive(before, "Nothing can be identified");
      Rules.words(serial, "serial");
    }

    @Override
    public void fold(RunState next, Event event) {
      next.identified = serial;
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
    }
  }

  /** Another screen drives the run from now on. */
  public record ScreenTaken(String screen) implements EventData {
    @Override
    public void check(RunState before) {
      Rules.open(before);
      Rules.notLive(before, "Another screen cannot take over");
    }

    @Override
    public void fold(RunState next, Event event) {
      next.driver = screen;
    }
  }

  /** The run was cut off with an output armed or live. */
  public record Interrupted(String what, ReadBack readBack) implements EventData {
    @Override
    public void fold(RunState next, Event event) {
      next.interrupted = what;
      next.switchedOff(readBack);
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

  /** The run ends without a record. */
  public record Aborted(String reason) implements EventData {
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
      Event event = before.events().stream().filter(e -> e.id().equals(target)).findFirst().orElseThrow(
          () -> new Refusal("unknown-event", "This run has no event " + target + ".", "target"));
      if (!CAN_BE_WITHDRAWN.contains(event.data().getClass()) || before.isWithdrawn(target)) {
        throw new Refusal("cannot-be-withdrawn", "This cannot be taken back"
            + (event.data() instanceof AttemptEvents.ReadingTaken ? "; void its attempt instead." : "."), "target");
      }
    }

    @Override
    public void fold(RunState next, Event event) {
      throw new IllegalStateException("folded by telling the run again");
    }
  }
}
