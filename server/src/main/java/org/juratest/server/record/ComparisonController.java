package org.juratest.server.record;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.UUID;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Figures;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.record.Chart;
import org.juratest.core.record.Comparison;
import org.juratest.core.record.Headline;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.server.record.ComparisonView.ComparedCell;
import org.juratest.server.record.ComparisonView.ComparedChart;
import org.juratest.server.record.ComparisonView.ComparedRow;
import org.juratest.server.record.ComparisonView.ComparedSide;
import org.juratest.server.run.PointViews;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Records and runs side by side. */
@RestController
class ComparisonController {

    private static final int MOST = 3;
    private static final int SEARCHED = 200;

    private final Records records;

    ComparisonController(Records records) {
        this.records = records;
    }

    /**
     * Compares.
     *
     * @param of record number or run id
     * @param with record numbers, {@code last} or {@code baseline}; one to three
     */
    @GetMapping("/api/comparisons")
    ComparisonView compare(@RequestParam String of, @RequestParam List<String> with) {
        if (with.isEmpty() || with.size() > MOST) {
            throw new Refusal(
                    "out-of-range",
                    "One to " + MOST + " records are laid beside another, not " + with.size() + ".",
                    "with");
        }
        RunState now = run(of);
        List<RunState> then =
                with.stream().distinct().map(w -> other(now, w)).distinct().toList();
        List<Comparison> compared =
                then.stream().map(t -> Comparison.of(t, now)).toList();
        List<PointViews.PointView> points = PointViews.points(now, judgement(now));
        List<ComparedRow> rows = points.stream()
                .filter(p -> compared.stream().anyMatch(c -> row(c, p) != null))
                .map(p -> row(now, p, compared))
                .toList();
        return new ComparisonView(
                side(now),
                then.stream().map(ComparisonController::side).toList(),
                rows,
                charts(now, then),
                traces(now, then),
                compared.stream().map(Comparison::onlyThen).toList());
    }

    private RunState run(String name) {
        try {
            return records.whole(UUID.fromString(name)).run();
        } catch (IllegalArgumentException e) {
            return records.whole(records.run(name)).run();
        }
    }

    private RunState other(RunState now, String name) {
        if (!name.equals("last") && !name.equals("baseline")) {
            RunState then = run(name);
            if (!then.opened().asset().asset().equals(now.opened().asset().asset())) {
                throw new Refusal(
                        "other-asset",
                        "Record " + name + " is of another device, no. "
                                + then.opened().asset().serial() + ". Records of one device are compared.",
                        "with");
            }
            return then;
        }
        Instant before = now.finishedAt() == null ? Instant.MAX : now.finishedAt();
        return records.ofAsset(now.opened().asset().asset(), SEARCHED).stream()
                .filter(r -> r.finishedAt().isBefore(before))
                .filter(r -> name.equals("last") || r.baseline())
                .findFirst()
                .map(r -> records.whole(r.run()).run())
                .orElseThrow(() -> new Refusal(
                        "nothing-earlier",
                        name.equals("last")
                                ? "This device has no earlier record."
                                : "This device has no earlier baseline.",
                        "with"));
    }

    private static RunJudgement judgement(RunState run) {
        return run.finished() == null ? RunJudgement.of(run) : run.finished().judgement();
    }

    private static ComparedSide side(RunState run) {
        RunJudgement judgement = judgement(run);
        var asset = run.opened().asset();
        return new ComparedSide(
                run.events().get(0).run(),
                run.finished() == null ? null : run.finished().record(),
                run.finishedAt() == null ? run.events().get(0).at() : Objects.requireNonNull(run.finishedAt()),
                run.opened().zone(),
                asset.asset(),
                asset.position(),
                asset.siteName(),
                asset.maker(),
                asset.model(),
                asset.serial(),
                run.procedure().title(),
                Headline.of(run, judgement),
                judgement.verdict(),
                judgement.complete(),
                run.opened().reason().equals("acceptance"));
    }

    private static Comparison.@Nullable Row row(Comparison comparison, PointViews.PointView point) {
        return comparison.rows().stream()
                .filter(r -> r.now().key().equals(point.key()))
                .findFirst()
                .orElse(null);
    }

