package org.juratest.server.condition;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.stereotype.Repository;

/**
 * Every device in service with how it stands today, kept in memory by each process. Before it is used, the database is
 * asked which rows became others by transactions that the last snapshot did not see ({@code fleet_change}), and those
 * are read anew: whoever reads after a commit reads what it did, whichever process it was of.
 */
@Repository
class Fleet {

    private static final String ROWS =
            """
      SELECT a.id, i.position, p.site, s.name, s.km, c.family, c.title, a.maker || ' ' || a.model, a.serial,
         (SELECT min(lower(e.during)) FROM installation e WHERE e.asset = a.id), n.standing, a.do_not_use,
         n.by_record IS NOT NULL, n.overdue, n.watched, n.why, n.margin, n.drift,
         coalesce(n.series, n.worst_series), coalesce(n.lane, n.worst_lane), n.at, w.procedure, w.label, w.unit,
         w.value, w.low, w.high, w.crossing, w.from_80, w.to_80
       FROM asset a JOIN asset_class c ON c.code = a.class
         JOIN installation i ON i.asset = a.id AND upper_inf(i.during)
         JOIN position p ON p.code = i.position JOIN site s ON s.code = p.site
         JOIN standing_now n ON n.asset = a.id
         LEFT JOIN series_state w ON w.asset = a.id AND w.series = coalesce(n.series, n.worst_series)
           AND w.lane = coalesce(n.lane, n.worst_lane)
       WHERE a.retired_at IS NULL""";

    /** Above this many changed devices all are read: it is one scan in place of many look-ups. */
    private static final int FEW = 500;

    private final NamedParameterJdbcTemplate jdbc;
    private @Nullable State last;

    Fleet(NamedParameterJdbcTemplate jdbc) {
        this.jdbc = jdbc;
    }

    /**
     * A device in service.
     *
     * @param since when it was first installed anywhere
     * @param barred why it must not be used; absent where it may be
     * @param recorded whether it has a record
     * @param overdue whether a job of it is past its window
     * @param watched why it is on the watch list; absent where it is not
     * @param why what its standing comes from, as it is stored
     * @param margin used by its worst test point
     * @param drift margin used up in a year by that point
     * @param series the test point that its standing is of, else the worst; absent where there is none
     * @param point its last value and line; absent likewise
     */
    record Device(
            String asset,
            String position,
            String site,
            String siteName,
            double km,
            String family,
            String title,
            String model,
            String serial,
            @Nullable Instant since,
            String standing,
            @Nullable String barred,
            boolean recorded,
            boolean overdue,
            @Nullable String watched,
            @Nullable String why,
            @Nullable Double margin,
            @Nullable Double drift,
            @Nullable String series,
            @Nullable String lane,
            @Nullable Instant tested,
            @Nullable Point point) {}

    /**
     * A test point of a device.
     *
     * @param crossing when its line meets its limit, years of 365.25 days since 1970; absent where it does not
     * @param from begin of the range of that, likewise
     * @param to end of it, likewise
     */
    record Point(
            String procedure,
            String label,
            String unit,
            double value,
            @Nullable Double low,
            @Nullable Double high,
            @Nullable Double crossing,
            @Nullable Double from,
            @Nullable Double to) {}

    /** What a snapshot of the database shows, those with a drift first, then those with a margin, each by their ids. */
    private record State(String snapshot, LocalDate day, Map<String, Device> byAsset, List<Device> all) {}

    /**
     * What the database says before the memory is used.
     *
     * @param own whether the transaction at hand has changed anything: what it sees others must not
     * @param whole whether all have to be read
     * @param changed whose rows may have become others, if not
     */
    private record News(String snapshot, LocalDate day, boolean own, boolean whole, Set<String> changed) {}

    /** Every device in service, as the transaction at hand sees it. */
    List<Device> devices() {
        return current().all;
    }

    /** The same by their ids. */
    Map<String, Device> byAsset() {
        return current().byAsset;
    }

