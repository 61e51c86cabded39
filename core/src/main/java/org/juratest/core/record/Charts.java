package org.juratest.core.record;

import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
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
        return curve == null
                ? List.of()
                : run.stepsInScope().stream()
                        .filter(s -> s.points().stream()
                                .anyMatch(p -> p.limit() != null && p.limit().kind() instanceof LimitKind.DeviceCurve))
                        .flatMap(s -> along(run, s, judgement, curve).stream()
                                .map(spots -> new Chart(
                                        s.id(),
                                        drawing,
                                        s.title() + " over the curve of the device",
                                        curve.source() + ", " + curve.condition(),
                                        run.procedure().laneWord(s),
                                        s.params().get(curve.over()).value(),
                                        x,
                                        y,
                                        curve.outline(),
                                        spots)))
                        .toList();
    }

    private static Optional<List<Chart.Spot>> along(RunState run, Step step, RunJudgement judgement, Envelope curve) {
        Param place = step.params().get(curve.over());
        if (place == null || place.value() == null) {
            return Optional.empty();
        }
        List<Chart.Spot> spots = spots(
                run,
                step,
                judgement,
                r -> r.reading().with().containsKey(curve.over())
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
