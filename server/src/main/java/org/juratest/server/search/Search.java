package org.juratest.server.search;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;

/**
 * Finds assets, positions, sites, jobs, records, procedures, classes and people by any part of what they are called. A
 * word that nothing has is taken for mistyped, and what resembles it is found (pg_trgm), said so.
 */
@Repository
public class Search {

    private static final int OF_A_KIND = 6;
    private static final int LONGEST = 80;
    /** Kinds of hits that are devices, or where they stand. */
    private static final Set<String> DEVICES = Set.of("asset", "position", "job", "record");

    /** Share of a word's trigrams that must be there; lower finds more, and more that is not meant. */
    private static final double ALIKE = 0.45;

    private static final String SPLIT = "[\\s/_.,-]+";
    static final String ASSETS =
            """
      SELECT a.id, a.maker || ' ' || a.model || ', no. ' || a.serial, coalesce(i.position, CASE
        WHEN a.retired_at IS NULL THEN 'in the store' ELSE 'retired' END), a.do_not_use IS NOT NULL
      FROM asset a LEFT JOIN installation i ON i.asset = a.id AND upper_inf(i.during)""";

    private static final String PLACES =
            """
      SELECT p.code, p.code, concat_ws(', ', nullif(p.title, ''), s.name, CASE WHEN p.retired_at IS NOT NULL
        THEN 'retired' ELSE coalesce(d.maker || ' ' || d.model || ', no. ' || d.serial, 'empty') END),
        d.do_not_use IS NOT NULL
      FROM position p JOIN site s ON s.code = p.site LEFT JOIN installation i ON i.position = p.code
        AND upper_inf(i.during) LEFT JOIN asset d ON d.id = i.asset""";
    static final String RECORDS =
            "SELECT r.record, r.record, concat_ws(', ', r.title, to_char(r.finished_at, 'FMDD Mon YYYY'), a.maker "
                    + "|| ' ' || a.model), false"
                    + " FROM run r JOIN asset a ON a.id = r.asset WHERE r.status = 'finished'";

    private final NamedParameterJdbcTemplate jdbc;

    Search(NamedParameterJdbcTemplate jdbc) {
        this.jdbc = jdbc;
    }

    /**
     * Something found.
     *
     * @param kind {@code asset}, {@code position}, {@code measuringInstallation}, {@code site}, {@code job},
     *     {@code record}, {@code procedure}, {@code assetClass}, {@code person}
     * @param key what its address is made of
     * @param title what it is called
     * @param detail what tells it from others
     * @param barred whether it must not be used
     * @param standing how a device, or what stands at a position, stands today; absent for others
     */
    public record Hit(String kind, String key, String title, String detail, boolean barred, @Nullable String standing) {

        Hit(String kind, String key, String title, String detail, boolean barred) {
            this(kind, key, title, detail, barred, null);
        }

        Hit standing(@Nullable String now) {
            return new Hit(kind, key, title, detail, barred, now);
        }
    }

    /**
     * What was found, the best first of each kind.
     *
     * @param like whether nothing has these words, and these only resemble them
     */
    public record Hits(List<Hit> hits, boolean like) {}

    /** Looks everywhere. A blank text finds nothing. */
    @Transactional(readOnly = true)
    public Hits find(String given) {
        Hits found = look(given);
        return new Hits(withStanding(found.hits), found.like);
    }

    /** Devices, and positions by what stands there, with how they stand. */
    private List<Hit> withStanding(List<Hit> hits) {
        List<String> assets = keys(hits, "asset");
        List<String> positions = keys(hits, "position");
        if (assets.isEmpty() && positions.isEmpty()) {
            return hits;
        }
        Map<String, String> standings = new HashMap<>();
        jdbc.query(
                """
        SELECT 'asset ' || asset, standing FROM standing_now WHERE asset IN (:assets)
        UNION ALL SELECT 'position ' || i.position, n.standing FROM installation i JOIN standing_now n
          ON n.asset = i.asset WHERE upper_inf(i.during) AND i.position IN (:positions)""",
                new MapSqlParameterSource("assets", orNone(assets)).addValue("positions", orNone(positions)),
                rs -> {
                    standings.put(rs.getString(1), rs.getString(2));
                });
        return hits.stream()
                .map(h -> h.standing(standings.get(h.kind + " " + h.key)))
                .toList();
    }

