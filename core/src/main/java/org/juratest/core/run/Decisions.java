package org.juratest.core.run;

import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Step;

/**
 * What a person decides before a step: whether to go on to it although another failed, that makes it mostly pointless.
 * The decision is about what was found then; what is found anew asks anew.
 */
public final class Decisions {

    private Decisions() {}

    /** Whether a point of a step fails by now. */
    static boolean failed(RunState state, String step) {
        return RunJudgement.of(state).points().stream()
                .anyMatch(p -> p.key().step().equals(step) && p.verdict() == Verdict.FAIL);
    }

    /** The step that failed and that nobody has decided about yet; absent where nothing keeps this one back. */
    public static @Nullable Step open(RunState state, Step step) {
        String after = step.asksAfter();
        if (after == null || !state.scope().step(after) || !failed(state, after)) {
            return null;
        }
        Long decided = state.wentOn.get(after);
        long found = state.attempts(after, null).stream()
                .filter(Attempt::counts)
                .mapToLong(Attempt::begunAt)
                .max()
                .orElse(-1);
        return decided != null && decided > found ? null : state.stepInScope(after);
    }

    /** @throws Refusal if somebody has to decide first */
    static void made(RunState state, Step step) {
        Step failed = open(state, step);
        if (failed != null) {
            throw new Refusal(
                    "decide-first",
                    "\"" + failed.title() + "\" failed. Say whether to go on to \"" + step.title()
                            + "\" all the same, or stop here.",
                    "step");
        }
    }
}