    private static ComparedRow row(RunState now, PointViews.PointView point, List<Comparison> compared) {
        Step step = now.procedure().step(point.step()).orElseThrow();
        String lane = now.procedure().laneName(step, point.lane());
        boolean several = step.points().size() + step.discovers().size() > 1;
        String name = point.lane().equals(Lane.NONE) ? point.name() : several ? lane + ", " + point.name() : lane;
        return new ComparedRow(
                point,
                step.title(),
                name,
                compared.stream().map(c -> cell(row(c, point))).toList());
    }

    private static ComparedCell cell(Comparison.@Nullable Row row) {
        if (row == null) {
            return new ComparedCell(
                    null, null, null, null, null, null, null, Comparison.Seen.NOT_COMPARABLE, List.of());
        }
        PointJudgement.Value then = row.then() == null ? null : row.then().counting();
        Double change = row.change();
        return new ComparedCell(
                then == null ? null : figured(Objects.requireNonNull(row.then()), then),
                signed(row, change),
                change,
                percent(change, then),
                signed(row, row.drift()),
                row.uncertainty() == null ? null : Figures.of(row.uncertainty()),
                row.marginChange() == null ? null : (Double) (row.marginChange() * 100),
                row.seen(),
                row.differences());
    }

    private static PointViews.Figured figured(PointJudgement point, PointJudgement.Value value) {
        return new PointViews.Figured(
                value.value(),
                value.value() == null
                        ? null
                        : PointViews.figure(
                                value.value(),
                                value.qualifier(),
                                point.limit(),
                                point.unit() == null ? null : Unit.of(point.unit())),
                value.verdict(),
                value.attempt(),
                value.count(),
                null);
    }

    private static @Nullable String signed(Comparison.Row row, @Nullable Double change) {
        if (change == null
                || row.then() == null
                || row.then().counting() == null
                || row.then().counting().value() == null) {
            return null;
        }
        double then = row.then().counting().value();
        return PointViews.change(
                change,
                then + change,
                then,
                row.now().limit(),
                row.now().unit() == null ? null : Unit.of(row.now().unit()));
    }

    private static @Nullable Double percent(@Nullable Double change, PointJudgement.@Nullable Value then) {
        return change == null || then == null || then.value() == null || then.value() == 0
                ? null
                : (Double) (change / Math.abs(then.value()) * 100);
    }

    private static List<ComparedChart> charts(RunState now, List<RunState> then) {
        List<ComparedChart> charts = new ArrayList<>();
        for (Chart chart : Methods.charts(now, judgement(now))) {
            List<List<Chart>> others = then.stream()
                    .map(t -> Methods.charts(t, judgement(t)).stream()
                            .filter(c -> c.id().equals(chart.id()))
                            .toList())
                    .toList();
            charts.add(new ComparedChart(
                    chart,
                    IntStream.range(0, then.size())
                            .mapToObj(i -> new ComparisonView.ThenChart(
                                    i,
                                    others.get(i).stream()
                                            .flatMap(c -> c.spots().stream())
                                            .toList()))
                            .toList(),
                    others.stream().flatMap(List::stream).allMatch(c -> c.allowed()
                            .equals(chart.allowed()))));
        }
        return charts;
    }

    private static List<ComparisonView.ComparedTrace> traces(RunState now, List<RunState> then) {
        List<List<RecordView.RecordTrace>> others =
                then.stream().map(t -> RecordTraces.of(t, judgement(t))).toList();
        return RecordTraces.of(now, judgement(now)).stream()
                .map(trace -> new ComparisonView.ComparedTrace(
                        trace,
                        IntStream.range(0, then.size())
                                .boxed()
                                .flatMap(i -> others.get(i).stream()
                                        .filter(o -> o.step().equals(trace.step())
                                                && o.laneId().equals(trace.laneId())
                                                && o.name().equals(trace.name())
                                                && o.yUnit().equals(trace.yUnit()))
                                        .map(o -> new ComparisonView.ThenTrace(i, o.blob())))
                                .toList()))
                .toList();
    }
}
