package org.juratest.server.condition;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.juratest.core.condition.Assessment;
import org.juratest.core.condition.Line;
import org.juratest.core.condition.Timed;
import org.juratest.core.condition.TrendWords;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.run.PointViews;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.stereotype.Repository;

/** The condition of the fleet as it is read: every device as a mark, and those that need attention in words. */
@Repository
class FleetRows {

    /** Devices that need attention are told up to this many; the others are marks. */
    static final int MOST_TOLD = 200;
    /** Years since 1970 that are no day of anything. */
    private static final double FAR = 400;

    /** Every device in service with how it stands today. */
    static final String FLEET =
            """
      (SELECT a.id AS asset, i.position, p.site, s.name AS site_name, s.km, c.family, c.title,
         a.maker || ' ' || a.model AS model, a.serial,
         (SELECT min(lower(e.during)) FROM installation e WHERE e.asset = a.id) AS since, n.standing,
         a.do_not_use, n.by_record, n.overdue, n.watched, n.why, n.margin, n.drift,
         coalesce(n.series, n.worst_series) AS series,
         coalesce(n.lane, n.worst_lane) AS lane, n.at AS tested
       FROM asset a JOIN asset_class c ON c.code = a.class
         JOIN installation i ON i.asset = a.id AND upper_inf(i.during)
         JOIN position p ON p.code = i.position JOIN site s ON s.code = p.site
         JOIN standing_now n ON n.asset = a.id
       WHERE a.retired_at IS NULL) v""";

    private static final Map<String, String> ORDERS = Map.of(
            "gravest",
                    "array_position(ARRAY['act', 'watch', 'unknown', 'sound'], v.standing), v.do_not_use IS NULL, "
                            + "w.crossing NULLS FIRST, v.margin DESC NULLS LAST, v.asset",
            "margin", "v.margin DESC NULLS LAST, v.asset",
            "drift", "v.drift DESC NULLS LAST, v.asset",
            "position", "v.km, v.position");

    private final NamedParameterJdbcTemplate jdbc;

    FleetRows(NamedParameterJdbcTemplate jdbc) {
        this.jdbc = jdbc;
    }

    /**
     * How many stand how.
     *
     * @param meetNext how many of those to act on have not failed, and meet a limit before their next test
     */
    record FleetCounts(long act, long watch, long sound, long unknown, long meetNext) {}

    /**
     * Devices as marks, column by column: the n-th of each list is of the n-th device. First those whose drift is
     * known, then those with a margin alone, then the others: the last two lists end where nothing more is known.
     *
     * @param models that there are
     * @param model of each device, by its place in {@code models}
     * @param standing first letters: a act, w watch, s sound, u unknown
     * @param margin used by the worst test point
     * @param drift margin used up in a year by that point
     */
    record FleetMarks(
            List<String> asset,
            List<String> position,
            List<String> models,
            List<Integer> model,
            String standing,
            List<Double> margin,
            List<Double> drift) {}

    /**
     * A device with how it stands and why.
     *
     * @param reason in a sentence's words
     * @param detail the same without what {@code meets} says
     * @param meets when its limit is met, in words; absent where it is not that
     * @param crossing the same as a day; absent likewise
     * @param series the test point that the reason is of, else its worst; absent where there is none
     * @param lane likewise
     * @param tested when it was last
     */
    record FleetDevice(
            String asset,
            String position,
            String site,
            String siteName,
            String title,
            String model,
            String serial,
            String standing,
            String reason,
            String detail,
            @Nullable String meets,
            @Nullable LocalDate crossing,
            @Nullable Double margin,
            @Nullable Double drift,
            @Nullable String series,
            @Nullable String lane,
            @Nullable Instant tested) {

        FleetDevice also(String words) {
            return new FleetDevice(
                    asset,
                    position,
                    site,
                    siteName,
                    title,
                    model,
                    serial,
                    standing,
                    reason + words,
                    detail + words,
                    meets,
                    crossing,
                    margin,
                    drift,
                    series,
                    lane,
                    tested);
        }
    }

