package org.juratest.server.imports;

import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.curve.CurveModel;
import org.juratest.core.procedure.Nameplate;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.curve.Curves;
import org.juratest.server.register.AssetClasses;
import org.juratest.server.register.AssetClasses.ClassView;
import org.juratest.server.register.ExtraFields.ExtraField;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.core.type.TypeReference;

/**
 * The register as it is while a table is checked against it: all of it, in memory, for as long as that takes.
 *
 * @param busy assets that a run is open on
 * @param freeSince until when the last device stood at a position, or an asset at its last place, by either's code
 * @param tested when an asset was tested last where it stands
 */
record Known(
        Map<String, Site> sites,
        Map<String, Measuring> measuring,
        Map<String, Position> positions,
        Map<String, Asset> assets,
        Map<String, String> devices,
        Map<String, ClassView> classes,
        Map<String, Map<String, ExtraField>> siteFields,
        Set<String> curves,
        Set<String> busy,
        Map<String, Instant> freeSince,
        Map<String, Instant> tested) {

    private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {};
    private static final int FETCHED = 2_000;

    record Site(String code, String name, double km, int altitude, String zone) {}

    record Measuring(String code, String site, String title) {}

    record Position(
            String code,
            String site,
            String family,
            String title,
            @Nullable String partOf,
            @Nullable String part,
            Map<String, String> extra,
            boolean retired) {}

    /** @param position where it stands; absent in the store */
    record Asset(
            String id,
            String assetClass,
            String maker,
            String model,
            String serial,
            @Nullable String curve,
            Nameplate plate,
            Map<String, String> extra,
            @Nullable String doNotUse,
            boolean retired,
            @Nullable String position,
            @Nullable Instant since) {}

    static String device(String maker, String model, String serial) {
        return maker + '\n' + model + '\n' + serial;
    }

    /** Reads it all, in the transaction at hand. */
    static Known of(JdbcTemplate template, AssetClasses classes, Curves library) {
        // Within the transaction rows come in portions.
        JdbcTemplate jdbc = new JdbcTemplate(java.util.Objects.requireNonNull(template.getDataSource()));
        jdbc.setFetchSize(FETCHED);
        Map<String, Site> sites = new HashMap<>();
        jdbc.query("SELECT code, name, km, altitude, zone FROM site", rs -> {
            sites.put(
                    rs.getString(1),
                    new Site(rs.getString(1), rs.getString(2), rs.getDouble(3), rs.getInt(4), rs.getString(5)));
        });
        Map<String, Measuring> measuring = new HashMap<>();
        jdbc.query("SELECT code, site, title FROM measuring_installation", rs -> {
            measuring.put(rs.getString(1), new Measuring(rs.getString(1), rs.getString(2), rs.getString(3)));
        });
        Map<String, Position> positions = new HashMap<>();
        jdbc.query(
                "SELECT code, site, family, title, part_of, part, extra::text, retired_at IS NOT NULL FROM position",
                rs -> {
                    positions.put(
                            rs.getString(1),
                            new Position(
                                    rs.getString(1),
                                    rs.getString(2),
                                    rs.getString(3),
                                    rs.getString(4),
                                    rs.getString(5),
                                    rs.getString(6),
                                    texts(rs.getString(7)),
                                    rs.getBoolean(8)));
                });
        Map<String, Asset> assets = new HashMap<>();
        Map<String, String> devices = new HashMap<>();
        jdbc.query(
                """
        SELECT a.id, a.class, a.maker, a.model, a.serial, a.curve, a.nameplate::text, a.extra::text, a.do_not_use,
          a.retired_at IS NOT NULL, i.position, lower(i.during)
        FROM asset a LEFT JOIN installation i ON i.asset = a.id AND upper_inf(i.during)""",
                rs -> {
                    Asset asset = new Asset(
                            rs.getString(1),
                            rs.getString(2),
                            rs.getString(3),
                            rs.getString(4),
                            rs.getString(5),
                            rs.getString(6),
                            CoreJson.mapper().readValue(rs.getString(7), Nameplate.class),
                            texts(rs.getString(8)),
                            rs.getString(9),
                            rs.getBoolean(10),
                            rs.getString(11),
                            rs.getTimestamp(12) == null
                                    ? null
                                    : rs.getTimestamp(12).toInstant());
                    assets.put(asset.id, asset);
                    devices.put(device(asset.maker, asset.model, asset.serial), asset.id);
                });
        Map<String, Map<String, ExtraField>> siteFields = siteFields(jdbc);
        Map<String, ClassView> byCode = classes.all().stream().collect(Collectors.toMap(ClassView::code, c -> c));
        Set<String> curves =
                library.library().models().stream().map(CurveModel::id).collect(Collectors.toSet());
        Set<String> busy =
                new HashSet<>(jdbc.queryForList("SELECT asset FROM run WHERE status = 'open'", String.class));
        Map<String, Instant> freeSince = new HashMap<>();
        jdbc.query(
                "SELECT unnest(ARRAY[asset, position]), max(upper(during)) FROM installation WHERE NOT "
                        + "upper_inf(during) GROUP BY 1",
                rs -> {
                    freeSince.put(rs.getString(1), rs.getTimestamp(2).toInstant());
                });
        Map<String, Instant> tested = new HashMap<>();
        jdbc.query(
                "SELECT r.asset, max(r.finished_at) FROM run r JOIN installation i ON i.asset = r.asset AND "
                        + "i.position = r.position AND upper_inf(i.during) WHERE r.status = 'finished' GROUP BY "
                        + "r.asset",
                rs -> {
                    tested.put(rs.getString(1), rs.getTimestamp(2).toInstant());
                });
        return new Known(
                sites, measuring, positions, assets, devices, byCode, siteFields, curves, busy, freeSince, tested);
    }

    private static Map<String, String> texts(String json) {
        return json.equals("{}") ? Map.of() : new TreeMap<>(CoreJson.mapper().readValue(json, TEXTS));
    }

    /** Own fields of positions by site and key. */
    static Map<String, Map<String, ExtraField>> siteFields(JdbcTemplate jdbc) {
        Map<String, Map<String, ExtraField>> fields = new HashMap<>();
        jdbc.query("SELECT site, id, key, label FROM extra_field WHERE site IS NOT NULL ORDER BY id", rs -> {
            fields.computeIfAbsent(rs.getString(1), k -> new TreeMap<>())
                    .put(rs.getString(3), new ExtraField(rs.getLong(2), rs.getString(3), rs.getString(4)));
        });
        return fields;
    }
}
