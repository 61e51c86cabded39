package org.juratest.core.run;

import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import org.juratest.core.quantity.Quantity;
import org.jspecify.annotations.Nullable;

/** Events of what can energise something. */
public final class OutputEvents {

  private OutputEvents() {
  }

  /**
   * A live step stands ready for its held press.
   *
   * @param what  voltage or current, for how long, where, in words
   * @param until when it falls back to safe by itself
   * @param on    whether what follows by itself is measured with the same press; absent: only this step
   * @param then  what that is, as {@code step/lane}, as far as it was known then; absent where nothing was
   */
  public record Armed(String step, String lane, String gear, String what, Instant until, @Nullable Boolean on, @Nullable List<String> then) implements EventData {

    public Armed {
      then = then == null || then.isEmpty() ? null : List.copyOf(then);
    }

    public Armed(String step, String lane, String gear, String what, Instant until) {
      this(step, lane, gear, what, until, null, null);
    }
    @Override
    public void fold(RunState next, Event event) {
      next.currentStep = step;
      next.output = new Output(Output.Mode.ARMED, step, lane, null, gear, what, until);
    }
  }

  /** An armed step fell back to safe without having been live. */
  public record Disarmed(String reason) implements EventData {
    @Override
    public void fold(RunState next, Event event) {
      next.output = Output.SAFE;
    }
  }

  /** The output is about to be switched on; written before it is. */
  public record Energised(UUID attempt, String step, String lane, String gear, Map<String, Quantity> settings) implements EventData {

    public Energised {
      settings = Collections.unmodifiableMap(new TreeMap<>(settings));
    }

    @Override
    public void fold(RunState next, Event event) {
      next.output = new Output(Output.Mode.LIVE, step, lane, attempt, gear, next.output.what(), null);
      next.coolingOverruled = null;
    }
  }

  /** Why an output went off. */
  public enum OffReason { DONE, TRIPPED, TIME_LIMIT, STOPPED, SCREEN_LOST, GEAR_LOST, GEAR_WATCHDOG, EMERGENCY_STOP, CIRCUIT_OPEN, SERVER_STOP, ERROR }

  /** The output is off, as far as the gear confirms it. */
  public record OutputOff(@Nullable UUID attempt, OffReason reason, String words, ReadBack readBack) implements EventData {
    @Override
    public void fold(RunState next, Event event) {
      if (next.output.step() != null) {
        next.outputOffAt = RunState.put(next.outputOffAt, next.output.step(), event.at());
      }
      next.switchedOff(readBack);
    }
  }

  /** Remaining voltage was measured after an insulation, DC or surge test. */
  public record Discharged(String step, String lane, Quantity residual) implements EventData {
    @Override
    public void fold(RunState next, Event event) {
      next.remarks = RunState.added(next.remarks, event);
    }
  }

  /** A person earthed the part by hand. */
  public record Earthed(String step, String lane) implements EventData {
    @Override
    public void check(RunState before) {
      Rules.open(before);
      Rules.notLive(before, "Nothing can be earthed");
      before.stepInScope(step);
    }

    @Override
    public void fold(RunState next, Event event) {
      next.remarks = RunState.added(next.remarks, event);
    }
  }

  /** Gear stopped answering, or answers what cannot be. */
  public record GearLost(String gear, String what) implements EventData {
    @Override
    public void fold(RunState next, Event event) {
      next.gearLost = RunState.put(next.gearLost, gear, what);
    }
  }

  /** Gear answers again, and says what its output is. */
  public record GearBack(String gear, String identity, ReadBack readBack) implements EventData {
    @Override
    public void fold(RunState next, Event event) {
      next.gearLost = RunState.removed(next.gearLost, gear);
      if (readBack.off()) {
        next.unconfirmed = RunState.removed(next.unconfirmed, gear);
      }
    }
  }
}
