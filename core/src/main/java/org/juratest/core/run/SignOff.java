package org.juratest.core.run;

import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;

/**
 * How far a record is signed off, as a function of its signatures, reviews and amendments in their order.
 *
 * @param performer sign-in name of who last signed that the work was performed; absent before
 * @param performerName their name then
 * @param returned why it was returned; absent unless it is
 * @param amended whether anything was amended
 */
public record SignOff(
        State state,
        @Nullable String performer,
        @Nullable String performerName,
        @Nullable String returned,
        boolean amended) {

    /** Where a record stands. */
    public enum State {
        /** Finished, nobody has signed. */
        UNSIGNED,
        /** Signed by who performed the work; waits for review. */
        SIGNED,
        /** Sent back by the reviewer; waits to be signed again. */
        RETURNED,
        REVIEWED
    }

    /** How far a run's record is signed off; unsigned for a run that is not finished. */
    public static SignOff of(RunState run) {
        SignOff now = new SignOff(State.UNSIGNED, null, null, null, false);
        for (Event event : run.signatures()) {
            now = now.after(event.data());
        }
        return now;
    }

    private SignOff after(EventData data) {
        if (data instanceof RecordEvents.Signed signed) {
            return new SignOff(State.SIGNED, signed.person(), signed.name(), null, amended);
        }
        if (data instanceof RecordEvents.Reviewed reviewed) {
            boolean back = reviewed.decision() == RecordEvents.Decision.RETURNED;
            return new SignOff(
                    back ? State.RETURNED : State.REVIEWED,
                    performer,
                    performerName,
                    back ? reviewed.words() : null,
                    amended);
        }
        // What was reviewed is not what stands there now.
        return new SignOff(state == State.REVIEWED ? State.SIGNED : state, performer, performerName, returned, true);
    }

    /**
     * The run is finished and may be signed.
     *
     * @throws Refusal naming the point or step that keeps it open
     */
    static void filed(RunState run) {
        if (run.status() == RunState.Status.OPEN) {
            Rules.canFinish(run);
            throw new Refusal("not-finished", "This run is not finished. Finish it first; then its record is signed.");
        }
        if (run.status() == RunState.Status.ABORTED) {
            throw new Refusal("run-aborted", "This run was given up: " + run.abortReason() + ". It has no record.");
        }
    }

    /** The first required point of a finished run that has no verdict; null where every one has. */
    public static @Nullable PointJudgement firstOpen(RunState run) {
        RunEvents.Finished finished = run.finished();
        return finished == null
                ? null
                : finished.judgement().points().stream()
                        .filter(p -> p.required() && p.verdict() == Verdict.NOT_JUDGED)
                        .findFirst()
                        .orElse(null);
    }
}
