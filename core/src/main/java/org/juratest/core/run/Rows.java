package org.juratest.core.run;

import java.util.Comparator;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Figures;
import org.juratest.core.procedure.FeatureSpec;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/** Numbers the rows of features: the same row keeps its number in all attempts of a run. */
public final class Rows {

    private Rows() {}

    /**
     * A feature of a step.
     *
     * @throws IllegalArgumentException if the step has none of that id
     */
    public static FeatureSpec feature(Step step, String feature) {
        return step.discovers().stream()
                .filter(f -> f.id().equals(feature))
                .findFirst()
                .orElseThrow(() ->
                        new IllegalArgumentException("\"" + step.title() + "\" discovers no \"" + feature + "\""));
    }

    /**
     * The event of a row that was found: with the number of the nearest row within the tolerance that this attempt has
     * not found yet, else with the next number.
     *
     * @throws IllegalStateException if the attempt finds more rows than there may be
     */
    public static AttemptEvents.FeatureFound found(
            RunState state, UUID attempt, Step step, String lane, String feature, Quantity at, @Nullable String words) {
        FeatureSpec spec = feature(step, feature);
        Unit unit = Unit.of(spec.unit());
        double key = at.unit().convert(at.value(), unit);
        if (!(Math.abs(key) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("a " + spec.label() + " was found at no place: " + key);
        }
        long here = state.features().stream()
                .filter(f -> f.attempt().equals(attempt) && f.feature().equals(feature))
                .count();
        if (here >= spec.most()) {
            throw new IllegalStateException(
                    "more than " + spec.most() + " were found (" + spec.label() + "); the procedure takes no more");
        }
        Optional<AttemptEvents.FeatureFound> same = state.features().stream()
                .filter(f -> isOf(state, f, step, lane, feature))
                .filter(f -> Math.abs(f.at().value() - key) <= spec.tolerance())
                .filter(f -> state.features().stream()
                        .noneMatch(other -> other.attempt().equals(attempt)
                                && other.feature().equals(feature)
                                && other.row() == f.row()))
                .min(Comparator.comparingDouble(f -> Math.abs(f.at().value() - key)));
        int next = 1
                + state.features().stream()
                        .filter(f -> isOf(state, f, step, lane, feature))
                        .mapToInt(AttemptEvents.FeatureFound::row)
                        .max()
                        .orElse(0);
        return new AttemptEvents.FeatureFound(
                attempt,
                feature,
                lane,
                same.map(AttemptEvents.FeatureFound::row).orElse(next),
                new Quantity(key, unit),
                words);
    }

    /** Key of the row that a point is a column of, as it was found last; null for a point that is no row. */
    public static @Nullable Double key(RunState state, PointKey point) {
        return of(state, point).map(f -> f.at().value()).orElse(null);
    }

    /** How far from its key the key of the same row may be at another time; null for a point that is no row. */
    public static @Nullable Double reach(RunState state, PointKey point) {
        return of(state, point).isEmpty()
                ? null
                : state.procedure()
                        .step(point.step())
                        .flatMap(s -> s.feature(column(point)))
                        .map(FeatureSpec::tolerance)
                        .orElse(null);
    }

    /**
     * The label of a point; that of a row says where the row is, and what stands beside it: "Splice 2 at 1038 m
     * (Closure 2), loss". A key that only counts says nothing that its number does not.
     */
    public static String named(RunState state, PointKey point, String label) {
        return named(state, point, label, true);
    }

    /** Likewise, without what stands beside it. */
    public static String placed(RunState state, PointKey point, String label) {
        return named(state, point, label, false);
    }

    private static String named(RunState state, PointKey point, String label, boolean words) {
        AttemptEvents.FeatureFound found = of(state, point).orElse(null);
        int comma = label.indexOf(", ");
        if (found == null || comma < 0 || found.at().unit().equals(Unit.ONE)) {
            return label;
        }
        double at = found.at().value();
        Double reach = reach(state, point);
        // Nobody finds a row again to a part of what it may be off.
        boolean whole = Math.abs(at) >= 100 || reach != null && reach >= 1;
        String where = whole ? String.valueOf(Math.round(at)) : Figures.of(at);
        return label.substring(0, comma)
                + " at " + where + " " + found.at().unit().symbol()
                + (!words || found.words() == null ? "" : " (" + found.words() + ")")
                + label.substring(comma);
    }

    /** Whether an earlier value is of the same point: for rows of a feature, of a row whose key agrees. */
    public static boolean isSame(RunState state, PointKey point, PriorReading prior) {
        return prior.lane().equals(point.lane()) && agree(state, point, key(state, point), prior.rowKey());
    }

    /** Whether points of two runs are of the same lane and, for rows of a feature, of rows whose keys agree. */
    public static boolean agree(RunState run, PointKey point, RunState otherRun, PointKey other) {
        return point.lane().equals(other.lane()) && agree(run, point, key(run, point), key(otherRun, other));
    }

    private static boolean agree(RunState run, PointKey point, @Nullable Double here, @Nullable Double there) {
        return here == null || there == null
                ? here == null && there == null
                : Math.abs(here - there)
                        <= run.procedure()
                                .step(point.step())
                                .flatMap(s -> s.feature(column(point)))
                                .map(FeatureSpec::tolerance)
                                .orElse(0.0);
    }

    private static String column(PointKey point) {
        int mark = point.point().indexOf(Step.ROW);
        return mark < 0 ? point.point() : point.point().substring(0, mark);
    }

    /** The row that a point is a column of, as it was found last; empty for a point that is no row. */
    static Optional<AttemptEvents.FeatureFound> of(RunState state, PointKey point) {
        int mark = point.point().indexOf(Step.ROW);
        Optional<FeatureSpec> feature = mark < 0
                ? Optional.empty()
                : state.procedure().step(point.step()).flatMap(s -> s.feature(column(point)));
        if (feature.isEmpty()) {
            return Optional.empty();
        }
        int row = Integer.parseInt(point.point().substring(mark + 1));
        Step step = state.procedure().step(point.step()).orElseThrow();
        return state.features().stream()
                .filter(f -> f.row() == row
                        && isOf(state, f, step, point.lane(), feature.get().id()))
                .reduce((first, last) -> last);
    }

    private static boolean isOf(
            RunState state, AttemptEvents.FeatureFound found, Step step, String lane, String feature) {
        return found.feature().equals(feature)
                && found.lane().equals(lane)
                && state.attempt(found.attempt())
                        .filter(a -> a.step().equals(step.id()))
                        .isPresent();
    }
}
