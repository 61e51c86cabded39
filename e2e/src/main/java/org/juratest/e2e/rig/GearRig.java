package org.juratest.e2e.rig;

import java.io.IOException;
import java.io.InputStream;
import java.time.Instant;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.Announcements;
import org.juratest.core.bench.Conductor;
import org.juratest.core.bench.Journal;
import org.juratest.core.bench.LiveGuard;
import org.juratest.core.bench.MethodDeriving;
import org.juratest.core.bench.Sequence;
import org.juratest.core.correction.RfPath;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.method.Hand;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Linked;
import org.juratest.core.port.Port;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.ProcedureResolver;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.Consequences;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;
import org.juratest.formats.procedure.ProcedureJson;
import org.juratest.formats.run.EventCodec;
import org.juratest.formats.trace.TraceBytes;
import org.juratest.instruments.Drivers;
import org.juratest.simulators.Ports;
import org.juratest.simulators.Simulators;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;

/** A run on a device of the valley with stand-ins over their sockets, without server and browser. */
public abstract class GearRig implements AutoCloseable {

    /** Between two words of a hand that holds, ms. */
    private static final long BEAT = 100;

    public static final Fleet FLEET = FleetGenerator.generate(
            FleetGenerator.SEED, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families());

    private static final Set<Attempt.Outcome> CUT_OFF =
            EnumSet.of(Attempt.Outcome.ABORTED, Attempt.Outcome.INSTRUMENT_ERROR);

    private final Map<String, Trace> traces = new LinkedHashMap<>();
    private final MethodDeriving deriving = new MethodDeriving(hash -> Optional.ofNullable(traces.get(hash)));
    private final List<Integer> sounds = new ArrayList<>();
    private final List<byte[]> files = new ArrayList<>();
    private RunState state = RunState.EMPTY;
    private long ids = 1;

    /** The device that stands at a position. */
    protected static Fleet.Device device(String position) {
        return FLEET.devices().stream()
                .filter(d -> d.position().equals(position))
                .findFirst()
                .orElseThrow();
    }

    /**
     * Opens a run.
     *
     * @param file of the procedure among the shipped ones, as {@code radios/procedures/rad-accept-1}
     * @param path what the lead is; used with the gear whose role is {@code rf-path}
     */
    protected final void open(Fleet.Device device, String file, Nameplate plate, @Nullable RfPath path)
            throws IOException {
        open(device, file, plate, path, null);
    }

    /** Likewise, with the curve of the device. */
    protected final void open(
            Fleet.Device device, String file, Nameplate plate, @Nullable RfPath path, @Nullable Envelope curve)
            throws IOException {
        Procedure fitted = ProcedureResolver.resolve(ProcedureJson.read(shipped(file)), plate, curve);
        List<GearFacts> gear = fitted.gear().stream()
                .map(n -> new GearFacts(
                        n.role(),
                        n.id(),
                        n.role(),
                        n.role(),
                        "Orbessa",
                        "X",
                        serial(n.role()),
                        null,
                        LocalDate.MAX,
                        null,
                        Map.of(),
                        n.role().equals("rf-path") ? path : null))
                .toList();
        AssetFacts asset = new AssetFacts(
                device.asset(),
                device.position(),
                device.site(),
                device.site(),
                device.assetClass(),
                device.maker(),
                device.model(),
                device.serial(),
                plate,
                null);
        java.util.function.Function<Map<String, ResolvedLimit>, RunEvents.Opened> opened =
                limits -> new RunEvents.Opened(
                        "1",
                        "interval",
                        "00",
                        fitted,
                        asset,
                        gear,
                        List.of(),
                        curve,
                        limits,
                        "test",
                        "UTC",
                        Methods.tablesFor(Methods::tables, fitted, plate.texts()));
        RunEvents.Opened bare = opened.apply(Map.of());
        RunState first = RunState.EMPTY.after(event(RunState.EMPTY, bare));
        append(opened.apply(Consequences.limitsAtStart(first)));
    }

    /** Takes everything into the run, also what it begins without. */
    public final void all() {
        append(new org.juratest.core.run.RunEvents.ScopeSet(org.juratest.core.procedure.Scope.ALL));
    }

    /** Changes a parameter of a step, on all its lanes. */
    public final void param(String step, String name, double value) {
        append(new org.juratest.core.run.AttemptEvents.ParamChanged(step, name, null, value, "tried otherwise"));
    }

    private static String serial(String role) {
        return FLEET.gear().stream()
                .filter(g -> g.role().equals(role))
                .map(Fleet.Gear::serial)
                .findFirst()
                .orElseThrow();
    }

    /** Where the stand-in of a role listens. */
    protected abstract int port(String role);

    private static byte[] shipped(String procedure) throws IOException {
        try (InputStream in = GearRig.class.getResourceAsStream("/families/" + procedure + ".json")) {
            if (in == null) {
                throw new IOException("no procedure " + procedure + " is shipped");
            }
            return in.readAllBytes();
        }
    }

    /**
     * Whether a step may be measured on a lane as things stand.
     *
     * @throws org.juratest.core.run.Refusal with what forbids it
     */
    public void ready(String step, String lane) {
        org.juratest.core.run.Rules.ready(state, step, lane, Instant.now(), LocalDate.now());
    }

    /** Ticks all confirmations of a step. */
    public void confirm(String step) {
        state.procedure().step(step).orElseThrow().confirmations().forEach(c -> {
            EventData ticked = new org.juratest.core.run.StepEvents.HoldReleased(step, c.id());
            ticked.check(state);
            append(ticked);
        });
    }

