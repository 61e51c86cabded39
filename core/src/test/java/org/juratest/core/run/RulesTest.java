package org.juratest.core.run;

import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Duration;
import java.util.List;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.Hold;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;

class RulesTest {

    private static String refused(Executable action) {
        return assertThrows(Refusal.class, action).code();
    }

    private static void arm(RunFixture told, String step, String lane) {
        Rules.canArm(told.state(), step, lane, told.now(), RunFixture.TODAY);
    }

    @Test
    void nothingIsArmedBeforeEveryHoldIsReleased() {
        RunFixture told = new RunFixture();
        told.act(new StepEvents.HoldReleased("safe", "dead"));
        Refusal e = assertThrows(Refusal.class, () -> arm(told, "contact", "A"));
        assertEquals("hold-open", e.code());
        assertTrue(e.getMessage().contains("Locked"), e.getMessage());
        told.act(new StepEvents.HoldReleased("safe", "lock"));
        told.act(new StepEvents.HoldReleased("safe", "plug"));
        assertDoesNotThrow(() -> arm(told, "contact", "A"));
        assertEquals(
                "already-confirmed", refused(() -> new StepEvents.HoldReleased("safe", "lock").check(told.state())));
    }

    @Test
    void whatMustBeBackForAStepIsAskedForAndWhatMustHoldStillHolds() {
        RunFixture told = new RunFixture().confirmAll();
        told.attempt("ins/r/A-B", 2000);
        told.attempt("ins/r/C-E", 2000);
        assertEquals("not-put-back", refused(() -> arm(told, "trip", "A")));
        told.act(new StepEvents.Restored("safe", "plug"));
        assertDoesNotThrow(() -> arm(told, "trip", "A"));
        assertEquals("already-put-back", refused(() -> arm(told, "contact", "A")));
        told.act(new StepEvents.Restored("safe", "lock"));
        assertEquals("already-put-back", refused(() -> arm(told, "trip", "A")));
        assertEquals("nothing-to-put-back", refused(() -> new StepEvents.Restored("safe", "dead").check(told.state())));
    }

    @Test
    void holdsAreReleasedInTheOrderOfTheWork() {
        Procedure two = RunFixture.procedure();
        Step safe = two.step("safe").orElseThrow();
        Step trip = two.step("trip").orElseThrow();
        Step held = Step.builder(trip.id(), trip.kind(), trip.title())
                .text(trip.text())
                .method(trip.method())
                .lanes(trip.lanes())
                .params(trip.params())
                .maxima(trip.maxima())
                .gear(trip.gear())
                .hazard(true)
                .hold(new Hold(List.of(new Confirmation("read", "Greatest values read", null, null))))
                .repeats(trip.repeats())
                .points(trip.points())
                .build();
        RunFixture told = new RunFixture(p -> RunFixture.withSteps(p, List.of(safe, held)));
        assertEquals("hold-open", refused(() -> new StepEvents.HoldReleased("trip", "read").check(told.state())));
        told.confirmAll();
        assertDoesNotThrow(() -> new StepEvents.HoldReleased("trip", "read").check(told.state()));
    }