    private synchronized State current() {
        State known = last;
        News news = news(known);
        if (known != null && !news.whole && news.changed.isEmpty()) {
            // A later snapshot is kept too, so that what is forgotten of the changes was seen.
            State same = new State(news.snapshot, news.day, known.byAsset, known.all);
            last = news.own ? known : same;
            return same;
        }
        Map<String, Device> rows = known == null || news.whole ? new HashMap<>() : new HashMap<>(known.byAsset);
        if (known == null || news.whole) {
            read("", new MapSqlParameterSource()).forEach(d -> rows.put(d.asset, d));
        } else {
            rows.keySet().removeAll(news.changed);
            read(" AND a.id = ANY (:assets)", new MapSqlParameterSource("assets", news.changed.toArray(String[]::new)))
                    .forEach(d -> rows.put(d.asset, d));
        }
        List<Device> all = rows.values().stream()
                .sorted(Comparator.comparing((Device d) -> d.margin == null)
                        .thenComparing(d -> d.drift == null)
                        .thenComparing(Device::asset))
                .toList();
        State read = new State(news.snapshot, news.day, rows, all);
        if (!news.own) {
            last = read;
        }
        return read;
    }

    /** The snapshot comes first, the rows after it: what happens between is read now and told once more. */
    private News news(@Nullable State known) {
        return jdbc.query(
                        """
        SELECT pg_current_snapshot()::text, current_date, pg_current_xact_id_if_assigned() IS NOT NULL,
          coalesce((SELECT pg_snapshot_xmax(CAST(value AS pg_snapshot)) > pg_snapshot_xmin(l.seen) FROM setting
            WHERE key = :forgotten), false),
          c.whole, c.assets
        FROM (SELECT CAST(:last AS pg_snapshot) AS seen) l,
          LATERAL (SELECT bool_or(asset IS NULL) AS whole, array_agg(DISTINCT asset) FILTER (WHERE asset IS NOT NULL)
            AS assets FROM fleet_change WHERE xid >= pg_snapshot_xmin(l.seen)
              AND NOT pg_visible_in_snapshot(xid, l.seen)) c""",
                        new MapSqlParameterSource("forgotten", FleetChanges.FORGOTTEN)
                                .addValue("last", known == null ? "1:1:" : known.snapshot),
                        (rs, i) -> news(rs, known))
                .get(0);
    }

    private static News news(ResultSet rs, @Nullable State known) throws SQLException {
        LocalDate day = rs.getObject(2, LocalDate.class);
        java.sql.Array assets = rs.getArray(6);
        Set<String> changed = assets == null ? Set.of() : new HashSet<>(List.of((String[]) assets.getArray()));
        return new News(
                rs.getString(1),
                day,
                rs.getBoolean(3),
                // Another day, another standing: what was in its window may be overdue.
                known == null || !day.equals(known.day) || rs.getBoolean(4) || rs.getBoolean(5) || changed.size() > FEW,
                changed);
    }

    private List<Device> read(String and, MapSqlParameterSource values) {
        Map<String, String> words = new HashMap<>();
        return jdbc.query(ROWS + and, values, (rs, i) -> device(rs, words));
    }

    /** Words that thousands share are kept once. */
    private static Device device(ResultSet rs, Map<String, String> words) throws SQLException {
        return new Device(
                rs.getString(1),
                rs.getString(2),
                once(rs, 3, words),
                once(rs, 4, words),
                rs.getDouble(5),
                once(rs, 6, words),
                once(rs, 7, words),
                once(rs, 8, words),
                rs.getString(9),
                instant(rs.getTimestamp(10)),
                once(rs, 11, words),
                rs.getString(12),
                rs.getBoolean(13),
                rs.getBoolean(14),
                rs.getString(15),
                rs.getString(16) == null ? null : once(rs, 16, words),
                rs.getObject(17, Double.class),
                rs.getObject(18, Double.class),
                rs.getString(19) == null ? null : once(rs, 19, words),
                rs.getString(20) == null ? null : once(rs, 20, words),
                instant(rs.getTimestamp(21)),
                rs.getString(22) == null
                        ? null
                        : new Point(
                                once(rs, 22, words),
                                once(rs, 23, words),
                                once(rs, 24, words),
                                rs.getDouble(25),
                                rs.getObject(26, Double.class),
                                rs.getObject(27, Double.class),
                                rs.getObject(28, Double.class),
                                rs.getObject(29, Double.class),
                                rs.getObject(30, Double.class)));
    }

    private static String once(ResultSet rs, int column, Map<String, String> words) throws SQLException {
        return words.computeIfAbsent(rs.getString(column), w -> w);
    }

    private static @Nullable Instant instant(@Nullable Timestamp at) {
        return at == null ? null : at.toInstant();
    }
}
