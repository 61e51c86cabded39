package org.juratest.server.condition;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.condition.Peers;
import org.juratest.core.condition.PointCondition;
import org.juratest.core.condition.Telling;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.Verdict;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.condition.States.AssetRow;
import org.juratest.server.condition.States.Key;
import org.juratest.server.condition.States.Last;
import org.juratest.server.condition.States.Seen;
import org.juratest.server.condition.States.SeriesRow;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.jdbc.core.namedparam.SqlParameterSource;
import org.springframework.jdbc.core.simple.JdbcClient;

/** Reads what conditions are made from, and writes and reads the tables that are made of it. */
final class ConditionTables {

    /** Words are looked up: made anew for each row they would take longer than what is computed of it. */
    private static final Map<String, Scale> SCALES = words(Scale.values());

    private static final Map<String, Verdict> VERDICTS = words(Verdict.values());
    /** A test point whose margin goes, as far as its values can tell. */
    private static final String DRIFTS = "coalesce(s.n >= 4 AND s.p <= 0.1 AND s.drift > 0, false)";

    private static final String LOGARITHMIC = CoreJson.constantName(Scale.LOGARITHMIC);

    private final JdbcClient jdbc;
    private final NamedParameterJdbcTemplate batch;

    private static <T extends Enum<T>> Map<String, T> words(T[] constants) {
        Map<String, T> all = new HashMap<>();
        for (T constant : constants) {
            all.put(CoreJson.constantName(constant), constant);
        }
        return Map.copyOf(all);
    }

    private static <T> T known(Map<String, T> words, String word) {
        T found = words.get(word);
        if (found == null) {
            throw new IllegalStateException("\"" + word + "\" is none of " + words.keySet());
        }
        return found;
    }

    ConditionTables(JdbcTemplate template) {
        this.jdbc = JdbcClient.create(template);
        this.batch = new NamedParameterJdbcTemplate(template);
    }

    private static MapSqlParameterSource of(Collection<String> assets) {
        return new MapSqlParameterSource("assets", assets.toArray(String[]::new));
    }

    // ---- what it is made from

    /** Risk that an advised interval may bear. */
    double risk() {
        return jdbc.sql("SELECT CAST(value AS double precision) FROM setting WHERE key = 'advice.risk'")
                .query(Double.class)
                .single();
    }

    /** Every test point of some devices with its visits in the order of time. */
    Map<Key, List<Seen>> seen(Collection<String> assets) {
        Map<String, List<Instant>> repairs = new HashMap<>();
        jdbc.sql("SELECT asset, at FROM asset_event WHERE kind = 'repair' AND asset = ANY (:assets) ORDER BY at")
                .paramSource(of(assets))
                .query(rs -> {
                    repairs.computeIfAbsent(rs.getString(1), a -> new ArrayList<>())
                            .add(rs.getTimestamp(2).toInstant());
                });
        Map<Key, List<Seen>> all = new TreeMap<>();
        RowPlaces places = new RowPlaces();
        jdbc.sql(
                        """
        WITH visit AS MATERIALIZED (
          SELECT id, asset, procedure, finished_at,
            chosen_baseline(asset, procedure) IS NOT DISTINCT FROM id AS begins
          FROM run WHERE asset = ANY (:assets) AND status = 'finished')
        SELECT r.asset, v.series, v.lane, r.id, r.procedure, v.label, v.unit, v.scale, r.finished_at, v.as_found,
          v.counting, v.low, v.high, v.ideal, v.uncertainty, v.margin_used, v.verdict, v.qualifier, v.point, r.begins,
          v.row_key, v.row_reach
        FROM visit r JOIN run_point v ON v.run = r.id
        WHERE v.series IS NOT NULL AND v.counting IS NOT NULL AND v.unit IS NOT NULL
        ORDER BY r.finished_at, r.id, v.row_key, v.point""")
                .paramSource(of(assets))
                .query(rs -> {
                    Key key = places.of(
                            new Key(rs.getString(1), rs.getString(2), rs.getString(3)),
                            rs.getObject(21, Double.class),
                            rs.getDouble(22),
                            rs.getObject(4, UUID.class));
                    List<Seen> visits = all.computeIfAbsent(key, k -> new ArrayList<>());
                    visits.add(seen(
                            rs,
                            repairs.getOrDefault(key.asset(), List.of()),
                            visits.isEmpty()
                                    ? null
                                    : visits.get(visits.size() - 1).visit().at()));
                });
        return all;
    }

