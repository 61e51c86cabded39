package org.juratest.e2e.bench;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.UUID;
import org.juratest.core.curve.CurveModel;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.ProcedureResolver;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Actor;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Consequences;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Reading;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.formats.curve.CurveJson;
import org.juratest.formats.procedure.ProcedureJson;

/** A run of the shipped yearly procedure, measured once over, for measuring speed with. */
final class SampleRun {

    static final UUID RUN = new UUID(0x7000, 1);

    private final TimeCurrentBand band;
    private final RunEvents.Opened opened;
    private final List<Event> events = new ArrayList<>();
    private RunState state = RunState.EMPTY;
    private Instant now = Instant.now().truncatedTo(ChronoUnit.MICROS);
    private long ids;

    SampleRun() {
        CurveModel model = CurveJson.read(resource("/families/breakers/curves.json")).stream()
                .filter(m -> m.id().equals("orvex-m160"))
                .findFirst()
                .orElseThrow();
        Map<String, Quantity> ratings = new TreeMap<>(Map.of(
                "poles",
                Quantity.of(3, "1"),
                "ratedCurrent",
                Quantity.amperes(100),
                "ratedVoltage",
                Quantity.of(400, "V"),
                "longTimeSetting",
                Quantity.amperes(100)));
        Nameplate plate = new Nameplate(ratings, Map.of());
        band = model.bandFor(plate.bases());
        Procedure procedure = ProcedureResolver.resolve(
                ProcedureJson.read(resource("/families/breakers/procedures/cbk-yearly-2.json")), plate, band);
        AssetFacts asset = new AssetFacts(
                "BENCH-1", "BEN-CBK-01", "BEN", "Bench", "lv-breaker", "Orvex", "M160", "1", plate, null);
        List<GearFacts> gear = procedure.gear().stream()
                .map(n -> new GearFacts(
                        n.id(), n.id(), n.role(), n.id(), "M", "X", "S", null, LocalDate.MAX, null, Map.of()))
                .toList();
        opened = new RunEvents.Opened(
                "1", "interval", "00", procedure, asset, gear, List.of(), band, Map.of(), "bench", "UTC");
        tell();
    }

    private static byte[] resource(String name) {
        try (InputStream in = SampleRun.class.getResourceAsStream(name)) {
            if (in == null) {
                throw new IllegalStateException(name + " is missing");
            }
            return in.readAllBytes();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private void tell() {
        add(opened);
        for (Step step : opened.procedure().steps()) {
            add(new StepEvents.StepBegun(step.id()));
            step.confirmations().forEach(c -> add(new StepEvents.HoldReleased(step.id(), c.id())));
            for (String lane : opened.procedure().lanesOf(step, state.scope())) {
                switch (step.id()) {
                    case "contact", "contactAgain" ->
                        attempt(step, lane, "r", 200, Unit.MICROHM, Map.of("current", 10.0, "range", 1e-3));
                    case "longTime" ->
                        attempt(step, lane, "time", 24, Unit.SECOND, Map.of("current", 300.0, "range", 1000.0));
                    default -> {}
                }
            }
        }
    }

    private GearFacts gear(Step step) {
        return opened.gear().stream()
                .filter(g -> g.need().equals(step.gear()))
                .findFirst()
                .orElseThrow();
    }

    private void attempt(Step step, String lane, String point, double value, Unit unit, Map<String, Double> facts) {
        ReadingOrigin origin = new ReadingOrigin() {
            @Override
            public RunState state() {
                return state;
            }

            @Override
            public ReadingBuilder value(String of, double measured, Unit in) {
                return new ReadingBuilder(
                        state, new PointKey(step.id(), of, lane), gear(step), Reading.Source.MEASURED, measured, in);
            }
        };
        Reading reading = Objects.requireNonNull(Methods.byName(String.valueOf(step.method()))
                .orElseThrow()
                .retold(origin, point, value, unit, facts)
                .result()
                .reading());
        UUID id = new UUID(0x7000, 100 + ids++);
        add(new AttemptEvents.AttemptBegun(id, step.id(), lane, null, 1));
        add(new AttemptEvents.ReadingTaken(id, reading));
        add(new AttemptEvents.AttemptClosed(id, Attempt.Outcome.VALID, "measured"));
    }

    private void add(EventData data) {
        append(data);
        for (List<EventData> next = follow(); !next.isEmpty(); next = follow()) {
            next.forEach(this::append);
        }
    }

    private List<EventData> follow() {
        return Consequences.of(state, () -> new UUID(0x7000, 100 + ids++));
    }

    private void append(EventData data) {
        now = now.plusMillis(10);
        Event event = new Event(
                new UUID(0x7001, ids++),
                RUN,
                state.n() + 1,
                state.n() < 0 ? null : "00",
                now,
                Actor.person("bench"),
                "bench",
                data);
        state = state.after(event);
        events.add(event);
    }

    List<Event> events() {
        return List.copyOf(events);
    }

    TimeCurrentBand band() {
        return band;
    }

    RunEvents.Opened opened() {
        return opened;
    }
}
