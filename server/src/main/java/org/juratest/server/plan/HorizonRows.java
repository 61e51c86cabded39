package org.juratest.server.plan;

import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.plan.Counter;
import org.juratest.core.plan.Happening;
import org.juratest.core.plan.Occasion;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.SqlParameterSource;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** Reads of many devices at once what their jobs are laid by. */
@Repository
class HorizonRows {

    private final JdbcClient jdbc;

    HorizonRows(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /** A device that stands somewhere. */
    record Standing(String asset, String assetClass, String model, String position, LocalDate since, ZoneId zone) {}

    /**
     * An open job of a plan.
     *
     * @param fixed a run of it has begun
     */
    record Open(
            long id,
            String asset,
            long plan,
            String position,
            String procedure,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            String reason,
            boolean fixed,
            @Nullable LocalDate plannedFor,
            @Nullable String person,
            int minutes) {}

    /** What is known of many devices, by their ids. */
    record Known(
            Map<String, Standing> standing,
            Map<String, Map<String, List<LocalDate>>> done,
            Map<String, Map<Long, List<LocalDate>>> missed,
            Map<String, List<Open>> open,
            Map<String, Counter> counters,
            Map<String, List<Happening>> happened) {}

    private static SqlParameterSource of(Collection<String> assets) {
        return new MapSqlParameterSource("assets", assets.toArray(String[]::new));
    }

    /** @param counted whether counters matter to any plan */
    Known read(Collection<String> assets, boolean counted) {
        Map<String, Standing> standing = new HashMap<>();
        Map<String, List<Happening>> happened = new HashMap<>();
        jdbc.sql(
                        """
        SELECT i.asset, a.class, a.maker || ' ' || a.model, i.position,
          lower(i.during), s.zone,
          EXISTS (SELECT 1 FROM installation e WHERE e.position = i.position AND e.id <> i.id
            AND lower(e.during) < lower(i.during))
            OR EXISTS (SELECT 1 FROM installation e WHERE e.asset = i.asset AND e.id <> i.id
              AND lower(e.during) < lower(i.during))
        FROM installation i JOIN asset a ON a.id = i.asset JOIN position p ON p.code = i.position JOIN site s
          ON s.code = p.site
        WHERE i.asset = ANY (:assets) AND upper_inf(i.during) AND a.retired_at IS NULL AND p.retired_at IS NULL""")
                .paramSource(of(assets))
                .query(rs -> {
                    // The database takes some names of zones for abbreviations, which know no summer.
                    ZoneId zone = ZoneId.of(rs.getString(6));
                    Standing s = new Standing(
                            rs.getString(1),
                            rs.getString(2),
                            rs.getString(3),
                            rs.getString(4),
                            LocalDate.ofInstant(rs.getTimestamp(5).toInstant(), zone),
                            zone);
                    standing.put(s.asset, s);
                    happened.computeIfAbsent(s.asset, a -> new ArrayList<>())
                            .add(new Happening(rs.getBoolean(7) ? Occasion.EXCHANGE : Occasion.ACCEPTANCE, s.since));
                });
        jdbc.sql(
                        """
        SELECT e.asset, e.kind, e.at FROM asset_event e WHERE e.kind <> 'failure' AND e.asset = ANY (:assets)
        UNION ALL SELECT asset, 'finding', at FROM last_record WHERE standing = 'watch' AND asset = ANY (:assets)""")
                .paramSource(of(assets))
                .query(rs -> {
                    Standing s = standing.get(rs.getString(1));
                    // What happened to a device that stands nowhere asks for nothing.
                    if (s != null) {
                        happened.computeIfAbsent(s.asset, a -> new ArrayList<>())
                                .add(new Happening(
                                        Occasion.valueOf(rs.getString(2).toUpperCase(Locale.ROOT)),
                                        LocalDate.ofInstant(rs.getTimestamp(3).toInstant(), s.zone)));
                    }
                });
        Map<String, Map<String, List<LocalDate>>> done = new HashMap<>();
        // The last day alone tells what is covered: each later day covers all that an earlier one does.
        jdbc.sql("SELECT asset, procedure, max(done_on) FROM job WHERE done_on IS NOT NULL AND asset = "
                        + "ANY (:assets) GROUP BY asset, procedure")
                .paramSource(of(assets))
                .query(rs -> {
                    done.computeIfAbsent(rs.getString(1), a -> new HashMap<>())
                            .put(rs.getString(2), List.of(rs.getObject(3, LocalDate.class)));
                });
        Map<String, Map<Long, List<LocalDate>>> missed = new HashMap<>();
        jdbc.sql("SELECT asset, plan, max(due) FROM job WHERE status = 'missed' AND plan IS NOT NULL AND "
                        + "asset = ANY (:assets) GROUP BY asset, plan")
                .paramSource(of(assets))
                .query(rs -> {
                    missed.computeIfAbsent(rs.getString(1), a -> new HashMap<>())
                            .put(rs.getLong(2), List.of(rs.getObject(3, LocalDate.class)));
                });
        Map<String, List<Open>> open = new HashMap<>();
        jdbc.sql(
                        """
        SELECT id, asset, plan, position, procedure, opens, due, closes, reason, status <> 'open', planned_for,
          person, minutes FROM job
        WHERE plan IS NOT NULL AND status IN ('open', 'running', 'partly done') AND asset = ANY (:assets)
          ORDER BY asset, plan, due""")
                .paramSource(of(assets))
                .query((rs, i) -> new Open(
                        rs.getLong(1),
                        rs.getString(2),
                        rs.getLong(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getObject(6, LocalDate.class),
                        rs.getObject(7, LocalDate.class),
                        rs.getObject(8, LocalDate.class),
                        rs.getString(9),
                        rs.getBoolean(10),
                        rs.getObject(11, LocalDate.class),
                        rs.getString(12),
                        rs.getInt(13)))
                .list()
                .forEach(j ->
                        open.computeIfAbsent(j.asset, a -> new ArrayList<>()).add(j));
        return new Known(standing, done, missed, open, counted ? counters(assets) : Map.of(), happened);
    }

    private Map<String, Counter> counters(Collection<String> assets) {
        Map<String, List<Counter.Read>> reads = new HashMap<>();
        jdbc.sql("SELECT asset, day, value FROM counter_reading WHERE asset = ANY (:assets) ORDER BY asset, day")
                .paramSource(of(assets))
                .query(rs -> {
                    reads.computeIfAbsent(rs.getString(1), a -> new ArrayList<>())
                            .add(new Counter.Read(rs.getObject(2, LocalDate.class), rs.getDouble(3)));
                });
        Map<String, Counter> counters = new HashMap<>();
        reads.forEach((asset, list) -> counters.put(asset, new Counter(list)));
        return counters;
    }
}