    private static Seen seen(ResultSet rs, List<Instant> repairs, @Nullable Instant before) throws SQLException {
        Instant at = rs.getTimestamp(9).toInstant();
        double counting = rs.getDouble(11);
        Double found = rs.getObject(10, Double.class);
        Double uncertainty = rs.getObject(15, Double.class);
        return new Seen(
                rs.getObject(4, UUID.class),
                rs.getString(5),
                rs.getString(6),
                rs.getString(7),
                known(SCALES, rs.getString(8)),
                rs.getString(19),
                new PointCondition.Visit(
                        at,
                        found == null ? counting : found,
                        counting,
                        rs.getObject(12, Double.class),
                        rs.getObject(13, Double.class),
                        rs.getObject(14, Double.class),
                        uncertainty == null ? 0 : uncertainty,
                        rs.getObject(16, Double.class),
                        known(VERDICTS, rs.getString(17)),
                        Qualifier.EQUAL.sign().equals(rs.getString(18)),
                        before != null
                                && (rs.getBoolean(20)
                                        || repairs.stream().anyMatch(r -> r.isAfter(before) && !r.isAfter(at)))));
    }

    /**
     * The last records of some devices, with the interval of the narrowest plan for the procedure of each, years; where
     * there is none for it, the longest of any plan for the device.
     */
    Map<String, Last> last(Collection<String> assets) {
        Map<String, Last> all = new HashMap<>();
        jdbc.sql(
                        """
        SELECT l.asset, r.id, r.finished_at, r.verdict, r.complete, (
          SELECT CASE p.every WHEN 'months' THEN p.amount / 12 WHEN 'days' THEN p.amount / 365.25
            WHEN 'between' THEN p.amount_to / 365.25 END
          FROM plan p WHERE p.occasion = 'interval' AND NOT p.ended
            AND (p.class = a.class AND (p.model IS NULL OR p.model = a.maker || ' ' || a.model)
              OR i.position = ANY (p.positions))
          ORDER BY p.procedure = r.procedure DESC, CASE WHEN p.procedure <> r.procedure THEN
            CASE p.every WHEN 'months' THEN p.amount / 12 WHEN 'days' THEN p.amount / 365.25
              WHEN 'between' THEN p.amount_to / 365.25 END END DESC NULLS LAST,
            cardinality(p.positions) > 0 DESC, p.model IS NOT NULL DESC, p.id LIMIT 1)
        FROM last_record l JOIN run r ON r.id = l.run JOIN asset a ON a.id = l.asset
          LEFT JOIN installation i ON i.asset = a.id AND upper_inf(i.during)
        WHERE l.asset = ANY (:assets)""")
                .paramSource(of(assets))
                .query(rs -> {
                    all.put(
                            rs.getString(1),
                            new Last(
                                    rs.getObject(2, UUID.class),
                                    rs.getTimestamp(3).toInstant(),
                                    CoreJson.mapper().convertValue(rs.getString(4), Verdict.class),
                                    rs.getBoolean(5),
                                    rs.getObject(6, Double.class)));
                });
        return all;
    }

    // ---- what is made of it

