package org.juratest.core.procedure;

import static org.junit.jupiter.api.Assertions.assertEquals;

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
}
