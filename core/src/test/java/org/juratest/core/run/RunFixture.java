package org.juratest.core.run;

import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.Correction;
import org.juratest.core.curve.BandElement;
import org.juratest.core.curve.LogLogTable;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.limit.DecisionRule;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.Scale;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.GearNeed;
import org.juratest.core.procedure.Hold;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.LaneSet;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.uncertainty.AccuracySpec;

/**
 * Tells a small run for tests: safe, look, insulation, contact with a spread, long time with a band, change, put back.
 */
public final class RunFixture {

    public static final LocalDate TODAY = LocalDate.of(2026, 3, 2);
    public static final UUID RUN = new UUID(1, 1);

    private RunState state = RunState.EMPTY;
    private Instant now = Instant.parse("2026-03-02T08:00:00Z");
    private long ids = 100;

    public RunFixture() {
        this(UnaryOperator.identity());
    }

    public RunFixture(UnaryOperator<Procedure> change) {
        RunEvents.Opened bare = opened(change.apply(procedure()), Map.of());
        RunState first = RunState.EMPTY.after(event(0, Actor.person("tavel"), bare));
        state = RunState.EMPTY.after(
                event(0, Actor.person("tavel"), opened(bare.procedure(), Consequences.limitsAtStart(first))));
        add(new RunEvents.ScreenTaken("screen-1"));
    }

    /** A procedure with other steps. */
    public static Procedure withSteps(Procedure p, List<Step> steps) {
        return new Procedure(
                p.format(),
                p.code(),
                p.version(),
                p.title(),
                p.family(),
                p.appliesTo(),
                p.rule(),
                p.gear(),
                p.laneSets(),
                steps);
    }

    public static Procedure procedure() {
        List<Lane> poles = List.of(
                new Lane("A", "A", List.of(), 1), new Lane("B", "B", List.of(), 2), new Lane("C", "C", List.of(), 3));
        List<Lane> paths = List.of(
                new Lane("A-B", "A to B", List.of("A", "B"), null), new Lane("C-E", "C to earth", List.of("C"), null));
        return new Procedure(
                Procedure.FORMAT,
                "T",
                1,
                "Test",
                "breakers",
                List.of("lv-breaker"),
                DecisionRule.SIMPLE,
                List.of(
                        new GearNeed("ins", "insulation-tester", "1000 V"),
                        new GearNeed("mic", "micro-ohmmeter", "10 A"),
                        new GearNeed("inj", "current-source", "3 Ir")),
                Map.of("poles", new LaneSet("pole", "poles", poles), "paths", new LaneSet("path", null, paths)),
                List.of(
                        step(
                                "safe",
                                StepKind.INSTRUCTION,
                                null,
                                null,
                                List.of(),
                                new Hold(List.of(
                                        new Confirmation("dead", "Proved dead", null, null),
                                        new Confirmation("lock", "Locked", "Lock off", null),
                                        new Confirmation("plug", "Plug out", "Plug in", "trip")))),
                        step(
                                "look",
                                StepKind.INSPECTION,
                                null,
                                null,
                                List.of(new TestPoint(
                                        "case", "Case", null, Scale.LINEAR, null, true, null, null, null, Map.of())),
                                null),
                        step(
                                "ins",
                                StepKind.ENTRY,
                                "paths",
                                "ins",
                                List.of(point(
                                        "r",
                                        "Insulation",
                                        "MOhm",
                                        Scale.LOGARITHMIC,
                                        TestPoint.INSULATION_20,
                                        LimitSpec.of(
                                                new LimitKind.AtLeast(100, 5000.0), LimitSpec.When.START, "default"))),
                                null),
                        step(
                                "contact",
                                StepKind.MEASUREMENT,
                                "poles",
                                "mic",
                                List.of(point(
                                        "r",
                                        "Contact",
                                        "uOhm",
                                        Scale.LINEAR,
                                        null,
                                        LimitSpec.of(
                                                new LimitKind.Spread(LimitKind.From.LOWEST, 50.0, null),
                                                LimitSpec.When.STEP_END,
                                                "spread"))),
                                null),
                        step(
                                "trip",
                                StepKind.MEASUREMENT,
                                "poles",
                                "inj",
                                List.of(point(
                                        "time",
                                        "Trip",
                                        "s",
                                        Scale.LOGARITHMIC,
                                        null,
                                        LimitSpec.of(new LimitKind.DeviceCurve(), LimitSpec.When.READING, "band"))),
                                null),
                        step(
                                "change",
                                StepKind.DERIVATION,
                                "poles",
                                null,
                                List.of(new TestPoint(
                                        "ratio",
                                        "Ratio",
                                        "1",
                                        Scale.LINEAR,
                                        null,
                                        false,
                                        LimitSpec.of(
                                                new LimitKind.Fixed(0.0, 30.0, null), LimitSpec.When.START, "rule"),
                                        null,
                                        "t / r",
                                        Map.of("t", "reading:trip/time", "r", "reading:contact/r"))),
                                null)));
    }