    @Test
    void neverIntoAPoleThatFailedInsulation() {
        RunFixture told = new RunFixture().confirmAll();
        told.act(new StepEvents.Restored("safe", "plug"));
        assertEquals("not-measured-before", refused(() -> arm(told, "trip", "A")));
        told.attempt("ins/r/A-B", 2000);
        told.attempt("ins/r/C-E", 20);
        assertDoesNotThrow(() -> arm(told, "trip", "A"));
        assertEquals("failed-before", refused(() -> arm(told, "trip", "C")));
        RunFixture skipped = new RunFixture().confirmAll();
        skipped.act(new StepEvents.Restored("safe", "plug"));
        skipped.attempt("ins/r/C-E", 20);
        skipped.act(new StepEvents.StepSkipped("ins", "in a hurry"));
        assertDoesNotThrow(() -> arm(skipped, "trip", "A"));
        assertEquals(
                "failed-before",
                refused(() -> arm(skipped, "trip", "C")),
                "skipping the rest does not mend what failed");
        told.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse("ins/r/C-E")), "dried"));
        told.attempt("ins/r/C-E", 900);
        assertDoesNotThrow(() -> arm(told, "trip", "C"));
    }

    private static void none(RunFixture told, long id, String point, AttemptEvents.Blank blank) {
        UUID attempt = new UUID(41, id);
        PointKey key = PointKey.parse(point);
        told.add(new AttemptEvents.AttemptBegun(attempt, key.step(), key.lane(), null, 1));
        told.add(new AttemptEvents.NoValue(attempt, key, blank, "said"));
        told.add(new AttemptEvents.AttemptClosed(attempt, Attempt.Outcome.VALID, ""));
    }

    /** It is no fault of the device, and no proof that a current may go into it. */
    @Test
    void whatCouldNotBeMeasuredLetsNothingFollow() {
        RunFixture told = new RunFixture().confirmAll();
        told.act(new StepEvents.Restored("safe", "plug"));
        none(told, 1, "ins/r/A-B", AttemptEvents.Blank.NOT_MEASURABLE);
        assertEquals("not-measured-before", refused(() -> arm(told, "trip", "A")));
        none(told, 2, "ins/r/A-B", AttemptEvents.Blank.OVER_RANGE);
        assertDoesNotThrow(() -> arm(told, "trip", "A"), "more than the tester can show is a good insulation");
        none(told, 3, "ins/r/A-B", AttemptEvents.Blank.NOT_MEASURABLE);
        assertEquals("not-measured-before", refused(() -> arm(told, "trip", "A")), "the newest counts");
        told.attempt("ins/r/A-B", 2000);
        assertDoesNotThrow(() -> arm(told, "trip", "A"));
        none(told, 4, "ins/r/A-B", AttemptEvents.Blank.NOTHING_THERE);
        assertEquals("failed-before", refused(() -> arm(told, "trip", "A")));
    }

    @Test
    void anInjectionWaitsForCoolingInTheGearsTimeUnlessOverruled() {
        RunFixture told = new RunFixture().allMeasuredButInsulation();
        told.act(new StepEvents.StepSkipped("ins", "no tester"));
        told.act(new StepEvents.Restored("safe", "plug"));
        UUID id = new UUID(6, 6);
        told.add(new AttemptEvents.AttemptBegun(id, "trip", "A", "inj-1", 4));
        told.add(new OutputEvents.Energised(id, "trip", "A", "inj-1", java.util.Map.of()));
        told.add(new OutputEvents.OutputOff(id, OutputEvents.OffReason.TRIPPED, "", new ReadBack(true, true, "")));
        told.add(new AttemptEvents.AttemptClosed(id, Attempt.Outcome.VALID, ""));
        // 4 min in a time that runs 4 times as fast is 60 s by the clock; one of them is over when the attempt closes.
        assertEquals(
                Duration.ofSeconds(59), Rules.cooling(told.state(), told.state().stepInScope("trip"), told.now()));
        assertEquals("still-cooling", refused(() -> arm(told, "trip", "B")));
        told.act(new StepEvents.CoolingOverruled("spare breaker, only a trial"));
        assertDoesNotThrow(() -> arm(told, "trip", "B"));
        told.pass(120);
        assertEquals(Duration.ZERO, Rules.cooling(told.state(), told.state().stepInScope("trip"), told.now()));
    }

    @Test
    void gearPastItsCalibrationIsNotUsed() {
        RunFixture told = new RunFixture().confirmAll();
        assertEquals(
                "gear-past-calibration",
                refused(() -> Rules.canArm(told.state(), "contact", "A", told.now(), RunFixture.TODAY.plusDays(101))));
        assertDoesNotThrow(
                () -> Rules.canArm(told.state(), "contact", "A", told.now(), RunFixture.TODAY.plusDays(100)));
        told.add(new OutputEvents.GearLost("mic-1", "cable pulled"));
        assertEquals("gear-lost", refused(() -> arm(told, "contact", "A")));
        told.add(new OutputEvents.GearBack("mic-1", "M,X,S,1", new ReadBack(true, true, "off")));
        assertDoesNotThrow(() -> arm(told, "contact", "A"));
    }

    @Test
    void ofSeveralPiecesOfGearOnlyTheSilentOneIsTreatedAsLive() {
        RunFixture told = new RunFixture().confirmAll();
        told.add(new OutputEvents.Energised(new UUID(6, 8), "contact", "B", "mic-1", java.util.Map.of()));
        told.add(new OutputEvents.OutputOff(
                new UUID(6, 8),
                OutputEvents.OffReason.GEAR_LOST,
                "lost",
                new ReadBack(
                        false,
                        false,
                        "off; port: no answer",
                        java.util.List.of(
                                new ReadBack.Part("port-1", false, "no answer"),
                                new ReadBack.Part("mic-1", true, "off")))));
        assertEquals(java.util.Map.of("port-1", "no answer"), told.state().unconfirmed());
        assertDoesNotThrow(() -> arm(told, "contact", "A"), "it does not use the silent one");
    }

    @Test
    void anOutputThatDidNotConfirmItIsOffIsTreatedAsLive() {
        RunFixture told = new RunFixture().confirmAll();
        told.add(new OutputEvents.Energised(new UUID(6, 8), "contact", "B", "mic-1", java.util.Map.of()));
        told.add(new OutputEvents.OutputOff(
                new UUID(6, 8), OutputEvents.OffReason.GEAR_LOST, "lost", ReadBack.silent("no answer")));
        assertEquals("output-unconfirmed", refused(() -> arm(told, "contact", "A")));
        told.add(new OutputEvents.GearBack("mic-1", "M,X,S,1", ReadBack.silent("still no answer")));
        assertEquals("output-unconfirmed", refused(() -> arm(told, "contact", "A")));
        told.add(new OutputEvents.GearBack("mic-1", "M,X,S,1", new ReadBack(true, true, "off")));
        assertDoesNotThrow(() -> arm(told, "contact", "A"));
    }

    @Test
    void unknownStepsLanesAndPointsAreNamed() {
        RunFixture told = new RunFixture().confirmAll();
        assertEquals("unknown-step", refused(() -> arm(told, "nowhere", "A")));
        assertEquals("unknown-lane", refused(() -> arm(told, "contact", "N")));
        assertEquals("not-a-measurement", refused(() -> arm(told, "look", "-")));
        assertEquals("unknown-point", refused(() -> new AttemptEvents.AdjustmentMade(
                        List.of(PointKey.parse("trip/time/N")), "x")
                .check(told.state())));
        assertEquals("unknown-attempt", refused(() -> new AttemptEvents.AttemptVoided(
                        new UUID(4, 4), AttemptEvents.VoidReason.LEAD, "x")
                .check(told.state())));
        assertEquals("unknown-confirmation", refused(() -> new StepEvents.HoldReleased("safe", "nothing")
                .check(told.state())));
        assertEquals("unknown-step", refused(() -> new RunEvents.ScopeSet(
                        new Scope(java.util.Set.of("nowhere"), java.util.Map.of()))
                .check(told.state())));
    }

    @Test
    void scopeIsFixedOnceSomethingWasMeasured() {
        RunFixture told = new RunFixture();
        told.attempt("contact/r/A", 200);
        assertEquals("scope-fixed", refused(() -> new RunEvents.ScopeSet(Scope.ALL).check(told.state())));
    }

    @Test
    void nothingButStoppingWhileLive() {
        RunFixture told = new RunFixture().confirmAll();
        UUID first = told.attempt("contact/r/A", 200);
        told.add(new OutputEvents.Energised(new UUID(6, 7), "contact", "B", "mic-1", java.util.Map.of()));
        assertEquals("output-live", refused(() -> new RunEvents.ScreenTaken("other").check(told.state())));
        assertEquals(
                "output-live", refused(() -> new AttemptEvents.AttemptVoided(first, AttemptEvents.VoidReason.LEAD, "x")
                        .check(told.state())));
        assertEquals("output-live", refused(() -> new RunEvents.Aborted("x").check(told.state())));
        assertEquals("output-live", refused(() -> new StepEvents.Restored("safe", "lock").check(told.state())));
        assertEquals("output-not-safe", refused(() -> Rules.canFinish(told.state())));
        assertEquals("output-not-safe", refused(() -> arm(told, "contact", "B")));
        assertDoesNotThrow(() -> new StepEvents.Note("a spark").check(told.state()));
    }

    @Test
    void finishingNamesWhatIsStillToDo() {
        RunFixture told = new RunFixture().confirmAll();
        assertEquals("not-put-back", refused(() -> Rules.canFinish(told.state())));
        told.act(new StepEvents.Restored("safe", "plug"));
        told.act(new StepEvents.Restored("safe", "lock"));
        Refusal e = assertThrows(Refusal.class, () -> Rules.canFinish(told.state()));
        assertEquals("point-open", e.code());
        assertEquals("look/case/-", e.field());
        RunFixture done = new RunFixture().allMeasured();
        done.act(new StepEvents.Restored("safe", "plug"));
        done.act(new StepEvents.Restored("safe", "lock"));
        assertDoesNotThrow(() -> Rules.canFinish(done.state()));
        done.add(new RunEvents.Finished("MFR-CBK-07/2026/1", RunJudgement.of(done.state()), "test"));
        assertEquals("run-finished", refused(() -> new StepEvents.Note("late").check(done.state())));
    }

    @Test
    void anInterruptedRunWaitsForSomeoneToReadWhy() {
        RunFixture told = new RunFixture().confirmAll();
        told.add(new RunEvents.Interrupted("the server stopped.", ReadBack.silent("no answer")));
        assertEquals("run-interrupted", refused(() -> arm(told, "contact", "A")));
        told.act(new RunEvents.Resumed());
        assertDoesNotThrow(() -> arm(told, "contact", "A"));
    }

    @Test
    void aHoldThatMakesSafeIsNotSkippedAndReasonsAreWords() {
        RunFixture told = new RunFixture();
        assertEquals("hold-cannot-be-skipped", refused(() -> new StepEvents.StepSkipped("safe", "in a hurry")
                .check(told.state())));
        assertEquals("words-missing", refused(() -> new StepEvents.StepSkipped("ins", " ").check(told.state())));
        assertEquals("words-too-long", refused(() -> new StepEvents.Note("x".repeat(5000)).check(told.state())));
        assertEquals("words-missing", refused(() -> new StepEvents.AnswerGiven(
                        "look", "case", "-", StepEvents.Answer.DEFECT, null)
                .check(new RunFixture().confirmAll().state())));
    }

    @ParameterizedTest
    @CsvSource({
        "equipmentTemperature, 14, Cel, ok",
        "equipmentTemperature, 14, s, wrong-unit",
        "equipmentTemperature, 900, Cel, out-of-range",
        "humidity, 61, %, ok",
        "humidity, 101, %, out-of-range",
        "mood, 1, 1, unknown-condition"
    })
    void conditionsAreChecked(String what, double value, String unit, String expected) {
        Executable check =
                () -> new StepEvents.ConditionEntered(what, Quantity.of(value, unit)).check(new RunFixture().state());
        if (expected.equals("ok")) {
            assertDoesNotThrow(check);
        } else {
            assertEquals(expected, refused(check));
        }
    }

    @ParameterizedTest
    @CsvSource({
        "ins/r/A-B, 5, GOhm, ok",
        "ins/r/A-B, 5, s, wrong-unit",
        "ins/r/A-B, 5, furlong, wrong-unit",
        "ins/r/A-B, NaN, MOhm, not-a-number",
        "ins/r/A-B, 0, MOhm, out-of-range",
        "ins/r/A-B, -3, MOhm, out-of-range",
        "ins/r/B-C, 5, MOhm, unknown-lane",
        "ins/x/A-B, 5, MOhm, unknown-point",
        "contact/r/A, 5, uOhm, not-an-entry",
        "nowhere/r/A, 5, uOhm, unknown-step"
    })
    void entriesNameTheFieldAtFault(String key, double value, String unit, String expected) {
        RunFixture told = new RunFixture().confirmAll();
        Executable entry = () -> new Entry(PointKey.parse(key), value, unit, Qualifier.EQUAL)
                .accept(told.state(), new UUID(3, 1), RunFixture.TODAY);
        if (expected.equals("ok")) {
            assertDoesNotThrow(entry);
        } else {
            Refusal e = assertThrows(Refusal.class, entry);
            assertEquals(expected, e.code());
            assertTrue(e.field() != null);
        }
    }

    @Test
    void anEntryIsCorrectedToTwentyDegreesWithItsUncertainty() {
        RunFixture told = new RunFixture().confirmAll();
        told.act(new StepEvents.ConditionEntered(
                StepEvents.ConditionEntered.EQUIPMENT_TEMPERATURE, Quantity.of(10, "Cel")));
        new Entry(PointKey.parse("ins/r/A-B"), 2, "GOhm", Qualifier.MORE)
                .accept(told.state(), new UUID(3, 2), RunFixture.TODAY)
                .forEach(told::add);
        Reading reading = told.state().attempts("ins", "A-B").get(0).readings().get(0);
        assertEquals(1000, reading.value(), 1e-9);
        assertEquals(2000, reading.raw());
        assertEquals(0.5, reading.corrections().get(0).amount(), 1e-12);
        // 1 % (k = 2) of 2000 MOhm times 0.5; and the temperature, 2 degC either way, by ln 2 / 10 of the value.
        assertEquals(Math.hypot(10, 2 * 1000 * Math.log(2) / 10 * 2 / Math.sqrt(3)), reading.uncertainty(), 1e-4);
        assertEquals(Reading.Source.ENTERED, reading.source());
        assertEquals(
                org.juratest.core.limit.Verdict.PASS,
                told.point("ins/r/A-B").verdict()); // "> 1000" decides against "at least 100"
    }

    @Test
    void entriesAreRefusedBeforeHoldsAndWithGearPastCalibration() {
        Entry entry = new Entry(PointKey.parse("ins/r/A-B"), 2, "GOhm", Qualifier.EQUAL);
        assertEquals(
                "hold-open", refused(() -> entry.accept(new RunFixture().state(), new UUID(3, 3), RunFixture.TODAY)));
        assertEquals(
                "gear-past-calibration",
                refused(() -> entry.accept(
                        new RunFixture().confirmAll().state(), new UUID(3, 3), RunFixture.TODAY.plusYears(1))));
    }

    @Test
    void aFormulaLimitWaitsForItsReadingAndIsThenFixed() {
        RunFixture told = new RunFixture().allMeasured();
        told.act(new AttemptEvents.LimitChanged(
                "trip",
                "time",
                LimitSpec.of(
                        new LimitKind.Formula(null, "r / 4", null, java.util.Map.of("r", "reading:contact/r")),
                        LimitSpec.When.STEP_END,
                        "trial"),
                "trial"));
        assertEquals(50, told.point("trip/time/A").limit().high());
        told.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse("contact/r/A")), "cleaned"));
        told.attempt("contact/r/A", 100);
        assertEquals(50, told.point("trip/time/A").limit().high());
    }

    @Test
    void anotherDeviceThanTheRunsIsNotTested() {
        RunFixture told = new RunFixture();
        told.act(new RunEvents.AssetIdentified("no 7"));
        assertTrue(told.state().isOtherDevice());
        assertEquals(
                "wrong-asset",
                assertThrows(Refusal.class, () -> told.confirmAll()).code());
        assertEquals(
                "wrong-asset",
                assertThrows(Refusal.class, () -> Rules.canFinish(told.state())).code());
        assertEquals(
                "wrong-asset",
                assertThrows(
                                Refusal.class,
                                () -> Rules.canArm(told.state(), "contact", "A", told.now(), RunFixture.TODAY))
                        .code());
        told.act(new StepEvents.Note("number 7 is painted on"));
        told.act(new RunEvents.AssetIdentified(" 1- "));
        assertFalse(told.state().isOtherDevice(), "blanks and dashes are no difference");
        told.confirmAll();
        assertEquals(
                "words-missing",
                assertThrows(Refusal.class, () -> told.act(new RunEvents.AssetIdentified(" ")))
                        .code());
    }

    @Test
    void otherGearTakesOverANeedWithItsOwnCalibration() {
        RunFixture told = new RunFixture().confirmAll();
        GearFacts old = told.gear("mic");
        GearFacts expired = new GearFacts(
                "mic-9",
                "mic",
                old.role(),
                "Meter 9",
                "M",
                "X",
                "S9",
                null,
                RunFixture.TODAY.minusDays(1),
                null,
                old.accuracy());
        told.act(new RunEvents.GearChosen(expired));
        assertEquals(
                "gear-past-calibration",
                assertThrows(
                                Refusal.class,
                                () -> Rules.canArm(told.state(), "contact", "A", told.now(), RunFixture.TODAY))
                        .code());
        told.act(new RunEvents.GearChosen(old));
        assertEquals(
                "contact",
                Rules.canArm(told.state(), "contact", "A", told.now(), RunFixture.TODAY)
                        .id());
        assertEquals(told.state().opened().gear().size(), told.state().gear().size());
        assertEquals(
                "unknown-need",
                assertThrows(
                                Refusal.class,
                                () -> told.act(new RunEvents.GearChosen(new GearFacts(
                                        "x", "scope", "x", "X", "M", "X", "S", null, null, null, old.accuracy()))))
                        .code());
    }

    @Test
    void whatMakesTheWorkSafeIsLeftOutOnlyWithTheStepsItIsFor() {
        RunFixture told = new RunFixture();
        assertEquals(
                "hold-cannot-be-left-out",
                refused(() ->
                        told.act(new RunEvents.ScopeSet(new Scope(java.util.Set.of("safe"), java.util.Map.of())))));
        RunFixture bound = new RunFixture(p -> {
            List<Step> steps = new java.util.ArrayList<>(p.steps());
            Step s = steps.get(0);
            steps.set(
                    0,
                    Step.builder(s.id(), s.kind(), s.title())
                            .text(s.text())
                            .method(s.method())
                            .lanes(s.lanes())
                            .params(s.params())
                            .maxima(s.maxima())
                            .gear(s.gear())
                            .hazard(s.hazard())
                            .hold(new Hold(s.confirmations(), List.of("ins", "trip")))
                            .minutes(s.minutes())
                            .required(s.required())
                            .notAfterFailIn(s.notAfterFailIn())
                            .coolMinutes(s.coolMinutes())
                            .repeats(s.repeats())
                            .points(s.points())
                            .build());
            return RunFixture.withSteps(p, steps);
        });
        assertEquals(
                "hold-cannot-be-left-out",
                refused(() -> bound.act(
                        new RunEvents.ScopeSet(new Scope(java.util.Set.of("safe", "ins"), java.util.Map.of())))));
        bound.act(new RunEvents.ScopeSet(new Scope(java.util.Set.of("safe", "ins", "trip"), java.util.Map.of())));
        assertFalse(bound.state().scope().step("safe"));
        bound.act(new RunEvents.ScopeSet(Scope.ALL));
        assertTrue(bound.state().scope().step("safe"));
    }
}
