package org.juratest.server.run;

import jakarta.annotation.PreDestroy;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.correction.RfPath;
import org.juratest.core.bench.Conductor;
import org.juratest.core.bench.Journal;
import org.juratest.core.bench.LiveGuard;
import org.juratest.core.bench.Sequence;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.DeviceUnderTest;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.port.Linked;
import org.juratest.core.port.RadioTester;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.Step;
import org.juratest.core.radio.Characterising;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Output;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.Rules;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;
import org.juratest.formats.run.EventCodec;
import org.juratest.formats.trace.TraceBytes;
import org.juratest.formats.wav.Wav;
import org.juratest.instruments.Drivers;
import org.juratest.server.db.UuidV7;
import org.juratest.server.gear.GearStore;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;

/** Live measurements of this process: arming, energising, guarding, stopping. */
@Service
class LiveRuns {

  /** Measurements in one sequence: far more than any procedure has, so that nothing goes on for ever. */
  private static final int MOST_IN_A_ROW = 400;
  private static final Logger LOG = LoggerFactory.getLogger(LiveRuns.class);
  /** How long an armed step waits for its held press. */
  static final Duration ARMED = Duration.ofSeconds(15);

  private final RunStore store;
  private final Leases leases;
  private final GearStore gear;
  private final EventStream stream;
  private final Blobs blobs;
  private final Clock clock;
  private final SecureRandom random = new SecureRandom();
  private final ExecutorService measuring = Executors.newCachedThreadPool(r -> new Thread(r, "measuring"));
  private final ScheduledExecutorService guards = Executors.newScheduledThreadPool(4, r -> {
    Thread thread = new Thread(r, "guard");
    thread.setPriority(Thread.MAX_PRIORITY);
    return thread;
  });
  private final Map<UUID, StopSignal> live = new ConcurrentHashMap<>();

  LiveRuns(RunStore store, Leases leases, GearStore gear, EventStream stream, Blobs blobs, Clock clock) {
    this.store = store;
    this.leases = leases;
    this.gear = gear;
    this.stream = stream;
    this.blobs = blobs;
    this.clock = clock;
  }

  /** What {@code arm} gives: the one-time token, what will happen in words, and whether that takes a held press. */
  record Arming(String token, String what, Instant until, boolean held, RunState state) {
  }

  LocalDate today(RunState state) {
    return LocalDate.ofInstant(clock.instant(), ZoneId.of(state.opened().zone()));
  }

  /**
   * Makes a step ready for its held press.
   *
   * @param on whether what follows by itself is measured with the same press
   */
  Arming arm(UUID run, String person, String step, String lane, boolean on, RunService.Expectation expected) {
    gearBack(run, step);
    byte[] secret = new byte[18];
    random.nextBytes(secret);
    String token = HexFormat.of().formatHex(secret);
    String[] words = new String[1];
    boolean[] held = new boolean[1];
    Instant until = clock.instant().plus(ARMED).truncatedTo(ChronoUnit.MICROS);
    RunState after = store.append(run, Actor.person(person), state -> {
      expected.check(state);
      Step found = Rules.canArm(state, step, lane, clock.instant(), today(state));
      GearFacts facts = Rules.gear(state, found, today(state));
      if (!leases.heard(run)) {
        throw new Refusal("screen-not-heard", "The screen that drives this run was not heard for 2 s; it cannot arm an output.");
      }
      List<Sequence.Place> places = !on ? List.of(new Sequence.Place(step, lane)) : Sequence.all(state, new Sequence.Place(step, lane), clock.instant(), today(state));
      held[0] = found.hazard() || places.stream().anyMatch(p -> state.stepInScope(p.step()).hazard());
      words[0] = announced(state, new Sequence.Place(step, lane), places);
      return List.of(new OutputEvents.Armed(step, lane, facts.id(), words[0], until, on ? Boolean.TRUE : null,
          on ? places.stream().map(Sequence.Place::toString).filter(p -> !p.equals(step + "/" + lane)).toList() : null));
    });
    leases.token(run, EventCodec.hash(token.getBytes(java.nio.charset.StandardCharsets.US_ASCII)), until);
    return new Arming(token, words[0], until, held[0], after);
  }

  /** What will happen, in words: of the first step, and of how many after it. */
  private static String announced(RunState state, Sequence.Place first, List<Sequence.Place> places) {
    List<String> keyed = new ArrayList<>();
    String words = "";
    for (Sequence.Place place : places) {
      Step step = state.stepInScope(place.step());
      String one = method(step).announce(step.at(place.lane()), where(state, step, place.lane()));
      words = place.equals(first) ? one : words;
      if (step.hazard() && !place.equals(first)) {
        keyed.add(one);
      }
    }
    if (places.size() < 2) {
      return words;
    }
    return words + "; then on by itself, " + (places.size() - 1) + " more" + (keyed.isEmpty() ? "" : ", " + keyed.size() + " of them with output") + ", until a hand is needed";
  }

