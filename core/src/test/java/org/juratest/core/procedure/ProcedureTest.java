package org.juratest.core.procedure;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Scale;
import org.juratest.core.method.Computing;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.RunFixture;

class ProcedureTest {

    private static Nameplate plate(double poles) {
        return new Nameplate(Map.of("poles", Quantity.of(poles, "1"), "ir", Quantity.of(0.1, "kA")), Map.of());
    }

    @Test
    void lanesShrinkToThePolesThereAre() {
        Procedure two = ProcedureResolver.resolve(RunFixture.procedure(), plate(2), null);
        assertEquals(
                List.of("A", "B"),
                two.laneSets().get("poles").lanes().stream().map(Lane::id).toList());
        Procedure unknown = ProcedureResolver.resolve(RunFixture.procedure(), new Nameplate(Map.of(), Map.of()), null);
        assertEquals(3, unknown.laneSets().get("poles").lanes().size());
    }

    private static Procedure withTrip(Map<String, Param> params) {
        return change(s -> s.id().equals("trip")
                ? s.resolved(
                        params,
                        Map.of(
                                "time",
                                new Param(null, "1.5 * late", Map.of("late", "curve:latest"), "s", null),
                                "current",
                                Param.of(330, "A")))
                : s);
    }

    private static Procedure change(UnaryOperator<Step> change) {
        Procedure p = RunFixture.procedure();
        return RunFixture.withSteps(p, p.steps().stream().map(change).toList());
    }

    @Test
    void formulasOfParametersBecomeValuesInBaseUnits() {
        Map<String, Param> params = Map.of(
                "m",
                Param.of(3, "1"),
                "current",
                new Param(null, "m * ir", Map.of("m", "param:m", "ir", "nameplate:ir"), "A", null));
        Step trip = ProcedureResolver.resolve(withTrip(params), plate(3), RunFixture.band())
                .step("trip")
                .orElseThrow();
        assertEquals(300, trip.params().get("current").value(), 1e-9);
        assertEquals(
                1.5 * RunFixture.band().at(300).latest(),
                trip.maxima().get("time").value(),
                1e-9);
    }

    @Test
    void aParameterThatCannotBeKnownSaysWhy() {
        Map<String, Param> params =
                Map.of("current", new Param(null, "3 * x", Map.of("x", "nameplate:longTimeSetting"), "A", null));
        Step trip = ProcedureResolver.resolve(withTrip(params), plate(3), RunFixture.band())
                .step("trip")
                .orElseThrow();
        assertEquals(
                "the nameplate has no longTimeSetting",
                trip.params().get("current").missing());
        assertTrue(String.valueOf(trip.maxima().get("time").missing()).contains("curve"));
        Nameplate told = plate(3).called(Map.of("longTimeSetting", "Long-time setting Ir", "ir", "Current"));
        Step named = ProcedureResolver.resolve(withTrip(params), told, RunFixture.band())
                .step("trip")
                .orElseThrow();
        assertEquals(
                "the nameplate has no \"Long-time setting Ir\"",
                named.params().get("current").missing(),
                "as people call it");
    }

    /** What a plate may leave blank has its stand-in, in its own unit; what it says counts before that. */
    @Test
    void aBlankOnThePlateIsStoodInFor() {
        for (String key : List.of("ir", "longTimeSetting")) {
            Param param = new Param(null, "3 * x", Map.of("x", "nameplate:" + key), "A", null, null, null, null, 7.0);
            Step trip = ProcedureResolver.resolve(withTrip(Map.of("current", param)), plate(3), RunFixture.band())
                    .step("trip")
                    .orElseThrow();
            assertEquals(
                    key.equals("ir") ? 300 : 7, trip.params().get("current").value(), 1e-9);
            assertEquals(null, trip.params().get("current").missing());
        }
        Param follows = new Param(null, "x", Map.of("x", "param:none"), "A", null, null, null, null, 7.0);
        assertEquals(
                null,
                ProcedureResolver.resolve(withTrip(Map.of("current", follows)), plate(3), RunFixture.band())
                        .step("trip")
                        .orElseThrow()
                        .params()
                        .get("current")
                        .value(),
                "only a blank on the plate is left on purpose");
    }

    private static @Nullable MethodSpec spec(String method) {
        return Methods.byName(method).map(Method::spec).orElse(null);
    }

    private static List<String> problems(UnaryOperator<Step> change) {
        return ProcedureCheck.problems(change(change), ProcedureTest::spec).stream()
                .map(ProcedureCheck.Problem::toString)
                .toList();
    }

    @Test
    void aGoodProcedureHasNoProblems() {
        assertEquals(List.of(), problems(UnaryOperator.identity()));
    }

