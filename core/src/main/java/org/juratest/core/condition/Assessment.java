package org.juratest.core.condition;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;

/**
 * How a device stands, and why: from its last record, what its test points do over time, and their peers. It does not
 * depend on the day of asking: what that adds (overdue, not to be used) is added where it is asked.
 *
 * @param standing the gravest of all reasons
 * @param why that reason
 * @param worst place of the point with the most margin used, among those given; -1 where none has a margin
 * @param reasoned place of the point the reason is of; -1 where it is of the record as a whole
 */
public record Assessment(Standing standing, Why why, int worst, int reasoned) {

    /** What makes a device stand as it does. */
    public enum Why {
        /** A point, or the record, failed. */
        FAILED,
        /** A point meets its limit before the next test. */
        LIMIT_BEFORE_NEXT,
        /** A point meets its limit before the next test but one. */
        LIMIT_BEFORE_NEXT_BUT_ONE,
        /** A point's last value came by a step without a recorded cause. */
        STEP,
        /** A point lies apart from its peers in the bad direction. */
        OUTLIER,
        /** A point is inside its limit by less than the marginal zone, or than the uncertainty. */
        NEAR,
        /** Something that was to be judged was not. */
        NOT_JUDGED,
        /** Only a part was tested. */
        IN_PART,
        /** Nothing of the above. */
        SOUND
    }

    /**
     * A test point as it is assessed.
     *
     * @param outlier whether it lies apart from its peers in the bad direction
     */
    public record Point(PointCondition condition, boolean outlier) {}

    private record Reason(Standing standing, double urgency, Why why, int point) {}

    /**
     * Of a device that was tested.
     *
     * @param verdict of its last record
     * @param complete whether every required point was judged then
     * @param nextTest when it is tested next, years since 1970; empty where nothing is planned
     * @param interval between tests, years; empty where none is planned
     */
    public static Assessment of(
            Verdict verdict, boolean complete, List<Point> points, OptionalDouble nextTest, OptionalDouble interval) {
        List<Reason> reasons = new ArrayList<>();
        for (int i = 0; i < points.size(); i++) {
            of(points.get(i), i, nextTest, interval, reasons);
        }
        Standing record = Standing.of(verdict, complete);
        reasons.add(new Reason(record, Double.NEGATIVE_INFINITY, whole(record, verdict), -1));
        Reason gravest = reasons.stream()
                .min(Comparator.comparingInt((Reason r) -> rank(r.standing))
                        .thenComparing(Reason::why)
                        .thenComparing(Reason::urgency, Comparator.reverseOrder()))
                .orElseThrow();
        // Of equal words the one that names a point.
        Reason named = reasons.stream()
                .filter(r -> r.why == gravest.why && r.point >= 0)
                .max(Comparator.comparingDouble(Reason::urgency))
                .orElse(gravest);
        return new Assessment(gravest.standing, gravest.why, worst(points), named.point);
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

    private static Why whole(Standing record, Verdict verdict) {
        return switch (record) {
            case ACT -> Why.FAILED;
            case WATCH -> Why.NEAR;
            case UNKNOWN -> verdict == Verdict.NOT_JUDGED ? Why.NOT_JUDGED : Why.IN_PART;
            case SOUND -> Why.SOUND;
        };
    }

    private static void of(
            Point point, int place, OptionalDouble nextTest, OptionalDouble interval, List<Reason> reasons) {
        PointCondition condition = point.condition;
        double margin = condition.margin() == null ? 0 : condition.margin();
        Verdict verdict = condition.verdict();
        if (verdict == Verdict.FAIL || verdict == Verdict.MARGINAL_OUTSIDE) {
            reasons.add(new Reason(Standing.ACT, margin, Why.FAILED, place));
            return;
        }
        OptionalDouble crossing = condition.crossing();
        if (crossing.isPresent() && nextTest.isPresent()) {
            double at = crossing.getAsDouble();
            if (at <= nextTest.getAsDouble()) {
                reasons.add(new Reason(Standing.ACT, -at, Why.LIMIT_BEFORE_NEXT, place));
            } else if (at <= nextTest.getAsDouble() + interval.orElse(0)) {
                reasons.add(new Reason(Standing.WATCH, -at, Why.LIMIT_BEFORE_NEXT_BUT_ONE, place));
            }
        }
        if (condition.stepped()) {
            reasons.add(new Reason(Standing.WATCH, margin, Why.STEP, place));
        }
        if (point.outlier) {
            reasons.add(new Reason(Standing.WATCH, margin, Why.OUTLIER, place));
        }
        if (verdict == Verdict.MARGINAL_INSIDE) {
            reasons.add(new Reason(Standing.WATCH, margin, Why.NEAR, place));
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

    /**
     * A reason as a sentence says it: "distance, side B: at its limit between spring and autumn 2027".
     *
     * @param label of point and lane, in words; absent where it is of the record as a whole
     * @param figure what the point came to, against what is allowed; absent where there is none
     * @param meets when the point meets its limit, in words; absent where it does not
     */
    public static String words(Why why, @Nullable String label, @Nullable String figure, @Nullable String meets) {
        String of = label == null ? "" : label + ": ";
        return switch (why) {
            case FAILED -> of + (figure == null ? "failed" : figure);
            case LIMIT_BEFORE_NEXT -> of + meets + (TrendWords.NOW.equals(meets) ? "" : ", before its next test");
            case LIMIT_BEFORE_NEXT_BUT_ONE -> of + meets;
            case STEP -> of + "a step since the last test, without a recorded cause";
            case OUTLIER -> of + "apart from all others of its model";
            case NEAR -> of + "near its limit" + (figure == null ? "" : ", " + figure);
            case NOT_JUDGED -> "not judged";
            case IN_PART -> "tested in part only";
            case SOUND -> "sound";
        };
    }
}
