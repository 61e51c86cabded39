package org.juratest.server.imports;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.table.TableText;
import org.juratest.server.curve.Curves;
import org.juratest.server.db.UuidV7;
import org.juratest.server.register.Acts;
import org.juratest.server.register.AssetClasses;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.juratest.server.web.Progress;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;

/** Tables on their way into the register: taken, their columns understood, checked, stored all or nothing. */
@Service
class Imports {

    static final int LARGEST = 48 * 1024 * 1024;
    private static final int KEPT_DAYS = 14;
    private static final int SAMPLES = 3;
    private static final int SHOWN = 500;
    private static final int REPORTED = 1000;
    private static final int MOST_COLUMNS = 400;
    private static final TypeReference<List<String>> NAMES = new TypeReference<>() {};

    private final JdbcTemplate template;
    private final JdbcClient jdbc;
    private final AssetClasses classes;
    private final Curves curves;
    private final Acts acts;
    private final Clock clock;

    Imports(JdbcTemplate template, AssetClasses classes, Curves curves, Acts acts, Clock clock) {
        this.template = template;
        this.jdbc = JdbcClient.create(template);
        this.classes = classes;
        this.curves = curves;
        this.acts = acts;
        this.clock = clock;
    }

    /**
     * A table and how it is understood.
     *
     * @param separator {@code ,}, {@code ;}, {@code |} or {@code tab}
     * @param rows without the header
     * @param fields all a column can be
     * @param kept whether the columns are understood as in an earlier table with the same titles
     * @param act what storing it was; absent while it is not stored
     */
    record ImportView(
            UUID id,
            String name,
            Instant at,
            String encoding,
            String separator,
            long rows,
            List<ImportColumn> columns,
            List<SheetField> fields,
            List<String> encodings,
            boolean kept,
            @Nullable Long act) {}

    /** A column: its title, the first cells that are not blank, and which field it is; blank if it is left out. */
    record ImportColumn(String title, List<String> samples, String field) {}

    /**
     * How a table is to be understood; what is absent stays as it is.
     *
     * @param fields by column, blank for one that is left out; an empty list is as good as none
     */
    record Understanding(@Nullable String encoding, @Nullable String separator, List<String> fields) {}

    /** Something wrong in a cell: line as an editor counts, title of the column. */
    record ImportProblem(long line, String column, String field, String what) {}

    /** How many of a kind would come, change, or are as they are. */
    record ImportCount(String kind, long added, long changed, long alike) {}

    /**
     * What a table would change, or has changed.
     *
     * @param problems the first of them, by line
     * @param problemCount of all
     * @param act what storing it was; absent where it was only checked, or changes nothing
     * @param stored whether it is stored
     */
    record ImportResult(
            long rows,
            List<ImportCount> counts,
            List<ImportProblem> problems,
            long problemCount,
            @Nullable Long act,
            boolean stored) {}

    private record Row(
            String name,
            Instant at,
            byte[] bytes,
            String encoding,
            char separator,
            List<String> mapping,
            @Nullable Long act,
            boolean stored) {}

    /** Takes a file in. */
    @Transactional
    public UUID take(String name, byte[] bytes, String by) {
        if (bytes.length > LARGEST) {
            throw new FieldsException(List.of(new FieldProblem(
                    "file", "A table has at most " + LARGEST / 1024 / 1024 + " MiB; cut it into parts.")));
        }
        TableText table = TableText.of(bytes, null, null);
        List<String> titles = titles(table);
        List<String> mapping = kept(titles);
        UUID id = UuidV7.at(clock.instant());
        jdbc.sql("DELETE FROM register_import WHERE at < :old")
                .param("old", clock.instant().minusSeconds(KEPT_DAYS * 86_400L).atOffset(java.time.ZoneOffset.UTC))
                .update();
        jdbc.sql("INSERT INTO register_import (id, by, name, bytes, encoding, separator, mapping) VALUES "
                        + "(:id, :by, :name, :bytes, :encoding, :separator, :mapping::jsonb)")
                .param("id", id)
                .param("by", by)
                .param("name", name.isBlank() ? "table.csv" : name.strip())
                .param("bytes", bytes)
                .param("encoding", table.encoding().label())
                .param("separator", String.valueOf(table.separator()))
                .param(
                        "mapping",
                        CoreJson.mapper()
                                .writeValueAsString(mapping == null ? SheetField.guessed(titles, fields()) : mapping))
                .update();
        return id;
    }

