package org.juratest.server.imports;

import java.time.Instant;
import java.util.Collection;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.db.BulkCopy;
import org.juratest.server.web.Progress;
import org.springframework.jdbc.core.JdbcTemplate;

/**
 * Stores what a checked table says, by COPY into tables beside and from there in one statement a table, in the
 * transaction at hand.
 */
final class SheetStore {

    /** Rows from which on the planner has to learn anew what there is. */
    private static final int MANY = 1000;

    private final JdbcTemplate jdbc;
    private final Progress progress;

    SheetStore(JdbcTemplate jdbc, Progress progress) {
        this.jdbc = jdbc;
        this.progress = progress;
    }

    void store(SheetCheck checked, String by, Instant now) {
        copy(
                "site",
                "code, name, km, altitude, zone",
                checked.sites().values(),
                s -> line(s.code(), s.name(), s.km(), s.altitude(), s.zone()));
        jdbc.update(
                """
        INSERT INTO site (code, name, km, altitude, zone) SELECT code, name, km, altitude, zone FROM in_site
        ON CONFLICT (code) DO UPDATE SET name = excluded.name, km = excluded.km, altitude = excluded.altitude,
          zone = excluded.zone""");
        copy(
                "measuring_installation",
                "code, site, title",
                checked.measuring().values(),
                m -> line(m.code(), m.site(), m.title()));
        jdbc.update("INSERT INTO measuring_installation (code, site, title) SELECT code, site, title FROM "
                + "in_measuring_installation ON CONFLICT (code) DO UPDATE SET title = excluded.title");
        copy(
                "position",
                "code, site, family, title, part_of, part, extra",
                checked.positions().values(),
                p -> line(p.code(), p.site(), p.family(), p.title(), p.partOf(), p.part(), json(p.extra())));
        jdbc.update(
                """
        INSERT INTO position (code, site, family, title, part_of, part, extra) SELECT code, site, family, title,
          part_of, part, extra FROM in_position
        ON CONFLICT (code) DO UPDATE SET title = excluded.title, part_of = excluded.part_of, part = excluded.part,
          extra = excluded.extra""");
        copy(
                "asset",
                "id, class, maker, model, serial, nameplate, curve, extra, do_not_use",
                checked.assets().values(),
                a -> line(
                        a.id(),
                        a.assetClass(),
                        a.maker(),
                        a.model(),
                        a.serial(),
                        CoreJson.mapper().writeValueAsString(a.plate()),
                        a.curve(),
                        json(a.extra()),
                        a.doNotUse()));
        jdbc.update(
                """
        INSERT INTO asset (id, class, maker, model, serial, nameplate, curve, extra, do_not_use, do_not_use_since,
          do_not_use_by)
          SELECT id, class, maker, model, serial, nameplate, curve, extra, do_not_use, CASE
            WHEN do_not_use IS NOT NULL THEN CAST(? AS timestamptz) END, CASE WHEN do_not_use IS NOT NULL THEN ? END
          FROM in_asset
        ON CONFLICT (id) DO UPDATE SET maker = excluded.maker, model = excluded.model, serial = excluded.serial,
          nameplate = excluded.nameplate, curve = excluded.curve,
          extra = excluded.extra, do_not_use = excluded.do_not_use,
          do_not_use_since = CASE WHEN asset.do_not_use IS NOT DISTINCT FROM excluded.do_not_use
            THEN asset.do_not_use_since ELSE excluded.do_not_use_since END,
          do_not_use_by = CASE WHEN asset.do_not_use IS NOT DISTINCT FROM excluded.do_not_use
            THEN asset.do_not_use_by ELSE excluded.do_not_use_by END""",
                now.atOffset(java.time.ZoneOffset.UTC),
                by);
        place(checked.placings());
        progress.at("Finishing", 0, 0);
        if (checked.assets().size() + checked.positions().size() > MANY) {
            jdbc.execute("ANALYZE site, position, asset, installation");
        }
    }

    /** First everything leaves where it stood, then everything comes: so two devices can change places in one table. */
    private void place(Collection<SheetCheck.Placing> placings) {
        jdbc.execute("CREATE TEMP TABLE in_installation (asset text, position text, at timestamptz, leaves text, "
                + "moves_from text) ON COMMIT DROP");
        fill(
                "in_installation (asset, position, at, leaves, moves_from)",
                "where devices stand",
                placings,
                p -> line(p.asset(), p.position(), p.at(), p.leaves(), p.from()));
        jdbc.update(
                """
        UPDATE installation i SET during = tstzrange(lower(i.during), o.at)
        FROM (SELECT asset, min(at) AS at FROM (SELECT asset, at FROM in_installation WHERE moves_from IS NOT NULL
          UNION ALL SELECT leaves, at FROM in_installation WHERE leaves IS NOT NULL) l GROUP BY asset) o
        WHERE i.asset = o.asset AND upper_inf(i.during)""");
        jdbc.update("INSERT INTO installation (asset, position, during) SELECT asset, position, tstzrange(at, NULL) "
                + "FROM in_installation");
        jdbc.update(
                """
        UPDATE job j SET status = 'withdrawn' FROM in_installation n
        WHERE j.asset = n.leaves AND j.status IN ('open', 'partly done') AND NOT EXISTS (SELECT 1
          FROM in_installation o WHERE o.asset = n.leaves)""");
        jdbc.update("UPDATE job j SET position = n.position FROM in_installation n WHERE j.asset = n.asset AND "
                + "n.moves_from IS NOT NULL AND j.status IN ('open', 'partly done')");
    }

    private <T> void copy(String table, String columns, Collection<T> rows, Function<T, @Nullable Object[]> line) {
        jdbc.execute("CREATE TEMP TABLE in_" + table + " ON COMMIT DROP AS SELECT " + columns + " FROM " + table
                + " WHERE false");
        fill("in_" + table + " (" + columns + ")", table.replace('_', ' ') + "s", rows, line);
    }

    private <T> void fill(String target, String what, Collection<T> rows, Function<T, @Nullable Object[]> cells) {
        if (rows.isEmpty()) {
            return;
        }
        BulkCopy.rows(jdbc, target, rows.iterator(), cells, done -> progress.at("Storing " + what, done, rows.size()));
    }

    private static String json(Map<String, String> texts) {
        return CoreJson.mapper().writeValueAsString(new TreeMap<>(texts));
    }

    private static @Nullable Object[] line(@Nullable Object... cells) {
        return cells;
    }
}
