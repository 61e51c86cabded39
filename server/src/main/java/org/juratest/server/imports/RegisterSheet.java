package org.juratest.server.imports;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.register.PlateSchema;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.table.CellText;
import org.juratest.server.register.AssetClasses;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;

/**
 * The register as a table that comes back unchanged: RFC 4180, UTF-8, one row a position or an asset in the store. What
 * is retired stays out.
 */
@Repository
class RegisterSheet {

    private static final int FETCHED = 500;
    private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {};

    private final NamedParameterJdbcTemplate jdbc;
    private final JdbcTemplate template;
    private final AssetClasses classes;

    RegisterSheet(JdbcTemplate template, AssetClasses classes) {
        JdbcTemplate portions = new JdbcTemplate(Objects.requireNonNull(template.getDataSource()));
        portions.setFetchSize(FETCHED);
        this.jdbc = new NamedParameterJdbcTemplate(portions);
        this.template = template;
        this.classes = classes;
    }

    /**
     * Writes it.
     *
     * @param site only what is there; absent for everything
     * @param empty only the header
     */
    @Transactional(readOnly = true)
    public void write(@Nullable String site, boolean empty, Appendable out) throws IOException {
        List<AssetClasses.ClassView> all = classes.all();
        Map<String, PlateSchema> schemas = new LinkedHashMap<>();
        all.forEach(c -> schemas.put(c.code(), new PlateSchema(c.fields())));
        List<String> header =
                new ArrayList<>(SheetField.all(all, Known.siteFields(template)).keySet());
        CSVPrinter printer = new CSVPrinter(
                out,
                CSVFormat.RFC4180
                        .builder()
                        .setHeader(header.toArray(String[]::new))
                        .get());
        if (empty) {
            printer.flush();
            return;
        }
        String columns =
                """
        SELECT s.code, s.name, s.km, s.altitude, s.zone, m.code, m.title, p.code, p.title, p.family, p.part,
          p.extra::text, a.id, a.class, a.maker, a.model, a.serial, a.curve, lower(i.during),
          a.do_not_use, a.nameplate::text, a.extra::text
        """;
        MapSqlParameterSource values = new MapSqlParameterSource().addValue("site", site, java.sql.Types.VARCHAR);
        String rows = columns
                + """
        FROM site s LEFT JOIN position p ON p.site = s.code AND p.retired_at IS NULL LEFT
          JOIN measuring_installation m ON m.code = p.part_of
          LEFT JOIN installation i ON i.position = p.code AND upper_inf(i.during) LEFT JOIN asset a ON a.id = i.asset
        WHERE CAST(:site AS text) IS NULL OR s.code = :site ORDER BY s.km, s.code, p.code""";
        jdbc.query(rows, values, rs -> {
            print(printer, header, rs, schemas);
        });
        if (site == null) {
            jdbc.query(
                    columns
                            + """
          FROM asset a LEFT JOIN installation i ON i.asset = a.id AND upper_inf(i.during) LEFT JOIN position p
            ON false LEFT JOIN site s ON false LEFT JOIN measuring_installation m ON false
          WHERE i.id IS NULL AND a.retired_at IS NULL ORDER BY a.id""",
                    values,
                    rs -> {
                        print(printer, header, rs, schemas);
                    });
        }
        printer.flush();
    }

    private static void print(
            CSVPrinter printer, List<String> header, java.sql.ResultSet rs, Map<String, PlateSchema> schemas)
            throws java.sql.SQLException {
        Map<String, String> cells = new LinkedHashMap<>();
        List<String> plain = List.of(
                SheetField.SITE,
                SheetField.SITE_NAME,
                SheetField.KM,
                SheetField.ALTITUDE,
                SheetField.ZONE,
                SheetField.MEASURING,
                SheetField.MEASURING_TITLE,
                SheetField.POSITION,
                SheetField.POSITION_TITLE,
                SheetField.FAMILY,
                SheetField.PART,
                "",
                SheetField.ASSET,
                SheetField.CLASS,
                SheetField.MAKER,
                SheetField.MODEL,
                SheetField.SERIAL,
                SheetField.CURVE);
        for (int c = 0; c < plain.size(); c++) {
            cells.put(plain.get(c), rs.getString(c + 1));
        }
        texts(SheetField.POSITION_EXTRA, rs.getString(12), cells);
        if (rs.getTimestamp(19) != null) {
            cells.put(SheetField.SINCE, since(rs.getTimestamp(19).toInstant(), rs.getString(5)));
        }
        cells.put(SheetField.DO_NOT_USE, rs.getString(20));
        if (rs.getString(21) != null) {
            schemas.get(rs.getString(14))
                    .print(CoreJson.mapper().readValue(rs.getString(21), Nameplate.class))
                    .forEach((key, typed) -> cells.put(SheetField.PLATE + key, typed));
            texts(SheetField.ASSET_EXTRA, rs.getString(22), cells);
        }
        try {
            printer.printRecord(Arrays.asList(header.stream()
                    .map(h -> cells.get(h) == null ? null : CellText.guarded(cells.get(h)))
                    .toArray()));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void texts(String prefix, @Nullable String json, Map<String, String> cells) {
        if (json != null) {
            CoreJson.mapper().readValue(json, TEXTS).forEach((key, text) -> cells.put(prefix + key, text));
        }
    }

    /** The day, where it began at midnight at the site; the instant otherwise. */
    private static String since(Instant since, @Nullable String zone) {
        ZoneId there = ZoneId.of(zone == null ? "UTC" : zone);
        LocalDate day = LocalDate.ofInstant(since, there);
        return day.atStartOfDay(there).toInstant().equals(since) ? day.toString() : since.toString();
    }
}
