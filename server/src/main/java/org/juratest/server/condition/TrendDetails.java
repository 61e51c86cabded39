package org.juratest.server.condition;

import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Figures;
import org.juratest.server.condition.TrendViews.BaselineView;
import org.juratest.server.condition.TrendViews.TrendMark;
import org.juratest.server.run.PointViews;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;
import tools.jackson.databind.JsonNode;

/** What is told beside the values of a device: their records, gear and conditions, and what happened between them. */
final class TrendDetails {

    private final JdbcClient jdbc;

    TrendDetails(JdbcTemplate template) {
        this.jdbc = JdbcClient.create(template);
    }

    /** @param baseline whether others are compared with it now */
    record RunRow(UUID run, String record, Instant finishedAt, boolean baseline) {}

    /**
     * How a value was taken.
     *
     * @param gear its name; absent where nothing measured
     * @param with what it was measured at, in words
     * @param source of its limit
     */
    record Taken(@Nullable String gear, @Nullable String with, @Nullable String source) {
        static final Taken NOTHING = new Taken(null, null, null);
    }

    Map<UUID, RunRow> runs(String asset) {
        Map<UUID, RunRow> all = new LinkedHashMap<>();
        jdbc.sql(
                        """
        SELECT r.id, r.record, r.finished_at, is_baseline(r.asset, r.procedure, r.id, r.baseline) FROM run r
        WHERE r.asset = :asset AND r.status = 'finished' ORDER BY r.finished_at, r.id""")
                .param("asset", asset)
                .query(rs -> {
                    UUID run = rs.getObject(1, UUID.class);
                    all.put(run, new RunRow(run, rs.getString(2), Trends.time(rs, 3), rs.getBoolean(4)));
                });
        return all;
    }

    /** How values were taken, by "run point": of repeated readings the last one. */
    Map<String, Taken> taken(Collection<UUID> runs) {
        Map<String, String> gear = new HashMap<>();
        Map<String, JsonNode> readings = new HashMap<>();
        Map<String, Taken> all = new HashMap<>();
        jdbc.sql(
                        """
        SELECT run, type, body FROM event WHERE run = ANY (:runs) AND type IN ('opened', 'readingTaken',
          'readingEntered', 'finished') ORDER BY run, n""")
                .param("runs", runs.toArray(UUID[]::new))
                .query(rs -> {
                    UUID run = rs.getObject(1, UUID.class);
                    JsonNode data = Trends.json(rs.getBytes(3)).path("data");
                    switch (rs.getString(2)) {
                        case "opened" ->
                            data.path("gear")
                                    .forEach(g -> gear.put(
                                            run + " " + g.path("id").asString(),
                                            g.path("name").asString()));
                        case "finished" ->
                            data.at("/judgement/points").forEach(p -> {
                                String key = run + " " + p.path("key").asString();
                                all.put(key, taken(run, readings.get(key), gear, p.at("/limit/source")));
                            });
                        default ->
                            readings.put(run + " " + data.at("/reading/key").asString(), data.path("reading"));
                    }
                });
        return all;
    }

    private static Taken taken(UUID run, @Nullable JsonNode reading, Map<String, String> gear, JsonNode source) {
        String limit = source.isMissingNode() || source.asString().isEmpty() ? null : source.asString();
        if (reading == null) {
            return new Taken(null, null, limit);
        }
        List<String> with = new ArrayList<>();
        reading.path("with").properties().forEach(e -> {
            if (e.getValue().has("value") && e.getValue().has("unit")) {
                with.add((words(e.getKey()) + " "
                                + Figures.of(e.getValue().path("value").asDouble()) + " "
                                + PointViews.symbol(e.getValue().path("unit").asString()))
                        .strip());
            }
        });
        return new Taken(
                reading.has("gear")
                        ? gear.getOrDefault(
                                run + " " + reading.path("gear").asString(),
                                reading.path("gear").asString())
                        : null,
                with.isEmpty() ? null : String.join(", ", with),
                limit);
    }

    /** A name as it is written in programs, as words: "equipmentTemperature" is "equipment temperature". */
    static String words(String name) {
        return name.replaceAll("(?<=[a-z])(?=[A-Z])", " ").toLowerCase(java.util.Locale.ROOT);
    }