    private Map<String, SheetField> fields() {
        return SheetField.all(classes.all(), Known.siteFields(template));
    }

    private static String signature(List<String> titles) {
        return String.join("\n", titles);
    }

    private @Nullable List<String> kept(List<String> titles) {
        Map<String, SheetField> fields = fields();
        return jdbc.sql("SELECT mapping::text FROM import_mapping WHERE titles = :titles")
                .param("titles", signature(titles))
                .query(String.class)
                .optional()
                .map(m -> CoreJson.mapper().readValue(m, NAMES))
                .filter(m ->
                        m.size() == titles.size() && m.stream().allMatch(f -> f.isEmpty() || fields.containsKey(f)))
                .orElse(null);
    }

    private static List<String> titles(TableText table) {
        List<String> titles = table.header().stream().map(String::strip).toList();
        if (titles.size() > MOST_COLUMNS) {
            throw new FieldsException(List.of(new FieldProblem(
                    "file",
                    "The first line has " + titles.size() + " columns; a table has at most " + MOST_COLUMNS
                            + ". Is the separator right?")));
        }
        return titles;
    }

    private Row row(UUID id, boolean locked) {
        return jdbc.sql("SELECT name, at, bytes, encoding, separator, mapping::text, act, stored_at IS NOT NULL "
                        + "FROM register_import WHERE id = :id" + (locked ? " FOR UPDATE NOWAIT" : ""))
                .param("id", id)
                .query((rs, i) -> new Row(
                        rs.getString(1),
                        rs.getTimestamp(2).toInstant(),
                        rs.getBytes(3),
                        rs.getString(4),
                        rs.getString(5).charAt(0),
                        CoreJson.mapper().readValue(rs.getString(6), NAMES),
                        rs.getObject(7, Long.class),
                        rs.getBoolean(8)))
                .optional()
                .orElseThrow(() -> new NotFoundException("import", id.toString()));
    }

    /** @throws NotFoundException if there is none, or it was given up */
    ImportView view(UUID id) {
        Row row = row(id, false);
        TableText table = TableText.of(row.bytes, TableText.Encoding.of(row.encoding), row.separator);
        List<String> titles = titles(table);
        List<List<String>> samples = new ArrayList<>();
        titles.forEach(t -> samples.add(new ArrayList<>()));
        long[] rows = {-1};
        table.rows(r -> {
            if (++rows[0] > 0) {
                for (int c = 0; c < Math.min(titles.size(), r.cells().size()); c++) {
                    if (samples.get(c).size() < SAMPLES && !r.cells().get(c).isBlank()) {
                        samples.get(c)
                                .add(
                                        r.cells().get(c).length() > 60
                                                ? r.cells().get(c).substring(0, 59) + "\u2026"
                                                : r.cells().get(c));
                    }
                }
            }
        });
        List<ImportColumn> columns = new ArrayList<>();
        for (int c = 0; c < titles.size(); c++) {
            columns.add(
                    new ImportColumn(titles.get(c), samples.get(c), c < row.mapping.size() ? row.mapping.get(c) : ""));
        }
        return new ImportView(
                id,
                row.name,
                row.at,
                row.encoding,
                row.separator == '\t' ? "tab" : String.valueOf(row.separator),
                rows[0],
                columns,
                List.copyOf(fields().values()),
                java.util.Arrays.stream(TableText.Encoding.values())
                        .map(TableText.Encoding::label)
                        .toList(),
                row.mapping.equals(kept(titles)),
                row.act);
    }