    /** Something that can be filtered by, with how many devices have it. */
    record FilterChoice(String value, String label, long assets) {}

    /** A device as the map knows it. */
    private record MapRow(
            String asset,
            String position,
            String site,
            String siteName,
            double km,
            String family,
            String model,
            String standing,
            boolean meetsNext,
            @Nullable Double margin,
            @Nullable Double drift,
            boolean chosen) {}

    /** The fleet as the map shows it, read in one go. */
    record FleetMap(FleetCounts counts, FleetMarks marks, Map<String, List<FilterChoice>> choices) {}

    /** Marks and counts of a part of the fleet, and what can be filtered by over all of it. */
    FleetMap map(ConditionFilter filter) {
        MapSqlParameterSource values = new MapSqlParameterSource();
        List<MapRow> all = jdbc.query(
                "SELECT v.asset, v.position, v.site, v.site_name, v.km, v.family, v.model, v.standing, "
                        + "v.do_not_use IS NULL "
                        + "AND v.why = 'limitBeforeNext', v.margin, v.drift, "
                        + filter.ofAnyStanding().where(values)
                        + " FROM " + FLEET + " ORDER BY v.margin IS NULL, v.drift IS NULL, v.asset",
                values,
                (rs, i) -> new MapRow(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getDouble(5),
                        rs.getString(6),
                        rs.getString(7),
                        rs.getString(8),
                        rs.getBoolean(9),
                        rs.getObject(10, Double.class),
                        rs.getObject(11, Double.class),
                        rs.getBoolean(12)));
        List<MapRow> part = all.stream().filter(MapRow::chosen).toList();
        String standing = filter.standing();
        return new FleetMap(
                counts(part),
                marks(
                        standing == null || standing.isEmpty()
                                ? part
                                : part.stream()
                                        .filter(r -> r.standing.equals(standing))
                                        .toList()),
                choices(all));
    }

    private static FleetCounts counts(List<MapRow> rows) {
        long[] of = new long[5];
        for (MapRow r : rows) {
            of[place(r.standing)]++;
            of[4] += r.meetsNext && r.standing.equals("act") ? 1 : 0;
        }
        return new FleetCounts(of[0], of[1], of[2], of[3], of[4]);
    }

    private static FleetMarks marks(List<MapRow> rows) {
        List<String> models =
                rows.stream().map(MapRow::model).distinct().sorted().toList();
        Map<String, Integer> places = new HashMap<>();
        models.forEach(m -> places.put(m, places.size()));
        List<Double> margins = new ArrayList<>();
        List<Double> drifts = new ArrayList<>();
        StringBuilder standing = new StringBuilder();
        for (MapRow r : rows) {
            standing.append(r.standing.charAt(0));
            if (r.margin != null) {
                margins.add(r.margin);
            }
            if (r.margin != null && r.drift != null) {
                drifts.add(r.drift);
            }
        }
        return new FleetMarks(
                rows.stream().map(MapRow::asset).toList(),
                rows.stream().map(MapRow::position).toList(),
                models,
                rows.stream().map(r -> places.getOrDefault(r.model, 0)).toList(),
                standing.toString(),
                margins,
                drifts);
    }

    /** What can be filtered by, with how many have it: families, sites along the line, models. */
    private static Map<String, List<FilterChoice>> choices(List<MapRow> all) {
        Map<String, List<FilterChoice>> choices = new TreeMap<>();
        choices.put("family", choices(all, MapRow::family, MapRow::family));
        choices.put("model", choices(all, MapRow::model, MapRow::model));
        Map<String, Double> km = new HashMap<>();
        all.forEach(r -> km.put(r.site, r.km));
        choices.put(
                "site",
                choices(all, MapRow::site, MapRow::siteName).stream()
                        .sorted(java.util.Comparator.comparing((FilterChoice c) -> km.getOrDefault(c.value, 0.0))
                                .thenComparing(FilterChoice::value))
                        .toList());
        return choices;
    }