    private static TestPoint point(
            String id, String label, String unit, Scale scale, @Nullable String correction, LimitSpec limit) {
        return new TestPoint(id, label, unit, scale, "series." + id, true, limit, correction, null, Map.of());
    }

    private static Step step(
            String id,
            StepKind kind,
            @Nullable String lanes,
            @Nullable String gear,
            List<TestPoint> points,
            @Nullable Hold hold) {
        boolean trip = id.equals("trip");
        Map<String, Param> params = trip
                ? Map.of(
                        "current",
                        Param.of(300, "A"),
                        "checkCurrent",
                        Param.of(10, "A"),
                        "greatestImpedance",
                        Param.of(20, "mOhm"))
                : kind == StepKind.MEASUREMENT ? Map.of("current", Param.of(10, "A")) : Map.of();
        Map<String, Param> maxima = trip
                ? Map.of("current", Param.of(330, "A"), "time", Param.of(60, "s"))
                : kind == StepKind.MEASUREMENT ? Map.of("current", Param.of(10.5, "A")) : Map.of();
        return Step.builder(id, kind, "Step " + id)
                .text("Do it")
                .method(trip ? "breaker.longTime" : kind == StepKind.MEASUREMENT ? "contactResistance" : null)
                .lanes(lanes)
                .params(params)
                .maxima(maxima)
                .gear(gear)
                .hazard(kind == StepKind.MEASUREMENT)
                .hold(hold)
                .notAfterFailIn(trip ? "ins" : null)
                .coolMinutes(trip ? (Double) 4.0 : null)
                .points(points)
                .build();
    }

    public static TimeCurrentBand band() {
        return new TimeCurrentBand(
                "sheet",
                "cold",
                List.of(new BandElement(
                        "t",
                        "long time",
                        105,
                        130.0,
                        LogLogTable.of(new double[] {105, 1050}, new double[] {115.1, 1.151}),
                        LogLogTable.of(new double[] {130, 1300}, new double[] {202.4, 2.024}))));
    }

    private static RunEvents.Opened opened(
            Procedure procedure, Map<String, org.juratest.core.limit.ResolvedLimit> limits) {
        Nameplate plate =
                new Nameplate(Map.of("poles", Quantity.of(3, "1"), "longTimeSetting", Quantity.amperes(100)), Map.of());
        Map<String, AccuracySpec> accuracy = Map.of(
                "resistance",
                new AccuracySpec(1, 0, 0, AccuracySpec.Stated.EXPANDED_K2),
                "time",
                new AccuracySpec(0, 0, 0.01, AccuracySpec.Stated.EXPANDED_K2),
                "current",
                new AccuracySpec(1, 0, 0, AccuracySpec.Stated.EXPANDED_K2));
        List<GearFacts> gear = procedure.gear().stream()
                .map(n -> new GearFacts(
                        n.id() + "-1",
                        n.id(),
                        n.role(),
                        "Gear " + n.id(),
                        "M",
                        "X",
                        "S-" + n.id(),
                        TODAY.minusDays(100),
                        TODAY.plusDays(100),
                        "c",
                        accuracy))
                .toList();
        return new RunEvents.Opened(
                "1",
                "interval",
                "00",
                procedure,
                new AssetFacts("a1", "MFR-CBK-07", "MFR", "Montfrel", "lv-breaker", "Orvex", "M160", "1", plate, null),
                gear,
                List.of(),
                band(),
                limits,
                "test",
                "CET");
    }

