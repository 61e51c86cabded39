package org.juratest.server.standard;

import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Pattern;
import org.juratest.core.method.Methods;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.core.standard.StandardTable;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;

/** The tables of standards by which runs that are opened now are judged. */
@Repository
public class StandardTables {

    private static final Pattern ID = Pattern.compile("[a-z0-9](?:[a-z0-9-]{1,58}[a-z0-9])");
    private static final int LONGEST = 120;
    private static final int MOST_ROWS = 200;
    private static final int MOST_CONDITIONS = 6;

    private final JdbcClient jdbc;

    StandardTables(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    private record Revision(StandardTable table, int revision, boolean retired, String by, OffsetDateTime at) {}

    private List<Revision> kept() {
        return jdbc.sql("SELECT body::text, revision, retired, kept_by, kept_at FROM standard_table "
                        + "ORDER BY id, revision DESC")
                .query((rs, i) -> new Revision(
                        CoreJson.mapper().readValue(rs.getString(1), StandardTable.class),
                        rs.getInt(2),
                        rs.getBoolean(3),
                        rs.getString(4),
                        rs.getObject(5, OffsetDateTime.class)))
                .list();
    }

    /** Those that are in use: as they ship where nobody changed them, else in their newest revision. */
    public List<StandardTable> inUse() {
        return views().stream()
                .filter(v -> !v.retired())
                .map(StandardTables::table)
                .toList();
    }

    private static StandardTable table(StandardTableView v) {
        return new StandardTable(v.group(), v.id(), v.title(), v.edition(), v.when(), v.columns(), v.rows());
    }

    /** All there are, each in its newest revision. */
    List<StandardTableView> views() {
        Map<String, List<Revision>> kept = new LinkedHashMap<>();
        kept().forEach(r ->
                kept.computeIfAbsent(r.table.id(), k -> new ArrayList<>()).add(r));
        List<StandardTableView> views = new ArrayList<>();
        for (StandardTable shipped : Methods.tables()) {
            List<Revision> own = kept.remove(shipped.id());
            views.add(own == null ? view(shipped, List.of()) : view(own.get(0).table, own));
        }
        kept.values().forEach(own -> views.add(view(own.get(0).table, own)));
        return views;
    }

    private static StandardTableView view(StandardTable t, List<Revision> revisions) {
        Revision newest = revisions.isEmpty() ? null : revisions.get(0);
        return new StandardTableView(
                t.group(),
                t.id(),
                t.title(),
                t.edition(),
                t.when(),
                t.columns(),
                t.rows(),
                newest == null ? 0 : newest.revision,
                newest != null && newest.retired,
                newest == null ? null : newest.by,
                newest == null ? null : newest.at.toInstant(),
                revisions.stream()
                        .map(r -> new StandardTableView.TableRevision(
                                r.revision, r.table.edition(), r.retired, r.by, r.at.toInstant()))
                        .toList());
    }

    /**
     * A table as it was.
     *
     * @param revision 0 as it ships
     * @throws NotFoundException if there is no such revision
     */
    StandardTableView at(String id, int revision) {
        Optional<StandardTable> shipped =
                Methods.tables().stream().filter(t -> t.id().equals(id)).findFirst();
        if (revision == 0 && shipped.isPresent()) {
            return view(shipped.get(), List.of());
        }
        List<Revision> upTo = kept().stream()
                .filter(r -> r.table.id().equals(id) && r.revision <= revision)
                .toList();
        if (upTo.isEmpty() || upTo.get(0).revision != revision) {
            throw new NotFoundException("table", id + " in revision " + revision);
        }
        return view(upTo.get(0).table, upTo);
    }

    /**
     * Keeps a new revision of a table, or a new table. Runs that are open keep theirs.
     *
     * @throws FieldsException naming every field at fault, cells as {@code rows.3.size}
     * @throws Refusal if somebody else changed it meanwhile
     */
    @Transactional
    public StandardTableView keep(String id, StandardTableView.StandardTableForm given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        if (!ID.matcher(id).matches()) {
            problems.add(new FieldProblem(
                    "id", "Give it a short name of 3 to 60 small letters, digits and dashes, such as house-2026."));
        }
        text(problems, "title", given.title(), "Say what it is for.");
        text(problems, "edition", given.edition(), "Name the standard and its edition, or the house rule and its day.");
        List<String> columns = Methods.tables().stream()
                .filter(t -> t.group().equals(given.group()))
                .findFirst()
                .map(StandardTable::columns)
                .orElse(List.of());
        if (given.rows().size() > MOST_ROWS) {
            problems.add(new FieldProblem("rows", "At most " + MOST_ROWS + " rows."));
        }
        if (given.when().size() > MOST_CONDITIONS) {
            problems.add(new FieldProblem("when", "At most " + MOST_CONDITIONS + " values of the nameplate."));
        }
        given.when().forEach((key, value) -> {
            if (key.isBlank() || value.isBlank()) {
                problems.add(new FieldProblem("when", "Each needs a field of the nameplate and what stands there."));
            }
        });
        FieldsException.throwIf(problems);
        StandardTable table;
        try {
            table = new StandardTable(
                    given.group(),
                    id,
                    given.title().strip(),
                    given.edition().strip(),
                    new TreeMap<>(given.when()),
                    columns,
                    given.rows());
            Methods.check(table);
        } catch (StandardTable.FaultException e) {
            throw new FieldsException(List.of(new FieldProblem(e.field(), Objects.toString(e.getMessage(), ""))));
        }
        StandardTableView before =
                views().stream().filter(v -> v.id().equals(id)).findFirst().orElse(null);
        if (before != null && !before.group().equals(given.group())) {
            throw new FieldsException(
                    List.of(new FieldProblem("group", "It is a table of \"" + before.group() + "\".")));
        }
        someServes(table, given.retired());
        int now = before == null ? 0 : before.revision();
        // Two who keep at once: the second finds the number taken.
        int stored = given.seen() != now
                ? 0
                : jdbc.sql("INSERT INTO standard_table (id, revision, body, retired, kept_by) VALUES (:id, :revision, "
                                + ":body::jsonb, :retired, :by) ON CONFLICT DO NOTHING")
                        .param("id", id)
                        .param("revision", now + 1)
                        .param("body", CoreJson.mapper().writeValueAsString(table))
                        .param("retired", given.retired())
                        .param("by", by)
                        .update();
        if (stored == 0) {
            throw new Refusal(
                    "changed-meanwhile",
                    "Somebody kept this table meanwhile. Look at it again; nothing of yours was stored.",
                    "seen");
        }
        return at(id, now + 1);
    }

    private static void text(List<FieldProblem> problems, String field, String text, String remedy) {
        if (text.isBlank() || text.strip().length() > LONGEST) {
            problems.add(new FieldProblem(field, text.isBlank() ? remedy : "At most " + LONGEST + " letters."));
        }
    }

    /** A device that no table is meant for would be judged by nothing. */
    private void someServes(StandardTable table, boolean retired) {
        boolean others = inUse().stream()
                .anyMatch(t -> t.group().equals(table.group())
                        && !t.id().equals(table.id())
                        && t.when().isEmpty());
        if (!others && (retired || !table.when().isEmpty())) {
            throw new FieldsException(List.of(new FieldProblem(
                    retired ? "retired" : "when",
                    "This is the table for all that no other is meant for; one such has to stay in use.")));
        }
    }
}