    private static List<FilterChoice> choices(
            List<MapRow> all, Function<MapRow, String> value, Function<MapRow, String> label) {
        Map<String, String> labels = new TreeMap<>();
        Map<String, Long> counts = new HashMap<>();
        for (MapRow r : all) {
            labels.put(value.apply(r), label.apply(r));
            counts.merge(value.apply(r), 1L, Long::sum);
        }
        return labels.entrySet().stream()
                .map(e -> new FilterChoice(e.getKey(), e.getValue(), counts.getOrDefault(e.getKey(), 0L)))
                .toList();
    }

    /** How many of a part stand how. */
    FleetCounts counts(ConditionFilter filter) {
        MapSqlParameterSource values = new MapSqlParameterSource();
        long[] of = new long[5];
        jdbc.query(
                "SELECT v.standing, count(*), count(*) FILTER (WHERE v.do_not_use IS NULL AND v.why = "
                        + "'limitBeforeNext') FROM "
                        + FLEET + " WHERE " + filter.where(values) + " GROUP BY 1",
                values,
                rs -> {
                    of[place(rs.getString(1))] = rs.getLong(2);
                    of[4] += rs.getString(1).equals("act") ? rs.getLong(3) : 0;
                });
        return new FleetCounts(of[0], of[1], of[2], of[3], of[4]);
    }

    private static int place(String standing) {
        return List.of("act", "watch", "sound", "unknown").indexOf(standing);
    }

    /** What needs attention, the gravest and soonest first. */
    List<FleetDevice> needs(ConditionFilter filter, Instant now) {
        return devices(filter, " AND v.standing IN ('act', 'watch')", "gravest", 0, MOST_TOLD, now, Map.of());
    }

    /**
     * Devices with how they stand, in an order.
     *
     * @param order {@code gravest}, {@code margin}, {@code drift} or {@code position}
     * @throws Refusal if there is no such order
     */
    List<FleetDevice> devices(ConditionFilter filter, String order, long from, int most, Instant now) {
        return devices(filter, "", order, from, most, now, Map.of());
    }

    /** What needs attention at some sites, the gravest and soonest first. */
    List<FleetDevice> needsAt(Collection<String> sites, Instant now) {
        return sites.isEmpty()
                ? List.of()
                : devices(
                        ConditionFilter.NONE,
                        " AND v.standing IN ('act', 'watch') AND v.site IN (:sites)",
                        "gravest",
                        0,
                        MOST_TOLD,
                        now,
                        Map.of("sites", sites));
    }

    /** One device; absent where it stands nowhere. */
    @Nullable
    FleetDevice one(String asset, Instant now) {
        List<FleetDevice> found =
                devices(ConditionFilter.NONE, " AND v.asset = :asset", "position", 0, 1, now, Map.of("asset", asset));
        return found.isEmpty() ? null : found.get(0);
    }

    private List<FleetDevice> devices(
            ConditionFilter filter,
            String and,
            String order,
            long from,
            int most,
            Instant now,
            Map<String, Object> more) {
        String by = ORDERS.get(order);
        if (by == null) {
            throw new Refusal(
                    "unknown-order",
                    "There is no order \"" + order + "\"; there are "
                            + String.join(
                                    ", ", ORDERS.keySet().stream().sorted().toList()) + ".",
                    "order");
        }
        MapSqlParameterSource values =
                new MapSqlParameterSource("most", most).addValue("from", from).addValues(more);
        double today = Timed.years(now);
        List<FleetDevice> devices = jdbc.query(
                """
        SELECT v.asset, v.position, v.site_name, v.title, v.model, v.standing, v.why, v.do_not_use, v.margin, v.drift,
          w.label, w.unit, w.value, w.low, w.high, w.crossing, w.from_80, w.to_80, v.by_record, v.series, v.lane,
          v.tested, v.serial, v.overdue, v.watched, v.site
        FROM %s LEFT JOIN series_state w ON w.asset = v.asset AND w.series = v.series AND w.lane = v.lane
        WHERE %s%s ORDER BY %s LIMIT :most OFFSET :from"""
                        .formatted(FLEET, filter.where(values), and, by),
                values,
                (rs, i) -> device(rs, today));
        return withPeers(devices);
    }