    private static Step point(
            Step s,
            @Nullable String unit,
            @Nullable LimitSpec limit,
            @Nullable String formula,
            Map<String, String> inputs) {
        TestPoint p = s.points().get(0);
        return copy(
                s,
                s.kind(),
                s.method(),
                List.of(new TestPoint(
                        p.id(), p.label(), unit, Scale.LINEAR, null, p.required(), limit, null, formula, inputs)));
    }

    private static Step copy(Step s, StepKind kind, @Nullable String method, List<TestPoint> points) {
        return Step.builder(s.id(), kind, s.title())
                .text(s.text())
                .method(method)
                .lanes(s.lanes())
                .params(s.params())
                .maxima(s.maxima())
                .gear(s.gear())
                .hazard(s.hazard())
                .hold(s.hold())
                .minutes(s.minutes())
                .required(s.required())
                .notAfterFailIn(s.notAfterFailIn())
                .coolMinutes(s.coolMinutes())
                .repeats(s.repeats())
                .points(points)
                .build();
    }

    @Test
    void everyProblemIsNamedWithItsPlace() {
        LimitSpec bad = LimitSpec.of(
                new LimitKind.Formula(null, "2 * (r", null, Map.of("r", "reading:contact/r")),
                LimitSpec.When.STEP_END,
                "s");
        List<String> found = problems(s -> s.id().equals("ins") ? point(s, "MOhm", bad, null, Map.of()) : s);
        assertEquals(1, found.size());
        assertTrue(found.get(0).startsWith("steps[2].points[0].limit.high: formula \"2 * (r\""), found.get(0));
        assertTrue(found.get(0).contains("at character 5"), found.get(0));
        LimitSpec unlisted =
                LimitSpec.of(new LimitKind.Formula(null, "2 * q", null, Map.of()), LimitSpec.When.STEP_END, "s");
        assertTrue(problems(s -> s.id().equals("ins") ? point(s, "MOhm", unlisted, null, Map.of()) : s)
                .get(0)
                .contains("\"q\" at character 5"));
        assertEquals(
                List.of("steps[2].points[0].unit: unknown unit code \"blob\""),
                problems(s -> s.id().equals("ins")
                        ? point(
                                s,
                                "blob",
                                LimitSpec.of(new LimitKind.AtMost(1, null), LimitSpec.When.START, "s"),
                                null,
                                Map.of())
                        : s));
        assertTrue(problems(s -> s.id().equals("ins") ? point(s, "MOhm", null, null, Map.of()) : s)
                .get(0)
                .contains("needs a limit"));
        assertTrue(problems(s -> s.id().equals("change")
                        ? point(s, "1", null, "t / r", Map.of("t", "reading:nowhere/x", "r", "param:q"))
                        : s)
                .containsAll(List.of(
                        "steps[5].points[0].formula.inputs.t: there is no point \"nowhere/x\"",
                        "steps[5].points[0].formula.inputs.r: the step has no parameter \"q\"")));
        assertTrue(problems(s -> s.id().equals("trip") ? copy(s, s.kind(), "noSuch", s.points()) : s)
                .get(0)
                .startsWith("steps[4].method"));
        assertTrue(problems(s -> s.id().equals("trip") ? s.resolved(s.params(), Map.of()) : s)
                .get(0)
                .startsWith("steps[4].maxima"));
    }

    // ---- bands: lanes that only some devices have

    private static final LaneSet BANDS = new LaneSet(
            "band",
            null,
            List.of(
                    new Lane("vhf", "VHF", List.of(), null, "vhfPower"),
                    new Lane("uhf", "UHF", List.of(), null, "uhfPower")));

    /**
     * The contact step on the bands of a radio, with its power from the plate; a step for those with an antenna line
     * follows.
     */
    private static Procedure onBands(Step.Relations more) {
        Map<String, Param> params = Map.of(
                "ratedPower",
                new Param(null, "p", Map.of("p", "nameplate:{lane}Power"), "W", null),
                "low",
                new Param(null, "p / 10", Map.of("p", "param:ratedPower"), "W", null));
        Procedure p = RunFixture.procedure();
        Step step = on("bands", p.step("contact").orElseThrow(), params, more);
        Step line = on(
                null,
                Step.builder("line", StepKind.ENTRY, "Line")
                        .required(false)
                        .points(p.step("ins").orElseThrow().points())
                        .build(),
                Map.of(),
                new Step.Relations(List.of(), false, false, "antennaLine", List.of(), null, null, null));
        return new Procedure(
                p.format(),
                p.code(),
                p.version(),
                p.title(),
                p.family(),
                p.appliesTo(),
                p.rule(),
                p.gear(),
                Map.of("bands", BANDS),
                List.of(step, line));
    }

