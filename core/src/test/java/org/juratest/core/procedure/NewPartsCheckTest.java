package org.juratest.core.procedure;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.juratest.core.correction.Correction;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Scale;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.RunFixture;
import org.juratest.core.standard.StandardTable;

/** References, discharge, features and corrections as publishing checks them: every fault with its place. */
class NewPartsCheckTest {

    private static final MethodSpec ZERO =
            MethodSpec.named("zero").point("level", Unit.VOLT).build();
    private static final MethodSpec LOOK = MethodSpec.named("look")
            .point("v", Unit.VOLT)
            .feature("spot", Unit.METRE, Map.of("size", Unit.MILLIMETRE))
            .build();

    private static TestPoint point(String id, String unit, List<CorrectionSpec> corrections) {
        return new TestPoint(id, id, unit, Scale.LINEAR, null, false, null, null, null, Map.of(), corrections);
    }

    private static CorrectionSpec good() {
        return new CorrectionSpec(
                "zero",
                Correction.Kind.OFFSET,
                null,
                "0 - z",
                Map.of("z", "reading:zero/level"),
                null,
                List.of(),
                0.0,
                Map.of("z", 0.1));
    }

    private static Step.Relations uses(@Nullable Double valid, @Nullable Discharge discharge, String... used) {
        return new Step.Relations(List.of(), false, false, null, List.of(), List.of(used), valid, discharge);
    }

    private static Step zero() {
        return Step.builder("zero", StepKind.REFERENCE, "Zero")
                .method("zero")
                .points(List.of(point("level", "V", List.of())))
                .more(uses(30.0, null))
                .build();
    }

    private static Step look() {
        return Step.builder("look", StepKind.MEASUREMENT, "Look")
                .method("look")
                .points(List.of(point("v", "V", List.of(good()))))
                .features(List.of(
                        new FeatureSpec("spot", "Spot", "mm", 0.5, 20, List.of(point("size", "mm", List.of())))))
                .more(uses(null, null, "zero"))
                .build();
    }

    private static List<String> problems(UnaryOperator<Step> change) {
        Procedure p = RunFixture.procedure();
        List<Step> steps = new ArrayList<>();
        for (Step step : List.of(zero(), look())) {
            steps.add(change.apply(step));
        }
        Procedure made = new Procedure(
                p.format(),
                p.code(),
                p.version(),
                p.title(),
                p.family(),
                p.appliesTo(),
                p.rule(),
                List.of(),
                Map.of(),
                steps);
        return ProcedureCheck.problems(made, m -> m.equals("zero") ? ZERO : m.equals("look") ? LOOK : null).stream()
                .map(ProcedureCheck.Problem::path)
                .toList();
    }

    private static UnaryOperator<Step> atLook(UnaryOperator<Step.Builder> change) {
        return s -> s.id().equals("look") ? change.apply(s.toBuilder()).build() : s;
    }

    private static UnaryOperator<Step> corrected(CorrectionSpec... corrections) {
        return atLook(b -> b.points(List.of(point("v", "V", List.of(corrections)))));
    }

    private static UnaryOperator<Step> feature(FeatureSpec feature) {
        return atLook(b -> b.features(List.of(feature)));
    }

    @Test
    void whatIsRightHasNoProblems() {
        assertEquals(List.of(), problems(s -> s));
    }

    @Test
    void onlyAnEarlierReferenceIsCountedWith() {
        assertEquals(List.of("steps[1].more.uses"), problems(atLook(b -> b.more(uses(null, null, "look")))));
        assertEquals(List.of("steps[1].more.uses"), problems(atLook(b -> b.more(uses(null, null, "nowhere")))));
        assertEquals(
                List.of("steps[1].more.uses"),
                problems(s -> s.id().equals("zero")
                        ? s.toBuilder().kind(StepKind.MEASUREMENT).more(null).build()
                        : s),
                "a measurement is no reference");
    }

    @Test
    void onlyAReferenceHoldsForATime() {
        assertEquals(List.of("steps[1].more.validMinutes"), problems(atLook(b -> b.more(uses(30.0, null, "zero")))));
        assertEquals(
                List.of("steps[0].more.validMinutes"),
                problems(s -> s.id().equals("zero")
                        ? s.toBuilder().more(uses(0.0, null)).build()
                        : s));
    }

    @Test
    void onlyWhatEnergisesLeavesACharge() {
        assertEquals(
                List.of("steps[1].more.discharge"),
                problems(atLook(b -> b.more(uses(null, new Discharge(50, 5, "Earthed"), "zero")))));
    }

