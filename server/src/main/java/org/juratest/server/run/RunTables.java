package org.juratest.server.run;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.condition.Standing;
import org.juratest.core.limit.Verdict;
import org.juratest.core.run.RunState;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.db.BulkCopy;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.jdbc.core.namedparam.SqlParameterSource;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** The fast tables of runs. Every write happens in the transaction of the events it comes from. */
@Repository
public class RunTables {

    private final JdbcTemplate template;
    private final JdbcClient jdbc;
    private final NamedParameterJdbcTemplate batch;

    public RunTables(JdbcTemplate template) {
        this.template = template;
        this.jdbc = JdbcClient.create(template);
        this.batch = new NamedParameterJdbcTemplate(template);
    }

    /** Writes the difference between two states, but for the run's own row ({@link #HEAD}). */
    void write(UUID run, String asset, @Nullable RunRows before, RunRows after) {
        Map<String, RunRows.ReadingRow> readings = before == null ? Map.of() : before.readings();
        readings(
                run,
                asset,
                after.readings().values().stream()
                        .filter(r -> !r.equals(readings.get(r.key())))
                        .toList());
        Map<String, RunRows.PointRow> points = before == null ? Map.of() : before.points();
        points(
                run,
                after.points().values().stream()
                        .filter(p -> !p.equals(points.get(p.point())))
                        .toList());
        List<String> gone = points.keySet().stream()
                .filter(k -> !after.points().containsKey(k))
                .toList();
        if (!gone.isEmpty()) {
            jdbc.sql("DELETE FROM run_point WHERE run = :run AND point IN (:points)")
                    .param("run", run)
                    .param("points", gone)
                    .update();
        }
        if (after.head().finishedAt() != null
                && (before == null || before.head().finishedAt() == null)) {
            lastValues(run, asset, after);
            lastRecord(LastRecord.of(run, asset, after));
        }
        if (after.lines() != null && (before == null || !after.lines().equals(before.lines()))) {
            jdbc.sql(
                            """
        INSERT INTO run_table (run, about, rows) VALUES (:run, :about, :rows)
        ON CONFLICT (run) DO UPDATE SET about = excluded.about, rows = excluded.rows""")
                    .param("run", run)
                    .param("about", after.lines().about())
                    .param("rows", after.lines().rows())
                    .update();
        }
    }

    private void lastRecord(LastRecord r) {
        jdbc.sql(
                        """
        INSERT INTO last_record (asset, run, at, standing) VALUES (:asset, :run, :at, :standing)
        ON CONFLICT (asset) DO UPDATE SET run = excluded.run, at = excluded.at, standing = excluded.standing
        WHERE (last_record.at, last_record.run) <= (excluded.at, excluded.run)""")
                .param("asset", r.asset)
                .param("run", r.run)
                .param("at", time(r.at))
                .param("standing", r.standing)
                .update();
    }

    /** Columns of a run's row that say how it stands, with the names of their values. */
    static final String HEAD =
            """
      person_events = :personEvents, status = :status, output_mode = :outputMode, busy = :busy,
        armed_until = :armedUntil, driver = :driver, verdict = :verdict,
      complete = :complete, record = :record, opened_at = :openedAt, finished_at = :finishedAt, baseline = :baseline,
        procedure = :procedure, title = :title,
      performed_by = :performedBy, sign_off = :signOff, amended = :amended, gear = :gear""";

    /** The values of {@link #HEAD}. */
    static MapSqlParameterSource headValues(RunRows.Head h) {
        return new MapSqlParameterSource()
                .addValue("personEvents", h.personEvents())
                .addValue("status", h.status())
                .addValue("outputMode", h.outputMode())
                .addValue("busy", h.busy())
                .addValue("armedUntil", time(h.armedUntil()), Types.TIMESTAMP_WITH_TIMEZONE)
                .addValue("driver", h.driver(), Types.VARCHAR)
                .addValue("verdict", h.verdict(), Types.VARCHAR)
                .addValue("complete", h.complete(), Types.BOOLEAN)
                .addValue("record", h.record(), Types.VARCHAR)
                .addValue("openedAt", time(h.openedAt()), Types.TIMESTAMP_WITH_TIMEZONE)
                .addValue("finishedAt", time(h.finishedAt()), Types.TIMESTAMP_WITH_TIMEZONE)
                .addValue("baseline", h.baseline())
                .addValue("procedure", h.procedure(), Types.VARCHAR)
                .addValue("title", h.title(), Types.VARCHAR)
                .addValue("performedBy", h.performedBy(), Types.VARCHAR)
                .addValue("signOff", h.signOff(), Types.VARCHAR)
                .addValue("amended", h.amended())
                .addValue("gear", h.gear());
    }

