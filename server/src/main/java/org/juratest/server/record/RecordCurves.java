package org.juratest.server.record;

import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.server.run.PointViews;

/** What was measured over another value, on the curve of the device. */
final class RecordCurves {

    private RecordCurves() {}

    /** The curves of a run; none where the device has no curve or nothing was measured over it. */
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
        Envelope curve = Objects.requireNonNull(run.envelope());
        Param place = step.params().get(curve.over());
        List<RecordView.CurvePoint> points = RunJudgement.readings(run).stream()
                .filter(r -> r.attempt().step().equals(step.id())
                        && r.reading().with().containsKey(curve.over()))
                .map(r -> new RecordView.CurvePoint(
                        r.attempt().lane(),
                        r.reading().with().get(curve.over()).value(),
                        r.reading().value(),
                        PointViews.figure(r.reading().value(), r.reading().qualifier(), r.limit()),
                        r.judgement().verdict(),
                        counts(judgement, r.attempt()),
                        r.attempt().voided() != null))
                .toList();
        if (points.isEmpty() || place == null || place.value() == null) {
            return Optional.empty();
        }
        return Optional.of(new RecordView.RecordCurve(
                step.id(),
                step.title(),
                run.procedure().laneWord(step),
                place.value(),
                curve.source() + ", " + curve.condition(),
                curve.outline(),
                points));
    }

    private static boolean counts(RunJudgement judgement, Attempt attempt) {
        return judgement.points().stream()
                .anyMatch(p ->
                        p.counting() != null && attempt.id().equals(p.counting().attempt()));
    }

    /** Captured traces of the attempts that count, in order. */
    static List<RecordView.RecordTrace> traces(RunState run, RunJudgement judgement) {
        return run.captures(AttemptEvents.CaptureKind.TRACE).stream()
                .flatMap(t ->
                        run.attempt(t.attempt()).filter(a -> counts(judgement, a)).map(a -> trace(run, t, a)).stream())
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
