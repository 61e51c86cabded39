package org.juratest.server.demo;

import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.register.PlateSchema;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.register.AssetClasses;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;

/** The register of the demo valley: its devices, where they stand and stood. */
@Component
class DemoRegister {

    private static final Map<String, String> MEASURING = Map.of(
            "BRU-MES-01",
            "Generator, delivery",
            "MFR-MES-01",
            "Delivery to the valley",
            "MFR-MES-02",
            "Delivery to the railway");

    private final JdbcClient jdbc;
    private final AssetClasses classes;

    DemoRegister(JdbcClient jdbc, AssetClasses classes) {
        this.jdbc = jdbc;
        this.classes = classes;
    }

    void devices(DemoFleet fleet, ZoneId zone) {
        Map<String, PlateSchema> schemas = classes.schemas();
        Set<String> measuring = new HashSet<>();
        for (DemoFleet.Device d : fleet.devices()) {
            if (!d.partOf().isEmpty() && measuring.add(d.partOf())) {
                jdbc.sql("INSERT INTO measuring_installation (code, site, title) VALUES (:code, :site, :title)")
                        .param("code", d.partOf())
                        .param("site", d.site())
                        .param("title", MEASURING.getOrDefault(d.partOf(), ""))
                        .update();
            }
            List<FieldProblem> problems = new ArrayList<>();
            Nameplate plate = schemas.get(d.assetClass()).read(d.plate(), problems);
            if (!problems.isEmpty()) {
                throw new IllegalStateException(d.asset() + ": " + problems);
            }
            jdbc.sql("INSERT INTO asset (id, class, maker, model, serial, nameplate, curve, retired_why, retired_at) "
                            + "VALUES (:id, :class, :maker, :model, :serial, :plate::jsonb, :curve, :retired, :at)")
                    .param("id", d.asset())
                    .param("class", d.assetClass())
                    .param("maker", d.maker())
                    .param("model", d.model())
                    .param("serial", d.serial())
                    .param("plate", CoreJson.mapper().writeValueAsString(plate))
                    .param("curve", d.curve(), java.sql.Types.VARCHAR)
                    .param("retired", d.retired().isEmpty() ? null : d.retired(), java.sql.Types.VARCHAR)
                    .param(
                            "at",
                            d.retired().isEmpty()
                                    ? null
                                    : time(d.stays().get(d.stays().size() - 1).to(), zone),
                            java.sql.Types.TIMESTAMP_WITH_TIMEZONE)
                    .update();
            if (!d.position().isEmpty()) {
                jdbc.sql(
                                """
            INSERT INTO position (code, site, family, title, part_of, part)
            SELECT :code, :site, family, :title, nullif(:partOf, ''), nullif(:part, '') FROM asset_class
              WHERE code = :class""")
                        .param("code", d.position())
                        .param("site", d.site())
                        .param("title", d.title())
                        .param("partOf", d.partOf())
                        .param("part", d.part())
                        .param("class", d.assetClass())
                        .update();
            }
        }
        // Where a device stood may have been laid after it.
        fleet.devices().forEach(d -> d.stays()
                .forEach(s -> jdbc.sql("INSERT INTO installation (asset, position, during) VALUES (:asset, :position, "
                                + "tstzrange(:from, :to))")
                        .param("asset", d.asset())
                        .param("position", s.position())
                        .param("from", time(s.from(), zone))
                        .param("to", time(s.to(), zone), java.sql.Types.TIMESTAMP_WITH_TIMEZONE)
                        .update()));
        if (fleet.sites().stream().anyMatch(s -> s.code().equals("VAU"))) {
            more(fleet.today(), zone);
        }
    }

    private static @Nullable OffsetDateTime time(@Nullable LocalDate day, ZoneId zone) {
        return day == null
                ? null
                : day.atStartOfDay(zone).withZoneSameInstant(ZoneOffset.UTC).toOffsetDateTime();
    }

    private void failed(String position, LocalDate day, String words, ZoneId zone) {
        jdbc.sql("INSERT INTO asset_event (asset, at, kind, words, by) SELECT asset, :at, 'failure', :words, 'tavel' "
                        + "FROM "
                        + "installation WHERE position = :position AND upper_inf(during)")
                .param("at", time(day, zone))
                .param("words", words)
                .param("position", position)
                .update();
    }

    /** Own fields with some values, an empty position, and one device that must not be used. */
    private void more(LocalDate today, ZoneId zone) {
        jdbc.sql("INSERT INTO extra_field (site, class, key, label) VALUES ('VAU', NULL, 'ward', 'Ward'), "
                        + "(NULL, 'defibrillator', 'pads_expire', 'Pads expire'), (NULL, 'energy-meter', "
                        + "'seal', 'Seal number'), (NULL, 'land-mobile-radio', 'batch', 'Batch')")
                .update();
        jdbc.sql("UPDATE position SET extra = jsonb_build_object('ward', CASE WHEN code < 'VAU-DEF-05' "
                        + "THEN 'Emergency' ELSE 'Medicine' END) WHERE site = 'VAU' AND code LIKE 'VAU-DEF-%'")
                .update();
        jdbc.sql("UPDATE asset SET extra = jsonb_build_object('pads_expire', CAST(:day AS text)) WHERE "
                        + "class = 'defibrillator'")
                .param("day", today.plusMonths(14).toString().substring(0, 7))
                .update();
        // Those whose crystal never settled came out of one batch; the others of their model are of several.
        jdbc.sql(
                        """
        UPDATE asset a SET extra = jsonb_build_object('batch', CASE WHEN i.position IN ('TES-RAD-02', 'MFR-RAD-02',
          'COL-RAD-05') THEN 'C2207' ELSE 'C' || (2101 + 100 * (ascii(right(a.serial, 1)) % 2)
          + ascii(right(a.serial, 2)) % 4) END) FROM installation i
        WHERE i.asset = a.id AND upper_inf(i.during) AND a.class = 'land-mobile-radio'
          AND a.model = 'HR-52'""")
                .update();
        // What failed between tests, as people told it.
        failed("MFR-REC-01", today.minusDays(9), "did not reclose after a branch fell on the line: battery low", zone);
        failed("VAU-INF-09", today.minusDays(41), "stopped with a false occlusion alarm", zone);
        failed("ORE-GEN-01", today.minusDays(140), "did not start at the first try", zone);
        jdbc.sql("INSERT INTO position (code, site, family, title) VALUES ('VAU-INF-15', 'VAU', "
                        + "'medical', 'Pool, shelf 15')")
                .update();
        jdbc.sql(
                        """
        UPDATE asset SET do_not_use = 'Self-test fails: battery does not hold its charge', do_not_use_since = :since,
          do_not_use_by = 'brevan'
        WHERE id = (SELECT asset FROM installation WHERE position = 'VAU-DEF-03' AND upper_inf(during))""")
                .param("since", time(today.minusDays(6), zone))
                .update();
    }
}
