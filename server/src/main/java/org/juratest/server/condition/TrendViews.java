package org.juratest.server.condition;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.Verdict;

/** A device's test points over time, as they are told and drawn. */
final class TrendViews {

    private TrendViews() {}

    /**
     * A device with its trends.
     *
     * @param position where it stands; absent in the store
     * @param standing today
     * @param reason of it, in words
     * @param series the test point that the reason is of, else its worst; absent where there is none
     * @param lane likewise
     * @param assetClass code
     * @param watched why people keep an eye on it; absent where they do not
     * @param interval between its tests as planned, months; absent where no plan says
     * @param risk that an advised interval bears
     * @param points in the order of the work
     * @param marks what happened to it, oldest first
     * @param baselines records that are or were what others are compared with, oldest first
     * @param zone of its site
     */
    record TrendsView(
            String asset,
            String title,
            String maker,
            String model,
            String serial,
            @Nullable String position,
            @Nullable String siteName,
            String standing,
            String reason,
            @Nullable String series,
            @Nullable String lane,
            String assetClass,
            @Nullable WatchedView watched,
            @Nullable Double interval,
            double risk,
            List<TrendPoint> points,
            List<TrendMark> marks,
            List<BaselineView> baselines,
            String zone) {}

    /** On the watch list, by whom since when. */
    record WatchedView(String reason, String by, Instant since) {}

    /**
     * Something that happened to a device.
     *
     * @param kind {@code repair}, {@code failure}, {@code adjustment}, {@code installed}, {@code takenOut} or
     *     {@code baseline}
     * @param record of the run it was done in; absent where it was not in one
     * @param touches "series lane" of the points it bears on; empty for all
     */
    record TrendMark(Instant at, String kind, String words, @Nullable String record, List<String> touches) {}

    /**
     * A record that is or was a baseline.
     *
     * @param inForce whether others are compared with it now
     * @param reason why it was chosen; absent for an acceptance, which is one by itself
     */
    record BaselineView(
            String record,
            String procedure,
            Instant finishedAt,
            boolean inForce,
            @Nullable String reason,
            @Nullable String by,
            @Nullable Instant chosenAt) {}

    /**
     * One test point and lane over time. Values are in its unit, drifts in margin used a year.
     *
     * @param step title of its step
     * @param name within the step: its lane, else its own
     * @param label of point and lane
     * @param procedure that measured it last
     * @param from lower end of its axis
     * @param to upper end
     * @param outlook when it meets its limit, or why that is not said
     * @param words what that rests on, in sentences
     * @param crossing when the line meets the limit; absent where it does not
     * @param outlier whether it lies apart from its peers in the bad direction
     * @param advice months to the next test at which the chance to find it outside stays under the risk; absent where
     *     too little is known
     * @param fans lines with their fans, oldest first
     */
    record TrendPoint(
            String series,
            String lane,
            String step,
            String name,
            String label,
            String procedure,
            String unit,
            Scale scale,
            double from,
            double to,
            String outlook,
            List<String> words,
            @Nullable LocalDate crossing,
            @Nullable LocalDate crossingFrom80,
            @Nullable LocalDate crossingTo80,
            @Nullable Double margin,
            @Nullable Double drift,
            boolean drifts,
            boolean outlier,
            @Nullable Integer advice,
            List<TrendVisit> visits,
            List<TrendFan> fans) {}

    /**
     * A value at a visit.
     *
     * @param asFound where something was adjusted
     * @param uncertainty expanded; absent where it is not known
     * @param source of its limit
     * @param baseline whether others are compared with it now
     * @param cut whether the series begins anew before it
     * @param step whether it came by a step without a recorded cause
     * @param gear what measured it; absent where nothing did
     * @param flags what is to be known of it, in words
     * @param with what it was measured at, in words
     */
    record TrendVisit(
            UUID run,
            String number,
            Instant at,
            double value,
            String figure,
            @Nullable Double asFound,
            @Nullable String asFoundFigure,
            @Nullable Double uncertainty,
            @Nullable Double low,
            @Nullable Double high,
            @Nullable String source,
            Verdict verdict,
            boolean baseline,
            boolean cut,
            boolean step,
            @Nullable String gear,
            List<String> flags,
            @Nullable String with) {}

    /**
     * A fitted line with its fan, place by place.
     *
     * @param at ms since 1970
     * @param low lower side of the fan; empty where nothing is known of it
     */
    record TrendFan(List<Double> at, List<Double> line, List<Double> low, List<Double> high) {}
}