    private static List<String> keys(List<Hit> hits, String kind) {
        return hits.stream().filter(h -> h.kind.equals(kind)).map(Hit::key).toList();
    }

    /** A list that SQL can ask for: of none, one that is nobody's. */
    private static List<String> orNone(List<String> keys) {
        return keys.isEmpty() ? List.of("") : keys;
    }

    private Hits look(String given) {
        String text = given.strip().toLowerCase(Locale.ROOT);
        text = text.length() > LONGEST ? text.substring(0, LONGEST) : text;
        if (text.isEmpty()) {
            return new Hits(List.of(), false);
        }
        Asked asked = Asked.of(text);
        List<Hit> hits = exact(text);
        if (!asked.words().isEmpty() && hits.stream().noneMatch(h -> DEVICES.contains(h.kind)) || asked.standing()) {
            near();
            Wordwise words = new Wordwise(jdbc, asked, OF_A_KIND);
            List<Hit> found = words.all();
            if (!found.isEmpty() && (!words.like() || hits.isEmpty())) {
                Set<Hit> all = new LinkedHashSet<>(asked.standing() ? found : hits);
                if (words.like()) {
                    all.addAll(alike(text));
                }
                all.addAll(found);
                all.addAll(hits);
                return new Hits(grouped(all), words.like());
            }
        }
        boolean like = hits.isEmpty() && text.length() > 2;
        return like ? new Hits(alike(text), true) : new Hits(hits, false);
    }

    /** Hits of a kind together, the kinds in the order they were found. */
    private static List<Hit> grouped(Set<Hit> hits) {
        Map<String, List<Hit>> byKind = new LinkedHashMap<>();
        hits.forEach(h -> byKind.computeIfAbsent(h.kind, k -> new ArrayList<>()).add(h));
        return byKind.values().stream().flatMap(List::stream).toList();
    }

    /** How near a word has to come to be taken for mistyped, in this transaction. */
    private void near() {
        jdbc.getJdbcTemplate().execute("SET LOCAL pg_trgm.word_similarity_threshold = " + ALIKE);
    }

    private static String part(String word) {
        return "%" + word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%";
    }

    private List<Hit> exact(String text) {
        List<String> words = Arrays.stream(text.split("\\s+")).limit(6).toList();
        MapSqlParameterSource values = values(text);
        for (int i = 0; i < words.size(); i++) {
            values.addValue("w" + i, part(words.get(i)));
        }
        List<Hit> assets = new ArrayList<>(assets(has("a.search", words.size()), values));
        List<Hit> positions = new ArrayList<>(positions(has("p.search", words.size()), values));
        if (assets.isEmpty() && positions.isEmpty() && words.size() > 1) {
            // Words of a place and of a device together: "mfr m160".
            assets.addAll(named(
                    "asset",
                    ASSETS + " JOIN position p ON p.code = i.position JOIN site s ON s.code = p.site WHERE "
                            + anywhere(words.size()) + " ORDER BY p.code LIMIT :limit",
                    values));
        }
        List<Hit> hits = new ArrayList<>(assets);
        hits.addAll(positions);
        hits.addAll(others(words.size(), values));
        hits.addAll(jobs(words.size(), values));
        List<Hit> numbered = records(text, values);
        hits.addAll(numbered.isEmpty() && !assets.isEmpty() ? recordsOf(assets.get(0).key) : numbered);
        return hits;
    }

    private static MapSqlParameterSource values(String text) {
        return new MapSqlParameterSource("text", text)
                .addValue("prefix", part(text).substring(1))
                .addValue("part", part(text))
                .addValue("limit", OF_A_KIND);
    }

    /** A condition that a column has every word. */
    private static String has(String column, int words) {
        return IntStream.range(0, words).mapToObj(i -> column + " LIKE :w" + i).collect(Collectors.joining(" AND "));
    }

    /** A condition that every word is in a position, its site or its device. */
    private static String anywhere(int words) {
        return IntStream.range(0, words)
                .mapToObj(i ->
                        "(p.search LIKE :w# OR s.search LIKE :w# OR a.search LIKE :w#)".replace("#", String.valueOf(i)))
                .collect(Collectors.joining(" AND "));
    }