    private void readings(UUID run, String asset, List<RunRows.ReadingRow> rows) {
        if (rows.isEmpty()) {
            return;
        }
        batch.batchUpdate(
                """
        INSERT INTO reading (at, run, asset, attempt, point, series, lane, value, unit, qualifier, uncertainty,
          source, counts)
        VALUES (:at, :run, :asset, :attempt, :point, :series, :lane, :value, :unit, :qualifier, :uncertainty,
          :source, :counts)
        ON CONFLICT (at, attempt, point) DO UPDATE SET counts = excluded.counts""",
                rows.stream()
                        .map(r -> new MapSqlParameterSource()
                                .addValue("at", time(r.at()))
                                .addValue("run", run)
                                .addValue("asset", asset)
                                .addValue("attempt", r.attempt())
                                .addValue("point", r.point())
                                .addValue("series", r.series(), Types.VARCHAR)
                                .addValue("lane", r.lane())
                                .addValue("value", r.value())
                                .addValue("unit", r.unit())
                                .addValue("qualifier", r.qualifier())
                                .addValue("uncertainty", r.uncertainty(), Types.DOUBLE)
                                .addValue("source", r.source())
                                .addValue("counts", r.counts()))
                        .toArray(SqlParameterSource[]::new));
    }

    private void points(UUID run, List<RunRows.PointRow> rows) {
        if (rows.isEmpty()) {
            return;
        }
        batch.batchUpdate(
                """
        INSERT INTO run_point (run, point, series, lane, label, required, as_found, as_left, counting, unit,
          qualifier, verdict, margin_used, low, high, row_key, row_reach, ideal, scale,
          uncertainty)
        VALUES (:run, :point, :series, :lane, :label, :required, :asFound, :asLeft, :counting, :unit, :qualifier,
          :verdict, :marginUsed, :low, :high, :rowKey, :rowReach, :ideal, :scale, :uncertainty)
        ON CONFLICT (run, point) DO UPDATE SET required = excluded.required, as_found = excluded.as_found,
          as_left = excluded.as_left,
          counting = excluded.counting,
          qualifier = excluded.qualifier, verdict = excluded.verdict, margin_used = excluded.margin_used,
            low = excluded.low,
          high = excluded.high, row_key = excluded.row_key,
          row_reach = excluded.row_reach, ideal = excluded.ideal, scale = excluded.scale,
            uncertainty = excluded.uncertainty""",
                rows.stream()
                        .map(p -> new MapSqlParameterSource()
                                .addValue("run", run)
                                .addValue("point", p.point())
                                .addValue("series", p.series(), Types.VARCHAR)
                                .addValue("lane", p.lane())
                                .addValue("label", p.label())
                                .addValue("required", p.required())
                                .addValue("asFound", p.asFound(), Types.DOUBLE)
                                .addValue("asLeft", p.asLeft(), Types.DOUBLE)
                                .addValue("counting", p.counting(), Types.DOUBLE)
                                .addValue("unit", p.unit(), Types.VARCHAR)
                                .addValue("qualifier", p.qualifier(), Types.VARCHAR)
                                .addValue("verdict", p.verdict())
                                .addValue("marginUsed", p.marginUsed(), Types.DOUBLE)
                                .addValue("low", p.low(), Types.DOUBLE)
                                .addValue("high", p.high(), Types.DOUBLE)
                                .addValue("rowKey", p.rowKey(), Types.DOUBLE)
                                .addValue("rowReach", p.rowReach(), Types.DOUBLE)
                                .addValue("ideal", p.ideal(), Types.DOUBLE)
                                .addValue("scale", p.scale())
                                .addValue("uncertainty", p.uncertainty(), Types.DOUBLE))
                        .toArray(SqlParameterSource[]::new));
    }