  private static Method method(Step step) {
    return Methods.byName(String.valueOf(step.method())).orElseThrow(
        () -> new Refusal("unknown-method", "There is no method \"" + step.method() + "\".", "method"));
  }

  private static String where(RunState state, Step step, String lane) {
    String name = state.procedure().laneName(step, lane);
    return (name.isEmpty() ? "" : name + " of ") + state.opened().asset().position();
  }

  /** Gear that was lost, or did not confirm that it is off, is asked again before a step that needs it is refused. */
  private void gearBack(UUID run, String stepId) {
    RunState state = store.state(run);
    List<String> needs = state.procedure().step(stepId).map(Step::needs).orElse(List.of());
    state.gear().stream().filter(g -> needs.contains(g.need()) && doubtful(state, g)).forEach(g -> {
      try (Energising port = port(g)) {
        String identity = port.identify().toString();
        ReadBack readBack = port.makeSafe();
        store.append(run, Actor.process(leases.process()), now -> doubtful(now, g)
            ? List.of(new OutputEvents.GearBack(g.id(), identity, readBack)) : List.of());
      } catch (GearException e) {
        LOG.info("{} still does not answer: {}", g.name(), e.getMessage());
      }
    });
  }

  private static boolean doubtful(RunState state, GearFacts gear) {
    return state.gearLost().containsKey(gear.id()) || state.unconfirmed().containsKey(gear.id());
  }

  private Energising port(GearFacts facts) {
    GearStore.Gear item = gear.byId(facts.id()).orElseThrow(
        () -> new Refusal("gear-missing", facts.name() + " is no longer in the register.", "gear"));
    if (item.host() == null || item.port() == null) {
      throw new Refusal("gear-not-connected", facts.name() + " is not remotely controlled.", "gear");
    }
    return Drivers.forRole(item.role(), item.host(), item.port()).orElseThrow(
        () -> new Refusal("gear-not-connected", "There is no driver for a " + item.role() + ".", "gear"));
  }

  /** The port of a step: of its gear, together with the further gear it uses. */
  private Energising port(RunState state, Step step, GearFacts facts) {
    List<Linked.Member> others = state.gear().stream().filter(g -> step.furtherNeeds().contains(g.need())).map(g -> new Linked.Member(g, port(g))).toList();
    return others.isEmpty() ? port(facts) : new Linked(new Linked.Member(facts, port(facts)), others);
  }

  /**
   * Asks the device at a run's data port who it is.
   *
   * @throws Refusal if the procedure has no data port, or nothing answers at it
   */
  RunState askDevice(UUID run, String person, RunService.Expectation expected) {
    RunState state = store.state(run);
    Rules.open(state);
    if (state.output().mode() != Output.Mode.SAFE) {
      throw new Refusal("output-not-safe", "The device is asked while nothing is armed or live.");
    }
    GearFacts facts = state.gear().stream().filter(g -> g.role().endsWith("-data-port")).findFirst()
        .orElseThrow(() -> new Refusal("no-data-port", "No data port is chosen for this run. Read the plate instead.", "gear"));
    RunEvents.DeviceIdentity device;
    try (Energising port = port(facts)) {
      if (!(port instanceof DeviceUnderTest data)) {
        throw new Refusal("no-data-port", facts.name() + " does not ask devices who they are.", "gear");
      }
      data.identify();
      data.connectTo(state.opened().asset().position());
      device = data.device();
    } catch (GearException e) {
      throw new Refusal("device-silent", facts.name() + ": " + e.getMessage() + ". Check that the radio is on and its lead is in, or read the plate.", "gear");
    }
    RunEvents.AssetIdentified identified = new RunEvents.AssetIdentified(device.serial(), device);
    return store.append(run, Actor.person(person), now -> {
      expected.check(now);
      identified.check(now);
      return List.of(identified);
    });
  }

