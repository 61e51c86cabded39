package org.juratest.server.run;

import jakarta.annotation.PreDestroy;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.Announcements;
import org.juratest.core.bench.Conductor;
import org.juratest.core.bench.LiveGuard;
import org.juratest.core.bench.Sequence;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.correction.RfPath;
import org.juratest.core.method.LeadCharacterisation;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.DeviceLink;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Output;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.Rules;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.db.UuidV7;
import org.juratest.server.gear.GearStore;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;

/**
 * Live measurements of this process: arming, energising, guarding, stopping. The announcement is what binds them: it is
 * kept with the arming, made again in the transaction that uses the token, claims the gear and writes <i>energised</i>,
 * and held by the gate between method and gear.
 */
@Service
class LiveRuns {

    /** Measurements in one sequence: far more than any procedure has, so that nothing goes on for ever. */
    private static final int MOST_IN_A_ROW = 400;

    private static final Logger LOG = LoggerFactory.getLogger(LiveRuns.class);
    /** How long an armed step waits for its held press. */
    static final Duration ARMED = Duration.ofSeconds(15);
    /** What is characterised is waited for as long as this. */
    private static final long PATIENCE_SECONDS = 120;

    private final RunStore store;
    private final Leases leases;
    private final GearPorts ports;
    private final GearStore gear;
    private final EventStream stream;
    private final RunJournals journals;
    private final Clock clock;
    private final SecureRandom random = new SecureRandom();
    private final ExecutorService measuring = Executors.newCachedThreadPool(r -> new Thread(r, "measuring"));
    private final ScheduledExecutorService guards = Executors.newScheduledThreadPool(4, r -> {
        Thread thread = new Thread(r, "guard");
        thread.setPriority(Thread.MAX_PRIORITY);
        return thread;
    });
    private final Map<UUID, StopSignal> live = new ConcurrentHashMap<>();

    LiveRuns(
            RunStore store,
            Leases leases,
            GearPorts ports,
            GearStore gear,
            EventStream stream,
            RunJournals journals,
            Clock clock) {
        this.store = store;
        this.leases = leases;
        this.ports = ports;
        this.gear = gear;
        this.stream = stream;
        this.journals = journals;
        this.clock = clock;
    }

    /** What {@code arm} gives: the one-time token, what will happen in words, and whether that takes a held press. */
    record Arming(String token, String what, Instant until, boolean held, RunState state) {}

    LocalDate today(RunState state) {
        return LocalDate.ofInstant(clock.instant(), ZoneId.of(state.opened().zone()));
    }

    /**
     * Makes a step ready for its held press.
     *
     * @param on whether what follows by itself is measured with the same press
     */
    Arming arm(UUID run, String person, Sequence.Place place, boolean on, RunService.Expectation expected) {
        expected.check(store.state(run));
        ports.back(run, place.step());
        byte[] secret = new byte[18];
        random.nextBytes(secret);
        String token = HexFormat.of().formatHex(secret);
        OutputEvents.Armed[] armed = new OutputEvents.Armed[1];
        boolean[] held = new boolean[1];
        RunState after = store.append(run, Actor.person(person), state -> {
            expected.check(state);
            ports.connectable(state, Rules.canArm(state, place.step(), place.lane(), clock.instant(), today(state)));
            if (!leases.heard(run)) {
                throw new Refusal(
                        "screen-not-heard",
                        "The screen that drives this run was not heard for 2 s; it cannot arm an output.");
            }
            OutputEvents.Arming arming = Announcements.arming(state, place, on, clock.instant(), today(state));
            List<Sequence.Place> places =
                    on ? Sequence.all(state, place, clock.instant(), today(state)) : List.of(place);
            held[0] = isHeld(
                    state,
                    arming.first(),
                    places.stream().map(Sequence.Place::toString).toList());
            Instant until = leases.token(run, hash(token), ARMED);
            armed[0] = new OutputEvents.Armed(
                    place.step(),
                    place.lane(),
                    arming.first().gear().get(0),
                    Announcements.words(state, arming.first(), places),
                    until,
                    on ? Boolean.TRUE : null,
                    on
                            ? places.stream()
                                    .map(Sequence.Place::toString)
                                    .filter(p -> !p.equals(place.toString()))
                                    .toList()
                            : null,
                    arming);
            return List.of(armed[0]);
        });
        return new Arming(token, armed[0].what(), armed[0].until(), held[0], after);
    }

