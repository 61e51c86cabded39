package org.juratest.server.record;

import java.util.List;
import java.util.Optional;
import org.juratest.core.curve.BandOutline;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.server.run.Shown;

/** Measured trips over the device's band. */
final class RecordCurves {

    private RecordCurves() {}

    /** The curves of a run; none where the device has no band or nothing was timed. */
    static List<RecordView.RecordCurve> of(RunState run, RunJudgement judgement) {
        if (run.envelope() == null) {
            return List.of();
        }
        return run.stepsInScope().stream()
                .filter(s -> s.points().stream()
                        .anyMatch(p -> p.limit() != null && p.limit().kind() instanceof LimitKind.DeviceCurve))
                .flatMap(s -> curve(run, s, judgement).stream())
                .toList();
    }

    private static Optional<RecordView.RecordCurve> curve(RunState run, Step step, RunJudgement judgement) {
        Param current = step.params().get("current");
        List<RecordView.Trip> trips = RunJudgement.readings(run).stream()
                .filter(r -> r.attempt().step().equals(step.id())
                        && r.reading().with().containsKey("current"))
                .map(r -> new RecordView.Trip(
                        r.attempt().lane(),
                        r.reading().with().get("current").value(),
                        r.reading().value(),
                        Shown.figure(r.reading().value(), r.reading().qualifier(), r.limit()),
                        r.judgement().verdict(),
                        counts(judgement, r.attempt()),
                        r.attempt().voided() != null))
                .toList();
        if (trips.isEmpty()
                || current == null
                || current.value() == null
                || !(run.envelope() instanceof TimeCurrentBand band)) {
            return Optional.empty();
        }
        return Optional.of(new RecordView.RecordCurve(
                step.id(),
                step.title(),
                current.value(),
                band.source() + ", " + band.condition(),
                BandOutline.of(band),
                trips));
    }

    private static boolean counts(RunJudgement judgement, Attempt attempt) {
        return judgement.points().stream()
                .anyMatch(p ->
                        p.counting() != null && attempt.id().equals(p.counting().attempt()));
    }

    /** Captured traces of the attempts that count, in order. */
    static List<RecordView.RecordTrace> traces(RunState run, RunJudgement judgement) {
        return run.traces().stream()
                .flatMap(t ->
                        run.attempt(t.attempt()).filter(a -> counts(judgement, a)).map(a -> trace(run, t, a)).stream())
                .toList();
    }

    private static RecordView.RecordTrace trace(RunState run, AttemptEvents.TraceTaken taken, Attempt attempt) {
        Step step = run.procedure().step(attempt.step()).orElseThrow();
        String lane = run.procedure().laneName(step, attempt.lane());
        return new RecordView.RecordTrace(
                step.id(),
                step.title(),
                attempt.lane(),
                lane.isEmpty() ? step.title() : lane,
                taken.name(),
                taken.blob(),
                Shown.symbol(taken.xUnit()),
                Shown.symbol(taken.yUnit()),
                taken.points());
    }
}
