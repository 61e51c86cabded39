package org.juratest.server.asset;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.StripAxis;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.run.Event;
import org.juratest.core.run.RunState;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.plan.Horizon;
import org.juratest.server.record.Records;
import org.juratest.server.register.Facts;
import org.juratest.server.register.Facts.Fact;
import org.juratest.server.register.Register;
import org.juratest.server.run.PointViews;
import org.juratest.server.run.RunStore;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** The life of an asset, from the register, its records and the tables made from them. */
@Repository
class AssetLife {

    private static final int MOST_RECORDS = 200;

    private final JdbcClient jdbc;
    private final Register register;
    private final Records records;
    private final RunStore runs;
    private final Horizon horizon;

    AssetLife(JdbcClient jdbc, Register register, Records records, RunStore runs, Horizon horizon) {
        this.horizon = horizon;
        this.jdbc = jdbc;
        this.register = register;
        this.records = records;
        this.runs = runs;
    }

    /**
     * An asset with its life.
     *
     * @param standings where it stands and stood, newest first
     * @param records newest first
     * @param jobs laid and not done, first due first
     * @param series in the order of the work
     * @param repairs oldest first
     * @param next what is due next where no job of it is laid yet
     */
    record AssetView(
            String asset,
            String title,
            String family,
            String maker,
            String model,
            String serial,
            List<Fact> nameplate,
            List<Standing> standings,
            List<Records.RecordLine> records,
            List<LaidJob> jobs,
            List<SeriesView> series,
            List<Repair> repairs,
            Horizon.@Nullable NextDue next,
            String zone) {}

    /** A time at a position; {@code to} is absent while it stands there. */
    record Standing(String position, String site, String siteName, Instant from, @Nullable Instant to) {}

    /** A job that is laid. */
    record LaidJob(long id, String reason, LocalDate due, String status, @Nullable UUID run) {}

    /**
     * One test point and lane over time.
     *
     * @param from lower end of its axis
     * @param to upper end
     * @param points oldest first
     */
    record SeriesView(
            String series,
            String lane,
            String step,
            String name,
            String unit,
            Scale scale,
            double from,
            double to,
            List<SeriesPoint> points) {}

    /**
     * A value with the limits it was judged by.
     *
     * @param value what counted
     * @param asFound where it differs from what counted
     */
    record SeriesPoint(
            UUID run,
            String number,
            Instant at,
            double value,
            String figure,
            @Nullable Double asFound,
            Verdict verdict,
            @Nullable Double low,
            @Nullable Double high,
            boolean baseline) {}

    /**
     * Something done to the asset in a run.
     *
     * @param points what it touched, by their labels
     * @param touches the same as {@code series lane}, for the points that have a series
     */
    record Repair(
            UUID run, @Nullable String number, Instant at, String what, List<String> points, List<String> touches) {}

    private record Row(
            String id,
            String title,
            String family,
            String maker,
            String model,
            String serial,
            String assetClass,
            Nameplate nameplate) {}

    /**
     * An asset by its id, or by the position it stands at now.
     *
     * @throws NotFoundException if there is neither
     */
    AssetView of(String key) {
        Row row = jdbc.sql(
                        """
        SELECT a.id, c.title, c.family, a.maker, a.model, a.serial, a.class, a.nameplate::text FROM asset a
          JOIN asset_class c ON c.code = a.class
        WHERE a.id = coalesce((SELECT id FROM asset WHERE id = :key), (SELECT asset FROM installation
          WHERE position = :key AND during @> now()))""")
                .param("key", key)
                .query((rs, i) -> new Row(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getString(7),
                        CoreJson.mapper().readValue(rs.getString(8), Nameplate.class)))
                .optional()
                .orElseThrow(() -> new NotFoundException("asset", key));
        List<Standing> standings = standings(row.id);
        List<Records.RecordLine> lines = records.ofAsset(row.id, MOST_RECORDS);
        List<LaidJob> jobs = jobs(row.id);
        return new AssetView(
                row.id,
                row.title,
                row.family,
                row.maker,
                row.model,
                row.serial,
                Facts.of(row.nameplate, register.labels(row.assetClass)),
                standings,
                lines,
                jobs,
                series(row.id, lines),
                repairs(row.id),
                jobs.isEmpty() ? horizon.next(row.id).orElse(null) : null,
                standings.isEmpty() ? "UTC" : register.zone(standings.get(0).site));
    }

    private List<Standing> standings(String asset) {
        return jdbc.sql(
                        """
        SELECT i.position, s.code, s.name, lower(i.during), upper(i.during) FROM installation i JOIN position p
          ON p.code = i.position
          JOIN site s ON s.code = p.site WHERE i.asset = :asset ORDER BY lower(i.during) DESC""")
                .param("asset", asset)
                .query((rs, i) -> new Standing(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getTimestamp(4).toInstant(),
                        rs.getTimestamp(5) == null ? null : rs.getTimestamp(5).toInstant()))
                .list();
    }

    private List<LaidJob> jobs(String asset) {
        return jdbc.sql(
                        """
        SELECT j.id, j.reason, j.due, j.status, (SELECT r.id FROM run r WHERE r.job = j.id AND r.status = 'open'
          LIMIT 1)
        FROM job j WHERE j.asset = :asset AND j.status IN ('open', 'running', 'partly done') ORDER BY j.due, j.id""")
                .param("asset", asset)
                .query((rs, i) -> new LaidJob(
                        rs.getLong(1),
                        rs.getString(2),
                        rs.getObject(3, LocalDate.class),
                        rs.getString(4),
                        rs.getObject(5, UUID.class)))
                .list();
    }