    /** Of those on their way to a limit, how many like them drift too. */
    private List<FleetDevice> withPeers(List<FleetDevice> devices) {
        String[] drifting = devices.stream()
                .filter(d -> d.meets != null)
                .map(FleetDevice::asset)
                .toArray(String[]::new);
        if (drifting.length == 0) {
            return devices;
        }
        Map<String, String> words = new HashMap<>();
        jdbc.query(
                """
        WITH ours AS (SELECT n.asset, s.procedure, s.series, s.lane, a.maker, a.model FROM standing_now n
          JOIN series_state s ON s.asset = n.asset AND s.series = n.series AND s.lane = n.lane
          JOIN asset a ON a.id = n.asset WHERE n.asset = ANY (:assets)),
        groups AS (SELECT g.*, (SELECT count(*) FROM series_state o JOIN asset b ON b.id = o.asset AND b.maker = g.maker
            AND b.model = g.model AND b.retired_at IS NULL
          WHERE o.procedure = g.procedure AND o.series = g.series AND o.lane = g.lane) AS members,
          (SELECT count(*) FROM series_state o JOIN asset b ON b.id = o.asset AND b.maker = g.maker
            AND b.model = g.model AND b.retired_at IS NULL
          WHERE o.procedure = g.procedure AND o.series = g.series AND o.lane = g.lane AND o.n >= 4 AND o.p <= 0.1
            AND o.drift > 0) AS drift
          FROM (SELECT DISTINCT procedure, series, lane, maker, model FROM ours) g)
        SELECT o.asset, g.members - 1, g.drift - 1 FROM ours o JOIN groups g USING (procedure, series, lane, maker,
          model)""",
                new MapSqlParameterSource("assets", drifting),
                rs -> {
                    words.put(rs.getString(1), like(rs.getLong(2), Math.max(0, rs.getLong(3))));
                });
        return devices.stream()
                .map(d -> d.meets == null ? d : d.also(words.getOrDefault(d.asset, "")))
                .toList();
    }

    private static String like(long peers, long drift) {
        if (peers < 1) {
            return "";
        }
        if (drift == 0) {
            return peers == 1 ? "; the one like it has no drift" : "; " + peers + " like it have no drift";
        }
        return drift == peers
                ? peers == 1 ? "; the one like it drifts too" : "; all " + peers + " like it drift too"
                : "; " + drift + " of " + peers + " like it " + (drift == 1 ? "drifts too" : "drift too");
    }

    private static FleetDevice device(ResultSet rs, double today) throws SQLException {
        Double crossing = rs.getObject(16, Double.class);
        Double from = rs.getObject(17, Double.class);
        Double to = rs.getObject(18, Double.class);
        Assessment.Why why =
                rs.getString(7) == null ? null : CoreJson.mapper().convertValue(rs.getString(7), Assessment.Why.class);
        boolean onItsWay = why == Assessment.Why.LIMIT_BEFORE_NEXT || why == Assessment.Why.LIMIT_BEFORE_NEXT_BUT_ONE;
        String meets = crossing == null || from == null || to == null || !onItsWay
                ? null
                : TrendWords.meets(new Line.Range(from, to), crossing, today);
        java.sql.Timestamp tested = rs.getTimestamp(22);
        String told = reason(rs, why, meets);
        return new FleetDevice(
                rs.getString(1),
                rs.getString(2),
                rs.getString(26),
                rs.getString(3),
                rs.getString(4),
                rs.getString(5),
                rs.getString(23),
                rs.getString(6),
                told,
                onItsWay ? detail(rs, told) : told,
                meets,
                meets == null || crossing == null
                        ? null
                        : LocalDate.ofInstant(Timed.instant(crossing), java.time.ZoneOffset.UTC),
                rs.getObject(9, Double.class),
                rs.getObject(10, Double.class),
                rs.getString(20),
                rs.getString(21),
                tested == null ? null : tested.toInstant());
    }