    /** Says how a table is to be understood, and keeps it for the next one with the same titles. */
    @Transactional
    public void understand(UUID id, Understanding given) {
        Row row = row(id, true);
        if (row.stored) {
            throw new Refusal(
                    "stored-already",
                    "This table is stored already; bring it in again to store it in another way.",
                    "id");
        }
        TableText.Encoding encoding = TableText.Encoding.of(given.encoding == null ? row.encoding : given.encoding);
        String separator = given.separator == null
                ? String.valueOf(row.separator)
                : given.separator.equals("tab") ? "\t" : given.separator;
        if (separator.length() != 1 || TableText.SEPARATORS.indexOf(separator.charAt(0)) < 0) {
            throw new FieldsException(List.of(new FieldProblem(
                    "separator", "A separator is a comma, a semicolon, a tab or a bar; not \"" + separator + "\".")));
        }
        List<String> titles = titles(TableText.of(row.bytes, encoding, separator.charAt(0)));
        Map<String, SheetField> fields = fields();
        List<String> mapping = given.fields;
        if (mapping.isEmpty()) {
            boolean same =
                    row.mapping.size() == titles.size() && encoding.label().equals(row.encoding);
            List<String> earlier = kept(titles);
            mapping = same ? row.mapping : earlier != null ? earlier : SheetField.guessed(titles, fields);
        }
        if (!given.fields.isEmpty()) {
            checkMapping(mapping, titles, fields);
        }
        jdbc.sql("UPDATE register_import SET encoding = :encoding, separator = :separator, mapping = "
                        + ":mapping::jsonb WHERE id = :id")
                .param("encoding", encoding.label())
                .param("separator", separator)
                .param("mapping", CoreJson.mapper().writeValueAsString(mapping))
                .param("id", id)
                .update();
        if (!given.fields.isEmpty()) {
            jdbc.sql("INSERT INTO import_mapping (titles, mapping) VALUES (:titles, :mapping::jsonb) ON "
                            + "CONFLICT (titles) DO UPDATE SET mapping = excluded.mapping, at = now()")
                    .param("titles", signature(titles))
                    .param("mapping", CoreJson.mapper().writeValueAsString(mapping))
                    .update();
        }
    }

    private static void checkMapping(List<String> mapping, List<String> titles, Map<String, SheetField> fields) {
        List<FieldProblem> problems = new ArrayList<>();
        if (mapping.size() != titles.size()) {
            problems.add(new FieldProblem(
                    "fields",
                    "The table has " + titles.size() + " columns, and " + mapping.size() + " fields were given."));
        }
        Set<String> used = new HashSet<>();
        for (int c = 0; c < mapping.size(); c++) {
            SheetField field = fields.get(mapping.get(c));
            if (!mapping.get(c).isEmpty() && field == null) {
                problems.add(new FieldProblem("fields[" + c + "]", "There is no field \"" + mapping.get(c) + "\"."));
            } else if (field != null && !used.add(mapping.get(c))) {
                problems.add(new FieldProblem(
                        "fields[" + c + "]", field.label() + " is another column already; a field is one column."));
            }
        }
        if (problems.isEmpty() && used.isEmpty()) {
            problems.add(new FieldProblem("fields", "Say of one column at least which field it is."));
        }
        if (!problems.isEmpty()) {
            throw new FieldsException(problems);
        }
    }

    /** Says what a table would change and what is wrong with it; changes nothing. */
    @Transactional(readOnly = true)
    public ImportResult check(UUID id, Progress progress) {
        Row row = row(id, false);
        return result(checked(row, progress), row, SHOWN, null, false);
    }

    /** Every problem of a table. */
    @Transactional(readOnly = true)
    public List<ImportProblem> problems(UUID id) {
        Row row = row(id, false);
        return result(checked(row, (phase, done, total) -> {}), row, Integer.MAX_VALUE, null, false).problems;
    }

    /**
     * Stores a table if nothing is wrong with it, and nothing of it otherwise. Nobody else changes the register
     * meanwhile.
     *
     * @throws Refusal if it is stored already, or something else is being stored
     */
    @Transactional
    public ImportResult store(UUID id, String by, Progress progress) {
        Row row = row(id, true);
        if (row.stored) {
            throw new Refusal("stored-already", "This table is stored already.", "id");
        }
        progress.at("Waiting for the register", 0, 0);
        // Reading goes on, and so do tests: the keys they hold on to are not locked by this.
        template.execute("SET LOCAL lock_timeout = '20s'");
        template.execute(
                "LOCK TABLE site, measuring_installation, position, asset, installation IN SHARE ROW EXCLUSIVE MODE");
        Checked checked = checked(row, progress);
        if (!checked.check.problems().isEmpty()) {
            return result(checked, row, SHOWN, null, false);
        }
        ImportResult told = result(checked, row, SHOWN, null, true);
        Long act = null;
        if (told.counts.stream().anyMatch(c -> c.added + c.changed > 0)) {
            act = acts.begin(by, "Imported " + row.name + ": " + checked.rows + (checked.rows == 1 ? " row" : " rows"));
            new SheetStore(template, progress).store(checked.check, by, clock.instant());
        }
        jdbc.sql("UPDATE register_import SET stored_at = now(), act = :act WHERE id = :id")
                .param("act", act, java.sql.Types.BIGINT)
                .param("id", id)
                .update();
        progress.at("Finishing", checked.rows, checked.rows);
        return new ImportResult(told.rows, told.counts, told.problems, 0, act, true);
    }

