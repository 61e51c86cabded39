package org.juratest.server.register;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.register.PlateField;
import org.juratest.core.register.PlateSchema;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.json.JsonFault;
import org.juratest.formats.register.PlateSchemaJson;
import org.juratest.server.family.Families;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

/** Classes of assets: what their nameplates say. Data, not code: a class is added by a document. */
@Repository
public class AssetClasses {

    private static final int EXAMPLES = 3;

    private final JdbcClient jdbc;
    private final Acts acts;

    public AssetClasses(JdbcClient jdbc, Acts acts) {
        this.jdbc = jdbc;
        this.acts = acts;
    }

    /**
     * A class.
     *
     * @param mark stands for it in the codes of positions, such as {@code CBK}
     * @param assets how many there are of it
     * @param seen number of its last change, for changing it
     */
    public record ClassView(
            String code,
            String family,
            String title,
            String mark,
            List<PlateField> fields,
            List<ExtraFields.ExtraField> extra,
            long assets,
            long seen) {
        PlateSchema schema() {
            return new PlateSchema(fields);
        }
    }

    /** A class as it is stored and handed on: its plate as JSON Schema. */
    public record ClassDocument(String code, String family, String mark, JsonNode schema) {}

    /** What a class is to be. */
    public record ClassForm(String code, String family, String title, String mark, List<PlateField> fields) {}

    /** All classes, by family. */
    public List<ClassView> all() {
        Map<String, List<ExtraFields.ExtraField>> extra = jdbc
                .sql("SELECT class, id, key, label FROM extra_field WHERE class IS NOT NULL ORDER BY id")
                .query((rs, i) -> Map.entry(
                        rs.getString(1), new ExtraFields.ExtraField(rs.getLong(2), rs.getString(3), rs.getString(4))))
                .list()
                .stream()
                .collect(Collectors.groupingBy(
                        Map.Entry::getKey, Collectors.mapping(Map.Entry::getValue, Collectors.toList())));
        return jdbc.sql(
                        """
        SELECT c.code, c.family, c.title, c.mark, c.nameplate_schema::text, coalesce(a.assets, 0),
          coalesce(r.last, 0)
        FROM asset_class c
          LEFT JOIN (SELECT class, count(*) AS assets FROM asset GROUP BY class) a ON a.class = c.code
          LEFT JOIN (SELECT t.touched, max(id) AS last FROM register_change, unnest(touches) AS t (touched)
            WHERE kind IN ('asset_class', 'extra_field') GROUP BY t.touched) r ON r.touched = 'class:' || c.code
        ORDER BY c.family, c.title, c.code""")
                .query((rs, i) -> new ClassView(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        schema(rs.getString(5)).fields(),
                        extra.getOrDefault(rs.getString(1), List.of()),
                        rs.getLong(6),
                        rs.getLong(7)))
                .list();
    }