    private record Value(String point, String series, String lane, String label, String unit, SeriesPoint at) {}

    private List<SeriesView> series(String asset, List<Records.RecordLine> lines) {
        if (lines.isEmpty()) {
            return List.of();
        }
        Map<String, List<Value>> bySeries = new LinkedHashMap<>();
        values(asset).forEach(v -> bySeries.computeIfAbsent(v.series + " " + v.lane, k -> new ArrayList<>())
                .add(v));
        RunState newest = runs.state(lines.get(0).run());
        List<PointKey> order = newest.procedure().keys(org.juratest.core.procedure.Scope.ALL);
        return bySeries.values().stream()
                .sorted(java.util.Comparator.comparing(v -> place(order, v.get(v.size() - 1))))
                .map(v -> series(newest, v))
                .toList();
    }

    private static int place(List<PointKey> order, Value value) {
        int at = order.indexOf(PointKey.parse(value.point));
        return at < 0 ? order.size() : at;
    }

    private static SeriesView series(RunState newest, List<Value> values) {
        Value last = values.get(values.size() - 1);
        PointKey key = PointKey.parse(last.point);
        Step step = newest.procedure().step(key.step()).orElse(null);
        Scale scale = step == null
                ? Scale.LINEAR
                : step.point(key.point()).map(p -> p.scale()).orElse(Scale.LINEAR);
        List<Double> shown = new ArrayList<>();
        values.forEach(v -> {
            shown.add(v.at.value);
            if (v.at.asFound != null) {
                shown.add(v.at.asFound);
            }
        });
        StripAxis axis = StripAxis.of(limit(last.at), scale, shown);
        if (axis == null) {
            throw new IllegalStateException("a series without a value");
        }
        String lane = step == null ? last.lane : newest.procedure().laneName(step, last.lane);
        return new SeriesView(
                last.series,
                last.lane,
                step == null ? last.label : step.title(),
                lane.isEmpty() || last.lane.equals(Lane.NONE) ? last.label : lane,
                PointViews.symbol(last.unit),
                scale,
                axis.from(),
                axis.to(),
                values.stream().map(v -> v.at).toList());
    }

    private static @Nullable ResolvedLimit limit(SeriesPoint point) {
        return point.low == null && point.high == null
                ? null
                : new ResolvedLimit(point.low, point.high, null, null, null, "", null, null);
    }

    private List<Value> values(String asset) {
        return jdbc.sql(
                        """
        SELECT v.point, v.series, v.lane, v.label, v.unit, r.id, r.record, r.finished_at, v.counting, v.as_found,
          v.verdict, v.low, v.high, is_baseline(r.asset, r.procedure, r.id, r.baseline)
        FROM run r JOIN run_point v ON v.run = r.id
        WHERE r.asset = :asset AND r.status = 'finished' AND v.series IS NOT NULL AND v.counting IS NOT NULL
          AND v.unit IS NOT NULL AND v.row_key IS NULL
        ORDER BY r.finished_at, r.id, v.point""")
                .param("asset", asset)
                .query(AssetLife::value)
                .list();
    }

    private static Value value(ResultSet rs, int i) throws SQLException {
        double value = rs.getDouble(9);
        Double found = rs.getObject(10, Double.class);
        Double low = rs.getObject(12, Double.class);
        Double high = rs.getObject(13, Double.class);
        ResolvedLimit limit =
                low == null && high == null ? null : new ResolvedLimit(low, high, null, null, null, "", null, null);
        return new Value(
                rs.getString(1),
                rs.getString(2),
                rs.getString(3),
                rs.getString(4),
                rs.getString(5),
                new SeriesPoint(
                        rs.getObject(6, UUID.class),
                        rs.getString(7),
                        rs.getTimestamp(8).toInstant(),
                        value,
                        PointViews.figure(value, Qualifier.EQUAL, limit),
                        found == null || found == value ? null : found,
                        CoreJson.mapper().convertValue(rs.getString(11), Verdict.class),
                        low,
                        high,
                        rs.getBoolean(14)));
    }

    /** Only the few runs that have an adjustment are read whole. */
    private List<Repair> repairs(String asset) {
        List<UUID> with = jdbc.sql(
                        """
        SELECT r.id FROM run r WHERE r.asset = :asset AND r.status <> 'aborted' AND EXISTS (SELECT 1 FROM event e
          WHERE e.run = r.id AND e.type = 'adjustmentMade')
        ORDER BY r.opened_at""")
                .param("asset", asset)
                .query(UUID.class)
                .list();
        List<Repair> repairs = new ArrayList<>();
        for (UUID id : with) {
            RunState run = runs.state(id);
            run.adjustments().forEach(a -> {
                Event event = run.events().get((int) a.at());
                repairs.add(new Repair(
                        id,
                        run.finished() == null ? null : run.finished().record(),
                        event.at(),
                        a.what(),
                        a.points().stream().sorted().map(p -> label(run, p)).toList(),
                        a.points().stream()
                                .sorted()
                                .flatMap(p -> touched(run, p).stream())
                                .toList()));
            });
        }
        return repairs;
    }

    private static Optional<String> touched(RunState run, PointKey key) {
        return run.procedure()
                .step(key.step())
                .flatMap(s -> s.point(key.point()))
                .map(TestPoint::series)
                .map(series -> series + " " + key.lane());
    }

    private static String label(RunState run, PointKey key) {
        Step step = run.procedure().step(key.step()).orElseThrow();
        String lane = run.procedure().laneName(step, key.lane());
        return step.point(key.point()).map(p -> p.label()).orElse(key.point()) + (lane.isEmpty() ? "" : ", " + lane);
    }
}