    /** Repairs that were entered, and where it came and went. */
    List<TrendMark> happened(String asset) {
        List<TrendMark> marks = new ArrayList<>(jdbc.sql(
                        "SELECT at, kind, words FROM asset_event WHERE asset = :asset AND kind IN ('repair', "
                                + "'failure') "
                                + "ORDER BY at")
                .param("asset", asset)
                .query((rs, i) -> new TrendMark(Trends.time(rs, 1), rs.getString(2), rs.getString(3), null, List.of()))
                .list());
        jdbc.sql("SELECT lower(during), upper(during), position FROM installation WHERE asset = :asset ORDER BY 1")
                .param("asset", asset)
                .query(rs -> {
                    marks.add(new TrendMark(
                            Trends.time(rs, 1), "installed", "Installed at " + rs.getString(3), null, List.of()));
                    Timestamp out = rs.getTimestamp(2);
                    if (out != null) {
                        marks.add(new TrendMark(
                                out.toInstant(), "takenOut", "Taken out of " + rs.getString(3), null, List.of()));
                    }
                });
        return marks;
    }

    /** What was adjusted in the course of tests. */
    List<TrendMark> adjustments(Map<UUID, RunRow> records) {
        return jdbc.sql("SELECT e.run, e.at, e.body FROM event e WHERE e.run = ANY (:runs) AND "
                        + "e.type = 'adjustmentMade'")
                .param("runs", records.keySet().toArray(UUID[]::new))
                .query((rs, i) -> {
                    JsonNode data = Trends.json(rs.getBytes(3)).path("data");
                    List<String> points = data.path("points")
                            .valueStream()
                            .map(JsonNode::asString)
                            .toList();
                    UUID run = rs.getObject(1, UUID.class);
                    RunRow row = records.get(run);
                    return new TrendMark(
                            Trends.time(rs, 2),
                            "adjustment",
                            data.path("what").asString(),
                            row == null ? null : row.record,
                            touched(run, points));
                })
                .list();
    }

    private List<String> touched(UUID run, List<String> points) {
        return jdbc.sql("SELECT series || ' ' || lane FROM run_point WHERE run = :run AND point = ANY (:points) "
                        + "AND series IS NOT NULL ORDER BY 1")
                .param("run", run)
                .param("points", points.toArray(String[]::new))
                .query(String.class)
                .list();
    }

    /** Records that are or were baselines, oldest first. */
    List<BaselineView> baselines(String asset) {
        return jdbc.sql(
                        """
        SELECT r.record, r.procedure, r.finished_at, is_baseline(r.asset, r.procedure, r.id, r.baseline),
          m.reason, w.name, m.at
        FROM run r LEFT JOIN LATERAL (SELECT b.reason, b.by, b.at FROM baseline_mark b WHERE b.run = r.id
            ORDER BY b.id DESC LIMIT 1) m ON true LEFT JOIN person w ON w.id = m.by
        WHERE r.asset = :asset AND r.status = 'finished' AND (r.baseline OR m.reason IS NOT NULL)
        ORDER BY r.finished_at, r.id""")
                .param("asset", asset)
                .query((rs, i) -> new BaselineView(
                        rs.getString(1),
                        rs.getString(2),
                        Trends.time(rs, 3),
                        rs.getBoolean(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getTimestamp(7) == null ? null : Trends.time(rs, 7)))
                .list();
    }

    TrendViews.@Nullable WatchedView watched(String asset) {
        return jdbc.sql("SELECT m.reason, p.name, m.at FROM watch_mark m JOIN person p ON p.id = m.by "
                        + "WHERE m.asset = :asset AND m.off_at IS NULL")
                .param("asset", asset)
                .query((rs, i) -> new TrendViews.WatchedView(rs.getString(1), rs.getString(2), Trends.time(rs, 3)))
                .optional()
                .orElse(null);
    }

    /** Between its tests as planned, months; absent where no plan says. */
    @Nullable
    Double interval(String asset) {
        return jdbc.sql("SELECT 12 * test_interval FROM asset_state WHERE asset = :asset AND test_interval IS NOT NULL")
                .param("asset", asset)
                .query(Double.class)
                .optional()
                .orElse(null);
    }
}