    /** Whether a press that does these places has to be held: one of them has output that can hurt. */
    private static boolean isHeld(RunState state, Announcement first, @Nullable List<String> then) {
        return first.hazard()
                || then != null
                        && then.stream().map(LiveRuns::place).anyMatch(p -> state.procedure()
                                .step(p.step())
                                .map(Step::hazard)
                                .orElse(false));
    }

    private static Sequence.Place place(String text) {
        int slash = text.indexOf('/');
        return new Sequence.Place(text.substring(0, slash), text.substring(slash + 1));
    }

    private static String hash(String token) {
        return EventCodec.hash(token.getBytes(StandardCharsets.UTF_8));
    }

    /**
     * Asks the device at a run's data port who it is.
     *
     * @throws Refusal if the procedure has no data port, or nothing answers at it
     */
    RunState askDevice(UUID run, String person, RunService.Expectation expected) {
        RunState state = store.state(run);
        expected.check(state);
        Rules.open(state);
        if (state.output().mode() != Output.Mode.SAFE || state.isBusy()) {
            throw new Refusal("output-not-safe", "The device is asked while nothing is armed or live.");
        }
        GearFacts facts = state.gear().stream()
                .filter(g -> g.role().endsWith("-data-port"))
                .findFirst()
                .orElseThrow(() -> new Refusal(
                        "no-data-port", "No data port is chosen for this run. Read the plate instead.", "gear"));
        RunEvents.DeviceIdentity device;
        try {
            device = ports.asking(run, facts, port -> {
                if (!(port instanceof DeviceLink data)) {
                    throw new Refusal("no-data-port", facts.name() + " does not ask devices who they are.", "gear");
                }
                data.identify();
                data.connectTo(state.opened().asset().position());
                return data.device();
            });
        } catch (GearException e) {
            throw new Refusal(
                    "device-silent",
                    facts.name() + ": " + e.getMessage()
                            + ". Check that the device is on and its lead is in, or read the plate.",
                    "gear");
        }
        RunEvents.AssetIdentified identified = new RunEvents.AssetIdentified(device.serial(), device);
        return store.append(run, Actor.person(person), now -> {
            expected.check(now);
            identified.check(now);
            return List.of(identified);
        });
    }

    /**
     * Characterises a lead with a run's test set, keeps what it takes off, and goes on with that: conducted, claimed
     * and guarded as any measurement, so that it can be stopped and that nobody else uses the gear. Returns when it has
     * ended.
     *
     * @param megahertz where, ascending
     */
    RunState characterise(
            UUID run, String person, String path, List<Double> megahertz, RunService.Expectation expected) {
        LeadCharacterisation way = Methods.lead(
                        store.state(run).gear().stream().map(GearFacts::role).toList())
                .orElseThrow(() -> new Refusal("gear-missing", "No gear of this run can characterise a lead.", "gear"));
        UUID attempt = UuidV7.now();
        GearFacts[] used = new GearFacts[2];
        Announcement[] announced = new Announcement[1];
        store.append(run, state -> {
            expected.check(state);
            Rules.open(state);
            if (state.output().mode() != Output.Mode.SAFE || state.isBusy()) {
                throw new Refusal("output-not-safe", "A lead is characterised while nothing is armed or measured.");
            }
            GearFacts lead = state.gear().stream()
                    .filter(g -> g.id().equals(path))
                    .findFirst()
                    .orElseThrow(() -> new Refusal("unknown-gear", "This run has no gear \"" + path + "\".", "gear"));
            if (lead.path() == null) {
                throw new Refusal("wrong-gear", lead.name() + " is no lead.", "gear");
            }
            GearFacts set = state.gear().stream()
                    .filter(g -> g.role().equals(way.role()))
                    .findFirst()
                    .orElseThrow(
                            () -> new Refusal("gear-missing", "No gear of this run can characterise a lead.", "gear"));
            used[0] = set;
            used[1] = lead;
            announced[0] = Announcements.of(
                    new Sequence.Place("lead:" + path, Lane.NONE),
                    way.name(),
                    false,
                    way.announce(lead.name(), megahertz),
                    List.of(set, lead),
                    state);
            OutputEvents.Armed armed = new OutputEvents.Armed(
                    announced[0].step(),
                    Lane.NONE,
                    set.id(),
                    announced[0].what(),
                    leases.now().plus(ARMED),
                    null,
                    null,
                    new OutputEvents.Arming(announced[0], null));
            return List.of(
                    new RunStore.Addition(Actor.person(person), armed),
                    energised(run, attempt, announced[0], announced[0].gear()));
        });
        PathLoss[] loss = new PathLoss[1];
        Future<?> ended = begin(run, announced[0].gear().size(), (stop, guard) -> {
            try (Energising port = ports.alone(used[0])) {
                new Conductor(journals.of(run), port, used[0], stop, guard, stream.progress(run))
                        .conduct(attempt, announced[0], null, "LOOP:" + path, bench -> {
                            loss[0] = way.of(bench, megahertz);
                            return new Method.Result(
                                    Attempt.Outcome.VALID, OutputEvents.OffReason.DONE, "characterised");
                        });
            }
            if (loss[0] != null) {
                gear.characterised(
                        path,
                        new RfPath(
                                loss[0],
                                Objects.requireNonNull(used[1].path()).greatest(),
                                way.uncertainty(used[0], loss[0])),
                        person);
                GearFacts now = gear.byId(path).orElseThrow().facts(used[1].need());
                store.append(run, Actor.process(leases.process()), s -> List.of(new RunEvents.GearChosen(now)));
            }
        });
        waited(ended);
        RunState after = store.state(run);
        if (loss[0] == null) {
            throw new Refusal(
                    "gear-refused",
                    lastOff(after).map(OutputEvents.OutputOff::words).orElse("It did not end in time.") + ".",
                    "gear");
        }
        return after;
    }

