package org.juratest.core.run;

import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.Hold;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.ProcedureCheck;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;

/** Where a step failed that the next ones ask about, a person says whether to go on; nobody gets round it. */
class DecisionsTest {

    private static Step asking(Step step, @Nullable String after) {
        return step.toBuilder()
                .more(new Step.Relations(List.of(), false, false, null, List.of(), null, null, null, after))
                .build();
    }

    private static Procedure asking(Procedure p, @Nullable String after) {
        Step move = asking(
                Step.builder("move", StepKind.INSTRUCTION, "Move it")
                        .hold(new Hold(List.of(new Confirmation("moved", "Moved", null, null)), List.of("contact")))
                        .build(),
                after);
        Step contact = asking(p.step("contact").orElseThrow(), after);
        return RunFixture.withSteps(
                p, List.of(p.step("safe").orElseThrow(), p.step("ins").orElseThrow(), move, contact));
    }

    private static RunFixture begun() {
        return new RunFixture(p -> asking(p, "ins")).confirmAll();
    }

    private static UUID last(RunFixture told, Class<? extends EventData> type) {
        return told.state().events().stream()
                .filter(e -> type.isInstance(e.data()))
                .reduce((a, b) -> b)
                .orElseThrow()
                .id();
    }

    private static String refused(Executable what) {
        return assertThrows(Refusal.class, what).code();
    }

    private static void move(RunFixture told) {
        new StepEvents.HoldReleased("move", "moved").check(told.state());
    }

    private static @Nullable Step open(RunFixture told) {
        return Decisions.open(told.state(), told.state().stepInScope("contact"));
    }

    @Test
    void aFailedStepAsksBeforeTheNextAndTheAnswerHoldsUntilItIsMeasuredAgain() {
        RunFixture told = begun();
        assertNull(open(told), "nothing was measured yet");
        told.attempt("ins/r/A-B", 2000);
        assertNull(open(told));
        assertDoesNotThrow(() -> move(told));
        told.attempt("ins/r/C-E", 20);
        assertEquals("ins", open(told).id());
        Refusal refusal = assertThrows(Refusal.class, () -> move(told));
        assertEquals("decide-first", refusal.code());
        assertTrue(refusal.getMessage().contains("or stop here"), refusal.getMessage());

        told.act(new StepEvents.WentOn("ins", "to see how far it goes"));
        assertNull(open(told));
        assertDoesNotThrow(() -> move(told));
        told.attempt("ins/r/C-E", 25);
        assertEquals("decide-first", refused(() -> move(told)), "what is found anew asks anew");

        told.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse("ins/r/C-E")), "dried"));
        told.attempt("ins/r/C-E", 900);
        assertNull(open(told), "as left it is good: nothing is asked");
    }

    /**
     * What prepares a step is left with it, never before it, and is asked for again if that is to be done after all.
     */
    @Test
    void whoStopsLeavesWhatWasToFollowTheLastFirst() {
        RunFixture told = begun();
        told.attempt("ins/r/A-B", 20);
        told.attempt("ins/r/C-E", 2000);
        assertEquals(
                "hold-cannot-be-skipped", refused(() -> told.act(new StepEvents.StepSkipped("move", "it ends here"))));
        assertEquals(
                "hold-cannot-be-skipped", refused(() -> told.act(new StepEvents.StepSkipped("safe", "it ends here"))));
        told.act(new StepEvents.StepSkipped("contact", "it ends here"));
        told.act(new StepEvents.StepSkipped("move", "it ends here"));
        told.act(new StepEvents.Restored("safe", "lock"));
        told.act(new StepEvents.Restored("safe", "plug"));
        assertDoesNotThrow(() -> Rules.canFinish(told.state()));

        RunFixture again = begun();
        again.attempt("ins/r/A-B", 2000);
        again.act(new StepEvents.StepSkipped("contact", "no gear"));
        UUID skipping = last(again, StepEvents.StepSkipped.class);
        again.act(new StepEvents.StepSkipped("move", "no gear"));
        again.add(new RunEvents.Withdrawn(skipping, "there is gear"));
        assertEquals(
                "hold-open",
                refused(() -> Rules.canArm(again.state(), "contact", "A", again.now(), RunFixture.TODAY)),
                "never past a hold that is for it");
    }

    @Test
    void aDecisionNeedsAFailureAndAReasonAndCanBeTakenBack() {
        RunFixture told = begun();
        told.attempt("ins/r/A-B", 2000);
        assertEquals("nothing-to-decide", refused(() -> told.act(new StepEvents.WentOn("ins", "because"))));
        told.attempt("ins/r/C-E", 20);
        assertThrows(Refusal.class, () -> told.act(new StepEvents.WentOn("ins", " ")));
        assertThrows(Refusal.class, () -> told.act(new StepEvents.WentOn("nowhere", "because")));
        told.act(new StepEvents.WentOn("ins", "because"));
        UUID decided = last(told, StepEvents.WentOn.class);
        RunEvents.Withdrawn back = new RunEvents.Withdrawn(decided, "no, better not");
        assertDoesNotThrow(() -> back.check(told.state()));
    }

    @Test
    void whatAsksAfterNothingAsksNothingAndAnUnknownStepIsRefused() {
        RunFixture told = new RunFixture(p -> asking(p, null)).confirmAll();
        told.attempt("ins/r/C-E", 20);
        assertDoesNotThrow(() -> move(told));
        List<String> problems = ProcedureCheck.problems(asking(RunFixture.procedure(), "later"), m -> null).stream()
                .map(ProcedureCheck.Problem::path)
                .filter(p -> p.endsWith("askAfter"))
                .toList();
        assertEquals(List.of("steps[2].more.askAfter", "steps[3].more.askAfter"), problems);
    }
}