    private static Step on(@Nullable String lanes, Step s, Map<String, Param> params, Step.Relations more) {
        return Step.builder(s.id(), s.kind(), s.title())
                .text(s.text())
                .method(s.method())
                .lanes(lanes)
                .params(params)
                .gear(s.gear())
                .hazard(s.hazard())
                .hold(s.hold())
                .minutes(s.minutes())
                .required(s.required())
                .repeats(s.repeats())
                .points(s.points())
                .more(more)
                .build();
    }

    private static Nameplate radio(Map<String, Quantity> ratings) {
        return new Nameplate(ratings, Map.of());
    }

    @Test
    void aDeviceHasTheBandsAndTheStepsThatItsPlateNames() {
        Procedure both = ProcedureResolver.resolve(
                onBands(new Step.Relations(List.of(), false, true, null, List.of(), null, null, null)),
                radio(Map.of("vhfPower", Quantity.of(5, "W"), "uhfPower", Quantity.of(4, "W"))),
                null);
        assertEquals(List.of("contact"), both.steps().stream().map(Step::id).toList(), "it has no antenna line");
        Step step = both.steps().get(0);
        assertEquals(
                Map.of("vhf", 5.0, "uhf", 4.0), step.params().get("ratedPower").lanes());
        assertEquals(
                0.4,
                step.at("uhf").params().get("low").value(),
                1e-12,
                "a formula over a value that differs by band does so too");
        Procedure one = ProcedureResolver.resolve(
                onBands(new Step.Relations(List.of(), true, true, null, List.of(), null, null, null)),
                radio(Map.of("uhfPower", Quantity.of(4, "W"), "antennaLine", Quantity.of(1, "1"))),
                null);
        assertEquals(List.of("uhf"), one.lanesOf(one.steps().get(0), Scope.ALL));
        assertEquals(
                List.of("contact", "line"), one.steps().stream().map(Step::id).toList());
        Procedure unknown = ProcedureResolver.resolve(
                onBands(new Step.Relations(List.of(), false, true, null, List.of(), null, null, null)),
                radio(Map.of()),
                null);
        assertEquals(2, unknown.laneSets().get("bands").lanes().size(), "a plate that says nothing leaves both");
        assertEquals(
                "the nameplate has no uhfPower",
                unknown.steps().get(0).at("uhf").params().get("ratedPower").missing());
    }

    @Test
    void whatIsSharedIsProvedOnTheFirstBandInScope() {
        Procedure p = onBands(new Step.Relations(List.of(), true, true, null, List.of(), null, null, null));
        Step shared = p.steps().get(0);
        assertEquals(List.of("vhf"), p.lanesOf(shared, Scope.ALL));
        assertEquals(List.of("uhf"), p.provedElsewhere(shared, Scope.ALL));
        Scope noVhf = new Scope(Set.of(), Map.of("bands", Set.of("vhf")));
        assertEquals(List.of("uhf"), p.lanesOf(shared, noVhf));
        assertEquals(List.of(), p.provedElsewhere(shared, noVhf));
    }

    @Test
    void whatAStepMayAskMoreIsCheckedByPlace() {
        List<String> found = ProcedureCheck.problems(
                        onBands(new Step.Relations(
                                List.of("radio"), false, true, null, List.of("later", "contact"), null, null, null)),
                        ProcedureTest::spec)
                .stream()
                .map(ProcedureCheck.Problem::toString)
                .filter(f -> f.contains(".more."))
                .toList();
        assertEquals(
                List.of(
                        "steps[0].more.also: there is no gear \"radio\"",
                        "steps[0].more.touches: there is no earlier step \"later\"",
                        "steps[0].more.touches: there is no earlier step \"contact\""),
                found);
        Procedure p = RunFixture.procedure();
        Step look = on(
                null,
                p.step("look").orElseThrow(),
                Map.of(),
                new Step.Relations(List.of(), true, true, null, List.of(), null, null, null));
        assertEquals(
                List.of(
                        "steps[0].more.flows: only a step with a method follows by itself",
                        "steps[0].more.shared: only a step with lanes is shared between them"),
                ProcedureCheck.problems(RunFixture.withSteps(p, List.of(look)), ProcedureTest::spec).stream()
                        .map(ProcedureCheck.Problem::toString)
                        .toList());
    }

    @Test
    void scopeKeysAndNamesParse() {
        assertEquals(Set.of("ins"), new Scope(Set.of("ins"), Map.of()).withoutSteps());
        assertEquals("a/b/C", PointKey.parse("a/b/C").toString());
        assertThrows(IllegalArgumentException.class, () -> PointKey.parse("a/b"));
        assertThrows(IllegalArgumentException.class, () -> new Lane("-", "none", List.of(), null));
    }