    private static Optional<OutputEvents.OutputOff> lastOff(RunState state) {
        return state.events().stream()
                .filter(e -> e.data() instanceof OutputEvents.OutputOff)
                .reduce((a, b) -> b)
                .map(e -> (OutputEvents.OutputOff) e.data());
    }

    private static void waited(Future<?> ended) {
        try {
            ended.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException | TimeoutException e) {
            LOG.warn("what was waited for did not end well: {}", e.getMessage());
        }
    }

    /**
     * Starts the armed step; returns the attempt at once, what happens follows as events. One transaction under the
     * lock of the run's row checks what was announced against what would run now, uses the token, claims run and gear,
     * and writes <i>energised</i>.
     */
    UUID energise(UUID run, String token, Screen screen) {
        UUID attempt = UuidV7.now();
        OutputEvents.Armed[] armed = new OutputEvents.Armed[1];
        String[] differs = new String[1];
        RunState after = store.append(run, state -> {
            Rules.open(state);
            OutputEvents.Armed arming = state.arming();
            if (state.output().mode() != Output.Mode.ARMED || arming == null || arming.arming() == null) {
                throw new Refusal("not-armed", "Nothing is armed. Arm the step again.", "token");
            }
            if (!leases.drives(run, screen)) {
                throw new Refusal(
                        "not-driving",
                        "Another screen drives this run; only that one can switch its output on.",
                        "screen");
            }
            if (!leases.useToken(run, hash(token))) {
                throw new Refusal(
                        "token-spent", "This arming is used up or over its 15 s. Arm the step again.", "token");
            }
            if (!leases.heard(run)) {
                throw new Refusal(
                        "screen-not-heard",
                        "The screen that drives this run was not heard for 2 s; it cannot switch an output on.");
            }
            differs[0] = differs(state, arming);
            if (differs[0] != null) {
                return List.of(
                        new RunStore.Addition(Actor.process(leases.process()), new OutputEvents.Disarmed(differs[0])));
            }
            armed[0] = arming;
            return List.of(energised(run, attempt, arming.arming().first(), gearOf(state, arming)));
        });
        if (differs[0] != null) {
            throw new Refusal(
                    "not-as-armed",
                    "What is armed is no longer what would run: " + differs[0] + ". Arm the step again.",
                    "token");
        }
        int claimed = gearOf(after, armed[0]).size();
        begin(run, claimed, (stop, guard) -> sequence(run, attempt, armed[0], after, stop, guard));
        return attempt;
    }