    /** Schemas by the code of their class. */
    public Map<String, PlateSchema> schemas() {
        return jdbc
                .sql("SELECT code, nameplate_schema::text FROM asset_class")
                .query((rs, i) -> Map.entry(rs.getString(1), schema(rs.getString(2))))
                .list()
                .stream()
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue));
    }

    private static PlateSchema schema(String text) {
        return PlateSchemaJson.read(CoreJson.mapper().readTree(text), new ArrayList<>());
    }

    /** @throws NotFoundException if there is none */
    public ClassView one(String code) {
        return find(code).orElseThrow(() -> new NotFoundException("asset class", code));
    }

    public Optional<ClassView> find(String code) {
        return all().stream().filter(c -> c.code.equals(code)).findFirst();
    }

    /** @throws NotFoundException if there is none */
    public ClassDocument document(String code) {
        ClassView view = one(code);
        return new ClassDocument(view.code, view.family, view.mark, PlateSchemaJson.write(view.title, view.schema()));
    }

    /**
     * The form that a document is.
     *
     * @throws FieldsException naming every rule that is not kept here
     */
    static ClassForm form(ClassDocument document) {
        List<FieldProblem> problems = new ArrayList<>();
        PlateSchema schema = PlateSchemaJson.read(document.schema, problems);
        if (!problems.isEmpty()) {
            throw new FieldsException(problems.stream()
                    .map(p -> new FieldProblem(p.field().isEmpty() ? "schema" : "schema." + p.field(), p.what()))
                    .toList());
        }
        return new ClassForm(
                document.code,
                document.family,
                document.schema.path("title").asString(document.code),
                document.mark,
                schema.fields());
    }

    /** @throws FieldsException if it is not a document of a class */
    public static ClassDocument read(byte[] document) {
        try {
            return CoreJson.mapper().readValue(document, ClassDocument.class);
        } catch (JacksonException e) {
            String path = CoreJson.path(e);
            throw new FieldsException(List.of(new FieldProblem(
                    path.isEmpty() ? "document" : path, "It cannot be read as a class: " + JsonFault.words(e) + ".")));
        }
    }

    /** Stores a class as part of what somebody else began: the demo. */
    public void lay(ClassDocument document) {
        insert(form(document));
    }

    private void insert(ClassForm form) {
        jdbc.sql("INSERT INTO asset_class (code, family, title, mark, nameplate_schema) VALUES (:code, "
                        + ":family, :title, :mark, :schema::jsonb)")
                .param("code", form.code)
                .param("family", form.family)
                .param("title", form.title)
                .param("mark", form.mark)
                .param("schema", text(form))
                .update();
    }

    private static String text(ClassForm form) {
        return CoreJson.mapper().writeValueAsString(PlateSchemaJson.write(form.title, new PlateSchema(form.fields)));
    }

    /**
     * Adds a class.
     *
     * @throws FieldsException naming every field at fault
     */
    @Transactional
    public long add(ClassForm form, String by) {
        List<FieldProblem> problems = problems(form);
        if (problems.isEmpty() && find(form.code).isPresent()) {
            problems.add(new FieldProblem("code", "There is a class " + form.code + " already; take another code."));
        }
        FieldsException.throwIf(problems);
        long act = acts.begin(by, "Added the class " + form.title);
        insert(form);
        return act;
    }

    /**
     * Makes a class another. Plates that are there must fit it.
     *
     * @param seen number of the last change that was seen
     */
    @Transactional
    public long change(String code, ClassForm form, long seen, String by) {
        jdbc.sql("SELECT code FROM asset_class WHERE code = :code FOR UPDATE")
                .param("code", code)
                .query(String.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("asset class", code));
        ClassView now = one(code);
        if (now.seen != seen) {
            throw new Refusal(
                    "changed-meanwhile",
                    "Somebody else has changed this class since you opened it. Look at it again; what you typed "
                            + "is kept on this page.",
                    "If-Match");
        }
        List<FieldProblem> problems = problems(form);
        if (!form.code.equals(code)) {
            problems.add(new FieldProblem("code", "The code of a class stays " + code + ": files and plans name it."));
        }
        if (problems.isEmpty()) {
            problems.addAll(plates(code, now, form));
        }
        FieldsException.throwIf(problems);
        long act = acts.begin(by, "Changed the class " + form.title);
        jdbc.sql("UPDATE asset_class SET family = :family, title = :title, mark = :mark, nameplate_schema "
                        + "= :schema::jsonb WHERE code = :code")
                .param("code", code)
                .param("family", form.family)
                .param("title", form.title)
                .param("mark", form.mark)
                .param("schema", text(form))
                .update();
        return act;
    }

    /** @throws Refusal if there are assets of it */
    @Transactional
    public long remove(String code, String by) {
        ClassView view = one(code);
        if (view.assets > 0) {
            throw new Refusal(
                    "still-needed",
                    "There are " + view.assets + " assets of this class; it cannot be taken away.",
                    "code");
        }
        long act = acts.begin(by, "Took away the class " + view.title);
        jdbc.sql("DELETE FROM asset_class WHERE code = :code")
                .param("code", code)
                .update();
        return act;
    }

    private static List<FieldProblem> problems(ClassForm form) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.check("code", form.code, Codes.CLASS, problems);
        Codes.check("mark", form.mark, Codes.MARK, problems);
        Codes.words("title", "a title", form.title, problems);
        if (!Families.ALL.contains(form.family)) {
            problems.add(new FieldProblem(
                    "family",
                    "A family is one of " + String.join(", ", Families.ALL) + "; not \"" + form.family + "\"."));
        }
        problems.addAll(new PlateSchema(form.fields).problems());
        return problems;
    }

    private record Plate(String asset, Nameplate plate) {}

    /** What plates that are there would break; those that broke the old one in the same way are left alone. */
    private List<FieldProblem> plates(String code, ClassView now, ClassForm form) {
        PlateSchema old = now.schema();
        PlateSchema wanted = new PlateSchema(form.fields);
        Map<String, List<String>> broken = new java.util.TreeMap<>();
        jdbc.sql("SELECT id, nameplate::text FROM asset WHERE class = :code ORDER BY id")
                .param("code", code)
                .query((rs, i) ->
                        new Plate(rs.getString(1), CoreJson.mapper().readValue(rs.getString(2), Nameplate.class)))
                .list()
                .forEach(p -> {
                    List<String> before =
                            old.check(p.plate).stream().map(FieldProblem::field).toList();
                    wanted.check(p.plate).stream()
                            .map(FieldProblem::field)
                            .filter(f -> !before.contains(f))
                            .forEach(f -> broken.computeIfAbsent(f, k -> new ArrayList<>())
                                    .add(p.asset));
                });
        return broken.entrySet().stream()
                .map(e -> {
                    String key = e.getKey().substring(PlateSchema.PREFIX.length());
                    int place = wanted.fields().stream()
                            .map(PlateField::key)
                            .toList()
                            .indexOf(key);
                    String which = e.getValue().stream().limit(EXAMPLES).collect(Collectors.joining(", "))
                            + (e.getValue().size() > EXAMPLES ? " and others" : "");
                    return new FieldProblem(
                            place < 0 ? "fields" : "fields[" + place + "]",
                            place < 0
                                    ? "\""
                                            + old.field(key)
                                                    .map(PlateField::label)
                                                    .orElse(key) + "\" cannot be taken out: "
                                            + e.getValue().size() + " plates have it (" + which
                                            + "). Clear it there first."
                                    : "The plates of " + e.getValue().size() + " assets would not fit: " + which
                                            + ". Fill in or correct them first, then change the class.");
                })
                .toList();
    }

    /** Titles of plate values by key, in the order of a class. */
    Map<String, String> labels(String code) {
        return jdbc
                .sql("SELECT nameplate_schema::text FROM asset_class WHERE code = :code")
                .param("code", code)
                .query(String.class)
                .optional()
                .map(AssetClasses::schema)
                .orElseThrow(() -> new NotFoundException("asset class", code))
                .fields()
                .stream()
                .collect(Collectors.toMap(
                        PlateField::key, PlateField::label, (a, b) -> a, java.util.LinkedHashMap::new));
    }

    /** Classes by code. */
    Map<String, ClassView> byCode() {
        return all().stream().collect(Collectors.toMap(ClassView::code, Function.identity()));
    }

    static @Nullable String blankToNull(@Nullable String text) {
        return text == null || text.isBlank() ? null : text.strip();
    }
}