    private void lastValues(UUID run, String asset, RunRows rows) {
        SqlParameterSource[] values = rows.points().values().stream()
                .filter(p -> p.series() != null && p.counting() != null && p.rowKey() == null)
                .map(p -> new MapSqlParameterSource()
                        .addValue("asset", asset)
                        .addValue("series", p.series())
                        .addValue("lane", p.lane())
                        .addValue("value", p.counting())
                        .addValue("unit", p.unit())
                        .addValue("at", time(rows.head().finishedAt()))
                        .addValue("run", run))
                .toArray(SqlParameterSource[]::new);
        batch.batchUpdate(
                """
        INSERT INTO last_value (asset, series, lane, value, unit, at, run)
        VALUES (:asset, :series, :lane, :value, :unit, :at, :run)
        ON CONFLICT (asset, series, lane) DO UPDATE SET value = excluded.value, unit = excluded.unit, at = excluded.at,
          run = excluded.run WHERE (last_value.at, last_value.run) <= (excluded.at, excluded.run)""",
                values);
    }

    /** Takes out all rows of {@code last_value} and {@code last_record}. */
    void clearLast() {
        jdbc.sql("DELETE FROM last_value").update();
        jdbc.sql("DELETE FROM last_record").update();
    }

    /** A run with what its events give. */
    record Whole(UUID run, String asset, RunState state) {}

    /** Writes the rows of some runs as if they had none: what is many of them by COPY. */
    void rewrite(Collection<Whole> runs) {
        UUID[] ids = runs.stream().map(Whole::run).toArray(UUID[]::new);
        jdbc.sql("DELETE FROM reading WHERE run = ANY (:runs)")
                .param("runs", ids)
                .update();
        jdbc.sql("DELETE FROM run_point WHERE run = ANY (:runs)")
                .param("runs", ids)
                .update();
        jdbc.sql("DELETE FROM run_table WHERE run = ANY (:runs)")
                .param("runs", ids)
                .update();
        List<Rows> all = runs.stream()
                .map(r -> new Rows(r.run, r.asset, RunRows.of(r.state)))
                .toList();
        batch.batchUpdate(
                "UPDATE run SET " + HEAD + " WHERE id = :run",
                all.stream()
                        .map(r -> headValues(r.rows.head()).addValue("run", r.run))
                        .toArray(SqlParameterSource[]::new));
        copy(
                "reading (at, run, asset, attempt, point, series, lane, value, unit, qualifier, uncertainty, source, "
                        + "counts)",
                all.stream().flatMap(r -> r.rows.readings().values().stream()
                        .map(v -> cells(
                                v.at(),
                                r.run,
                                r.asset,
                                v.attempt(),
                                v.point(),
                                v.series(),
                                v.lane(),
                                v.value(),
                                v.unit(),
                                v.qualifier(),
                                v.uncertainty(),
                                v.source(),
                                v.counts()))));
        copy(
                "run_point (run, point, series, lane, label, required, as_found, as_left, counting, unit, qualifier, "
                        + "verdict, margin_used, low, high, row_key, row_reach, ideal, scale, uncertainty)",
                all.stream().flatMap(r -> r.rows.points().values().stream()
                        .map(p -> cells(
                                r.run,
                                p.point(),
                                p.series(),
                                p.lane(),
                                p.label(),
                                p.required(),
                                p.asFound(),
                                p.asLeft(),
                                p.counting(),
                                p.unit(),
                                p.qualifier(),
                                p.verdict(),
                                p.marginUsed(),
                                p.low(),
                                p.high(),
                                p.rowKey(),
                                p.rowReach(),
                                p.ideal(),
                                p.scale(),
                                p.uncertainty()))));
        copy(
                "run_table (run, about, rows)",
                all.stream()
                        .filter(r -> r.rows.lines() != null)
                        .map(r -> cells(
                                r.run,
                                Objects.requireNonNull(r.rows.lines()).about(),
                                r.rows.lines().rows())));
        for (Rows r : all) {
            if (r.rows.head().finishedAt() != null) {
                lastValues(r.run, r.asset, r.rows);
                lastRecord(LastRecord.of(r.run, r.asset, r.rows));
            }
        }
    }

    private record Rows(UUID run, String asset, RunRows rows) {}

    private static @Nullable Object[] cells(@Nullable Object... cells) {
        return cells;
    }

    private void copy(String target, Stream<@Nullable Object[]> rows) {
        BulkCopy.rows(template, target, rows.iterator(), cells -> cells, done -> {});
    }