    @Test
    void featuresAreThoseOfTheMethod() {
        List<TestPoint> size = List.of(point("size", "mm", List.of()));
        assertEquals(
                List.of("steps[1].features[0].id"),
                problems(feature(new FeatureSpec("scratch", "Scratch", "mm", 0.5, 20, size))));
        assertEquals(
                List.of("steps[1].features[0].unit"),
                problems(feature(new FeatureSpec("spot", "Spot", "s", 0.5, 20, size))),
                "a place is a length");
        assertEquals(
                List.of("steps[1].features[0].tolerance", "steps[1].features[0].most"),
                problems(feature(new FeatureSpec("spot", "Spot", "mm", -1, 0, size))));
        assertEquals(
                List.of("steps[1].features[0].columns[0].id"),
                problems(feature(
                        new FeatureSpec("spot", "Spot", "mm", 0.5, 20, List.of(point("depth", "mm", List.of()))))));
        assertEquals(
                List.of("steps[1].features[0].columns[0].unit"),
                problems(feature(
                        new FeatureSpec("spot", "Spot", "mm", 0.5, 20, List.of(point("size", "V", List.of()))))));
        assertEquals(
                List.of("steps[1].features[0].columns[1].id"),
                problems(feature(new FeatureSpec(
                        "spot",
                        "Spot",
                        "mm",
                        0.5,
                        20,
                        List.of(point("size", "mm", List.of()), point("size", "mm", List.of()))))));
    }

    @Test
    void rowsHaveNoSpreadBetweenLanes() {
        TestPoint spread = new TestPoint(
                "size",
                "size",
                "mm",
                Scale.LINEAR,
                null,
                true,
                LimitSpec.of(new LimitKind.Spread(LimitKind.From.MEAN, 10.0, null), LimitSpec.When.STEP_END, "default"),
                null,
                null,
                Map.of());
        assertEquals(
                List.of("steps[1].features[0].columns[0].limit.kind", "steps[1].features[0].columns[0].limit"),
                problems(feature(new FeatureSpec("spot", "Spot", "mm", 0.5, 20, List.of(spread)))));
    }

    @Test
    void aCorrectionHasItsAmountInOneWay() {
        CorrectionSpec none =
                new CorrectionSpec("c", Correction.Kind.FACTOR, null, null, Map.of(), null, List.of(), null, Map.of());
        CorrectionSpec two = new CorrectionSpec(
                "c", Correction.Kind.FACTOR, 2.0, "1 + 1", Map.of(), null, List.of(), null, Map.of());
        assertEquals(
                List.of("steps[1].points[0].corrections[0]", "steps[1].points[0].corrections[1]"),
                problems(corrected(none, two)));
    }

    @Test
    void whatACorrectionReadsIsThere() {
        CorrectionSpec unknown = new CorrectionSpec(
                "c",
                Correction.Kind.FACTOR,
                null,
                "a * b",
                Map.of("a", "reading:zero/nothing"),
                null,
                List.of(),
                null,
                Map.of("c", 1.0));
        assertEquals(
                List.of(
                        "steps[1].points[0].corrections[0].formula",
                        "steps[1].points[0].corrections[0].formula.inputs.a",
                        "steps[1].points[0].corrections[0].inputU.c"),
                problems(corrected(unknown)));
    }

    @Test
    void aTableAscendsAndRunsOverSomething() {
        CorrectionSpec table = new CorrectionSpec(
                "c",
                Correction.Kind.FACTOR,
                null,
                null,
                Map.of(),
                "somewhere",
                List.of(new CorrectionSpec.Row(2, 1), new CorrectionSpec.Row(1, 1)),
                -1.0,
                Map.of());
        assertEquals(
                List.of(
                        "steps[1].points[0].corrections[0].of",
                        "steps[1].points[0].corrections[0].table[1].at",
                        "steps[1].points[0].corrections[0].u"),
                problems(corrected(table)));
    }

    @Test
    void theSignOfARowIsNotInAnIdOfAPoint() {
        assertEquals(
                List.of("steps[1].points[0].id", "steps[1].points[0].id"),
                problems(atLook(b -> b.points(List.of(point("v#1", "V", List.of()))))));
    }

    private static final MethodSpec DRIVEN = MethodSpec.named("driven")
            .param("current", Unit.AMPERE, 1, 100)
            .param("drive", Unit.ONE, 0.5, 2, 1)
            .learned("drive", "current")
            .point("v", Unit.VOLT)
            .build();

    private static List<String> learning(String name, String formula, Param.Range range) {
        Param drive = new Param(1.0, null, Map.of(), "1", null, null, range, true);
        Param current = new Param(null, formula, Map.of("d", "param:drive"), "A", null);
        Map<String, Param> params = name.equals("drive")
                ? Map.of("drive", drive, "current", formula.equals("10") ? Param.of(10, "A") : current)
                : Map.of("current", new Param(10.0, null, Map.of(), "A", null, null, range, true));
        Step step = Step.builder("driven", StepKind.MEASUREMENT, "Driven")
                .method("driven")
                .params(params)
                .points(List.of(point("v", "V", List.of())))
                .build();
        return ProcedureCheck.problems(
                        RunFixture.withSteps(RunFixture.procedure(), List.of(step)),
                        m -> m.equals("driven") ? DRIVEN : null)
                .stream()
                .filter(q -> q.path().contains("learned"))
                .map(q -> q.path() + ": " + q.what())
                .toList();
    }