    private List<Hit> named(String kind, String sql, MapSqlParameterSource values) {
        return jdbc.query(
                sql,
                values,
                (rs, i) -> new Hit(kind, rs.getString(1), rs.getString(2), rs.getString(3), rs.getBoolean(4)));
    }

    private List<Hit> assets(String where, MapSqlParameterSource values) {
        return named(
                "asset",
                ASSETS + " WHERE " + where
                        + " ORDER BY (lower(a.serial) = :text OR lower(a.id) = :text) DESC, (lower(a.serial) "
                        + "LIKE :prefix OR lower(a.id) LIKE :prefix) DESC, a.retired_at IS NOT NULL, a.id LIMIT :limit",
                values);
    }

    private List<Hit> positions(String where, MapSqlParameterSource values) {
        return named(
                "position",
                PLACES + " WHERE " + where
                        + " ORDER BY lower(p.code) = :text DESC, lower(p.code) LIKE :prefix DESC, p.retired_at "
                        + "IS NOT NULL, s.km, p.code LIMIT :limit",
                values);
    }

    /** The small tables. */
    private List<Hit> others(int words, MapSqlParameterSource values) {
        List<Hit> hits = new ArrayList<>(named(
                "site",
                "SELECT code, name, code || ', km ' || km, false FROM site WHERE " + has("search", words)
                        + " ORDER BY km LIMIT :limit",
                values));
        hits.addAll(named(
                "measuringInstallation",
                "SELECT m.code, m.code, concat_ws(', ', nullif(m.title, ''), s.name), false FROM "
                        + "measuring_installation m JOIN site s ON s.code = m.site WHERE "
                        + has("lower(m.code || ' ' || m.title)", words) + " ORDER BY m.code LIMIT :limit",
                values));
        hits.addAll(named(
                "procedure",
                "SELECT DISTINCT ON (code) code, title, code || ', version ' || version, false FROM "
                        + "procedure_version WHERE " + has("lower(code || ' ' || title)", words)
                        + " ORDER BY code, version DESC LIMIT :limit",
                values));
        hits.addAll(named(
                "assetClass",
                "SELECT code, title, family, false FROM asset_class WHERE " + has("search", words)
                        + " ORDER BY title LIMIT :limit",
                values));
        hits.addAll(named(
                "person",
                "SELECT id, name, role, false FROM person WHERE " + has("lower(id || ' ' || name)", words)
                        + " ORDER BY name LIMIT :limit",
                values));
        return hits;
    }

    /**
     * Open jobs of the devices and positions that have the words, or by their number or procedure: by way of what is
     * indexed, as there may be many.
     */
    private List<Hit> jobs(int words, MapSqlParameterSource values) {
        return named(
                "job",
                """
        SELECT j.id::text, j.position, 'due ' || to_char(j.due, 'FMDD Mon YYYY') || ', ' || j.reason,
          a.do_not_use IS NOT NULL
        FROM job j JOIN asset a ON a.id = j.asset WHERE j.status IN ('open', 'running', 'partly done') AND j.id IN (
          SELECT f.id FROM job f WHERE f.asset IN (SELECT a.id FROM asset a WHERE %s) UNION SELECT f.id FROM job f
            WHERE f.position IN (SELECT p.code FROM position p WHERE %s)
          UNION SELECT f.id FROM job f WHERE f.id = CASE WHEN :text ~ '^[0-9]{1,18}$' THEN CAST(:text AS bigint) END
            UNION (SELECT f.id FROM job f WHERE lower(f.procedure) = :text AND f.status = 'open' ORDER BY f.due, f.id
            LIMIT :limit))
        ORDER BY j.due, j.id LIMIT :limit"""
                        .formatted(has("a.search", words), has("p.search", words)),
                values);
    }

    /**
     * Record numbers begin with their position. Of a short text only what begins with it is looked for: a part of two
     * letters is everywhere.
     */
    private List<Hit> records(String text, MapSqlParameterSource values) {
        String number = text.toUpperCase(Locale.ROOT);
        values.addValue("number", (text.length() < 3 ? "" : "%") + part(number).substring(1));
        return named(
                "record",
                RECORDS + " AND r.record LIKE :number ORDER BY r.record = upper(:text) DESC, r.finished_at DESC "
                        + "LIMIT :limit",
                values);
    }