    private record Checked(
            SheetCheck check, Known known, Map<String, String> titles, Map<String, SheetField> fields, long rows) {

        /** Title of the column that is a field; what the field is, where the table has no column for it. */
        String title(String field) {
            SheetField known = fields.get(field);
            return titles.getOrDefault(field, known == null ? field : known.label() + " (no column)");
        }
    }

    private Checked checked(Row row, Progress progress) {
        progress.at("Reading the register", 0, 0);
        Known known = Known.of(template, classes, curves);
        progress.at("Reading the table", 0, 0);
        TableText table = TableText.of(row.bytes, TableText.Encoding.of(row.encoding), row.separator);
        SheetCheck check = new SheetCheck(known, clock.instant(), named(table, row.mapping.indexOf(SheetField.ASSET)));
        Map<String, String> titles = new HashMap<>();
        long[] rows = {-1};
        long total = table.text().chars().filter(c -> c == '\n').count();
        table.rows(r -> {
            if (++rows[0] == 0) {
                for (int c = 0; c < Math.min(row.mapping.size(), r.cells().size()); c++) {
                    titles.put(
                            row.mapping.get(c),
                            r.cells().get(c).isBlank()
                                    ? "column " + (c + 1)
                                    : r.cells().get(c).strip());
                }
                titles.put("", "");
                titles.put("#", String.valueOf(r.cells().size()));
                return;
            }
            if (rows[0] % REPORTED == 0) {
                progress.at("Checking", rows[0], Math.max(total, rows[0]));
            }
            Map<String, String> cells = new HashMap<>();
            for (int c = 0; c < r.cells().size(); c++) {
                String text = r.cells().get(c).strip();
                if (c < row.mapping.size() && !row.mapping.get(c).isEmpty() && !text.isEmpty()) {
                    cells.put(row.mapping.get(c), text);
                } else if (c >= Integer.parseInt(titles.get("#")) && !text.isEmpty()) {
                    check.problems()
                            .add(new SheetCheck.Problem(
                                    r.line(),
                                    "",
                                    "The row has " + r.cells().size() + " cells, the header " + titles.get("#")
                                            + ". A text with the separator in it stands in quotes."));
                }
            }
            check.row(r.line(), cells);
        });
        return new Checked(
                check,
                known,
                titles,
                SheetField.all(List.copyOf(known.classes().values()), known.siteFields()),
                rows[0]);
    }

    /** Ids that a column holds; none where there is no such column. */
    private static Set<String> named(TableText table, int column) {
        Set<String> named = new HashSet<>();
        if (column >= 0) {
            table.rows(r -> {
                if (column < r.cells().size()) {
                    named.add(r.cells().get(column).strip());
                }
            });
        }
        return named;
    }

    private static ImportResult result(Checked checked, Row row, int shown, @Nullable Long act, boolean stored) {
        SheetCheck check = checked.check;
        List<ImportProblem> problems = check.problems().stream()
                .sorted(Comparator.comparingLong(SheetCheck.Problem::line))
                .limit(shown)
                .map(p -> new ImportProblem(p.line(), checked.title(p.field()), p.field(), p.what()))
                .toList();
        List<ImportCount> counts = List.of(
                count("sites", check.sites().keySet(), checked.known.sites().keySet(), check.sitesAlike()),
                count(
                        "measuring installations",
                        check.measuring().keySet(),
                        checked.known.measuring().keySet(),
                        check.measuringAlike()),
                count(
                        "positions",
                        check.positions().keySet(),
                        checked.known.positions().keySet(),
                        check.positionsAlike()),
                count("assets", check.assets().keySet(), checked.known.assets().keySet(), check.assetsAlike()),
                new ImportCount(
                        "devices installed",
                        check.placings().stream()
                                .filter(p -> p.from() == null && p.leaves() == null)
                                .count(),
                        check.placings().stream()
                                .filter(p -> p.from() != null || p.leaves() != null)
                                .count(),
                        0));
        return new ImportResult(checked.rows, counts, problems, check.problems().size(), act, stored);
    }

    private static ImportCount count(String kind, Set<String> wanted, Set<String> there, long alike) {
        long changed = wanted.stream().filter(there::contains).count();
        return new ImportCount(kind, wanted.size() - changed, changed, alike);
    }

    void giveUp(UUID id) {
        if (jdbc.sql("DELETE FROM register_import WHERE id = :id AND stored_at IS NULL")
                        .param("id", id)
                        .update()
                == 0) {
            throw new NotFoundException("import", id.toString());
        }
    }
}
