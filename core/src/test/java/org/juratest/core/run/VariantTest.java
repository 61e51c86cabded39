package org.juratest.core.run;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.bench.Sequence;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.Hold;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;

/** Scope by step and lane, shared steps, limits and parameters by lane, variants, and what follows by itself. */
class VariantTest {

    private static Step with(Step s, boolean shared, boolean flows, String... touches) {
        Hold hold = s.hold() == null
                ? null
                : new Hold(s.hold().confirmations().stream()
                        .map(c -> new Confirmation(c.id(), c.text(), null, null))
                        .toList());
        return Step.builder(s.id(), s.kind(), s.title())
                .text(s.text())
                .method(s.method())
                .lanes(s.lanes())
                .params(s.params())
                .maxima(s.maxima())
                .gear(s.gear())
                .hazard(s.hazard())
                .hold(hold)
                .minutes(s.minutes())
                .required(s.required())
                .repeats(s.repeats())
                .points(s.points())
                .more(new Step.Relations(List.of(), shared, flows, null, List.of(touches), null, null, null))
                .build();
    }

    /**
     * The insulation is measured by hand, contact is shared if told so, the trip follows and may change the contact.
     */
    private static Procedure procedure(Procedure p, boolean shared, String... touches) {
        return RunFixture.withSteps(
                p,
                p.steps().stream()
                        .map(s -> s.id().equals("contact")
                                ? with(s, shared, true)
                                : s.id().equals("trip") ? with(s, false, true, touches) : with(s, false, false))
                        .toList());
    }

    private static Scope without(Set<String> steps, String... pairs) {
        return new Scope(steps, Map.of(), Set.of(pairs));
    }

    private static LimitSpec atMost(double high) {
        return LimitSpec.of(new LimitKind.Fixed(null, high, null), LimitSpec.When.START, "house rule");
    }

    private static List<String> keys(RunFixture told, String step) {
        return told.state().procedure().keys(told.state().scope()).stream()
                .filter(k -> k.step().equals(step))
                .map(PointKey::lane)
                .toList();
    }

    private static List<String> places(RunFixture told, String step, String lane) {
        return Sequence.all(told.state(), new Sequence.Place(step, lane), told.now(), RunFixture.TODAY).stream()
                .map(Object::toString)
                .toList();
    }

    // ---- scope by step and lane, shared steps

    @Test
    void onePairIsLeftOutAndSaidToBeNotTested() {
        RunFixture told = new RunFixture().act(new RunEvents.ScopeSet(without(Set.of(), "contact/B")));
        assertEquals(List.of("A", "C"), keys(told, "contact"));
        assertEquals(List.of("A", "B", "C"), keys(told, "trip"), "the other steps keep the lane");
        assertTrue(
                RunJudgement.of(told.state()).notTested().stream()
                        .anyMatch(n -> n.contains("Step contact") && n.contains("B")),
                RunJudgement.of(told.state()).notTested().toString());
        assertEquals(
                "unknown-lane",
                assertThrows(Refusal.class, () -> told.act(new RunEvents.ScopeSet(without(Set.of(), "contact/Z"))))
                        .code());
        assertEquals(
                "scope.withoutPairs",
                assertThrows(Refusal.class, () -> told.act(new RunEvents.ScopeSet(without(Set.of(), "look/A"))))
                        .field());
    }

    @Test
    void aSharedStepIsDoneOnTheFirstLaneInScopeAndSaysSoForTheOthers() {
        RunFixture told = new RunFixture(p -> procedure(p, true));
        assertEquals(List.of("A"), keys(told, "contact"));
        told.act(new RunEvents.ScopeSet(without(Set.of(), "contact/A")));
        assertEquals(List.of("B"), keys(told, "contact"), "the first of those that are left");
        RunJudgement judged = RunJudgement.of(told.state());
        assertTrue(String.valueOf(judged.provedOnce()).contains("C"), judged.toString());
        assertFalse(
                judged.notTested().stream().anyMatch(n -> n.contains("contact") && n.contains("C")),
                "what is proved elsewhere is not untested: " + judged.notTested());
        assertNull(
                RunJudgement.of(new RunFixture().state()).provedOnce(),
                "absent where nothing is shared, so that old judgements keep their hash");
    }

