package org.juratest.server.register;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.condition.Standing;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.register.PlateField;
import org.juratest.core.register.PlateSchema;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.register.ExtraFields.ExtraValue;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import tools.jackson.core.type.TypeReference;

/** The register as it is read: the tree, what stands at a position and has stood there, what is known of an asset. */
@Repository
class RegisterPages {

    private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {};
    /** How an asset stands today ({@code standing_now}); nothing where there is none. */
    private static final String STANDING = "l.standing";

    private static final String STANDS = " LEFT JOIN standing_now l ON l.asset = a.id";
    private static final String COLUMNS =
            """
      p.code, p.title, p.site, s.name, coalesce(p.family, c.family), p.part_of, p.part, p.retired_why, a.id, c.title,
        a.maker, a.model, a.serial, """
                    + STANDING + ", a.do_not_use, a.retired_why";
    /** Every position with what stands at it. */
    private static final String PLACES =
            " FROM position p JOIN site s ON s.code = p.site LEFT JOIN installation i ON i.position = p.code AND "
                    + "upper_inf(i.during)"
                    + " LEFT JOIN asset a ON a.id = i.asset LEFT JOIN asset_class c ON c.code = a.class" + STANDS;
    /** Every asset that stands nowhere. */
    private static final String STORED =
            " FROM asset a JOIN asset_class c ON c.code = a.class LEFT JOIN standing_now l ON l.asset = a.id"
                    + " LEFT JOIN position p ON false LEFT JOIN site s ON false WHERE NOT EXISTS (SELECT 1 FROM "
                    + "installation i WHERE i.asset = a.id AND upper_inf(i.during))";

    private final JdbcClient jdbc;
    private final NamedParameterJdbcTemplate named;
    private final ExtraFields extraFields;
    private final AssetClasses classes;

    RegisterPages(JdbcClient jdbc, NamedParameterJdbcTemplate named, ExtraFields extraFields, AssetClasses classes) {
        this.jdbc = jdbc;
        this.named = named;
        this.extraFields = extraFields;
        this.classes = classes;
    }

    /**
     * The register at a glance.
     *
     * @param sites in the order of the line
     * @param families what stands anywhere, by family
     * @param stored assets in the store
     * @param retired assets that are retired
     */
    record RegisterOverview(List<SiteLine> sites, List<FamilyLine> families, long assets, long stored, long retired) {}

    /** A family with what stands of it. */
    record FamilyLine(String family, long assets, Marks marks) {}

    /** How many assets of a place stand how. */
    record Marks(long act, long watch, long sound, long unknown) {}

    /** A site with what is in it, in numbers. */
    record SiteLine(String code, String name, double km, int altitude, long positions, long empty, Marks marks) {}

    /**
     * A position and what stands there, or an asset in the store.
     *
     * @param position absent for what stands nowhere
     * @param retired why the position, or the asset that stands nowhere, is retired; absent while it is not
     */
    record PlaceLine(
            @Nullable String position,
            String title,
            @Nullable String site,
            @Nullable String siteName,
            String family,
            @Nullable String partOf,
            @Nullable String part,
            @Nullable String retired,
            @Nullable AssetLine asset) {}

    /** An asset in a list. */
    record AssetLine(
            String id,
            String assetClass,
            String maker,
            String model,
            String serial,
            Standing standing,
            @Nullable String doNotUse) {}

    /** A measuring installation in a list. */
    record MeasuringLine(String code, String title) {}

    /** A site with all its positions. */
    record SitePage(
            String code,
            String name,
            double km,
            int altitude,
            String zone,
            List<ExtraFields.ExtraField> extra,
            List<MeasuringLine> measuring,
            List<PlaceLine> places,
            List<Attachments.FileView> files) {}

    /** What a filter finds. */
    record FoundPlaces(long count, List<PlaceLine> places) {}

    /**
     * A position: what it is, what stands there, and what has stood there.
     *
     * @param held newest first
     * @param records made here, in all
     */
    record PositionPage(
            PlaceLine place,
            String zone,
            List<ExtraValue> extra,
            List<Held> held,
            long records,
            long jobs,
            List<Attachments.FileView> files) {}

    /**
     * A device that stands or stood at a position.
     *
     * @param standings all places it stood at, oldest first
     * @param tests finished runs, wherever they were made, oldest first
     */
    record Held(AssetLine asset, List<Stay> standings, List<TestMark> tests) {}

