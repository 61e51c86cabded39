package org.juratest.server.record;

import java.time.Instant;
import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;
import org.juratest.core.record.Chart;
import org.juratest.core.record.Comparison;
import org.juratest.core.record.Headline;
import org.juratest.server.run.PointViews;

/**
 * A record, or a run that is going on, beside earlier ones.
 *
 * @param with in the order they were asked for
 * @param rows points of {@code of}, in the order of its work
 * @param onlyThen labels of points only an earlier one has, by its place in {@code with}
 */
record ComparisonView(
        ComparedSide of,
        List<ComparedSide> with,
        List<ComparedRow> rows,
        List<ComparedChart> charts,
        List<ComparedTrace> traces,
        List<List<String>> onlyThen) {

    /**
     * One of the sides.
     *
     * @param number absent while the run is going on
     * @param at when it was finished, or opened where it is not
     */
    record ComparedSide(
            UUID run,
            @Nullable String number,
            Instant at,
            String zone,
            String asset,
            String position,
            String siteName,
            String maker,
            String model,
            String serial,
            String title,
            Headline headline,
            Verdict verdict,
            boolean complete,
            boolean baseline) {}

    /** A point of {@code of} with what it was in each of the others. */
    record ComparedRow(PointViews.PointView now, String step, String name, List<ComparedCell> then) {}

    /**
     * What a point was in an earlier one.
     *
     * @param value absent where it has none
     * @param change now less then, signed, in the point's unit; absent where they cannot be subtracted
     * @param changeValue the same as a number
     * @param percent the change as a share of the value then, per cent; absent where there is none or the value then is
     *     0
     * @param drift as found now less what was left then; absent where nothing was adjusted between
     * @param uncertainty expanded, of the change
     * @param marginPoints change of margin used, in points of per cent
     */
    record ComparedCell(
            PointViews.@Nullable Figured value,
            @Nullable String change,
            @Nullable Double changeValue,
            @Nullable Double percent,
            @Nullable String drift,
            @Nullable String uncertainty,
            @Nullable Double marginPoints,
            Comparison.Seen seen,
            List<String> differences) {}

    /**
     * Charts over each other.
     *
     * @param then by place in {@code with}; one without spots where it has none
     * @param sameBounds whether all stand within the same bounds
     */
    record ComparedChart(Chart now, List<ThenChart> then, boolean sameBounds) {}

    /**
     * A captured trace and the same of the others.
     *
     * @param then SHA-256 of each that has one, with its place in {@code with}
     */
    record ComparedTrace(RecordView.RecordTrace now, List<ThenTrace> then) {}

    /** The trace of an earlier one; {@code with} is its place. */
    record ThenTrace(int with, String blob) {}

    /** What stands in the chart of an earlier one; {@code with} is its place. */
    record ThenChart(int with, List<Chart.Spot> spots) {}
}