    /** Replaces the test points of some devices; what they are among their peers is left as it was. */
    void write(Collection<String> assets, Collection<SeriesRow> rows) {
        List<Key> gone = new ArrayList<>(keys(assets));
        rows.forEach(r -> gone.remove(r.key()));
        batch.batchUpdate(
                "DELETE FROM series_state WHERE asset = :asset AND series = :series AND lane = :lane",
                gone.stream()
                        .map(k -> new MapSqlParameterSource("asset", k.asset())
                                .addValue("series", k.series())
                                .addValue("lane", k.lane()))
                        .toArray(SqlParameterSource[]::new));
        batch.batchUpdate(
                """
        INSERT INTO series_state (asset, series, lane, label, unit, scale, procedure, run, at, value, low, high,
          verdict, margin, visits, n, drift, p, crossing, from_80, to_80, outlook, method, stepped, limit_moved, advice)
        VALUES (:asset, :series, :lane, :label, :unit, :scale, :procedure, :run, :at, :value, :low, :high, :verdict,
          :margin, :visits, :n, :drift, :p, :crossing, :from80, :to80, :outlook, :method, :stepped, :limitMoved,
          :advice)
        ON CONFLICT (asset, series, lane) DO UPDATE SET label = excluded.label, unit = excluded.unit,
          scale = excluded.scale, procedure = excluded.procedure, run = excluded.run, at = excluded.at,
          value = excluded.value, low = excluded.low, high = excluded.high, verdict = excluded.verdict,
          margin = excluded.margin, visits = excluded.visits, n = excluded.n, drift = excluded.drift, p = excluded.p,
          crossing = excluded.crossing, from_80 = excluded.from_80, to_80 = excluded.to_80,
          outlook = excluded.outlook, method = excluded.method, stepped = excluded.stepped,
          limit_moved = excluded.limit_moved, advice = excluded.advice""",
                rows.stream().map(ConditionTables::values).toArray(SqlParameterSource[]::new));
    }

    private Set<Key> keys(Collection<String> assets) {
        return new TreeSet<>(jdbc.sql("SELECT asset, series, lane FROM series_state WHERE asset = ANY (:assets)")
                .paramSource(of(assets))
                .query((rs, i) -> new Key(rs.getString(1), rs.getString(2), rs.getString(3)))
                .list());
    }

    private static SqlParameterSource values(SeriesRow r) {
        return new MapSqlParameterSource("asset", r.key().asset())
                .addValue("series", r.key().series())
                .addValue("lane", r.key().lane())
                .addValue("label", r.label())
                .addValue("unit", r.unit())
                .addValue("scale", r.scale())
                .addValue("procedure", r.procedure())
                .addValue("run", r.run())
                .addValue("at", r.at().atOffset(ZoneOffset.UTC))
                .addValue("value", r.value())
                .addValue("low", r.low(), Types.DOUBLE)
                .addValue("high", r.high(), Types.DOUBLE)
                .addValue("verdict", r.verdict())
                .addValue("margin", r.margin(), Types.DOUBLE)
                .addValue("visits", r.visits())
                .addValue("n", r.n())
                .addValue("drift", r.drift(), Types.DOUBLE)
                .addValue("p", r.p(), Types.DOUBLE)
                .addValue("crossing", r.crossing(), Types.DOUBLE)
                .addValue("from80", r.from80(), Types.DOUBLE)
                .addValue("to80", r.to80(), Types.DOUBLE)
                .addValue("outlook", r.outlook(), Types.VARCHAR)
                .addValue("method", r.method(), Types.VARCHAR)
                .addValue("stepped", r.stepped())
                .addValue("limitMoved", r.limitMoved())
                .addValue("advice", r.advice(), Types.INTEGER);
    }

    /** Devices of one model: the peers of each other. */
    record Model(String maker, String model) {}

    /** A test point by one procedure on devices of a model. */
    private record Group(String procedure, String series, String lane) {}

    /** The models of some devices that have test points. */
    Set<Model> models(Collection<String> assets) {
        return new HashSet<>(jdbc.sql("SELECT DISTINCT maker, model FROM asset WHERE id = ANY (:assets)")
                .paramSource(of(assets))
                .query((rs, i) -> new Model(rs.getString(1), rs.getString(2)))
                .list());
    }

    private record Member(Key key, double value, double at, int bad, boolean outlier, boolean drifts) {}

    /** Devices of a model that have a test point, how many of them use up its margin, and where they stand. */
    private record PeerGroup(int drifting, Telling.Like like) {}