    /** A time at a position; {@code to} is absent while it lasts. */
    record Stay(String position, Instant from, @Nullable Instant to) {}

    /** A finished run on an axis of time. */
    record TestMark(UUID run, String number, String position, Instant at, Verdict verdict, boolean complete) {}

    /** A measuring installation with its parts. */
    record MeasuringPage(
            String code,
            String title,
            String site,
            String siteName,
            String zone,
            List<PlaceLine> parts,
            List<Attachments.FileView> files) {}

    /** A plate value as it is edited. */
    record PlateValue(PlateField field, String typed) {}

    /** Why something must not be used, since when, and who said so. */
    record Barred(String asset, String why, Instant since, String by) {}

    /**
     * What the register says of an asset itself.
     *
     * @param at where it stands; absent in the store
     * @param retired why; absent while it is not
     */
    record AssetPage(
            String id,
            String assetClass,
            String classTitle,
            String family,
            String mark,
            String maker,
            String model,
            String serial,
            @Nullable String curve,
            List<PlateValue> plate,
            List<ExtraValue> extra,
            @Nullable String at,
            @Nullable Barred barred,
            @Nullable String retired,
            @Nullable Instant retiredAt,
            List<Attachments.FileView> files) {}

    private static PlaceLine place(ResultSet rs, int i) throws SQLException {
        AssetLine asset = rs.getString(9) == null
                ? null
                : new AssetLine(
                        rs.getString(9),
                        rs.getString(10),
                        rs.getString(11),
                        rs.getString(12),
                        rs.getString(13),
                        CoreJson.mapper().convertValue(rs.getString(14), Standing.class),
                        rs.getString(15));
        String title = rs.getString(2);
        String family = rs.getString(5);
        return new PlaceLine(
                rs.getString(1),
                title == null ? "" : title,
                rs.getString(3),
                rs.getString(4),
                family == null ? "" : family,
                rs.getString(6),
                rs.getString(7),
                rs.getString(1) == null ? rs.getString(16) : rs.getString(8),
                asset);
    }

    private record Stand(@Nullable String site, @Nullable String family, long positions, long assets, Marks marks) {}

    RegisterOverview overview() {
        // One pass over everything, by site and family at once.
        List<Stand> stands = jdbc.sql("SELECT v.site, v.family, count(*) FILTER (WHERE NOT v.retired), count(v.asset), "
                        + "count(*) FILTER (WHERE v.standing = 'act'), count(*) FILTER (WHERE v.standing = 'watch'),"
                        + " count(*) FILTER (WHERE v.standing = 'sound'), count(*) FILTER (WHERE "
                        + "v.standing = 'unknown') FROM (SELECT p.site, c.family, p.retired_at IS NOT NULL AS "
                        + "retired, a.id AS asset, "
                        + STANDING
                        + " AS standing" + PLACES + ") v GROUP BY v.site, v.family")
                .query((rs, i) -> new Stand(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getLong(3),
                        rs.getLong(4),
                        new Marks(rs.getLong(5), rs.getLong(6), rs.getLong(7), rs.getLong(8))))
                .list();
        Map<String, List<Stand>> bySite = stands.stream().collect(Collectors.groupingBy(s -> String.valueOf(s.site)));
        List<SiteLine> sites = jdbc.sql("SELECT code, name, km, altitude FROM site ORDER BY km, code")
                .query((rs, i) -> {
                    List<Stand> here = bySite.getOrDefault(rs.getString(1), List.of());
                    long empty = here.stream()
                            .filter(s -> s.family == null)
                            .mapToLong(Stand::positions)
                            .sum();
                    return new SiteLine(
                            rs.getString(1),
                            rs.getString(2),
                            rs.getDouble(3),
                            rs.getInt(4),
                            here.stream().mapToLong(Stand::positions).sum(),
                            empty,
                            sum(here));
                })
                .list();
        List<FamilyLine> families = stands.stream()
                .filter(s -> s.family != null)
                .collect(Collectors.groupingBy(s -> String.valueOf(s.family), TreeMap::new, Collectors.toList()))
                .entrySet()
                .stream()
                .map(f -> new FamilyLine(
                        f.getKey(),
                        f.getValue().stream().mapToLong(Stand::assets).sum(),
                        sum(f.getValue())))
                .toList();
        record Counts(long all, long retired) {}
        Counts counts = jdbc.sql("SELECT count(*), count(*) FILTER (WHERE retired_at IS NOT NULL) FROM asset")
                .query((rs, i) -> new Counts(rs.getLong(1), rs.getLong(2)))
                .single();
        return new RegisterOverview(
                sites,
                families,
                counts.all,
                counts.all
                        - counts.retired
                        - stands.stream().mapToLong(Stand::assets).sum(),
                counts.retired);
    }