    /** How many traces were kept. */
    public int traces() {
        return traces.size();
    }

    /** A trace that was kept, by its SHA-256. */
    public Trace trace(String hash) {
        return Objects.requireNonNull(traces.get(hash));
    }

    /** How many sounds were kept. */
    public int sounds() {
        return sounds.size();
    }

    /** How many pictures and files were kept. */
    public int files() {
        return files.size();
    }

    private Event event(RunState before, EventData data) {
        return new Event(
                new UUID(7, ids++),
                new UUID(7, 0),
                before.n() + 1,
                before.n() < 0 ? null : "00",
                Instant.now().truncatedTo(ChronoUnit.MICROS),
                Actor.process("test"),
                "test",
                data);
    }

    private RunState append(EventData... events) {
        for (EventData data : events) {
            state = state.after(event(state, data));
            for (List<EventData> next = Consequences.of(state, () -> new UUID(7, ids++), deriving);
                    Consequences.canFollow(data) && !next.isEmpty();
                    next = Consequences.of(state, () -> new UUID(7, ids++), deriving)) {
                for (EventData more : next) {
                    state = state.after(event(state, more));
                }
            }
        }
        return state;
    }

    public RunState state() {
        return state;
    }

    private Port driver(GearFacts gear) {
        return Drivers.forRole(gear.role()).orElseThrow().open("127.0.0.1", port(gear.role()));
    }

    /**
     * Measures a step on a lane, as a person does: again where it was cut off. A machine that stands still for two
     * seconds while others build on it lets the gear's watchdog go, as it should; that is not what a test is about.
     */
    public Attempt measure(String stepId, String lane) {
        Attempt attempt = held(stepId, lane, hand -> {});
        for (int again = 0; again < 2 && CUT_OFF.contains(attempt.outcome()); again++) {
            attempt = held(stepId, lane, hand -> {});
        }
        return attempt;
    }

    /**
     * Likewise, with a hand on what flows.
     *
     * @param beat what the hand does, again and again
     */
    public Attempt held(String stepId, String lane, Consumer<Hand> beat) {
        Step step = state.procedure().step(stepId).orElseThrow();
        List<Linked.Member> others = step.furtherNeeds().stream()
                .map(need -> new Linked.Member(gear(need), driver(gear(need))))
                .toList();
        GearFacts own = gear(String.valueOf(step.gear()));
        UUID id = new UUID(7, ids++);
        StopSignal stop = new StopSignal();
        Announcement announced = Announcements.of(state, new Sequence.Place(stepId, lane), LocalDate.now());
        append(new OutputEvents.Energised(id, stepId, lane, own.id(), announced.settings(), "rig"));
        LiveGuard guard = new LiveGuard(() -> new LiveGuard.Lease(true, null), stop);
        ScheduledExecutorService ticking = Executors.newSingleThreadScheduledExecutor(r -> {
            Thread thread = new Thread(r, "guard");
            thread.setDaemon(true);
            return thread;
        });
        try (Linked linked = new Linked(new Linked.Member(own, driver(own)), others)) {
            ticking.scheduleAtFixedRate(
                    () -> guard.tick(System.nanoTime()),
                    LiveGuard.CHECK_MILLIS,
                    LiveGuard.CHECK_MILLIS,
                    TimeUnit.MILLISECONDS);
            ticking.scheduleAtFixedRate(() -> beat.accept(stop.hand()), BEAT, BEAT, TimeUnit.MILLISECONDS);
            new Conductor(journal(), linked, own, stop, guard, p -> {})
                    .conduct(
                            id,
                            announced,
                            step.at(lane),
                            Announcements.method(step),
                            state.opened().asset().position() + ":" + lane);
        } finally {
            ticking.shutdownNow();
        }
        append(new OutputEvents.Conducted("done"));
        return state.attempt(id).orElseThrow();
    }

    /** Measures all that can be measured, in order; gives the outcomes by {@code step/lane}. */
    public Map<String, Attempt.Outcome> measureAll() {
        Map<String, Attempt.Outcome> outcomes = new LinkedHashMap<>();
        for (Step step : state.stepsInScope()) {
            if (step.kind().measured()) {
                state.procedure()
                        .lanesOf(step, state.scope())
                        .forEach(lane -> outcomes.put(
                                step.id() + "/" + lane, measure(step.id(), lane).outcome()));
            }
        }
        return outcomes;
    }

    private GearFacts gear(String need) {
        return state.gear().stream()
                .filter(g -> g.need().equals(need))
                .findFirst()
                .orElseThrow();
    }

    /** The last value of a point. */
    public double value(String step, String point, String lane) {
        return state.attempts(step, lane).stream()
                .reduce((a, b) -> b)
                .orElseThrow()
                .reading(new PointKey(step, point, lane))
                .map(Reading::value)
                .orElse(Double.NaN);
    }

    public RunJudgement judgement() {
        return RunJudgement.of(state);
    }

    private Journal journal() {
        return new Journal() {
            @Override
            public RunState append(EventData... events) {
                return GearRig.this.append(events);
            }

            @Override
            public RunState state() {
                return state;
            }

            @Override
            public String keep(Trace trace) {
                String hash = EventCodec.hash(TraceBytes.write(trace));
                traces.put(hash, trace);
                return hash;
            }

            @Override
            public String keep(byte[] bytes, String mediaType) {
                files.add(bytes);
                return "2".repeat(64);
            }

            @Override
            public String keep(double[] samples, double rate) {
                sounds.add(samples.length);
                return "1".repeat(64);
            }
        };
    }

    @Override
    public abstract void close() throws IOException;
}