    private static String detail(ResultSet rs, String told) throws SQLException {
        String figure = figure(rs);
        return rs.getString(8) != null || figure == null ? told : rs.getString(11) + ": " + figure;
    }

    private static String reason(ResultSet rs, Assessment.@Nullable Why why, @Nullable String meets)
            throws SQLException {
        String barred = rs.getString(8);
        if (barred != null) {
            return "must not be used: " + barred;
        }
        if (rs.getString(19) == null) {
            return "never tested";
        }
        boolean overdue = rs.getString(6).equals("unknown") && rs.getBoolean(24);
        String figure = figure(rs);
        String told = why == null
                ? "by its last record"
                : why == Assessment.Why.SOUND && figure != null
                        ? rs.getString(11) + ": " + figure
                        : Assessment.words(why, rs.getString(11), figure, meets);
        String watched = rs.getString(25);
        return overdue
                ? "overdue; when last tested, " + told
                : watched == null
                        ? told
                        : why == Assessment.Why.SOUND || why == null
                                ? "on the watch list: " + watched
                                : told + "; on the watch list: " + watched;
    }

    /** "312, allowed at most 297 µΩ"; absent where there is no limit. */
    private static @Nullable String figure(ResultSet rs) throws SQLException {
        Double value = rs.getObject(13, Double.class);
        Double low = rs.getObject(14, Double.class);
        Double high = rs.getObject(15, Double.class);
        if (value == null || low == null && high == null) {
            return null;
        }
        ResolvedLimit limit = new ResolvedLimit(low, high, null, null, null, "", null, null);
        return (PointViews.figure(value, Qualifier.EQUAL, limit) + ", allowed "
                        + PointViews.words(String.valueOf(Figures.span(limit, value)))
                        + " " + PointViews.symbol(rs.getString(12)))
                .trim();
    }

    /** Devices whose line meets a limit within some months, by the point that does first. */
    List<Attention.Coming> coming(Instant now, int months) {
        double today = Timed.years(now);
        return jdbc
                .query(
                        """
        SELECT DISTINCT ON (v.asset) v.asset, v.position, v.site_name, v.model, v.standing, w.label, w.crossing,
          w.from_80, w.to_80, w.series, w.lane
        FROM %s JOIN series_state w ON w.asset = v.asset WHERE w.outlook = 'towards' AND w.crossing <= :until
        ORDER BY v.asset, w.crossing"""
                                .formatted(FLEET),
                        new MapSqlParameterSource("until", today + months / 12.0),
                        (rs, i) -> coming(rs, today))
                .stream()
                .sorted(java.util.Comparator.comparing(Attention.Coming::crossing))
                .toList();
    }

    private static Attention.Coming coming(ResultSet rs, double today) throws SQLException {
        double crossing = rs.getDouble(7);
        Line.Range range = new Line.Range(rs.getDouble(8), rs.getDouble(9));
        return new Attention.Coming(
                rs.getString(1),
                rs.getString(2),
                rs.getString(3),
                rs.getString(4),
                rs.getString(5),
                rs.getString(6),
                TrendWords.meets(range, crossing, today),
                day(crossing),
                Math.abs(range.from()) > FAR ? null : day(range.from()),
                Math.abs(range.to()) > FAR ? null : day(range.to()),
                rs.getString(10),
                rs.getString(11));
    }

    private static LocalDate day(double years) {
        return LocalDate.ofInstant(Timed.instant(years), java.time.ZoneOffset.UTC);
    }
}