    private static Marks sum(List<Stand> stands) {
        return new Marks(
                stands.stream().mapToLong(s -> s.marks.act).sum(),
                stands.stream().mapToLong(s -> s.marks.watch).sum(),
                stands.stream().mapToLong(s -> s.marks.sound).sum(),
                stands.stream().mapToLong(s -> s.marks.unknown).sum());
    }

    SitePage site(String code) {
        List<PlaceLine> places = jdbc.sql("SELECT " + COLUMNS + PLACES + " WHERE p.site = :site ORDER BY p.code")
                .param("site", code)
                .query(RegisterPages::place)
                .list();
        List<MeasuringLine> measuring = jdbc.sql(
                        "SELECT code, title FROM measuring_installation WHERE site = :site ORDER BY code")
                .param("site", code)
                .query((rs, i) -> new MeasuringLine(rs.getString(1), rs.getString(2)))
                .list();
        return jdbc.sql("SELECT code, name, km, altitude, zone FROM site WHERE code = :site")
                .param("site", code)
                .query((rs, i) -> new SitePage(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getDouble(3),
                        rs.getInt(4),
                        rs.getString(5),
                        extraFields.of(code, null),
                        measuring,
                        places,
                        Attachments.of(jdbc, "site", code)))
                .optional()
                .orElseThrow(() -> new NotFoundException("site", code));
    }

    /**
     * What has every word of a text in its codes, names, makers, models, numbers or class; in the order of the line,
     * then the store.
     *
     * @param where {@code store}, {@code retired}, {@code act}, {@code watch}, {@code unknown}, {@code sound},
     *     {@code barred} or {@code empty}; absent for all that is not retired
     */
    FoundPlaces find(String text, @Nullable String where, int limit) {
        List<String> words = Arrays.stream(text.toLowerCase(Locale.ROOT).strip().split("\\s+"))
                .filter(w -> !w.isEmpty())
                .limit(8)
                .toList();
        MapSqlParameterSource values = new MapSqlParameterSource("limit", limit).addValue("standing", where);
        StringBuilder has = new StringBuilder();
        for (int i = 0; i < words.size(); i++) {
            // Column by column: putting them together for each row takes twice as long.
            has.append((" AND (p.search LIKE :word# OR a.search LIKE :word# OR s.search LIKE :word# OR c.search LIKE "
                            + ":word#)")
                    .replace("#", String.valueOf(i)));
            values.addValue("word" + i, "%" + escaped(words.get(i)) + "%");
        }
        boolean places = where == null || !where.equals("store") && !where.equals("retired");
        boolean store = where == null ? !words.isEmpty() : !where.equals("empty");
        String narrowed = where == null
                ? " AND p.retired_at IS NULL"
                : switch (where) {
                    case "empty" -> " AND a.id IS NULL AND p.retired_at IS NULL";
                    case "barred" -> " AND a.do_not_use IS NOT NULL";
                    case "store", "retired" -> "";
                    default -> " AND (" + STANDING + ") = :standing";
                };
        String stored = where == null || where.equals("store")
                ? " AND a.retired_at IS NULL"
                : where.equals("retired") ? " AND a.retired_at IS NOT NULL" : narrowed;
        List<PlaceLine> found = new ArrayList<>();
        long count = 0;
        if (places) {
            // First which, of narrow rows; then what is shown of these few.
            String which = "SELECT p.code" + PLACES.replace(STANDS, narrowed.contains(":standing") ? STANDS : "")
                    + " WHERE true" + narrowed + has + " ORDER BY s.km, s.code, p.code LIMIT :limit";
            found.addAll(named.query(
                    "SELECT " + COLUMNS + PLACES + " WHERE p.code IN (" + which + ") ORDER BY s.km, s.code, p.code",
                    values,
                    RegisterPages::place));
            count += found.size() < limit
                    ? found.size()
                    : count("SELECT count(*)" + PLACES + " WHERE true" + narrowed + has, values);
        }
        if (store) {
            List<PlaceLine> more = named.query(
                    "SELECT " + COLUMNS + STORED + stored + has + " ORDER BY a.id LIMIT :limit",
                    values,
                    RegisterPages::place);
            count += more.size() < limit ? more.size() : count("SELECT count(*)" + STORED + stored + has, values);
            found.addAll(more);
        }
        return new FoundPlaces(count, found.size() > limit ? List.copyOf(found.subList(0, limit)) : found);
    }