    // ---- what a step asks of its method

    private static Step asking(
            Step s,
            Map<String, Param> params,
            Map<String, Param> maxima,
            boolean hazard,
            String gear,
            TestPoint point) {
        return Step.builder(s.id(), s.kind(), s.title())
                .text(s.text())
                .method(s.method())
                .lanes(s.lanes())
                .params(params)
                .maxima(maxima)
                .gear(gear)
                .hazard(hazard)
                .hold(s.hold())
                .minutes(s.minutes())
                .required(s.required())
                .notAfterFailIn(s.notAfterFailIn())
                .coolMinutes(s.coolMinutes())
                .repeats(s.repeats())
                .points(List.of(point))
                .build();
    }

    private static TestPoint named(TestPoint p, String id, String unit) {
        return new TestPoint(
                id,
                p.label(),
                unit,
                p.scale(),
                p.series(),
                p.required(),
                p.limit(),
                p.correction(),
                p.formula(),
                p.inputs());
    }

    private static List<String> asked(UnaryOperator<Step> change) {
        return problems(s -> s.id().equals("contact") ? change.apply(s) : s);
    }

    @Test
    void whatAStepAsksOfItsMethodIsHeldToWhatTheMethodDeclares() {
        Map<String, Param> ten = Map.of("current", Param.of(10, "A"));
        Map<String, Param> most = Map.of("current", Param.of(10.5, "A"));
        TestPoint r =
                RunFixture.procedure().step("contact").orElseThrow().points().get(0);
        String at = "steps[3].";
        assertEquals(
                List.of(at + "hazard: \"contactResistance\" can hurt (current): it must be true"),
                asked(s -> asking(s, ten, most, false, "mic", r)));
        assertEquals(
                List.of(at + "gear: \"contactResistance\" needs gear of the role \"micro-ohmmeter\""),
                asked(s -> asking(s, ten, most, true, "inj", r)));
        assertEquals(
                List.of(at + "params.curent: \"contactResistance\" has no use for it, and no formula reads it; "
                        + "it takes current"),
                asked(s -> asking(
                        s, Map.of("current", Param.of(10, "A"), "curent", Param.of(10, "A")), most, true, "mic", r)));
        assertEquals(
                List.of(at + "params.current: \"contactResistance\" needs it"),
                asked(s -> asking(s, Map.of(), most, true, "mic", r)));
        assertEquals(
                List.of(at + "params.current.unit: \"contactResistance\" takes a current, not a voltage"),
                asked(s -> asking(s, Map.of("current", Param.of(10, "V")), most, true, "mic", r)));
        assertEquals(
                List.of(at + "params.current.value: \"contactResistance\" takes 0.001 to 1000.0 A, not 10.0 kA"),
                asked(s -> asking(s, Map.of("current", Param.of(10, "kA")), most, true, "mic", r)));
        assertEquals(
                List.of(at + "maxima.current: \"contactResistance\" needs it"),
                asked(s -> asking(s, ten, Map.of("time", Param.of(1, "s")), true, "mic", r))
                        .subList(0, 1));
        assertEquals(
                List.of(at + "points[0].unit: \"contactResistance\" reads it in µΩ, which is a "
                        + "resistance, not a time"),
                asked(s -> asking(s, ten, most, true, "mic", named(r, "r", "s"))));
        List<String> unknown = asked(s -> asking(s, ten, most, true, "mic", named(r, "R", "uOhm")));
        assertTrue(
                unknown.contains(at + "points[0].id: \"contactResistance\" reads no \"R\"; it reads r"),
                unknown.toString());
        assertEquals(
                List.of(at + "method: there is no method \"guess\""),
                asked(s -> copy(s, s.kind(), "guess", s.points())));
        assertEquals(
                List.of(),
                asked(s -> asking(
                        s,
                        Map.of(
                                "share",
                                Param.of(2, "1"),
                                "current",
                                new Param(null, "5 * x", Map.of("x", "param:share"), "A", null)),
                        most,
                        true,
                        "mic",
                        r)),
                "what only a formula reads is no slip");
    }

    @Test
    void everyMethodDeclaresWhatItIs() {
        assertTrue(Methods.all().size() >= 20, "there are methods: " + Methods.names());
        Methods.all().forEach(m -> {
            assertTrue(!m.spec().points().isEmpty(), m.name() + " reads something");
            assertEquals(m instanceof Computing, m.spec().ports().isEmpty(), m.name() + " needs gear, or computes");
            assertTrue(
                    m.spec().hazard() == MethodSpec.Hazard.NONE
                            || !m.spec().maxima().isEmpty(),
                    m.name() + " can hurt, and asks for its greatest values");
        });
    }
}