    // ---- limits and parameters by lane

    @Test
    void aLimitOfOneLaneIsRestoredAlone() {
        RunFixture told = new RunFixture()
                .act(new AttemptEvents.LimitChanged(
                        "ins",
                        "r",
                        LimitSpec.of(new LimitKind.AtLeast(3000, null), LimitSpec.When.START, "site"),
                        "damp",
                        "C-E"));
        told.attempt("ins/r/A-B", 2000);
        told.attempt("ins/r/C-E", 2000);
        assertEquals(Verdict.FAIL, told.point("ins/r/C-E").verdict());
        assertTrue(told.point("ins/r/A-B").verdict() != Verdict.FAIL);
        told.act(new AttemptEvents.BackToProcedure("ins", "r", null, "C-E"));
        assertTrue(told.point("ins/r/C-E").verdict() != Verdict.FAIL, "restored");
        assertTrue(told.state().changedLimits().isEmpty());
    }

    @Test
    void aParameterOfOneLaneCountsThereAndIsFixedOnceItWasUsed() {
        RunFixture told =
                new RunFixture().act(new AttemptEvents.ParamChanged("contact", "current", "B", 5, "thin bar"));
        Step step = told.state().procedure().step("contact").orElseThrow();
        assertEquals(5, step.at("B").params().get("current").value());
        assertEquals(10, step.at("A").params().get("current").value());
        told.attempt("contact/r/A", 200);
        told.act(new AttemptEvents.ParamChanged("contact", "current", "B", 6, "not that thin"));
        told.attempt("contact/r/B", 200);
        assertEquals(
                "already-measured",
                assertThrows(
                                Refusal.class,
                                () -> told.act(new AttemptEvents.ParamChanged("contact", "current", "B", 5, "again")))
                        .code());
        assertEquals(
                "already-measured",
                assertThrows(
                                Refusal.class,
                                () -> told.act(new AttemptEvents.BackToProcedure("contact", null, "current", "B")))
                        .code());
    }

    @ParameterizedTest
    @CsvSource({
        "contact,currant,A,5",
        "contact,current,Z,5",
        "contact,current,A,11",
        "contact,current,A,NaN",
        "nowhere,current,A,5"
    })
    void aParameterThatIsNotThereOrBeyondItsGreatestIsRefused(String step, String param, String lane, double value) {
        assertThrows(Refusal.class, () -> new RunFixture()
                .act(new AttemptEvents.ParamChanged(step, param, lane, value, "why")));
    }

    // ---- variants

    @Test
    void aVariantCarriesWhatAnotherRunChangedAndLeavesOutWhatTheDeviceHasNot() {
        RunFixture first = new RunFixture()
                .act(new RunEvents.ScopeSet(without(Set.of("change"), "contact/C")))
                .act(new AttemptEvents.LimitChanged("ins", "r", atMost(9000), "site", "A-B"))
                .act(new AttemptEvents.ParamChanged("contact", "current", "B", 5, "thin bar"));
        Variant variant = Variant.of(first.state(), "SHORT", "Short", 3);
        variant.check(RunFixture.procedure());
        RunFixture second = new RunFixture(p -> RunFixture.withSteps(
                p, p.steps().stream().filter(s -> !s.id().equals("change")).toList()));
        second.act(variant.applied(second.state(), "ab"));
        assertEquals(
                without(Set.of(), "contact/C"),
                second.state().scope(),
                "a step that this device does not have is not left out of it");
        assertEquals(
                9000, second.state().limits().get(PointKey.parse("ins/r/A-B")).high());
        assertEquals(
                5,
                second.state()
                        .procedure()
                        .step("contact")
                        .orElseThrow()
                        .at("B")
                        .params()
                        .get("current")
                        .value());
        assertEquals(
                "SHORT 3",
                second.state().variant().variant() + " "
                        + second.state().variant().revision());
        // Applying nothing is the procedure as it stands.
        second.act(new RunEvents.VariantApplied(null, null, null, null, Scope.ALL, List.of(), List.of()));
        assertEquals(
                new RunFixture().state().limits().get(PointKey.parse("ins/r/A-B")),
                second.state().limits().get(PointKey.parse("ins/r/A-B")));
        assertTrue(second.state().changedParams().isEmpty() && second.state().variant() == null);
    }