    private long count(String sql, MapSqlParameterSource values) {
        Long count = named.queryForObject(sql, values, Long.class);
        return count == null ? 0 : count;
    }

    static String escaped(String text) {
        return text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_");
    }

    PositionPage position(String code) {
        PlaceLine place = jdbc.sql("SELECT " + COLUMNS + PLACES + " WHERE p.code = :code")
                .param("code", code)
                .query(RegisterPages::place)
                .optional()
                .orElseThrow(() -> new NotFoundException("position", code));
        record Own(String extra, String zone, long records, long jobs) {}
        Own own = jdbc.sql(
                        """
        SELECT p.extra::text, s.zone, (SELECT count(*) FROM run WHERE position = p.code AND status = 'finished'),
          (SELECT count(*) FROM job WHERE position = p.code AND status IN ('open', 'running', 'partly done'))
        FROM position p JOIN site s ON s.code = p.site WHERE p.code = :code""")
                .param("code", code)
                .query((rs, i) -> new Own(rs.getString(1), rs.getString(2), rs.getLong(3), rs.getLong(4)))
                .single();
        return new PositionPage(
                place,
                own.zone,
                ExtraFields.values(
                        extraFields.of(String.valueOf(place.site), null),
                        CoreJson.mapper().readValue(own.extra, TEXTS)),
                held(code),
                own.records,
                own.jobs,
                Attachments.of(jdbc, "position", code));
    }

    /** Every device that stood at a position, with all of its own history. */
    private List<Held> held(String position) {
        List<AssetLine> assets = jdbc.sql(
                        """
        SELECT a.id, c.title, a.maker, a.model, a.serial, """ + STANDING
                                + """
          , a.do_not_use, i.last
        FROM (SELECT asset, max(lower(during)) AS last
          FROM installation WHERE position = :position GROUP BY asset) i JOIN asset a ON a.id = i.asset
          JOIN asset_class c ON c.code = a.class LEFT JOIN standing_now l ON l.asset = a.id ORDER BY i.last DESC""")
                .param("position", position)
                .query((rs, i) -> new AssetLine(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        CoreJson.mapper().convertValue(rs.getString(6), Standing.class),
                        rs.getString(7)))
                .list();
        Map<String, List<Stay>> stays = new LinkedHashMap<>();
        jdbc.sql("SELECT asset, position, lower(during), upper(during) FROM installation WHERE asset IN "
                        + "(SELECT asset FROM installation WHERE position = :position) ORDER BY lower(during)")
                .param("position", position)
                .query(rs -> {
                    stays.computeIfAbsent(rs.getString(1), k -> new ArrayList<>())
                            .add(new Stay(
                                    rs.getString(2),
                                    rs.getTimestamp(3).toInstant(),
                                    rs.getTimestamp(4) == null
                                            ? null
                                            : rs.getTimestamp(4).toInstant()));
                });
        Map<String, List<TestMark>> tests = new LinkedHashMap<>();
        jdbc.sql(
                        """
        SELECT asset, id, record, position, finished_at, verdict, complete FROM run
        WHERE asset IN (SELECT asset FROM installation WHERE position = :position) AND status = 'finished'
          ORDER BY finished_at, id""")
                .param("position", position)
                .query(rs -> {
                    tests.computeIfAbsent(rs.getString(1), k -> new ArrayList<>())
                            .add(new TestMark(
                                    rs.getObject(2, UUID.class),
                                    rs.getString(3),
                                    rs.getString(4),
                                    rs.getTimestamp(5).toInstant(),
                                    CoreJson.mapper().convertValue(rs.getString(6), Verdict.class),
                                    rs.getBoolean(7)));
                });
        return assets.stream()
                .map(a -> new Held(a, stays.getOrDefault(a.id, List.of()), tests.getOrDefault(a.id, List.of())))
                .toList();
    }

