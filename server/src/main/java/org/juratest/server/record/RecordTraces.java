package org.juratest.server.record;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.juratest.core.limit.Verdict;
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
        List<PointViews.PointView> rows = PointViews.points(run, judgement).stream()
                .filter(p -> p.row() != null && p.counting() != null)
                .toList();
        return run.captures(AttemptEvents.CaptureKind.TRACE).stream()
                .filter(t -> !t.keptForFiles())
                .flatMap(t ->
                        run.attempt(t.attempt()).filter(judgement::counts).map(a -> trace(run, t, a, rows)).stream())
                .toList();
    }

    private static RecordView.RecordTrace trace(
            RunState run, AttemptEvents.Captured taken, Attempt attempt, List<PointViews.PointView> rows) {
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
                Integer.parseInt(taken.facts().getOrDefault("points", "0")),
                marks(step, attempt, String.valueOf(taken.facts().get("xUnit")), rows));
    }

    /** Rows of a lane whose keys are places on the trace. */
    private static List<RecordView.TraceMark> marks(
            Step step, Attempt attempt, String unit, List<PointViews.PointView> rows) {
        Map<Double, List<PointViews.PointView>> byPlace = new TreeMap<>();
        rows.stream()
                .filter(p -> p.step().equals(step.id()) && p.lane().equals(attempt.lane()))
                .filter(p -> step.feature(p.point().substring(0, p.point().indexOf(Step.ROW)))
                        .filter(f -> f.unit().equals(unit))
                        .isPresent())
                .forEach(p -> byPlace.computeIfAbsent(Objects.requireNonNull(p.row()), r -> new ArrayList<>())
                        .add(p));
        return byPlace.entrySet().stream()
                .map(e -> mark(e.getKey(), e.getValue()))
                .toList();
    }

    private static RecordView.TraceMark mark(double at, List<PointViews.PointView> columns) {
        // "Splice 2 at 517 m (Closure 1), loss": what it is stands before the column's name.
        String name = columns.get(0).name();
        int comma = name.lastIndexOf(", ");
        String figures = columns.stream()
                .filter(p -> Objects.requireNonNull(p.counting()).figure() != null)
                .map(p -> (Objects.requireNonNull(p.counting()).figure() + " " + p.unit()).strip())
                .collect(Collectors.joining(", "));
        return new RecordView.TraceMark(
                at,
                (comma < 0 ? name : name.substring(0, comma)) + ", " + figures,
                // A column that is only recorded says nothing beside one that is judged.
                columns.stream()
                        .filter(p -> p.required() || p.verdict() != Verdict.NOT_JUDGED)
                        .map(PointViews.PointView::verdict)
                        .reduce(Verdict::worse)
                        .orElse(Verdict.NOT_JUDGED));
    }
}
