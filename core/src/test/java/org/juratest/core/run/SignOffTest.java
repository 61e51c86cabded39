package org.juratest.core.run;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import org.juratest.core.run.RecordEvents.Amended;
import org.juratest.core.run.RecordEvents.Decision;
import org.juratest.core.run.RecordEvents.Reviewed;
import org.juratest.core.run.RecordEvents.Signed;

class SignOffTest {

    private static final Signed SIGNED = new Signed("tavel", "A. Tavel", "technician", "performed");
    private static final Reviewed ACCEPTED = review(Decision.ACCEPTED, null);

    private static Reviewed review(Decision decision, String words) {
        return new Reviewed("oster", "M. Oster", "supervisor", decision, words);
    }

    private static RunFixture finished(RunFixture told) {
        told.act(new StepEvents.Restored("safe", "lock")).act(new StepEvents.Restored("safe", "plug"));
        return told.act(new RunEvents.Finished("MFR-CBK-07/2026/1", RunJudgement.of(told.state()), "test"));
    }

    private static RunFixture whole() {
        return finished(new RunFixture().allMeasured());
    }

    private static Refusal refused(RunFixture told, EventData data) {
        return assertThrows(Refusal.class, () -> told.act(data));
    }

    private static SignOff.State state(RunFixture told) {
        return SignOff.of(told.state()).state();
    }

    @Test
    void isSignedThenReviewedByAnother() {
        RunFixture told = whole();
        assertEquals(SignOff.State.UNSIGNED, state(told));
        assertEquals("not-signed", refused(told, ACCEPTED).code());
        assertEquals(
                "not-signed",
                refused(told, new Amended("tavel", "A. Tavel", "remarks", "x", "y"))
                        .code());
        told.act(SIGNED);
        assertEquals(SignOff.State.SIGNED, state(told));
        assertEquals(
                "This record is already signed, by A. Tavel.",
                refused(told, SIGNED).getMessage());
        assertEquals(
                "own-work",
                refused(told, new Reviewed("tavel", "A. Tavel", "supervisor", Decision.ACCEPTED, null))
                        .code());
        assertEquals(
                "not-reviewer",
                refused(told, new Reviewed("miro", "B. Miro", "technician", Decision.ACCEPTED, null))
                        .code());
        told.act(ACCEPTED);
        assertEquals(SignOff.State.REVIEWED, state(told));
        assertEquals("already-reviewed", refused(told, ACCEPTED).code());
        assertTrue(told.state().finishedAt().isBefore(told.now()), "signatures do not move the day a record is of");
    }

    @Test
    void whoDidNotWorkInTheRunCannotSignForIt() {
        assertEquals(
                "not-performer",
                refused(whole(), new Signed("oster", "M. Oster", "supervisor", "performed"))
                        .code());
        assertEquals(
                "meaning",
                refused(whole(), new Signed("tavel", "A. Tavel", "technician", "reviewed"))
                        .field());
    }

    @Test
    void signingWhatIsNotFinishedNamesTheOpenPoint() {
        RunFixture told = new RunFixture().allMeasuredButInsulation();
        told.attempt("ins/r/A-B", 2000);
        told.act(new StepEvents.Restored("safe", "lock")).act(new StepEvents.Restored("safe", "plug"));
        Refusal open = refused(told, SIGNED);
        assertEquals("ins/r/C-E", open.field());
        assertTrue(open.getMessage().contains("path C to earth"), open.getMessage());
        told.attempt("ins/r/C-E", 2000);
        assertEquals("not-finished", refused(told, SIGNED).code());
    }

    @Test
    void aRecordWithAnOpenPointIsNotPlainlyAccepted() {
        RunFixture told = new RunFixture().allMeasuredButInsulation();
        told.act(new StepEvents.StepSkipped("ins", "tester broke"));
        finished(told).act(SIGNED);
        Refusal open = refused(told, ACCEPTED);
        assertEquals("ins/r/A-B", open.field());
        assertTrue(
                open.getMessage().contains("Insulation, path A to B")
                        && open.getMessage().contains("tester broke"),
                open.getMessage());
        assertEquals(
                "words",
                refused(told, review(Decision.ACCEPTED_INCOMPLETE, " ")).field());
        told.act(review(Decision.ACCEPTED_INCOMPLETE, "measured again in spring"));
        assertEquals(SignOff.State.REVIEWED, state(told));
        assertEquals(
                "not-incomplete",
                refused(whole().act(SIGNED), review(Decision.ACCEPTED_INCOMPLETE, "x"))
                        .code());
    }

    @Test
    void aReturnedRecordIsSignedAgain() {
        RunFixture told = whole().act(SIGNED);
        assertEquals("words", refused(told, review(Decision.RETURNED, null)).field());
        told.act(review(Decision.RETURNED, "which clamp?"));
        assertEquals("which clamp?", SignOff.of(told.state()).returned());
        assertEquals("not-signed", refused(told, ACCEPTED).code());
        told.act(new Amended("tavel", "A. Tavel", "contact", "Kelvin clamp 2", "asked in review"));
        assertEquals(SignOff.State.RETURNED, state(told));
        told.act(SIGNED).act(ACCEPTED);
        assertNull(SignOff.of(told.state()).returned());
        assertEquals(SignOff.State.REVIEWED, state(told));
    }

    @Test
    void anAmendmentChangesNoVerdictAndWantsReviewAgain() {
        RunFixture told = whole().act(SIGNED).act(ACCEPTED);
        RunJudgement before = told.state().finished().judgement();
        for (String field : new String[] {"contact/r/B", "mic-1", "record", "trip"}) {
            told.act(new Amended("tavel", "A. Tavel", field, "as corrected", "typing error"));
        }
        assertEquals(before, told.state().finished().judgement());
        assertEquals(SignOff.State.SIGNED, state(told));
        assertTrue(SignOff.of(told.state()).amended());
        assertEquals(
                "field",
                refused(told, new Amended("tavel", "A. Tavel", "contact/r/D", "x", "y"))
                        .field());
        assertEquals(
                "reason",
                refused(told, new Amended("tavel", "A. Tavel", "record", "x", ""))
                        .field());
        assertEquals("run-finished", refused(told, new StepEvents.Note("late")).code());
    }
}