    private static RunFixture withExtra(String... extra) {
        return new RunFixture(p -> RunFixture.withSteps(
                p,
                p.steps().stream()
                        .map(s -> List.of(extra).contains(s.id()) ? extra(s) : s)
                        .toList()));
    }

    private static Step extra(Step s) {
        return Step.builder(s.id(), s.kind(), s.title())
                .text(s.text())
                .method(s.method())
                .lanes(s.lanes())
                .params(s.params())
                .maxima(s.maxima())
                .gear(s.gear())
                .hazard(s.hazard())
                .hold(s.hold())
                .minutes(s.minutes())
                .required(s.required())
                .repeats(s.repeats())
                .points(s.points())
                .more(new Step.Relations(List.of(), false, false, null, List.of(), null, null, null, null, true))
                .build();
    }

    @Test
    void anExtraStepTakesPartOnlyWhereItIsNamed() {
        RunFixture told = withExtra("ins", "contact");
        assertEquals(Set.of("ins", "contact"), told.state().scope().withoutSteps(), "a run begins without them");
        RunEvents.ScopeSet asked =
                new RunEvents.ScopeSet(new Scope(Set.of("look"), Map.of(), null, Set.of("contact", "trip")));
        told.act(asked.over(told.state()));
        assertEquals(Set.of("look", "ins"), told.state().scope().withoutSteps());
        assertEquals(null, told.state().scope().withSteps(), "what is written says what is left out, as ever");
        // Applying nothing brings back what a run begins with.
        told.act(RunEvents.VariantApplied.none(told.state()));
        assertEquals(Set.of("ins", "contact"), told.state().scope().withoutSteps());
    }

    @ParameterizedTest
    @CsvSource({"nowhere,unknown-step", "look,contradiction"})
    void aStepThatIsNotThereOrLeftOutAsWellIsNotTakenIn(String step, String code) {
        RunFixture told = withExtra("contact");
        RunEvents.ScopeSet asked = new RunEvents.ScopeSet(new Scope(Set.of("look"), Map.of(), null, Set.of(step)));
        Refusal refused = assertThrows(Refusal.class, () -> asked.over(told.state()));
        assertEquals(code + " scope.withSteps", refused.code() + " " + refused.field());
    }

    @Test
    void aVariantBringsTheExtraStepsItWasSavedWithAndNoneThatCameLater() {
        RunFixture first = withExtra("contact");
        first.act(new RunEvents.ScopeSet(Scope.ALL));
        Variant variant = Variant.of(first.state(), "WITH", "With contact", 1);
        variant.check(RunFixture.procedure());
        RunFixture later = withExtra("ins", "contact");
        later.act(variant.applied(later.state(), "ab"));
        assertEquals(Set.of("ins"), later.state().scope().withoutSteps());
        Variant unknown = new Variant(
                Variant.FORMAT,
                "W1",
                "W",
                variant.procedure(),
                1,
                new Scope(Set.of(), Map.of(), null, Set.of("nowhere")),
                List.of(),
                List.of());
        assertEquals(
                "scope.withSteps",
                assertThrows(Refusal.class, () -> unknown.check(RunFixture.procedure()))
                        .field());
    }

    @Test
    void aVariantIsNotAppliedToARunThatHasBegun() {
        RunFixture told = new RunFixture();
        told.attempt("ins/r/A-B", 2000);
        assertThrows(
                Refusal.class,
                () -> told.act(new RunEvents.VariantApplied("V1", "V", 1, "00", Scope.ALL, List.of(), List.of())));
    }