    /** The newest records of the device that was meant. */
    private List<Hit> recordsOf(String asset) {
        return named(
                "record",
                RECORDS + " AND r.asset = :asset ORDER BY r.finished_at DESC LIMIT 3",
                new MapSqlParameterSource("asset", asset));
    }

    /** What resembles: words that something has must be there, the others may be mistyped. */
    private List<Hit> alike(String text) {
        List<String> good = new ArrayList<>();
        List<String> odd = new ArrayList<>();
        for (String word : new LinkedHashSet<>(Arrays.asList(text.split(SPLIT)))) {
            if (!word.isEmpty() && good.size() + odd.size() < 6) {
                (isThere(word) ? good : odd).add(word);
            }
        }
        MapSqlParameterSource values = values(text);
        for (int i = 0; i < good.size(); i++) {
            values.addValue("w" + i, part(good.get(i)));
        }
        for (int i = 0; i < odd.size(); i++) {
            values.addValue("o" + i, odd.get(i));
        }
        near();
        Set<Hit> hits = new LinkedHashSet<>(resembling(good.size(), odd.size(), values));
        if (hits.isEmpty() && !good.isEmpty()) {
            // A short word with one wrong sign has hardly a trigram left: the whole is compared, among those that have
            // the rest.
            hits.addAll(named(
                    "asset",
                    ASSETS + " WHERE " + has("a.search", good.size())
                            + " AND greatest(similarity(a.id, :text), similarity(a.serial, :text)) > " + ALIKE
                            + " ORDER BY greatest(similarity(a.id, :text), similarity(a.serial, :text)) DESC "
                            + "LIMIT :limit",
                    values));
            hits.addAll(named(
                    "position",
                    PLACES + " WHERE " + has("p.search", good.size()) + " AND similarity(p.code, :text) > " + ALIKE
                            + " ORDER BY similarity(p.code, :text) DESC LIMIT :limit",
                    values));
        }
        hits.addAll(named(
                "site",
                "SELECT code, name, code || ', km ' || km, false FROM site WHERE word_similarity(:text, code || "
                        + "' ' || name) > " + ALIKE + " ORDER BY word_similarity(:text, name) DESC LIMIT 3",
                values));
        hits.addAll(named(
                "assetClass",
                "SELECT code, title, family, false FROM asset_class WHERE word_similarity(:text, title) > " + ALIKE
                        + " ORDER BY word_similarity(:text, title) DESC LIMIT 3",
                values));
        hits.addAll(named(
                "procedure",
                "SELECT DISTINCT ON (code) code, title, code || ', version ' || version, false FROM "
                        + "procedure_version WHERE word_similarity(:text, title) > " + ALIKE
                        + " ORDER BY code, version DESC LIMIT 3",
                values));
        hits.addAll(named(
                "person",
                "SELECT id, name, role, false FROM person WHERE greatest(word_similarity(:text, name), "
                        + "similarity(:text, id)) > " + ALIKE + " ORDER BY name LIMIT 3",
                values));
        return List.copyOf(hits);
    }

    private List<Hit> resembling(int good, int odd, MapSqlParameterSource values) {
        if (odd == 0) {
            return List.of();
        }
        List<Hit> hits = new ArrayList<>(named("asset", ASSETS + " WHERE " + near("a.search", good, odd), values));
        hits.addAll(named("position", PLACES + " WHERE " + near("p.search", good, odd), values));
        return hits;
    }

    /** Condition and order of what has the good words and comes near the odd ones. */
    private static String near(String column, int good, int odd) {
        String close = IntStream.range(0, odd)
                .mapToObj(i -> ":o" + i + " <% " + column)
                .collect(Collectors.joining(" AND "));
        String best = IntStream.range(0, odd)
                .mapToObj(i -> "word_similarity(:o" + i + ", " + column + ")")
                .collect(Collectors.joining(" + "));
        return (good == 0 ? "" : has(column, good) + " AND ") + close + " ORDER BY " + best + " DESC LIMIT :limit";
    }

    private boolean isThere(String word) {
        MapSqlParameterSource values = new MapSqlParameterSource("word", part(word));
        return Boolean.TRUE.equals(jdbc.queryForObject(
                "SELECT EXISTS (SELECT 1 FROM position WHERE search LIKE :word) OR EXISTS (SELECT 1 FROM asset "
                        + "WHERE search LIKE :word)",
                values,
                Boolean.class));
    }
}