  /**
   * Characterises a lead with a run's test set, keeps what it takes off, and goes on with that.
   *
   * @param megahertz where, ascending
   */
  RunState characterise(UUID run, String person, String path, List<Double> megahertz, RunService.Expectation expected) {
    RunState state = store.state(run);
    expected.check(state);
    Rules.open(state);
    if (state.output().mode() != Output.Mode.SAFE || leases.claimed(run)) {
      throw new Refusal("output-not-safe", "A lead is characterised while nothing is armed or measured.");
    }
    if (megahertz.isEmpty() || megahertz.size() > 64 || !megahertz.stream().allMatch(m -> m != null && m >= 1 && m <= 1000) || !megahertz.equals(megahertz.stream().sorted().distinct().toList())) {
      throw new Refusal("out-of-range", "One to 64 frequencies from 1 to 1000 MHz are needed, ascending.", "megahertz");
    }
    GearFacts lead = state.gear().stream().filter(g -> g.id().equals(path)).findFirst().orElseThrow(() -> new Refusal("unknown-gear", "This run has no gear \"" + path + "\".", "gear"));
    if (lead.path() == null) {
      throw new Refusal("wrong-gear", lead.name() + " is no lead.", "gear");
    }
    GearFacts set = state.gear().stream().filter(g -> g.role().equals("radio-test-set")).findFirst()
        .orElseThrow(() -> new Refusal("gear-missing", "No radio test set is chosen for this run.", "gear"));
    PathLoss loss;
    try (Energising port = port(set)) {
      port.identify();
      port.connectTo("LOOP:" + path);
      port.watchdog(LiveGuard.WATCHDOG_SECONDS);
      loss = Characterising.of((RadioTester) port, megahertz);
    } catch (GearException e) {
      throw new Refusal("gear-refused", set.name() + ": " + e.getMessage() + ".", "gear");
    }
    gear.characterised(path, new RfPath(loss, lead.path().greatest()), person);
    GearFacts now = gear.byId(path).orElseThrow().facts(lead.need());
    return store.append(run, Actor.person(person), s -> {
      expected.check(s);
      RunEvents.GearChosen chosen = new RunEvents.GearChosen(now);
      chosen.check(s);
      return List.of(chosen);
    });
  }

  /** Starts the armed step; returns the attempt at once, what happens follows as events. */
  UUID energise(UUID run, String token) {
    RunState state = store.state(run);
    Rules.open(state);
    Output armed = state.output();
    if (armed.mode() != Output.Mode.ARMED || armed.step() == null || armed.lane() == null) {
      throw new Refusal("not-armed", "Nothing is armed. Arm the step again.", "token");
    }
    if (!leases.useToken(run, EventCodec.hash(token.getBytes(java.nio.charset.StandardCharsets.UTF_8)))) {
      throw new Refusal("token-spent", "This arming is used up or over its 15 s. Arm the step again.", "token");
    }
    if (!leases.heard(run)) {
      throw new Refusal("screen-not-heard", "The screen that drives this run was not heard for 2 s; it cannot switch an output on.");
    }
    if (!leases.claim(run)) {
      throw new Refusal("claimed", "Another server process still holds the gear of this run. Try again in a few seconds.");
    }
    UUID attempt = UuidV7.now();
    StopSignal stop = new StopSignal();
    live.put(run, stop);
    try {
      Step step = state.stepInScope(armed.step());
      GearFacts facts = state.gear().stream().filter(g -> g.id().equals(armed.gear())).findFirst().orElseThrow();
      Energising port = port(state, step, facts);
      OutputEvents.Armed arming = arming(state);
      measuring.execute(() -> measureOn(run, attempt, step, armed.lane(), facts, port, stop, arming));
    } catch (RuntimeException e) {
      live.remove(run);
      leases.release(run);
      throw e;
    }
    return attempt;
  }

  /** The last arming of a run. */
  private static OutputEvents.Armed arming(RunState state) {
    return state.events().stream().filter(e -> e.data() instanceof OutputEvents.Armed).reduce((a, b) -> b).map(e -> (OutputEvents.Armed) e.data()).orElseThrow();
  }

  /** Measures a step and, one press for all, what follows by itself, until a hand is needed, something fails or somebody stops it. */
  private void measureOn(UUID run, UUID first, Step firstStep, String firstLane, GearFacts facts, Energising port, StopSignal stop, OutputEvents.Armed arming) {
    try {
      Sequence.Place place = new Sequence.Place(firstStep.id(), firstLane);
      Attempt.Outcome outcome = measure(run, first, firstStep, firstLane, facts, port, stop);
      boolean on = Boolean.TRUE.equals(arming.on());
      boolean held = firstStep.hazard() || arming.then() != null && arming.then().stream().anyMatch(t -> store.state(run).procedure().step(t.substring(0, t.indexOf('/'))).map(Step::hazard).orElse(false));
      for (int n = 0; on && n < MOST_IN_A_ROW && outcome == Attempt.Outcome.VALID; n++) {
        RunState state = store.state(run);
        Sequence.Place next = Sequence.next(state, place, clock.instant(), today(state)).orElse(null);
        StopSignal own = new StopSignal();
        if (next == null || state.stepInScope(next.step()).hazard() && !held || !leases.heard(run) || leases.renew(run).stopRequested() != null || !stillHere(run, own)) {
          return;
        }
        Step step = state.stepInScope(next.step());
        GearFacts gearOf = Rules.gear(state, step, today(state));
        place = next;
        outcome = measure(run, UuidV7.now(), step, next.lane(), gearOf, port(state, step, gearOf), own);
      }
    } catch (RuntimeException e) {
      LOG.error("the sequence of run {} ended early", run, e);
    } finally {
      live.remove(run);
      try {
        leases.release(run);
      } catch (RuntimeException e) {
        LOG.warn("the claim on run {} runs out by itself: {}", run, e.getMessage());
      }
    }
  }