    @ParameterizedTest
    @CsvSource({
        "format,format",
        "code,code",
        "name,name",
        "procedure,procedure",
        "revision,revision",
        "step,scope.withoutSteps",
        "pair,scope.withoutPairs",
        "limitLane,limits[0].lane",
        "paramLane,params[0].lane",
        "point,limits[0].point",
        "param,params[0].param",
        "value,params[0].value"
    })
    void whatIsWrongInAVariantIsNamed(String wrong, String field) {
        Variant variant = new Variant(
                wrong.equals("format") ? "other/1" : Variant.FORMAT,
                wrong.equals("code") ? "a b" : "V-1",
                wrong.equals("name") ? " " : "V",
                wrong.equals("procedure") ? "X" : "T",
                wrong.equals("revision") ? 0 : 1,
                without(
                        wrong.equals("step") ? Set.of("nowhere") : Set.of(),
                        wrong.equals("pair") ? "look/A" : "contact/A"),
                List.of(new AttemptEvents.LimitChanged(
                        "ins",
                        wrong.equals("point") ? "q" : "r",
                        atMost(1),
                        "r",
                        wrong.equals("limitLane") ? "A" : "A-B")),
                List.of(new AttemptEvents.ParamChanged(
                        "contact",
                        wrong.equals("param") ? "q" : "current",
                        wrong.equals("paramLane") ? "Z" : null,
                        wrong.equals("value") ? Double.POSITIVE_INFINITY : 5,
                        "r")));
        assertEquals(
                field,
                assertThrows(Refusal.class, () -> variant.check(RunFixture.procedure()))
                        .field());
    }

    // ---- what follows by itself, what is aligned

    @Test
    void aSequenceGoesOnAsLongAsNoHandIsNeeded() {
        RunFixture told = new RunFixture(p -> procedure(p, false)).confirmAll();
        assertEquals(
                List.of("contact/B", "contact/C", "contact/A", "trip/A", "trip/B", "trip/C"),
                places(told, "contact", "B"),
                "from where it is, then the rest of the step");
        told.attempt("contact/r/B", 200);
        assertEquals(List.of("contact/A", "contact/C", "trip/A", "trip/B", "trip/C"), places(told, "contact", "A"));
        assertEquals(List.of(), places(told, "safe", "-"), "instructions are for a person");
        told.act(new StepEvents.StepSkipped("trip", "no outage"));
        assertEquals(List.of("contact/A", "contact/C"), places(told, "contact", "A"));
        RunFixture notYet = new RunFixture(p -> procedure(p, false));
        assertEquals(List.of(), places(notYet, "contact", "A"), "what may not be measured is not in it");
    }

    @Test
    void whatWasAdjustedIsMeasuredAgainAfterTheStepsThatFollow() {
        RunFixture told = new RunFixture(p -> procedure(p, false)).confirmAll();
        List.of("A", "B", "C").forEach(l -> told.attempt("contact/r/" + l, 200));
        told.attempt("trip/time/A", 24);
        told.add(new AttemptEvents.AdjustmentMade(
                List.of(PointKey.parse("contact/r/B")),
                "set",
                List.of(new AttemptEvents.SettingChange("x", "X", 1, 2))));
        assertEquals(List.of("trip/B", "trip/C", "contact/B"), places(told, "trip", "B"));
        assertEquals(2, told.state().adjustments().get(0).settings().get(0).after());
    }

    @Test
    void nothingIsAlignedBeforeItWasMeasuredAsFound() {
        RunFixture told = new RunFixture(p -> procedure(p, false, "contact")).confirmAll();
        Refusal refusal = assertThrows(
                Refusal.class, () -> Rules.canArm(told.state(), "trip", "B", told.now(), RunFixture.TODAY));
        assertEquals("not-measured-as-found", refusal.code());
        told.attempt("contact/r/A", 200);
        assertThrows(
                Refusal.class,
                () -> Rules.canArm(told.state(), "trip", "B", told.now(), RunFixture.TODAY),
                "another lane does not stand for it");
        UUID attempt = told.attempt("contact/r/B", 200);
        assertEquals(
                "trip",
                Rules.canArm(told.state(), "trip", "B", told.now(), RunFixture.TODAY)
                        .id());
        told.act(new AttemptEvents.AttemptVoided(attempt, AttemptEvents.VoidReason.LEAD, "lead off"));
        assertThrows(
                Refusal.class,
                () -> Rules.canArm(told.state(), "trip", "B", told.now(), RunFixture.TODAY),
                "a voided attempt is no reading as found");
    }
}
