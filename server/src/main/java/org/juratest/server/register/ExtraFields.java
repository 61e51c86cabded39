package org.juratest.server.register;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;

/** Fields that people add with labels of their own: for the positions of a site, or for the assets of a class. */
@Repository
public class ExtraFields {

    /** Longest text in one. */
    public static final int LONGEST = 500;

    private static final int MOST = 30;

    private final JdbcClient jdbc;
    private final Acts acts;

    public ExtraFields(JdbcClient jdbc, Acts acts) {
        this.jdbc = jdbc;
        this.acts = acts;
    }

    /**
     * An own field.
     *
     * @param key what files call it; never changes
     */
    public record ExtraField(long id, String key, String label) {}

    /** A new one: for the positions of a site or for the assets of a class. */
    public record ExtraForm(@Nullable String site, @Nullable String assetClass, String label) {}

    /** An own field with its value; blank if it has none. */
    public record ExtraValue(long id, String key, String label, String value) {}

    List<ExtraField> of(@Nullable String site, @Nullable String assetClass) {
        return jdbc.sql("SELECT id, key, label FROM extra_field WHERE site = :site OR class = :class ORDER BY id")
                .param("site", site, java.sql.Types.VARCHAR)
                .param("class", assetClass, java.sql.Types.VARCHAR)
                .query((rs, i) -> new ExtraField(rs.getLong(1), rs.getString(2), rs.getString(3)))
                .list();
    }

    static List<ExtraValue> values(List<ExtraField> fields, Map<String, String> given) {
        return fields.stream()
                .map(f -> new ExtraValue(f.id, f.key, f.label, given.getOrDefault(f.key, "")))
                .toList();
    }

    /** @throws FieldsException naming what is wrong */
    @Transactional
    public long add(ExtraForm form, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("label", "a label", form.label, problems);
        if ((form.site == null) == (form.assetClass == null)) {
            problems.add(new FieldProblem("site", "A field belongs to a site or to a class, one of the two."));
        }
        FieldsException.throwIf(problems);
        List<ExtraField> there = of(form.site, form.assetClass);
        if (there.stream().anyMatch(f -> f.label.equalsIgnoreCase(form.label.strip()))) {
            problems.add(new FieldProblem("label", "There is a field \"" + form.label.strip() + "\" already."));
        } else if (there.size() >= MOST) {
            problems.add(new FieldProblem("label", "There are " + MOST + " fields already; take one away first."));
        }
        FieldsException.throwIf(problems);
        long act = acts.begin(
                by,
                "Added the field \"" + form.label.strip() + "\" to "
                        + (form.site != null ? "positions of " + form.site : "assets of the class " + form.assetClass));
        jdbc.sql("INSERT INTO extra_field (site, class, key, label) VALUES (:site, :class, :key, :label)")
                .param("site", form.site, java.sql.Types.VARCHAR)
                .param("class", form.assetClass, java.sql.Types.VARCHAR)
                .param("key", key(form.label, there))
                .param("label", form.label.strip())
                .update();
        return act;
    }

    private static String key(String label, List<ExtraField> there) {
        String plain = java.text.Normalizer.normalize(label, java.text.Normalizer.Form.NFD)
                .replaceAll("\\p{M}", "")
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]+", "_")
                .replaceAll("^_+|_+$", "");
        String base = plain.isEmpty() ? "field" : plain.substring(0, Math.min(30, plain.length()));
        String key = base;
        for (int n = 2; contains(there, key); n++) {
            key = base + "_" + n;
        }
        return key;
    }

    private static boolean contains(List<ExtraField> fields, String key) {
        return fields.stream().anyMatch(f -> f.key.equals(key));
    }

    private record Row(@Nullable String site, @Nullable String assetClass, String key, String label) {}

    private Row row(long id) {
        return jdbc.sql("SELECT site, class, key, label FROM extra_field WHERE id = :id")
                .param("id", id)
                .query((rs, i) -> new Row(rs.getString(1), rs.getString(2), rs.getString(3), rs.getString(4)))
                .optional()
                .orElseThrow(() -> new NotFoundException("field", String.valueOf(id)));
    }

    /** Takes a field away with every value it has; the act can be undone. */
    @Transactional
    public long remove(long id, String by) {
        Row row = row(id);
        long act = acts.begin(by, "Took away the field \"" + row.label + "\"");
        jdbc.sql("UPDATE position SET extra = extra - :key WHERE site = :site AND jsonb_exists(extra, :key)")
                .param("key", row.key)
                .param("site", row.site, java.sql.Types.VARCHAR)
                .update();
        jdbc.sql("UPDATE asset SET extra = extra - :key WHERE class = :class AND jsonb_exists(extra, :key)")
                .param("key", row.key)
                .param("class", row.assetClass, java.sql.Types.VARCHAR)
                .update();
        jdbc.sql("DELETE FROM extra_field WHERE id = :id").param("id", id).update();
        return act;
    }

    /** How many values would be lost with a field. */
    long used(long id) {
        Row row = row(id);
        return jdbc.sql("SELECT (SELECT count(*) FROM position WHERE site = :site AND jsonb_exists(extra, :key)) "
                        + "+ (SELECT count(*) FROM asset WHERE class = :class AND jsonb_exists(extra, :key))")
                .param("key", row.key)
                .param("site", row.site, java.sql.Types.VARCHAR)
                .param("class", row.assetClass, java.sql.Types.VARCHAR)
                .query(Long.class)
                .single();
    }

    /** Own fields of all sites or classes, by {@code owner key}. */
    Map<String, ExtraField> byOwner() {
        Map<String, ExtraField> fields = new LinkedHashMap<>();
        jdbc.sql("SELECT coalesce('site ' || site, 'class ' || class), id, key, label FROM extra_field ORDER BY id")
                .query((rs, i) -> Map.entry(
                        rs.getString(1) + " " + rs.getString(3),
                        new ExtraField(rs.getLong(2), rs.getString(3), rs.getString(4))))
                .list()
                .forEach(e -> fields.put(e.getKey(), e.getValue()));
        return fields;
    }
}