    /** What differs between what was announced and what would run now, in words; absent where nothing does. */
    private @Nullable String differs(RunState state, OutputEvents.Armed armed) {
        Sequence.Place place = new Sequence.Place(armed.step(), armed.lane());
        try {
            ports.connectable(state, Rules.ready(state, armed.step(), armed.lane(), clock.instant(), today(state)));
            OutputEvents.Arming now =
                    Announcements.arming(state, place, Boolean.TRUE.equals(armed.on()), clock.instant(), today(state));
            return now.equals(armed.arming())
                    ? null
                    : "it would be " + now.first().what();
        } catch (Refusal e) {
            return String.valueOf(e.getMessage());
        }
    }

    /** All gear that a press may use: that of its first step, and of what it may go on with. */
    private static List<String> gearOf(RunState state, OutputEvents.Armed armed) {
        OutputEvents.Arming arming = Objects.requireNonNull(armed.arming());
        java.util.stream.Stream<String> following = arming.following() == null
                ? java.util.stream.Stream.empty()
                : arming.following().keySet().stream()
                        .map(LiveRuns::place)
                        .flatMap(p -> state.procedure().step(p.step()).stream())
                        .flatMap(s -> s.needs().stream())
                        .flatMap(need -> state.gear().stream()
                                .filter(g -> g.need().equals(need))
                                .map(GearFacts::id));
        return java.util.stream.Stream.concat(arming.first().gear().stream(), following)
                .distinct()
                .toList();
    }

    /** Claims run and gear, and gives the event that says so; called under the lock of the run's row. */
    private RunStore.Addition energised(UUID run, UUID attempt, Announcement announced, List<String> gearIds) {
        if (!leases.claim(run)) {
            throw new Refusal(
                    "claimed", "Another server process still holds the gear of this run. Try again in a few seconds.");
        }
        Leases.InUse held = leases.claimGear(run, gearIds);
        if (held != null) {
            throw GearPorts.inUse(held);
        }
        return new RunStore.Addition(Actor.process(leases.process()), event(attempt, announced));
    }

    private EventData event(UUID attempt, Announcement announced) {
        return new OutputEvents.Energised(
                attempt,
                announced.step(),
                announced.lane(),
                announced.gear().get(0),
                announced.settings(),
                leases.process());
    }

    /** What a conductor does between the claim of its gear and its end. */
    private interface Conducting {
        void with(StopSignal stop, LiveGuard guard);
    }

    /** Conducts on a thread of its own, guarded from the first moment to the last. */
    private Future<?> begin(UUID run, int gearItems, Conducting conducting) {
        StopSignal stop = new StopSignal();
        LiveGuard guard = new LiveGuard(() -> leases.renew(run, gearItems), stop);
        live.put(run, stop);
        return measuring.submit(() -> {
            ScheduledFuture<?>[] ticking = new ScheduledFuture<?>[1];
            try {
                ticking[0] = guards.scheduleAtFixedRate(
                        () -> {
                            if (!guard.tick(System.nanoTime())) {
                                ticking[0].cancel(false);
                            }
                        },
                        LiveGuard.CHECK_MILLIS,
                        LiveGuard.CHECK_MILLIS,
                        TimeUnit.MILLISECONDS);
                conducting.with(stop, guard);
            } catch (RuntimeException e) {
                // The output is off; the run stays busy in the database until it can be written, and is then found
                // abandoned.
                LOG.error("what was conducted in run {} ended early", run, e);
            } finally {
                ended(run, stop);
                if (ticking[0] != null) {
                    ticking[0].cancel(false);
                }
            }
        });
    }

    private void ended(UUID run, StopSignal stop) {
        try {
            store.append(
                    run,
                    Actor.process(leases.process()),
                    state -> state.isBusy()
                                    && leases.process().equals(state.busyWith())
                                    && state.output().mode() != Output.Mode.LIVE
                            ? List.of(new OutputEvents.Conducted(stop.requested() ? "stopped" : "done"))
                            : List.of());
        } catch (RuntimeException e) {
            LOG.error("the end of what was conducted in run {} could not be written", run, e);
        }
        live.remove(run, stop);
        try {
            leases.release(run);
        } catch (RuntimeException e) {
            LOG.warn("the claim on run {} runs out by itself: {}", run, e.getMessage());
        }
    }

    /** A measurement that is written as energised. */
    private record Begun(UUID attempt, Announcement announced, Step step, GearFacts gear) {}