    MeasuringPage measuring(String code) {
        List<PlaceLine> parts = jdbc.sql(
                        "SELECT " + COLUMNS + PLACES + " WHERE p.part_of = :code ORDER BY p.part, p.code")
                .param("code", code)
                .query(RegisterPages::place)
                .list();
        return jdbc.sql("SELECT m.code, m.title, m.site, s.name, s.zone FROM measuring_installation m JOIN site "
                        + "s ON s.code = m.site WHERE m.code = :code")
                .param("code", code)
                .query((rs, i) -> new MeasuringPage(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        parts,
                        Attachments.of(jdbc, "measuringInstallation", code)))
                .optional()
                .orElseThrow(() -> new NotFoundException("measuring installation", code));
    }

    AssetPage asset(String id) {
        record Row(
                String assetClass,
                String title,
                String family,
                String mark,
                String maker,
                String model,
                String serial,
                @Nullable String curve,
                String plate,
                String extra,
                @Nullable String at,
                @Nullable Barred barred,
                @Nullable String retired,
                @Nullable Instant retiredAt) {}
        Row row = jdbc.sql(
                        """
        SELECT a.class, c.title, c.family, c.mark, a.maker, a.model, a.serial, a.curve, a.nameplate::text,
          a.extra::text, i.position, a.do_not_use, a.do_not_use_since,
          coalesce(w.name, a.do_not_use_by), a.retired_why, a.retired_at
        FROM asset a JOIN asset_class c ON c.code = a.class LEFT JOIN installation i ON i.asset = a.id
          AND upper_inf(i.during) LEFT JOIN person w ON w.id = a.do_not_use_by
        WHERE a.id = :id""")
                .param("id", id)
                .query((rs, i) -> new Row(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getString(7),
                        rs.getString(8),
                        rs.getString(9),
                        rs.getString(10),
                        rs.getString(11),
                        rs.getString(12) == null
                                ? null
                                : new Barred(
                                        id,
                                        rs.getString(12),
                                        rs.getTimestamp(13).toInstant(),
                                        rs.getString(14)),
                        rs.getString(15),
                        rs.getTimestamp(16) == null ? null : rs.getTimestamp(16).toInstant()))
                .optional()
                .orElseThrow(() -> new NotFoundException("asset", id));
        PlateSchema schema = classes.schemas().getOrDefault(row.assetClass, new PlateSchema(List.of()));
        Map<String, String> typed =
                new LinkedHashMap<>(schema.print(CoreJson.mapper().readValue(row.plate, Nameplate.class)));
        List<PlateValue> plate = new ArrayList<>();
        schema.fields().forEach(f -> {
            String value = typed.remove(f.key());
            plate.add(new PlateValue(f, value == null ? "" : value));
        });
        // What an earlier version of the class foresaw stays readable, and can be cleared.
        typed.forEach((key, value) -> plate.add(new PlateValue(
                new PlateField(key, key, PlateField.Kind.TEXT, null, null, null, false, List.of()), value)));
        return new AssetPage(
                id,
                row.assetClass,
                row.title,
                row.family,
                row.mark,
                row.maker,
                row.model,
                row.serial,
                row.curve,
                plate,
                ExtraFields.values(
                        extraFields.of(null, row.assetClass), CoreJson.mapper().readValue(row.extra, TEXTS)),
                row.at,
                row.barred,
                row.retired,
                row.retiredAt,
                Attachments.of(jdbc, "asset", id));
    }

    /** All assets that must not be used. */
    List<Barred> barred() {
        return jdbc.sql(
                        """
        SELECT a.id, a.do_not_use, a.do_not_use_since, coalesce(w.name, a.do_not_use_by, '') FROM asset a LEFT
          JOIN person w ON w.id = a.do_not_use_by
        WHERE a.do_not_use IS NOT NULL ORDER BY a.do_not_use_since DESC""")
                .query((rs, i) -> new Barred(
                        rs.getString(1), rs.getString(2), rs.getTimestamp(3).toInstant(), rs.getString(4)))
                .list();
    }
}