  /** Puts the signal of the next measurement in place of the last one's, unless somebody has asked for a stop of the whole meanwhile. */
  private boolean stillHere(UUID run, StopSignal own) {
    return live.computeIfPresent(run, (id, before) -> before.stopsAll() ? before : own) == own;
  }

  private Attempt.Outcome measure(UUID run, UUID attempt, Step step, String lane, GearFacts facts, Energising port, StopSignal stop) {
    LiveGuard guard = new LiveGuard(() -> leases.renew(run), port, stop);
    List<ScheduledFuture<?>> ticking = new ArrayList<>();
    // A last tick of the guard may still be on its way when the port is closed; a closed port stays closed.
    try (port) {
      String position = store.state(run).opened().asset().position();
      return new Conductor(journal(run), port, facts, stop, stream.progress(run))
          .conduct(attempt, step, lane, method(step), lane.equals(Lane.NONE) ? position : position + ":" + lane,
              () -> ticking.add(guards.scheduleAtFixedRate(() -> {
                if (!guard.tick(System.nanoTime())) {
                  ticking.forEach(t -> t.cancel(false));
                }
              }, 0, LiveGuard.CHECK_MILLIS, TimeUnit.MILLISECONDS)));
    } catch (RuntimeException e) {
      // The output is off; the run stays "live" in the database until it can be written, and is then found abandoned.
      LOG.error("the end of attempt {} of run {} could not be written", attempt, run, e);
      return Attempt.Outcome.INSTRUMENT_ERROR;
    } finally {
      ticking.forEach(t -> t.cancel(false));
    }
  }

  private Journal journal(UUID run) {
    return new Journal() {
      @Override
      public RunState append(EventData... events) {
        return store.append(run, Actor.process(leases.process()), state -> List.of(events));
      }

      @Override
      public RunState state() {
        return store.state(run);
      }

      @Override
      public String keep(Trace trace) {
        return blobs.keep(TraceBytes.MEDIA_TYPE, TraceBytes.write(trace));
      }

      @Override
      public String keep(double[] samples, double rate) {
        return blobs.keep(Wav.MEDIA_TYPE, new Wav((int) Math.round(rate), new double[][] {samples}).pcm16());
      }
    };
  }

  /** Stops: an armed step falls back to safe, a live output is switched off by whichever process holds it. */
  RunState stop(UUID run, String person) {
    RunState state = store.state(run);
    if (state.output().mode() == Output.Mode.ARMED) {
      leases.dropToken(run);
      store.append(run, Actor.person(person), now -> now.output().mode() == Output.Mode.ARMED
          ? List.of(new OutputEvents.Disarmed("stopped by " + person)) : List.of());
    }
    StopSignal here = live.get(run);
    if (here != null) {
      here.stopAll();
      here.request(OutputEvents.OffReason.STOPPED, "stopped by " + person);
    }
    leases.requestStop(run, "stopped by " + person);
    return store.state(run);
  }

  /** Asks the gear of a live step about its output after a crash, and switches it off: all of it, as what keys the device is not what measures. */
  ReadBack readBack(RunState state, GearFacts facts) {
    try (Energising port = port(state, state.stepInScope(String.valueOf(state.output().step())), facts)) {
      return port.makeSafe();
    } catch (Refusal e) {
      return ReadBack.silent(String.valueOf(e.getMessage()));
    }
  }

  boolean isLiveHere(UUID run) {
    return live.containsKey(run);
  }

  @PreDestroy
  void shutDown() throws InterruptedException {
    live.values().forEach(s -> s.request(OutputEvents.OffReason.SERVER_STOP, "the server is being stopped"));
    measuring.shutdown();
    if (!measuring.awaitTermination(3, TimeUnit.SECONDS)) {
      LOG.warn("a measurement did not end in time; the gear's watchdog switches it off");
    }
    guards.shutdownNow();
  }
}
