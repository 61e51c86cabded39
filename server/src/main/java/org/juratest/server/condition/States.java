package org.juratest.server.condition;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.condition.Assessment;
import org.juratest.core.condition.IntervalAdvice;
import org.juratest.core.condition.Line;
import org.juratest.core.condition.PointCondition;
import org.juratest.core.condition.Timed;
import org.juratest.core.condition.Trend;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.Verdict;
import org.juratest.formats.json.CoreJson;

/** What the tables of conditions hold of a device, as a function of what was read of it and of nothing else. */
final class States {

    private States() {}

    /** A test point of a device. */
    record Key(String asset, String series, String lane) implements Comparable<Key> {
        @Override
        public int compareTo(Key other) {
            int by = asset.compareTo(other.asset);
            by = by != 0 ? by : series.compareTo(other.series);
            return by != 0 ? by : lane.compareTo(other.lane);
        }
    }

    /**
     * A test point at one visit, with what is said of it there.
     *
     * @param point its key in the procedure
     */
    record Seen(
            UUID run,
            String procedure,
            String label,
            String unit,
            Scale scale,
            String point,
            PointCondition.Visit visit) {}

    /** A device's last record. */
    record Last(UUID run, Instant at, Verdict verdict, boolean complete, @Nullable Double interval) {}

    /** A row of {@code series_state}, but for its peers. */
    record SeriesRow(
            Key key,
            String label,
            String unit,
            String scale,
            String procedure,
            UUID run,
            Instant at,
            double value,
            @Nullable Double low,
            @Nullable Double high,
            String verdict,
            @Nullable Double margin,
            int visits,
            int n,
            @Nullable Double drift,
            @Nullable Double p,
            @Nullable Double crossing,
            @Nullable Double from80,
            @Nullable Double to80,
            @Nullable String outlook,
            @Nullable String method,
            boolean stepped,
            boolean limitMoved,
            @Nullable Integer advice) {}

    /** A row of {@code asset_state}. */
    record AssetRow(
            String asset,
            String standing,
            String why,
            @Nullable String worstSeries,
            @Nullable String worstLane,
            @Nullable String series,
            @Nullable String lane,
            @Nullable Double margin,
            @Nullable Double drift,
            UUID run,
            Instant at,
            @Nullable Double nextTest,
            @Nullable Double interval,
            @Nullable Integer advice) {}

    /** A device's test points, worked out, in their order. */
    record Worked(Map<Key, SeriesRow> rows, Map<Key, PointCondition> conditions) {}

    /**
     * @param seen of each point in the order of time
     * @param risk that an advised interval may bear
     */
    static Worked worked(Map<Key, List<Seen>> seen, double risk) {
        Map<Key, SeriesRow> rows = new TreeMap<>();
        Map<Key, PointCondition> conditions = new TreeMap<>();
        seen.forEach((key, visits) -> {
            Seen last = visits.get(visits.size() - 1);
            List<PointCondition.Visit> given =
                    comparable(visits).stream().map(Seen::visit).toList();
            PointCondition condition = PointCondition.of(given, last.scale);
            IntervalAdvice advice =
                    IntervalAdvice.of(condition.trend(), PointCondition.values(given, last.scale), risk);
            conditions.put(key, condition);
            rows.put(key, row(key, last, condition, advice == null ? null : (Integer) advice.months()));
        });
        return new Worked(rows, conditions);
    }

    /** Those that the last one can be compared with: a change of unit or scale begins the series anew. */
    static List<Seen> comparable(List<Seen> visits) {
        Seen last = visits.get(visits.size() - 1);
        int from = visits.size();
        while (from > 0 && visits.get(from - 1).unit.equals(last.unit) && visits.get(from - 1).scale == last.scale) {
            from--;
        }
        return visits.subList(from, visits.size());
    }

    private static SeriesRow row(Key key, Seen last, PointCondition condition, @Nullable Integer advice) {
        Trend.Segment segment = condition.trend().last();
        Line.Range range = segment == null ? null : segment.range();
        return new SeriesRow(
                key,
                last.label,
                last.unit,
                word(last.scale),
                last.procedure,
                last.run,
                last.visit.at(),
                condition.value(),
                last.visit.low(),
                last.visit.high(),
                word(condition.verdict()),
                condition.margin(),
                condition.visits(),
                segment == null ? 0 : segment.n(),
                condition.drift().isPresent() ? (Double) condition.drift().getAsDouble() : null,
                segment == null || segment.monotony().slope().isEmpty()
                        ? null
                        : (Double) segment.monotony().p(),
                segment == null || segment.crossing().isEmpty()
                        ? null
                        : (Double) segment.crossing().getAsDouble(),
                range == null ? null : (Double) range.from(),
                range == null ? null : (Double) range.to(),
                segment == null ? null : word(segment.outlook()),
                segment == null ? null : word(segment.method()),
                condition.stepped(),
                condition.limitMoved(),
                advice);
    }

    /**
     * How a device stands.
     *
     * @param points its test points, in their order
     * @param outliers those of them that lie apart from their peers
     * @param advice months to the next test, the least of its points; absent where none is known
     */
    static AssetRow assessed(
            String asset,
            Last last,
            Map<Key, PointCondition> points,
            java.util.Set<Key> outliers,
            @Nullable Integer advice) {
        List<Key> keys = new ArrayList<>(points.keySet());
        List<Assessment.Point> assessed = keys.stream()
                .map(k -> new Assessment.Point(java.util.Objects.requireNonNull(points.get(k)), outliers.contains(k)))
                .toList();
        Double interval = last.interval;
        Double next = interval == null ? null : (Double) (Timed.years(last.at) + interval);
        Assessment found = Assessment.of(last.verdict, last.complete, assessed, optional(next), optional(interval));
        Key worst = found.worst() < 0 ? null : keys.get(found.worst());
        Key reasoned = found.reasoned() < 0 ? null : keys.get(found.reasoned());
        PointCondition worstCondition = worst == null ? null : points.get(worst);
        return new AssetRow(
                asset,
                word(found.standing()),
                word(found.why()),
                worst == null ? null : worst.series,
                worst == null ? null : worst.lane,
                reasoned == null ? null : reasoned.series,
                reasoned == null ? null : reasoned.lane,
                worstCondition == null ? null : worstCondition.margin(),
                worstCondition == null || worstCondition.drift().isEmpty()
                        ? null
                        : (Double) worstCondition.drift().getAsDouble(),
                last.run,
                last.at,
                next,
                interval,
                advice);
    }

    private static java.util.OptionalDouble optional(@Nullable Double value) {
        return value == null ? java.util.OptionalDouble.empty() : java.util.OptionalDouble.of(value);
    }

    static String word(Enum<?> constant) {
        return CoreJson.constantName(constant);
    }
}
