package org.juratest.core.condition;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;

/**
 * How a device stands, and why: from its last record, what its test points do over time, and their peers. What the day
 * of asking adds (overdue, not to be used) is added where it is asked.
 *
 * @param standing the gravest of all reasons
 * @param reason in a sentence's words: "contact resistance, pole C: at its limit between spring and autumn 2027"
 * @param worst place of the point with the most margin used, among those given; -1 where none has a margin
 * @param reasoned place of the point the reason is of; -1 where it is of the record as a whole
 */
public record Assessment(Standing standing, String reason, int worst, int reasoned) {

    /**
     * A test point as it is assessed.
     *
     * @param label of point and lane, in words
     * @param outlier whether it lies apart from its peers in the bad direction
     * @param failed how it failed, in words: "312 of at most 297 µΩ"; absent where it did not
     */
    public record Point(String label, PointCondition condition, boolean outlier, @Nullable String failed) {}

    private record Reason(Standing standing, double urgency, String words, int point) {}

    /**
     * Of a device that was tested.
     *
     * @param verdict of its last record
     * @param complete whether every required point was judged then
     * @param today years since 1970
     * @param nextTest when it is tested next, years since 1970; empty where nothing is planned
     * @param interval between tests, years; empty where none is planned
     */
    public static Assessment of(
            Verdict verdict,
            boolean complete,
            List<Point> points,
            double today,
            OptionalDouble nextTest,
            OptionalDouble interval) {
        List<Reason> reasons = new ArrayList<>();
        for (int i = 0; i < points.size(); i++) {
            of(points.get(i), i, today, nextTest, interval, reasons);
        }
        Standing record = Standing.of(verdict, complete);
        reasons.add(new Reason(record, -1, whole(record, verdict), -1));
        Reason gravest = reasons.stream()
                .min(Comparator.comparingInt((Reason r) -> rank(r.standing))
                        .thenComparing(Reason::urgency, Comparator.reverseOrder()))
                .orElseThrow();
        return new Assessment(gravest.standing, gravest.words, worst(points), gravest.point);
    }

    /** What is not known outweighs nothing that is, but soundness. */
    private static int rank(Standing standing) {
        return switch (standing) {
            case ACT -> 0;
            case WATCH -> 1;
            case UNKNOWN -> 2;
            case SOUND -> 3;
        };
    }

    private static String whole(Standing record, Verdict verdict) {
        return switch (record) {
            case ACT -> "failed";
            case WATCH -> "near a limit";
            case UNKNOWN -> verdict == Verdict.NOT_JUDGED ? "not judged" : "tested in part only";
            case SOUND -> "sound";
        };
    }

    private static void of(
            Point point,
            int place,
            double today,
            OptionalDouble nextTest,
            OptionalDouble interval,
            List<Reason> reasons) {
        PointCondition condition = point.condition;
        double margin = condition.margin() == null ? 0 : condition.margin();
        Verdict verdict = condition.verdict();
        if (verdict == Verdict.FAIL || verdict == Verdict.MARGINAL_OUTSIDE) {
            reasons.add(new Reason(
                    Standing.ACT,
                    1e6 + margin,
                    point.label + ": " + (point.failed == null ? "failed" : point.failed),
                    place));
            return;
        }
        OptionalDouble crossing = condition.crossing();
        if (crossing.isPresent() && nextTest.isPresent()) {
            String words = point.label + ": " + TrendWords.of(condition.trend(), today);
            double sooner = 1e3 - (crossing.getAsDouble() - today);
            if (crossing.getAsDouble() <= nextTest.getAsDouble()) {
                reasons.add(new Reason(Standing.ACT, sooner, words + ", before its next test", place));
            } else if (crossing.getAsDouble() <= nextTest.getAsDouble() + interval.orElse(0)) {
                reasons.add(new Reason(Standing.WATCH, sooner, words, place));
            }
        }
        if (condition.stepped()) {
            reasons.add(new Reason(
                    Standing.WATCH,
                    500,
                    point.label + ": a step since the last test, without a recorded cause",
                    place));
        }
        if (point.outlier) {
            reasons.add(new Reason(Standing.WATCH, 400, point.label + ": apart from all others of its model", place));
        }
        if (verdict == Verdict.MARGINAL_INSIDE) {
            reasons.add(new Reason(Standing.WATCH, margin, point.label + ": near its limit", place));
        }
    }

    private static int worst(List<Point> points) {
        int worst = -1;
        for (int i = 0; i < points.size(); i++) {
            Double margin = points.get(i).condition.margin();
            if (margin != null && (worst < 0 || margin > marginOf(points.get(worst)))) {
                worst = i;
            }
        }
        return worst;
    }

    private static double marginOf(Point point) {
        Double margin = point.condition.margin();
        return margin == null ? Double.NEGATIVE_INFINITY : margin;
    }
}