    /**
     * Marks which test points of a model's devices lie apart, and counts them; gives the devices whose mark changed.
     */
    Set<String> markPeers(Model model) {
        Map<Group, List<Member>> groups = new HashMap<>();
        jdbc.sql(
                        """
        SELECT s.asset, s.series, s.lane, s.value, s.scale, s.low, s.high, s.outlier, s.procedure, %s FROM asset a
          JOIN series_state s ON s.asset = a.id
        WHERE a.maker = :maker AND a.model = :model AND a.retired_at IS NULL ORDER BY s.asset"""
                                .formatted(DRIFTS))
                .param("maker", model.maker)
                .param("model", model.model)
                .query(rs -> {
                    Group group = new Group(rs.getString(9), rs.getString(2), rs.getString(3));
                    boolean low = rs.getObject(6) != null;
                    boolean high = rs.getObject(7) != null;
                    double value = rs.getDouble(4);
                    double at = LOGARITHMIC.equals(rs.getString(5)) ? Scale.LOGARITHMIC.coordinate(value) : value;
                    groups.computeIfAbsent(group, g -> new ArrayList<>())
                            .add(new Member(
                                    new Key(rs.getString(1), rs.getString(2), rs.getString(3)),
                                    value,
                                    at,
                                    low == high ? 0 : high ? 1 : -1,
                                    rs.getBoolean(8),
                                    rs.getBoolean(10)));
                });
        Set<String> changed = new TreeSet<>();
        List<SqlParameterSource> marks = new ArrayList<>();
        groups.values()
                .forEach(members -> mark(
                        members.stream()
                                .filter(m -> Math.abs(m.at) <= Double.MAX_VALUE)
                                .toList(),
                        changed,
                        marks));
        batch.batchUpdate(
                "UPDATE series_state SET outlier = :outlier WHERE asset = :asset AND series = :series AND lane = :lane",
                marks.toArray(SqlParameterSource[]::new));
        Map<Group, PeerGroup> counted = new HashMap<>();
        groups.forEach((group, members) -> counted.put(
                group,
                new PeerGroup(
                        (int) members.stream().filter(Member::drifts).count(),
                        Telling.Like.of(
                                members.stream().mapToDouble(Member::value).toArray()))));
        writePeers(model, counted);
        return changed;
    }

    private void writePeers(Model model, Map<Group, PeerGroup> counted) {
        Map<Group, PeerGroup> there = new HashMap<>();
        jdbc.sql("SELECT procedure, series, lane, members, drifting, value_from, value_to FROM peer_group "
                        + "WHERE maker = :maker AND model = :model")
                .param("maker", model.maker)
                .param("model", model.model)
                .query(rs -> {
                    there.put(
                            new Group(rs.getString(1), rs.getString(2), rs.getString(3)),
                            new PeerGroup(
                                    rs.getInt(5), new Telling.Like(rs.getInt(4), rs.getDouble(6), rs.getDouble(7))));
                });
        batch.batchUpdate(
                "DELETE FROM peer_group WHERE maker = :maker AND model = :model AND procedure = :procedure "
                        + "AND series = :series AND lane = :lane",
                there.keySet().stream()
                        .filter(g -> !counted.containsKey(g))
                        .map(g -> values(model, g))
                        .toArray(SqlParameterSource[]::new));
        batch.batchUpdate(
                """
        INSERT INTO peer_group (maker, model, procedure, series, lane, members, drifting, value_from, value_to)
        VALUES (:maker, :model, :procedure, :series, :lane, :members, :drifting, :from, :to)
        ON CONFLICT (maker, model, procedure, series, lane) DO UPDATE SET members = excluded.members,
          drifting = excluded.drifting, value_from = excluded.value_from, value_to = excluded.value_to""",
                counted.entrySet().stream()
                        .filter(e -> !e.getValue().equals(there.get(e.getKey())))
                        .map(e -> values(model, e.getKey())
                                .addValue("members", e.getValue().like.devices())
                                .addValue("drifting", e.getValue().drifting)
                                .addValue("from", e.getValue().like.from())
                                .addValue("to", e.getValue().like.to()))
                        .toArray(SqlParameterSource[]::new));
    }