    /**
     * Measures a step and, one press for all, what follows by itself, until a hand is needed, something fails or
     * somebody stops it.
     */
    private void sequence(
            UUID run, UUID first, OutputEvents.Armed armed, RunState state, StopSignal stop, LiveGuard guard) {
        OutputEvents.Arming arming = Objects.requireNonNull(armed.arming());
        Begun begun = new Begun(
                first,
                arming.first(),
                state.stepInScope(armed.step()),
                Rules.gear(state, state.stepInScope(armed.step()), today(state)));
        boolean held = isHeld(state, arming.first(), armed.then());
        for (int n = 0; begun != null && n < MOST_IN_A_ROW; n++) {
            Attempt.Outcome outcome = measure(run, begun, stop, guard);
            begun = outcome == Attempt.Outcome.VALID && arming.following() != null
                    ? next(run, begun, arming, held, stop)
                    : null;
        }
    }

    /**
     * Writes the next measurement of a sequence as energised, if what it would do was announced and nobody has asked
     * for a stop.
     */
    private @Nullable Begun next(UUID run, Begun last, OutputEvents.Arming arming, boolean held, StopSignal stop) {
        Begun[] next = new Begun[1];
        store.append(run, Actor.process(leases.process()), state -> {
            if (stop.requested()
                    || leases.stopRequested(run)
                    || !leases.heard(run)
                    || state.status() != RunState.Status.OPEN) {
                return List.of();
            }
            Sequence.Place place = Sequence.next(
                            state,
                            new Sequence.Place(last.announced.step(), last.announced.lane()),
                            clock.instant(),
                            today(state))
                    .orElse(null);
            if (place == null) {
                return List.of();
            }
            Announcement announced = Announcements.of(state, place, today(state));
            boolean asArmed = announced
                    .digest()
                    .equals(Objects.requireNonNull(arming.following()).get(place.toString()));
            if (!asArmed || announced.hazard() && !held) {
                return List.of();
            }
            Step step = state.stepInScope(place.step());
            next[0] = new Begun(UuidV7.now(), announced, step, Rules.gear(state, step, today(state)));
            return List.of(event(next[0].attempt, announced));
        });
        return next[0];
    }

    private Attempt.Outcome measure(UUID run, Begun begun, StopSignal stop, LiveGuard guard) {
        RunState state = store.state(run);
        String position = state.opened().asset().position();
        String lane = begun.announced.lane();
        // A last tick of the guard may still be on its way when the port is closed; a closed port stays closed.
        try (Energising port = ports.port(state, begun.step, begun.gear)) {
            return new Conductor(journals.of(run), port, begun.gear, stop, guard, stream.progress(run))
                    .conduct(
                            begun.attempt,
                            begun.announced,
                            begun.step.at(lane),
                            Announcements.method(begun.step),
                            lane.equals(Lane.NONE) ? position : position + ":" + lane);
        }
    }

    /**
     * Stops: an armed step falls back to safe, a live output is switched off by whichever process holds it, and in the
     * gap of a sequence nothing more is begun. Under the lock of the run's row, so that it comes either before what is
     * energised or after, and is honoured in both.
     */
    RunState stop(UUID run, String person) {
        String words = "stopped by " + person;
        RunState after = store.append(run, Actor.person(person), now -> {
            leases.dropToken(run);
            leases.requestStop(run, words);
            return now.output().mode() == Output.Mode.ARMED ? List.of(new OutputEvents.Disarmed(words)) : List.of();
        });
        StopSignal here = live.get(run);
        if (here != null && after.isBusy()) {
            here.request(OutputEvents.OffReason.STOPPED, words);
        }
        return after;
    }

    /**
     * Hears the hand that holds an output. Nothing is written: what it did is in what flowed.
     *
     * @param change 1 to raise, -1 to lower, 0 to leave it
     * @return whether the output counts as held
     * @throws Refusal if another screen drives the run, nothing is measured here, or that is more than one of these
     */
    boolean hand(UUID run, boolean held, int change, Screen screen) {
        if (change < -1 || change > 1) {
            throw new Refusal("bad-change", "The change is 1, -1 or 0, not " + change + ".", "change");
        }
        if (!leases.drives(run, screen)) {
            throw new Refusal(
                    "not-driving", "Another screen drives this run; only that one can hold its output.", "screen");
        }
        StopSignal here = live.get(run);
        if (here == null) {
            throw new Refusal("not-live", "Nothing is switched on that could be held.");
        }
        if (!held) {
            here.hand().letGo();
            return false;
        }
        return here.hand().holds(change, System.nanoTime());
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
