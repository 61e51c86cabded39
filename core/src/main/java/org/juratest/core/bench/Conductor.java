package org.juratest.core.bench;

import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.Consumer;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.method.StopException;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.port.GearIdentity;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunState;

/**
 * Carries out one live measurement: writes that the output goes on before it does, runs the method, makes safe whatever
 * happened, and writes what the gear answered. The output is off, or was told to be, when {@link #conduct} returns.
 */
public final class Conductor {

  private final Journal journal;
  private final Energising port;
  private final GearFacts gear;
  private final StopSignal stop;
  private final Consumer<Map<String, Quantity>> progress;

  /** @param progress gets what is measured at the moment; must not block */
  public Conductor(Journal journal, Energising port, GearFacts gear, StopSignal stop, Consumer<Map<String, Quantity>> progress) {
    this.journal = journal;
    this.port = port;
    this.gear = gear;
    this.stop = stop;
    this.progress = progress;
  }

  /**
   * Measures one step and lane.
   *
   * @param label    what the gear is told it is connected to
   * @param guarding called once the gear's watchdog is set, before anything is switched on; starts the guard
   */
  public Attempt.Outcome conduct(UUID attempt, Step step, String lane, Method method, String label, Runnable guarding) {
    Method.Result result;
    try {
      prepare(attempt, step, lane, label);
      guarding.run();
      result = method.run(new Bench(attempt, step, lane));
    } catch (StopException e) {
      result = new Method.Result(Attempt.Outcome.ABORTED, e.reason(), String.valueOf(e.getMessage()));
    } catch (GearException e) {
      // A stop closes nothing, but it may be what upset a command that was under way.
      result = stop.requested() ? stopped(e) : lost(e);
    } catch (RuntimeException e) {
      result = new Method.Result(Attempt.Outcome.INSTRUMENT_ERROR, OutputEvents.OffReason.ERROR, "the program failed: " + e);
    }
    ReadBack readBack = port.makeSafe();
    stop.request(result.offReason(), result.words());
    journal.append(new OutputEvents.OutputOff(attempt, result.offReason(), result.words(), readBack),
        new AttemptEvents.AttemptClosed(attempt, result.outcome(), result.words()));
    return result.outcome();
  }

  private void prepare(UUID attempt, Step step, String lane, String label) {
    Map<String, Quantity> settings = new TreeMap<>();
    step.params().forEach((name, p) -> settings.put(name, new Quantity(p.value() == null ? 0 : p.value(), Unit.of(p.unit()))));
    double factor;
    try {
      GearIdentity identity = port.identify();
      if (!identity.serial().equals(gear.serial())) {
        throw new GearException(GearException.Fault.WRONG_IDENTITY, "number " + identity.serial()
            + " answers at its address, but number " + gear.serial() + " was chosen");
      }
      factor = port.timeFactor();
      port.connectTo(label);
      port.watchdog(LiveGuard.WATCHDOG_SECONDS);
    } catch (GearException e) {
      journal.append(new AttemptEvents.AttemptBegun(attempt, step.id(), lane, gear.id(), 1));
      throw e;
    }
    journal.append(new AttemptEvents.AttemptBegun(attempt, step.id(), lane, gear.id(), factor),
        new OutputEvents.Energised(attempt, step.id(), lane, gear.id(), settings));
    stop.check();
  }

  private Method.Result stopped(GearException during) {
    try {
      stop.check();
    } catch (StopException e) {
      return new Method.Result(Attempt.Outcome.ABORTED, e.reason(), String.valueOf(e.getMessage()));
    }
    throw during;
  }

  private Method.Result lost(GearException e) {
    String words = gear.name() + ": " + e.getMessage();
    if (e.fault() != GearException.Fault.REFUSED) {
      journal.append(new OutputEvents.GearLost(gear.id(), String.valueOf(e.getMessage())));
    }
    return new Method.Result(Attempt.Outcome.INSTRUMENT_ERROR, OutputEvents.OffReason.GEAR_LOST, words);
  }

  private final class Bench implements MethodBench {

    private final UUID attempt;
    private final Step step;
    private final String lane;

    Bench(UUID attempt, Step step, String lane) {
      this.attempt = attempt;
      this.step = step;
      this.lane = lane;
    }

    @Override
    public RunState state() {
      return journal.state();
    }

    @Override
    public Step step() {
      return step;
    }

    @Override
    public String lane() {
      return lane;
    }

    @Override
    public GearFacts gear() {
      return gear;
    }

    @Override
    public <T extends Energising> T port(Class<T> role) {
      if (!role.isInstance(port)) {
        throw new IllegalStateException(gear.name() + " is not a " + role.getSimpleName());
      }
      return role.cast(port);
    }

    @Override
    public StopSignal stop() {
      return stop;
    }

    @Override
    public void connectionChecked(boolean good, String words, Map<String, Quantity> with) {
      journal.append(new AttemptEvents.ConnectionChecked(attempt, good, words, with));
    }

    @Override
    public void reading(Reading reading) {
      journal.append(new AttemptEvents.ReadingTaken(attempt, reading));
    }

    @Override
    public void progress(Map<String, Quantity> values) {
      progress.accept(values);
    }
  }
}