    /** What may be changed after something was measured with it must not be what anything else follows from. */
    @Test
    void onlyWhatDrivesATestIsLearned() {
        Param.Range range = new Param.Range(0.8, 1.25);
        assertEquals(List.of(), learning("drive", "10", range));
        assertEquals(
                List.of("steps[0].params.drive.learned: a formula reads it, "
                        + "so that it is more than what drives the test"),
                learning("drive", "10 * d", range));
        assertEquals(
                List.of("steps[0].params.drive.learned: what is learned needs a range"), learning("drive", "10", null));
        assertEquals(
                List.of("steps[0].params.current.learned: \"driven\" does not learn it"),
                learning("current", "", new Param.Range(1, 20)));
        assertThrows(IllegalArgumentException.class, () -> MethodSpec.named("x").learned("drive", "current"));
    }

    /** A formula whose plate is blank may have a stand-in; a greatest value never, for it would rest on nothing. */
    @Test
    void whatIsLeftBlankMayHaveAStandInButNoGreatestValue() {
        Param drive = new Param(1.0, null, Map.of(), "1", null);
        Map<String, String> from = Map.of("c", "nameplate:c");
        java.util.function.Function<Double, Param> current =
                otherwise -> new Param(null, "2 * c", from, "A", null, null, null, null, otherwise);
        java.util.function.BiFunction<Param, Param, List<String>> problems = (param, most) -> ProcedureCheck.problems(
                        RunFixture.withSteps(
                                RunFixture.procedure(),
                                List.of(Step.builder("driven", StepKind.MEASUREMENT, "Driven")
                                        .method("driven")
                                        .params(Map.of("drive", drive, "current", param))
                                        .maxima(Map.of("current", most))
                                        .points(List.of(point("v", "V", List.of())))
                                        .build())),
                        m -> m.equals("driven") ? DRIVEN : null)
                .stream()
                .map(q -> q.path())
                .filter(q -> q.contains("otherwise"))
                .toList();
        assertEquals(List.of(), problems.apply(current.apply(5.0), current.apply(null)));
        assertEquals(
                List.of("steps[0].maxima.current.otherwise"), problems.apply(current.apply(5.0), current.apply(50.0)));
        assertEquals(
                List.of("steps[0].params.current.otherwise"),
                problems.apply(current.apply(500.0), current.apply(null)));
        assertThrows(
                IllegalArgumentException.class, () -> new Param(1.0, null, Map.of(), "A", null, null, null, null, 2.0));
    }

    private static List<String> judged(LimitKind.Standard by) {
        StandardTable other = new StandardTable(
                "marks",
                "marks-1",
                "marks",
                "house rule",
                Map.of(),
                List.of("zone", "most"),
                List.of(List.of("A", "1")));
        StandardTable table = new StandardTable(
                "ends",
                "ends-1",
                "ends",
                "house rule",
                Map.of(),
                List.of("class", "load below", "lowest", "highest"),
                List.of(List.of("1", "", "-1", "1")));
        Step step = Step.builder("look", StepKind.MEASUREMENT, "Look")
                .method("look")
                .points(List.of(new TestPoint(
                        "v",
                        "v",
                        "V",
                        Scale.LINEAR,
                        null,
                        true,
                        LimitSpec.of(by, LimitSpec.When.START, "by class"),
                        null,
                        null,
                        Map.of(),
                        List.of())))
                .build();
        return ProcedureCheck.problems(
                        RunFixture.withSteps(RunFixture.procedure(), List.of(step)), m -> null, List.of(table, other))
                .stream()
                .map(ProcedureCheck.Problem::path)
                .filter(p -> p.contains("limit"))
                .map(p -> p.substring(p.indexOf("limit") + "limit.".length()))
                .sorted()
                .toList();
    }

    /** A limit of the library goes by columns that its tables have, and by inputs that there are. */
    @Test
    void aLimitOfTheLibraryFitsItsTables() {
        assertEquals(List.of(), judged(new LimitKind.Standard("ends", Map.of("class", "nameplate:class"))));
        assertEquals(List.of("group"), judged(new LimitKind.Standard("stamps", Map.of("class", "nameplate:class"))));
        assertEquals(
                List.of("where.colour", "where.load below"),
                judged(new LimitKind.Standard("ends", Map.of("colour", "red", "load below", "param:none"))));
        assertEquals(
                List.of("where.class", "where.load below"),
                judged(new LimitKind.Standard("ends", Map.of("class", " ", "load below", "0.5"))));
        assertEquals(List.of("where"), judged(new LimitKind.Standard("ends", Map.of())));
        assertEquals(
                List.of("group"),
                judged(new LimitKind.Standard("marks", Map.of("zone", "A"))),
                "a table that methods read as a whole gives no limits");
        assertEquals(
                List.of("where.load below"), judged(new LimitKind.Standard("ends", Map.of("load below", "with:load"))));
    }
}