    private static MapSqlParameterSource values(Model model, Group group) {
        return new MapSqlParameterSource("maker", model.maker)
                .addValue("model", model.model)
                .addValue("procedure", group.procedure)
                .addValue("series", group.series)
                .addValue("lane", group.lane);
    }

    /** What differs between the counts of peers and their test points, in words, where no device of a model waits. */
    List<String> wrongPeers(int most) {
        return jdbc.sql(
                        """
        SELECT maker || ' ' || model || ', ' || procedure || ', ' || series || ' ' || lane || ': '
          || coalesce(g.members, 0) || ' with ' || coalesce(g.drifting, 0) || ' that drift, but the test points give '
          || coalesce(o.members, 0) || ' with ' || coalesce(o.drifting, 0)
        FROM peer_group g FULL JOIN (
          SELECT a.maker, a.model, s.procedure, s.series, s.lane, count(*)::integer AS members,
            (count(*) FILTER (WHERE %s))::integer AS drifting
          FROM series_state s JOIN asset a ON a.id = s.asset WHERE a.retired_at IS NULL GROUP BY 1, 2, 3, 4, 5) o
          USING (maker, model, procedure, series, lane)
        WHERE (g.members, g.drifting) IS DISTINCT FROM (o.members, o.drifting) AND (maker, model) NOT IN (
          SELECT a.maker, a.model FROM condition_due d JOIN asset a ON a.id = d.asset)
        ORDER BY 1 LIMIT :most"""
                                .formatted(DRIFTS))
                .param("most", most)
                .query(String.class)
                .list();
    }

    /** One value more or less moves neither median nor MAD of nine and more by much: each is held against all. */
    private static void mark(List<Member> members, Set<String> changed, List<SqlParameterSource> marks) {
        boolean enough = members.size() > Peers.FEWEST;
        Peers all =
                enough ? Peers.of(0, members.stream().mapToDouble(Member::at).toArray()) : null;
        for (Member m : members) {
            boolean outlier = all != null && all.of(m.at).isOutlier(m.bad);
            if (outlier != m.outlier) {
                changed.add(m.key.asset());
                marks.add(new MapSqlParameterSource("asset", m.key.asset())
                        .addValue("series", m.key.series())
                        .addValue("lane", m.key.lane())
                        .addValue("outlier", outlier));
            }
        }
    }

    /** Those test points of some devices that lie apart from their peers. */
    Set<Key> outliers(Collection<String> assets) {
        return new TreeSet<>(
                jdbc.sql("SELECT asset, series, lane FROM series_state WHERE outlier AND asset = ANY (:assets)")
                        .paramSource(of(assets))
                        .query((rs, i) -> new Key(rs.getString(1), rs.getString(2), rs.getString(3)))
                        .list());
    }

