package org.juratest.core.run;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;

class JudgementTest {

    private static final String B = "trip/time/B";

    @Test
    void aRunWithEverythingGoodPassesAndIsComplete() {
        RunJudgement judgement = RunJudgement.of(new RunFixture().allMeasured().state());
        assertEquals(Verdict.PASS, judgement.verdict());
        assertTrue(judgement.complete());
        assertTrue(judgement.passed());
        assertNull(judgement.firstFailed());
    }

    @Test
    void aPoleThatFailedAndWasAdjustedPassesAsLeftAndShowsBoth() {
        RunFixture told = new RunFixture().allMeasured();
        told.attempt("trip/time/B", 24);
        RunFixture fresh = new RunFixture().confirmAll();
        fresh.attempt(B, 41.6);
        assertEquals(Verdict.FAIL, fresh.point(B).verdict());
        fresh.act(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse(B)), "greased"));
        assertEquals(Verdict.FAIL, fresh.point(B).verdict(), "not measured again yet: as found counts");
        fresh.attempt(B, 24.3);
        PointJudgement point = fresh.point(B);
        assertEquals(Verdict.PASS, point.verdict());
        assertEquals(41.6, point.asFound().value());
        assertEquals(Verdict.FAIL, point.asFound().verdict());
        assertEquals(24.3, point.asLeft().value());
        assertEquals("Trip, pole B", RunJudgement.of(fresh.state()).firstFailed());
    }

    @Test
    void afterAnAdjustmentTheLastGroupCountsEvenIfItIsWorse() {
        RunFixture told = new RunFixture();
        told.attempt(B, 24);
        told.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse(B)), "screw turned"));
        told.attempt(B, 60);
        assertEquals(Verdict.FAIL, told.point(B).verdict());
        assertEquals(Verdict.PASS, told.point(B).asFound().verdict());
    }

    @Test
    void anAdjustmentElsewhereDoesNotMakeAsLeft() {
        RunFixture told = new RunFixture();
        told.attempt(B, 24);
        told.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse("trip/time/A")), "screw turned"));
        assertNull(told.point(B).asLeft());
    }

    @Test
    void aFailFollowedByAPassWithNothingDoneIsNotJudged() {
        RunFixture told = new RunFixture();
        told.attempt(B, 60);
        told.attempt(B, 24);
        assertEquals(Verdict.NOT_JUDGED, told.point(B).verdict());
        assertTrue(told.point(B).why().contains("review"));
    }

    @Test
    void voidingTheFailedAttemptForItsSetUpLetsTheRepeatCount() {
        RunFixture told = new RunFixture();
        UUID first = told.attempt(B, 60);
        told.act(new AttemptEvents.AttemptVoided(first, AttemptEvents.VoidReason.LEAD, "clamp on pole C"));
        told.attempt(B, 24);
        assertEquals(Verdict.PASS, told.point(B).verdict());
        assertEquals(24, told.point(B).asFound().value());
        assertNotNull(told.state().attempt(first).orElseThrow().voided());
    }

    @Test
    void invalidAttemptsDoNotCount() {
        RunFixture told = new RunFixture();
        told.attempt(B, Qualifier.EQUAL, 60, Attempt.Outcome.ABORTED);
        told.attempt(B, Qualifier.EQUAL, 60, Attempt.Outcome.CONNECTION_FAILED);
        told.attempt(B, Qualifier.EQUAL, 60, Attempt.Outcome.INSTRUMENT_ERROR);
        assertNull(told.point(B).asFound());
        assertEquals("still to do", told.point(B).why());
    }

    @Test
    void repeatsCountTogetherAsTheWorst() {
        RunFixture told = new RunFixture();
        told.attempt(B, 24);
        told.attempt(B, 60);
        assertEquals(Verdict.FAIL, told.point(B).verdict());
        assertEquals(60, told.point(B).counting().value());
        assertEquals(2, told.point(B).counting().count());
        assertNull(told.point(B).asLeft(), "nothing was adjusted");
        assertEquals(24, told.point(B).asFound().value());
    }

    @Test
    void repeatsCountTogetherAsTheMeanWhereTheStepSaysSo() {
        RunFixture told = new RunFixture(p -> with(p, "contact", s -> Step.builder(s.id(), s.kind(), s.title())
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
                .notAfterFailIn(s.notAfterFailIn())
                .coolMinutes(s.coolMinutes())
                .repeats(Step.Repeats.MEAN)
                .points(s.points())
                .build()));
        for (String pole : List.of("A", "B", "C")) {
            told.attempt("contact/r/" + pole, 200);
        }
        told.attempt("contact/r/A", 204);
        told.attempt("contact/r/A", 208);
        PointJudgement.Value mean = told.point("contact/r/A").counting();
        assertEquals(204, mean.value(), 1e-9);
        assertEquals(3, mean.count());
        // s = 4, u_A = 4 / sqrt(3) with 2 degrees of freedom, beside the gear's u_B = 1.04: k is well above 2.
        assertTrue(mean.uncertainty() > 2.5 * 4 / Math.sqrt(3), String.valueOf(mean.uncertainty()));
    }

    private static Procedure with(Procedure p, String id, java.util.function.UnaryOperator<Step> change) {
        return RunFixture.withSteps(
                p,
                p.steps().stream()
                        .map(s -> s.id().equals(id) ? change.apply(s) : s)
                        .toList());
    }

    @Test
    void didNotTripIsABoundThatFailsOnlyPastTheLatestTime() {
        RunFixture told = new RunFixture();
        told.attempt("trip/time/A", Qualifier.MORE, 60, Attempt.Outcome.VALID);
        told.attempt("trip/time/B", Qualifier.MORE, 20, Attempt.Outcome.VALID);
        assertEquals(Verdict.FAIL, told.point("trip/time/A").verdict());
        assertEquals(Verdict.NOT_JUDGED, told.point("trip/time/B").verdict());
    }

    @Test
    void aSpreadWaitsForTheOtherPolesAndIsThenFixed() {
        RunFixture told = new RunFixture();
        told.attempt("contact/r/A", 198);
        assertEquals("waiting for pole B, pole C", told.point("contact/r/A").why());
        assertEquals(Verdict.NOT_JUDGED, told.point("contact/r/A").verdict());
        told.attempt("contact/r/B", 203);
        told.attempt("contact/r/C", 310);
        assertEquals(297, told.point("contact/r/C").limit().high(), 1e-9);
        assertEquals(Verdict.FAIL, told.point("contact/r/C").verdict());
        told.add(new AttemptEvents.AdjustmentMade(
                List.of(PointKey.parse("contact/r/A"), PointKey.parse("contact/r/C")), "contacts cleaned"));
        told.attempt("contact/r/A", 100);
        told.attempt("contact/r/C", 210);
        assertEquals(297, told.point("contact/r/C").limit().high(), 1e-9);
        assertEquals(Verdict.PASS, told.point("contact/r/C").verdict());
    }

    @Test
    void aSpreadOfOneLaneIsNotJudged() {
        RunFixture told = new RunFixture();
        told.act(new RunEvents.ScopeSet(new Scope(Set.of(), Map.of("poles", Set.of("B", "C")))));
        told.attempt("contact/r/A", 198);
        assertEquals(Verdict.NOT_JUDGED, told.point("contact/r/A").verdict());
        assertTrue(told.point("contact/r/A").why().contains("at least two poles"));
    }

    @Test
    void whatTheScopeLeavesOutIsListedAndTheRecordMayPass() {
        RunFixture told = new RunFixture();
        told.act(new RunEvents.ScopeSet(new Scope(Set.of("ins"), Map.of("poles", Set.of("C")))));
        told.confirmAll();
        told.act(new StepEvents.AnswerGiven("look", "case", "-", StepEvents.Answer.IN_ORDER, null));
        for (String pole : List.of("A", "B")) {
            told.attempt("contact/r/" + pole, 200);
            told.attempt("trip/time/" + pole, 24);
        }
        RunJudgement judgement = RunJudgement.of(told.state());
        assertTrue(judgement.passed());
        assertTrue(judgement.notTested().contains("Step ins"));
        assertTrue(judgement.notTested().contains("Step trip, pole C"));
    }

    @Test
    void aSkippedRequiredStepLeavesTheRunIncompleteAndNeverPassed() {
        RunFixture told = new RunFixture();
        told.act(new StepEvents.StepSkipped("ins", "tester left at the depot"));
        told.allMeasuredButInsulation();
        RunJudgement judgement = RunJudgement.of(told.state());
        assertFalse(judgement.complete());
        assertFalse(judgement.passed());
        assertEquals(
                "skipped: tester left at the depot", told.point("ins/r/A-B").why());
    }

    @Test
    void aDerivationFollowsItsInputs() {
        RunFixture told = new RunFixture();
        told.attempt("contact/r/A", 200);
        assertNull(told.point("change/ratio/A").asFound());
        told.attempt("trip/time/A", 24);
        assertEquals(0.12, told.point("change/ratio/A").counting().value(), 1e-12);
        assertEquals(Verdict.PASS, told.point("change/ratio/A").verdict());
        assertTrue(told.point("change/ratio/A").counting().uncertainty() > 0);
        told.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse("trip/time/A")), "greased"));
        told.attempt("trip/time/A", 30);
        assertEquals(0.15, told.point("change/ratio/A").counting().value(), 1e-12);
    }

    @Test
    void aReadingWithoutTheTemperatureItNeedsIsNotJudged() {
        RunFixture told = new RunFixture().confirmAll();
        Entry entry = new Entry(PointKey.parse("ins/r/A-B"), 3, "GOhm", Qualifier.EQUAL);
        entry.accept(told.state(), new UUID(3, 3), RunFixture.TODAY).forEach(told::add);
        PointJudgement point = told.point("ins/r/A-B");
        assertEquals(Verdict.NOT_JUDGED, point.verdict());
        assertEquals(3000, point.asFound().value());
        assertTrue(point.why().contains("equipment temperature"));
    }

    @Test
    void aChangedLimitCountsAndKeepsItsReason() {
        RunFixture told = new RunFixture();
        told.attempt(B, 41.6);
        told.act(new AttemptEvents.LimitChanged(
                "trip",
                "time",
                LimitSpec.of(new LimitKind.AtMost(50, null), LimitSpec.When.START, "agreed with the maker"),
                "old type"));
        assertEquals(Verdict.PASS, told.point(B).verdict());
        assertEquals(
                "old type",
                told.state()
                        .changedLimits()
                        .get(new Changed("trip", "time", null))
                        .reason());
    }
}