    private Event event(long n, Actor by, EventData data) {
        now = now.plusSeconds(1);
        return new Event(new UUID(0, ++ids), RUN, n, n == 0 ? null : "00", now, by, "here", data);
    }

    /** Adds as a person, without checking, and what follows. */
    public RunFixture add(EventData data) {
        state = state.after(event(state.n() + 1, Actor.person("tavel"), data));
        for (List<EventData> next = follow(); !next.isEmpty(); next = follow()) {
            for (EventData d : next) {
                state = state.after(event(state.n() + 1, Actor.process("p"), d));
            }
        }
        return this;
    }

    private List<EventData> follow() {
        return Consequences.of(state, () -> new UUID(9, ++ids));
    }

    /** Adds as a person, checked as the server does. */
    public RunFixture act(EventData data) {
        data.check(state);
        return add(data);
    }

    public RunFixture confirmAll() {
        for (String c : List.of("dead", "lock", "plug")) {
            act(new StepEvents.HoldReleased("safe", c));
        }
        return this;
    }

    /** A valid attempt with one value; gives its id. */
    public UUID attempt(String key, double value) {
        return attempt(key, Qualifier.EQUAL, value, Attempt.Outcome.VALID);
    }

    public UUID attempt(String key, Qualifier qualifier, double value, Attempt.Outcome outcome) {
        PointKey point = PointKey.parse(key);
        UUID id = new UUID(5, ++ids);
        add(new AttemptEvents.AttemptBegun(id, point.step(), point.lane(), null, 1));
        ReadingBuilder made;
        if (point.step().equals("trip")) {
            // As the method makes it: at 300 A on the range of 1000 A.
            double slope = state.envelope() == null ? 0 : state.envelope().slopeAt(300);
            made = new ReadingBuilder(state, point, gear("inj"), Reading.Source.MEASURED, value, Unit.SECOND)
                    .accuracy("time")
                    .accuracy("current", 300, 1000, slope)
                    .with("current", Quantity.amperes(300));
        } else {
            made = new ReadingBuilder(state, point, null, Reading.Source.MEASURED, value, unit(point))
                    .typeB(Math.abs(value) * 0.005, 1);
            if (point.step().equals("ins")) {
                made.corrected("temperature", new Correction(Correction.Kind.FACTOR, 1), 0.0, "");
            }
        }
        Reading reading = made.qualifier(qualifier).result().reading();
        if (outcome != Attempt.Outcome.CONNECTION_FAILED) {
            add(new AttemptEvents.ReadingTaken(id, reading));
        }
        add(new AttemptEvents.AttemptClosed(id, outcome, ""));
        return id;
    }

    private Unit unit(PointKey point) {
        return Unit.of(state.procedure()
                .step(point.step())
                .orElseThrow()
                .point(point.point())
                .orElseThrow()
                .unit());
    }

    public GearFacts gear(String need) {
        return state.opened().gear().stream()
                .filter(g -> g.need().equals(need))
                .findFirst()
                .orElseThrow();
    }

    public RunFixture pass(double seconds) {
        now = now.plusMillis((long) (seconds * 1000));
        return this;
    }

    public Instant now() {
        return now;
    }

    public RunState state() {
        return state;
    }

    public PointJudgement point(String key) {
        return RunJudgement.of(state).points().stream()
                .filter(p -> p.key().toString().equals(key))
                .findFirst()
                .orElseThrow();
    }

    /** Everything measured and good, but nothing put back. */
    public RunFixture allMeasured() {
        for (String path : List.of("A-B", "C-E")) {
            attempt("ins/r/" + path, 2000);
        }
        return allMeasuredButInsulation();
    }

    RunFixture allMeasuredButInsulation() {
        confirmAll();
        act(new StepEvents.AnswerGiven("look", "case", Lane.NONE, StepEvents.Answer.IN_ORDER, null));
        for (String pole : List.of("A", "B", "C")) {
            attempt("contact/r/" + pole, 200);
            attempt("trip/time/" + pole, 24);
        }
        return this;
    }

    public List<Event> events() {
        return new ArrayList<>(state.events());
    }
}