    /** Replaces how some devices stand. */
    void writeStanding(Collection<String> assets, Collection<AssetRow> rows) {
        Set<String> gone = new TreeSet<>(assets);
        rows.forEach(r -> gone.remove(r.asset()));
        jdbc.sql("DELETE FROM asset_state WHERE asset = ANY (:assets)")
                .paramSource(of(gone))
                .update();
        batch.batchUpdate(
                """
        INSERT INTO asset_state (asset, standing, why, worst_series, worst_lane, series, lane, margin, drift, run, at,
          next_test, test_interval, advice)
        VALUES (:asset, :standing, :why, :worstSeries, :worstLane, :series, :lane, :margin, :drift, :run, :at,
          :nextTest, :interval, :advice)
        ON CONFLICT (asset) DO UPDATE SET standing = excluded.standing, why = excluded.why,
          worst_series = excluded.worst_series, worst_lane = excluded.worst_lane, series = excluded.series,
          lane = excluded.lane, margin = excluded.margin, drift = excluded.drift, run = excluded.run,
          at = excluded.at, next_test = excluded.next_test, test_interval = excluded.test_interval,
          advice = excluded.advice""",
                rows.stream()
                        .map(r -> new MapSqlParameterSource("asset", r.asset())
                                .addValue("standing", r.standing())
                                .addValue("why", r.why())
                                .addValue("worstSeries", r.worstSeries(), Types.VARCHAR)
                                .addValue("worstLane", r.worstLane(), Types.VARCHAR)
                                .addValue("series", r.series(), Types.VARCHAR)
                                .addValue("lane", r.lane(), Types.VARCHAR)
                                .addValue("margin", r.margin(), Types.DOUBLE)
                                .addValue("drift", r.drift(), Types.DOUBLE)
                                .addValue("run", r.run())
                                .addValue("at", r.at().atOffset(ZoneOffset.UTC))
                                .addValue("nextTest", r.nextTest(), Types.DOUBLE)
                                .addValue("interval", r.interval(), Types.DOUBLE)
                                .addValue("advice", r.advice(), Types.INTEGER))
                        .toArray(SqlParameterSource[]::new));
    }

    // ---- what is there

    Map<Key, SeriesRow> storedSeries(Collection<String> assets) {
        Map<Key, SeriesRow> all = new TreeMap<>();
        jdbc.sql(
                        """
        SELECT asset, series, lane, label, unit, scale, procedure, run, at, value, low, high, verdict, margin, visits,
          n, drift, p, crossing, from_80, to_80, outlook, method, stepped, limit_moved, advice
        FROM series_state WHERE asset = ANY (:assets)""")
                .paramSource(of(assets))
                .query((rs, i) -> new SeriesRow(
                        new Key(rs.getString(1), rs.getString(2), rs.getString(3)),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getString(7),
                        rs.getObject(8, UUID.class),
                        rs.getTimestamp(9).toInstant(),
                        rs.getDouble(10),
                        rs.getObject(11, Double.class),
                        rs.getObject(12, Double.class),
                        rs.getString(13),
                        rs.getObject(14, Double.class),
                        rs.getInt(15),
                        rs.getInt(16),
                        rs.getObject(17, Double.class),
                        rs.getObject(18, Double.class),
                        rs.getObject(19, Double.class),
                        rs.getObject(20, Double.class),
                        rs.getObject(21, Double.class),
                        rs.getString(22),
                        rs.getString(23),
                        rs.getBoolean(24),
                        rs.getBoolean(25),
                        rs.getObject(26, Integer.class)))
                .list()
                .forEach(r -> all.put(r.key(), r));
        return all;
    }

    Map<String, AssetRow> storedStandings(Collection<String> assets) {
        Map<String, AssetRow> all = new TreeMap<>();
        jdbc.sql(
                        """
        SELECT asset, standing, why, worst_series, worst_lane, series, lane, margin, drift, run, at, next_test,
          test_interval, advice FROM asset_state WHERE asset = ANY (:assets)""")
                .paramSource(of(assets))
                .query((rs, i) -> new AssetRow(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getString(7),
                        rs.getObject(8, Double.class),
                        rs.getObject(9, Double.class),
                        rs.getObject(10, UUID.class),
                        instant(rs.getTimestamp(11)),
                        rs.getObject(12, Double.class),
                        rs.getObject(13, Double.class),
                        rs.getObject(14, Integer.class)))
                .list()
                .forEach(r -> all.put(r.asset(), r));
        return all;
    }

    private static Instant instant(Timestamp at) {
        return at.toInstant();
    }

    /** Some of the devices that have a record or a state, by their ids, after one. */
    List<String> portion(String after, int most) {
        return jdbc.sql(
                        """
        SELECT asset FROM (SELECT asset FROM last_record UNION SELECT asset FROM asset_state UNION
          SELECT asset FROM series_state) a WHERE asset > :after ORDER BY asset LIMIT :most""")
                .param("after", after)
                .param("most", most)
                .query(String.class)
                .list();
    }
}
