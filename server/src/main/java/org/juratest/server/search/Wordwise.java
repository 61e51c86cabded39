package org.juratest.server.search;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.juratest.server.job.Jobs;
import org.juratest.server.search.Search.Hit;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;

/**
 * Finds devices by what they are: each word is one of the device, its place, its site, its class or its family, as it
 * is written or nearly so; and by how they stand, in jobs and records.
 */
final class Wordwise {

    /** Share of a word's trigrams that a name must have; a name of few letters has few. */
    private static final double ALIKE = 0.45;

    private final NamedParameterJdbcTemplate jdbc;
    private final Asked asked;
    private final MapSqlParameterSource values = new MapSqlParameterSource();
    private final List<String> devices = new ArrayList<>();
    private boolean like;

    Wordwise(NamedParameterJdbcTemplate jdbc, Asked asked, int limit) {
        this.jdbc = jdbc;
        this.asked = asked;
        values.addValue("limit", limit).addValue("stands", asked.stands());
        asked.each().forEach(this::word);
    }

    /** Whether some word only comes near what was found. */
    boolean like() {
        return like;
    }

    private static String part(String word) {
        return "%" + word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%";
    }

    /** The devices that one word means, as a select of their ids: by way of what is indexed. */
    private void word(int i) {
        String word = asked.words().get(i);
        values.addValue("w" + i, part(word)).addValue("o" + i, word);
        Set<String> sites = codes("site", "search LIKE :w" + i);
        Set<String> classes = codes("asset_class", "search LIKE :w# OR lower(family) LIKE :w#".replace("#", "" + i));
        boolean there = !sites.isEmpty() || !classes.isEmpty() || isThere(i);
        if (!there && word.length() > 2) {
            like = true;
            sites = codes("site", near(i, "search"));
            classes = codes("asset_class", near(i, "search") + " OR " + near(i, "lower(family)"));
        }
        values.addValue("s" + i, sites.isEmpty() ? Set.of("") : sites);
        values.addValue("c" + i, classes.isEmpty() ? Set.of("") : classes);
        String has = there ? "LIKE :w" + i : null;
        List<String> selects = new ArrayList<>();
        selects.add("SELECT id FROM asset WHERE " + (has == null ? ":o" + i + " <% search" : "search " + has));
        selects.add(
                "SELECT n.asset FROM installation n JOIN position o ON o.code = n.position WHERE upper_inf(n.during) "
                        + "AND " + (has == null ? ":o" + i + " <% o.search" : "o.search " + has));
        if (!sites.isEmpty()) {
            selects.add("SELECT n.asset FROM installation n JOIN position o ON o.code = n.position WHERE "
                    + "upper_inf(n.during) AND o.site IN (:s" + i + ")");
        }
        if (!classes.isEmpty()) {
            selects.add("SELECT id FROM asset WHERE class IN (:c" + i + ")");
        }
        devices.add("(" + String.join(" UNION ", selects) + ")");
    }

    private static String near(int i, String column) {
        return "word_similarity(:o" + i + ", " + column + ") > " + ALIKE;
    }

    private Set<String> codes(String table, String where) {
        return new HashSet<>(
                jdbc.queryForList("SELECT code FROM " + table + " WHERE " + where + " LIMIT 60", values, String.class));
    }

    private boolean isThere(int i) {
        return Boolean.TRUE.equals(jdbc.queryForObject(
                ("SELECT EXISTS (SELECT 1 FROM position WHERE search LIKE :w#) OR "
                                + "EXISTS (SELECT 1 FROM asset WHERE search LIKE :w#)")
                        .replace("#", "" + i),
                values,
                Boolean.class));
    }

    /** A condition that a device has every word; true where there are no words. */
    private String all(String asset) {
        return devices.isEmpty() ? "true" : asset + " IN (" + String.join(" INTERSECT ", devices) + ")";
    }

    /** The devices, along the line. */
    List<Hit> devices() {
        return devices.isEmpty() && !asked.barred() && asked.stands() == null
                ? List.of()
                : hits(
                        "asset",
                        Search.ASSETS
                                + " LEFT JOIN position p ON p.code = i.position LEFT JOIN site s ON s.code = p.site "
                                + "WHERE a.retired_at IS NULL AND " + all("a.id")
                                + (asked.barred() ? " AND a.do_not_use IS NOT NULL" : "")
                                + (asked.stands() == null
                                        ? ""
                                        : " AND a.id IN (SELECT asset FROM standing_now WHERE standing = :stands)")
                                + " ORDER BY s.km NULLS LAST, p.code, a.id LIMIT :limit");
    }

    /** Their open jobs, first due first; those past their day where that is asked for. */
    List<Hit> jobs() {
        return hits(
                "job",
                """
        SELECT j.id::text, j.position, 'due ' || to_char(j.due, 'FMDD Mon YYYY') || ', ' || j.reason || ', ' || a.maker
          || ' ' || a.model, a.do_not_use IS NOT NULL
        FROM job j JOIN asset a ON a.id = j.asset WHERE j.status IN %s AND %s%s ORDER BY j.due, j.id LIMIT :limit"""
                        .formatted(
                                Jobs.OPEN,
                                all("j.asset"),
                                asked.over() ? " AND j.due < current_date AND j.cannot IS NULL" : ""));
    }

    /** Their records, newest first, by verdict and year where they are asked for. */
    List<Hit> records() {
        String verdict = asked.verdict();
        values.addValue("verdict", verdict).addValue("year", asked.year());
        return hits(
                "record",
                Search.RECORDS + " AND " + all("r.asset")
                        + (verdict == null
                                ? ""
                                : verdict.equals("marginal")
                                        ? " AND r.verdict LIKE 'marginal%'"
                                        : " AND r.verdict = :verdict")
                        + (asked.year() == null ? "" : " AND extract(year FROM r.finished_at) = :year")
                        + " ORDER BY r.finished_at DESC LIMIT :limit");
    }

    private List<Hit> hits(String kind, String sql) {
        return jdbc.query(
                sql,
                values,
                (rs, i) -> new Hit(kind, rs.getString(1), rs.getString(2), rs.getString(3), rs.getBoolean(4)));
    }

    /** What all of it finds. */
    List<Hit> all() {
        List<Hit> hits = new ArrayList<>();
        if (asked.verdict() != null) {
            hits.addAll(records());
        }
        if (asked.over() || asked.open()) {
            hits.addAll(jobs());
        }
        if (hits.isEmpty() || !asked.words().isEmpty()) {
            List<Hit> found = devices();
            hits.addAll(found);
            if (!asked.standing() && !found.isEmpty()) {
                hits.addAll(jobs());
            }
        }
        return hits;
    }
}