    /** The rows a run has in the database. */
    RunRows stored(UUID run) {
        RunRows.Head head = jdbc.sql(
                        """
        SELECT person_events, status, output_mode, busy, armed_until, driver, verdict, complete, record, opened_at,
          finished_at, baseline,
          procedure, title, performed_by, sign_off, amended, coalesce(gear, '')
        FROM run WHERE id = :run""")
                .param("run", run)
                .query(RunTables::head)
                .single();
        Map<String, RunRows.ReadingRow> readings = new LinkedHashMap<>();
        jdbc.sql("SELECT at, attempt, point, series, lane, value, unit, qualifier, uncertainty, source, "
                        + "counts FROM reading WHERE run = :run")
                .param("run", run)
                .query(RunTables::reading)
                .list()
                .forEach(r -> readings.put(r.key(), r));
        Map<String, RunRows.PointRow> points = new LinkedHashMap<>();
        jdbc.sql(
                        """
        SELECT point, series, lane, label, required, as_found, as_left, counting, unit, qualifier, verdict,
          margin_used, low, high, row_key, row_reach, ideal, scale, uncertainty
        FROM run_point WHERE run = :run""")
                .param("run", run)
                .query(RunTables::point)
                .list()
                .forEach(p -> points.put(p.point(), p));
        RecordLines lines = jdbc.sql("SELECT about, rows FROM run_table WHERE run = :run")
                .param("run", run)
                .query((rs, i) -> new RecordLines(rs.getString(1), rs.getString(2)))
                .optional()
                .orElse(null);
        return new RunRows(head, readings, points, lines);
    }

    /** One row of {@code last_record}. */
    record LastRecord(String asset, UUID run, Instant at, String standing) {

        static LastRecord of(UUID run, String asset, RunRows rows) {
            RunRows.Head head = rows.head();
            Verdict verdict = CoreJson.mapper().convertValue(Objects.requireNonNull(head.verdict()), Verdict.class);
            return new LastRecord(
                    asset,
                    run,
                    Objects.requireNonNull(head.finishedAt()),
                    RunRows.word(Standing.of(verdict, Boolean.TRUE.equals(head.complete()))));
        }
    }

    private static RunRows.Head head(ResultSet rs, int i) throws SQLException {
        return new RunRows.Head(
                rs.getLong(1),
                rs.getString(2),
                rs.getString(3),
                rs.getBoolean(4),
                instant(rs, 5),
                rs.getString(6),
                rs.getString(7),
                rs.getObject(8, Boolean.class),
                rs.getString(9),
                Objects.requireNonNull(instant(rs, 10)),
                instant(rs, 11),
                rs.getBoolean(12),
                rs.getString(13),
                rs.getString(14),
                rs.getString(15),
                rs.getString(16),
                rs.getBoolean(17),
                rs.getString(18));
    }

    private static RunRows.ReadingRow reading(ResultSet rs, int i) throws SQLException {
        return new RunRows.ReadingRow(
                Objects.requireNonNull(instant(rs, 1)),
                rs.getObject(2, UUID.class),
                rs.getString(3),
                rs.getString(4),
                rs.getString(5),
                rs.getDouble(6),
                rs.getString(7),
                rs.getString(8),
                rs.getObject(9, Double.class),
                rs.getString(10),
                rs.getBoolean(11));
    }

    private static RunRows.PointRow point(ResultSet rs, int i) throws SQLException {
        return new RunRows.PointRow(
                rs.getString(1),
                rs.getString(2),
                rs.getString(3),
                rs.getString(4),
                rs.getBoolean(5),
                rs.getObject(6, Double.class),
                rs.getObject(7, Double.class),
                rs.getObject(8, Double.class),
                rs.getString(9),
                rs.getString(10),
                rs.getString(11),
                rs.getObject(12, Double.class),
                rs.getObject(13, Double.class),
                rs.getObject(14, Double.class),
                rs.getObject(15, Double.class),
                rs.getObject(16, Double.class),
                rs.getObject(17, Double.class),
                String.valueOf(rs.getString(18)),
                rs.getObject(19, Double.class));
    }

    static @Nullable OffsetDateTime time(@Nullable Instant instant) {
        return instant == null ? null : instant.atOffset(ZoneOffset.UTC);
    }

    static @Nullable Instant instant(ResultSet rs, int column) throws SQLException {
        Timestamp timestamp = rs.getTimestamp(column);
        return timestamp == null ? null : timestamp.toInstant();
    }
}
