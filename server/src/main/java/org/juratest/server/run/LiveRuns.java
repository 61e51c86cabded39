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
import org.juratest.core.bench.Conductor;
import org.juratest.core.bench.Journal;
import org.juratest.core.bench.LiveGuard;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Actor;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Output;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.Rules;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;
import org.juratest.formats.run.EventCodec;
import org.juratest.formats.trace.TraceBytes;
import org.juratest.instruments.scpi.ScpiDrivers;
import org.juratest.server.db.UuidV7;
import org.juratest.server.gear.GearStore;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;

/** Live measurements of this process: arming, energising, guarding, stopping. */
@Service
class LiveRuns {

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

  /** What {@code arm} gives: the one-time token, and what will happen in words. */
  record Arming(String token, String what, Instant until, RunState state) {
  }

  LocalDate today(RunState state) {
    return LocalDate.ofInstant(clock.instant(), ZoneId.of(state.opened().zone()));
  }

  /** Makes a step ready for its held press. */
  Arming arm(UUID run, String person, String step, String lane, RunService.Expectation expected) {
    gearBack(run, step);
    byte[] secret = new byte[18];
    random.nextBytes(secret);
    String token = HexFormat.of().formatHex(secret);
    String[] words = new String[1];
    Instant until = clock.instant().plus(ARMED).truncatedTo(ChronoUnit.MICROS);
    RunState after = store.append(run, Actor.person(person), state -> {
      expected.check(state);
      Step found = Rules.canArm(state, step, lane, clock.instant(), today(state));
      GearFacts facts = Rules.gear(state, found, today(state));
      if (!leases.heard(run)) {
        throw new Refusal("screen-not-heard", "The screen that drives this run was not heard for 2 s; it cannot arm an output.");
      }
      words[0] = method(found).announce(found, where(state, found, lane));
      return List.of(new OutputEvents.Armed(step, lane, facts.id(), words[0], until));
    });
    leases.token(run, EventCodec.hash(token.getBytes(java.nio.charset.StandardCharsets.US_ASCII)), until);
    return new Arming(token, words[0], until, after);
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
    String need = state.procedure().step(stepId).map(Step::gear).orElse(null);
    state.gear().stream().filter(g -> g.need().equals(need) && doubtful(state, g)).findFirst().ifPresent(g -> {
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
    return ScpiDrivers.forRole(item.role(), item.host(), item.port()).orElseThrow(
        () -> new Refusal("gear-not-connected", "There is no driver for a " + item.role() + ".", "gear"));
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
      Energising port = port(facts);
      measuring.execute(() -> measure(run, attempt, step, armed.lane(), facts, port, stop));
    } catch (RuntimeException e) {
      live.remove(run);
      leases.release(run);
      throw e;
    }
    return attempt;
  }

  private void measure(UUID run, UUID attempt, Step step, String lane, GearFacts facts, Energising port, StopSignal stop) {
    LiveGuard guard = new LiveGuard(() -> leases.renew(run), port, stop);
    List<ScheduledFuture<?>> ticking = new ArrayList<>();
    // A last tick of the guard may still be on its way when the port is closed; a closed port stays closed.
    try (port) {
      String position = store.state(run).opened().asset().position();
      new Conductor(journal(run), port, facts, stop, stream.progress(run))
          .conduct(attempt, step, lane, method(step), lane.equals(Lane.NONE) ? position : position + ":" + lane,
              () -> ticking.add(guards.scheduleAtFixedRate(() -> {
                if (!guard.tick(System.nanoTime())) {
                  ticking.forEach(t -> t.cancel(false));
                }
              }, 0, LiveGuard.CHECK_MILLIS, TimeUnit.MILLISECONDS)));
    } catch (RuntimeException e) {
      // The output is off; the run stays "live" in the database until it can be written, and is then found abandoned.
      LOG.error("the end of attempt {} of run {} could not be written", attempt, run, e);
    } finally {
      ticking.forEach(t -> t.cancel(false));
      live.remove(run);
      try {
        leases.release(run);
      } catch (RuntimeException e) {
        LOG.warn("the claim on run {} runs out by itself: {}", run, e.getMessage());
      }
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
      here.request(OutputEvents.OffReason.STOPPED, "stopped by " + person);
    }
    leases.requestStop(run, "stopped by " + person);
    return store.state(run);
  }

  /** Asks gear about its output after a crash, and switches it off. */
  ReadBack readBack(GearFacts facts) {
    try (Energising port = port(facts)) {
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
