package org.juratest.server.record;

import java.util.List;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.server.run.PointViews;

/** The traces that a run captured. */
final class RecordTraces {

    private RecordTraces() {}

    /** Captured traces of the attempts that count, in order. */
    static List<RecordView.RecordTrace> of(RunState run, RunJudgement judgement) {
        return run.captures(AttemptEvents.CaptureKind.TRACE).stream()
                .flatMap(t -> run.attempt(t.attempt()).filter(judgement::counts).map(a -> trace(run, t, a)).stream())
                .toList();
    }

    private static RecordView.RecordTrace trace(RunState run, AttemptEvents.Captured taken, Attempt attempt) {
        Step step = run.procedure().step(attempt.step()).orElseThrow();
        String lane = run.procedure().laneName(step, attempt.lane());
        return new RecordView.RecordTrace(
                step.id(),
                step.title(),
                attempt.lane(),
                lane.isEmpty() ? step.title() : lane,
                taken.name(),
                taken.sha256(),
                PointViews.symbol(String.valueOf(taken.facts().get("xUnit"))),
                PointViews.symbol(String.valueOf(taken.facts().get("yUnit"))),
                Integer.parseInt(taken.facts().getOrDefault("points", "0")));
    }
}
