package org.juratest.core.record;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunJudgement.JudgedReading;
import org.juratest.core.run.RunState;

/** Charts as several families draw them. */
public final class Charts {

    private Charts() {}

    /**
     * What was measured over another value, on the curve of the device it was judged along: a chart for each step with
     * such a point. None where the device has no curve or nothing was measured over it.
     *
     * @param drawing the family's way to draw it
     * @param x what the curve runs over
     * @param y what was measured
     */
    public static List<Chart> alongCurve(
            RunState run, RunJudgement judgement, String drawing, Chart.Axis x, Chart.Axis y) {
        Envelope curve = run.envelope();
        if (curve == null) {
            return List.of();
        }
        List<Chart> charts = new ArrayList<>();
        for (Step s : run.stepsInScope()) {
            parts(s).forEach((part, points) -> {
                Envelope along = part.isEmpty() ? curve : curve.part(part).orElse(null);
                if (along != null) {
                    spots(run, s, judgement, along, points)
                            .ifPresent(spots -> charts.add(new Chart(
                                    part.isEmpty() ? s.id() : s.id() + "." + part,
                                    drawing,
                                    s.title() + " over the curve of the device"
                                            + (part.isEmpty()
                                                    ? ""
                                                    : ", " + points.get(0).label()),
                                    along.source() + ", " + along.condition(),
                                    run.procedure().laneWord(s),
                                    s.params().get(along.over()).value(),
                                    x,
                                    y,
                                    along.outline(),
                                    spots)));
                }
            });
        }
        return charts;
    }

    /** Points of a step that are judged along the curve, by the part of it; empty for the whole. */
    private static Map<String, List<TestPoint>> parts(Step step) {
        Map<String, List<TestPoint>> parts = new LinkedHashMap<>();
        for (TestPoint p : step.points()) {
            if (p.limit() != null && p.limit().kind() instanceof LimitKind.DeviceCurve along) {
                parts.computeIfAbsent(along.part() == null ? "" : along.part(), k -> new ArrayList<>())
                        .add(p);
            }
        }
        return parts;
    }

    private static Optional<List<Chart.Spot>> spots(
            RunState run, Step step, RunJudgement judgement, Envelope curve, List<TestPoint> points) {
        Param place = step.params().get(curve.over());
        if (place == null || place.value() == null) {
            return Optional.empty();
        }
        List<Chart.Spot> spots = spots(
                run,
                step,
                judgement,
                r -> r.reading().with().containsKey(curve.over())
                                && (curve == run.envelope()
                                        || points.stream().anyMatch(p -> p.id().equals(
                                                        r.reading().key().point())))
                        ? Objects.requireNonNull(r.reading().with().get(curve.over()))
                                .value()
                        : null);
        return spots.isEmpty() ? Optional.empty() : Optional.of(spots);
    }

    /**
     * The readings of a step as they stand in a chart, in the order they were taken, those that do not count among
     * them.
     *
     * @param at where a reading stands, in the unit of the chart's {@code x}; null for one that is not in it
     */
    public static List<Chart.Spot> spots(
            RunState run, Step step, RunJudgement judgement, Function<JudgedReading, @Nullable Double> at) {
        return RunJudgement.readings(run).stream()
                .filter(r -> r.attempt().step().equals(step.id()))
                .flatMap(r -> Optional.ofNullable(at.apply(r))
                        .map(place -> new Chart.Spot(
                                r.reading().key().toString(),
                                lane(run, step, r),
                                place,
                                r.reading().value(),
                                Figures.shown(
                                        r.reading().value(),
                                        r.reading().qualifier(),
                                        r.limit(),
                                        r.reading().unit()),
                                r.judgement().verdict(),
                                judgement.counts(r),
                                r.attempt().voided() != null))
                        .stream())
                .toList();
    }

    private static String lane(RunState run, Step step, JudgedReading reading) {
        String word = run.procedure().laneWord(step) + " ";
        String name = run.procedure().laneName(step, reading.attempt().lane());
        return name.startsWith(word) ? name.substring(word.length()) : name;
    }
}
