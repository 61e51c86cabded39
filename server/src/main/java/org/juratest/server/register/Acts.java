package org.juratest.server.register;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.people.Person;
import org.juratest.server.web.NotFoundException;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.NullNode;

/**
 * What people did to the register. An act begins in a transaction; from then on the database keeps every row it
 * changes, as it was and as it is, so that the act can be told and undone.
 */
@Repository
public class Acts {

    /** Tables of the register in the order their rows need each other. */
    private static final List<String> TABLES = List.of(
            "site",
            "measuring_installation",
            "position",
            "asset_class",
            "asset",
            "installation",
            "extra_field",
            "attachment",
            "job");

    private static final Map<String, String> KEYS =
            Map.of("asset", "id", "installation", "id", "extra_field", "id", "attachment", "id", "job", "id");
    private static final int MOST_SHOWN = 40;
    /**
     * Rows from which on the planner is told first how many there are: else it takes them for a few, and looks through
     * all for each.
     */
    private static final int MANY = 500;

    private static final String SELECT =
            """
      SELECT a.id, a.at, a.by, coalesce(p.name, a.by), a.words, a.undoes, u.id, (SELECT count(*)
        FROM register_change c WHERE c.act = a.id)
      FROM register_act a LEFT JOIN person p ON p.id = a.by LEFT JOIN register_act u ON u.undoes = a.id""";

    private final JdbcClient jdbc;

    public Acts(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /**
     * Something done.
     *
     * @param by sign-in name
     * @param changes values before and after, the first few
     * @param rows how many rows it changed in all
     * @param undoes the act it undid
     * @param undone the act that undid it
     */
    public record ActView(
            long id,
            Instant at,
            String by,
            String name,
            String words,
            List<ChangeView> changes,
            long rows,
            @Nullable Long undoes,
            @Nullable Long undone) {}

    /**
     * A value that was changed.
     *
     * @param of what it belongs to, such as {@code asset CBK-1007}
     * @param field its name
     * @param before absent where there was none
     * @param after absent where there is none any more
     */
    public record ChangeView(String of, String field, @Nullable String before, @Nullable String after) {}

    /**
     * Begins an act in the transaction at hand.
     *
     * @param words what is done, as a person would tell it
     */
    @Transactional(propagation = Propagation.MANDATORY)
    public long begin(String by, String words) {
        return begin(by, words, null);
    }

    private long begin(String by, String words, @Nullable Long undoes) {
        long act = jdbc.sql("INSERT INTO register_act (by, words, undoes) VALUES (:by, :words, :undoes) RETURNING id")
                .param("by", by)
                .param("words", words)
                .param("undoes", undoes, java.sql.Types.BIGINT)
                .query(Long.class)
                .single();
        jdbc.sql("SELECT set_config('juratest.act', :act, true)")
                .param("act", String.valueOf(act))
                .query()
                .singleRow();
        return act;
    }

    /** @throws NotFoundException if there is none */
    public ActView one(long act) {
        return jdbc.sql(SELECT + " WHERE a.id = :act")
                .param("act", act)
                .query(this::view)
                .optional()
                .orElseThrow(() -> new NotFoundException("act", String.valueOf(act)));
    }

    /**
     * Acts, newest first.
     *
     * @param touching {@code asset:CBK-1007} or the like; absent for all
     * @param before only older ones than this
     */
    public List<ActView> all(@Nullable String touching, @Nullable Long before, int limit) {
        return jdbc.sql(SELECT
                        + (touching == null
                                ? " WHERE true"
                                : " WHERE a.id IN (SELECT act FROM register_change WHERE touches @> "
                                        + "ARRAY[CAST(:touching AS text)])")
                        + " AND (CAST(:before AS bigint) IS NULL OR a.id < :before) ORDER BY a.id DESC LIMIT :limit")
                .param("touching", touching, java.sql.Types.VARCHAR)
                .param("before", before, java.sql.Types.BIGINT)
                .param("limit", limit)
                .query(this::view)
                .list();
    }

    private ActView view(ResultSet rs, int i) throws SQLException {
        long act = rs.getLong(1);
        return new ActView(
                act,
                rs.getTimestamp(2).toInstant(),
                rs.getString(3),
                rs.getString(4),
                rs.getString(5),
                changes(act),
                rs.getLong(8),
                rs.getObject(6, Long.class),
                rs.getObject(7, Long.class));
    }

    private List<ChangeView> changes(long act) {
        List<ChangeView> views = new ArrayList<>();
        jdbc.sql("SELECT kind, key, before::text, after::text FROM register_change WHERE act = :act ORDER "
                        + "BY id LIMIT :limit")
                .param("act", act)
                .param("limit", MOST_SHOWN)
                .query((rs, i) ->
                        Differences.of(rs.getString(1), rs.getString(2), json(rs.getString(3)), json(rs.getString(4))))
                .list()
                .forEach(views::addAll);
        return views.size() > MOST_SHOWN ? views.subList(0, MOST_SHOWN) : views;
    }

    private static JsonNode json(@Nullable String text) {
        return text == null ? NullNode.getInstance() : CoreJson.mapper().readTree(text);
    }

    /**
     * Puts back what an act changed, and nothing that was changed since.
     *
     * @throws Refusal if it was undone already, somebody changed the same values since, or something new needs what it
     *     would take away
     */
    @Transactional
    public ActView undo(long id, Person person) {
        jdbc.sql("SELECT id FROM register_act WHERE id = :act FOR UPDATE")
                .param("act", id)
                .query(Long.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("act", String.valueOf(id)));
        ActView act = one(id);
        if (act.undone != null) {
            throw new Refusal("undone-already", "This was undone already.", "act");
        }
        if (!act.by.equals(person.id()) && !person.decidesForOthers()) {
            throw new Refusal(
                    "not-yours",
                    "Only " + act.name + ", who did it, an engineer or a supervisor can undo this.",
                    "act");
        }
        if (act.rows > MANY) {
            jdbc.sql("ANALYZE register_change").update();
        }
        List<String> kinds = jdbc.sql("SELECT DISTINCT kind FROM register_change WHERE act = :act")
                .param("act", id)
                .query(String.class)
                .list();
        if (kinds.contains("installation")) {
            refuseWhereTestedSince(id);
        }
        hold(id, kinds, act.rows > MANY);
        refuseWhereChangedSince(id, kinds);
        long undoing = begin(person.id(), "Undone: " + act.words, id);
        takeLaidJobs(id, kinds);
        try {
            for (int i = TABLES.size() - 1; i >= 0; i--) {
                if (kinds.contains(TABLES.get(i))) {
                    remove(id, TABLES.get(i));
                }
            }
            for (String table : TABLES) {
                if (kinds.contains(table)) {
                    restore(id, table);
                }
            }
        } catch (DataIntegrityViolationException e) {
            throw new Refusal(
                    "needed-since",
                    "This cannot be undone: what it brought in is used by now, by a job, a record or another "
                            + "device standing there.",
                    "act");
        }
        return one(undoing);
    }

    /** From the look at what was changed since to its end nobody changes any of it. */
    private void hold(long act, List<String> kinds, boolean many) {
        // Jobs before devices, as everywhere.
        for (int i = TABLES.size() - 1; i >= 0; i--) {
            String table = TABLES.get(i);
            if (kinds.contains(table)) {
                // Row by row where there are few; a lock on each of fifty thousand would take longer than all the rest.
                if (many) {
                    jdbc.sql("LOCK TABLE " + table + " IN SHARE ROW EXCLUSIVE MODE")
                            .update();
                    continue;
                }
                jdbc.sql(("SELECT 1 FROM %1$s t JOIN register_change c ON c.act = %3$d AND c.kind = '%1$s' "
                                        + "AND t.%2$s::text = c.key ORDER BY c.key FOR UPDATE OF t")
                                .formatted(table, key(table), act))
                        .query(Integer.class)
                        .list();
            }
        }
    }

    private void refuseWhereChangedSince(long act, List<String> kinds) {
        for (String table : kinds) {
            Optional<String> first = jdbc.sql(
                            """
          WITH other AS MATERIALIZED (SELECT c.id, c.key FROM register_change c LEFT JOIN %1$s t ON t.%2$s::text = c.key
            WHERE c.act = :act AND c.kind = '%1$s' AND ((c.after IS NULL) <> (t.%2$s IS NULL)
              OR c.after IS DISTINCT FROM to_jsonb(t) - 'search' AND EXISTS (SELECT 1 FROM jsonb_each(c.after) v
                WHERE v.value IS DISTINCT FROM c.before -> v.key
                AND v.value IS DISTINCT FROM to_jsonb(t) -> v.key)))
          SELECT key FROM other ORDER BY id LIMIT 1"""
                                    .formatted(table, key(table)))
                    .param("act", act)
                    .query(String.class)
                    .optional();
            if (first.isPresent()) {
                String who = jdbc.sql(
                                """
            SELECT a.words || ' (' || coalesce(p.name, a.by) || ')' FROM register_act a LEFT JOIN person p
              ON p.id = a.by
            WHERE a.id > :act AND a.id IN (SELECT act FROM register_change WHERE kind = :kind AND key = :key)
              ORDER BY a.id DESC LIMIT 1""")
                        .param("act", act)
                        .param("kind", table)
                        .param("key", first.get())
                        .query(String.class)
                        .optional()
                        .orElse("by a test that has begun");
                throw new Refusal(
                        "changed-since",
                        "This cannot be undone as it stands: "
                                + Differences.what(table, first.get(), NullNode.getInstance()) + " was changed since: "
                                + who + ". Undo that first, or set the value by hand.",
                        "act");
            }
        }
    }

    /**
     * A test that was made where the act put a device keeps it there: else its record would be of a place where it
     * never stood.
     */
    private void refuseWhereTestedSince(long act) {
        // Whoever opens a run holds its job: none is opened from here on.
        jdbc.sql("SELECT j.id FROM job j JOIN register_change c ON c.after ->> 'asset' = j.asset WHERE "
                        + "c.act = :act AND c.kind = 'installation' AND c.before IS NULL AND j.status <> "
                        + "'done' ORDER BY j.id FOR UPDATE OF j")
                .param("act", act)
                .query(Long.class)
                .list();
        jdbc.sql(
                        """
        SELECT r.asset || ' at ' || r.position FROM register_change c JOIN run r ON r.asset = c.after ->> 'asset'
          AND r.position = c.after ->> 'position'
        WHERE c.act = :act AND c.kind = 'installation' AND c.before IS NULL AND r.status <> 'aborted'
          AND r.opened_at >= lower(CAST(c.after ->> 'during' AS tstzrange)) LIMIT 1""")
                .param("act", act)
                .query(String.class)
                .optional()
                .ifPresent(where -> {
                    throw new Refusal(
                            "needed-since",
                            "This cannot be undone: " + where
                                    + " was tested since, or a test of it is open. Enter what is right as a new "
                                    + "exchange.",
                            "act");
                });
    }

    /** Jobs that plans have laid for what goes away again, and nobody has begun. */
    private void takeLaidJobs(long act, List<String> kinds) {
        // Whoever lays jobs holds the device's row here: from now on nobody lays any for it until this is through.
        jdbc.sql(
                        """
        SELECT h.asset FROM horizon h WHERE h.asset IN (SELECT coalesce(c.after ->> 'asset', c.key)
          FROM register_change c WHERE c.act = :act AND c.kind IN ('asset', 'installation'))
        ORDER BY h.asset FOR UPDATE""")
                .param("act", act)
                .query(String.class)
                .list();
        for (String kind : List.of("asset", "position")) {
            if (kinds.contains(kind)) {
                jdbc.sql(
                                """
            DELETE FROM job j USING register_change c WHERE c.act = :act AND c.kind = :kind AND c.before IS NULL
              AND j.%s = c.key AND j.plan IS NOT NULL
              AND j.status IN ('open', 'withdrawn', 'missed') AND NOT EXISTS (SELECT 1 FROM run r WHERE r.job = j.id)"""
                                        .formatted(kind))
                        .param("act", act)
                        .param("kind", kind)
                        .update();
            }
        }
    }

    private static String key(String table) {
        return KEYS.getOrDefault(table, "code");
    }

    private void remove(long act, String table) {
        jdbc.sql(("DELETE FROM %1$s t USING register_change c WHERE c.act = :act AND c.kind = '%1$s' AND "
                                + "c.before IS NULL AND t.%2$s::text = c.key")
                        .formatted(table, key(table)))
                .param("act", act)
                .update();
    }

    private void restore(long act, String table) {
        String columns = columns(table).stream().map(c -> "\"" + c + "\"").collect(Collectors.joining(", "));
        String values = columns(table).stream().map(c -> "r.\"" + c + "\"").collect(Collectors.joining(", "));
        jdbc.sql(
                        """
        UPDATE %1$s t SET (%3$s) = (SELECT %4$s FROM jsonb_populate_record(t, (SELECT jsonb_object_agg(v.key,
          v.value) FROM jsonb_each(c.before) v
          WHERE v.value IS DISTINCT FROM c.after -> v.key)) r)
        FROM register_change c WHERE c.act = :act AND c.kind = '%1$s' AND c.before IS NOT NULL
          AND c.after IS NOT NULL AND t.%2$s::text = c.key"""
                                .formatted(table, key(table), columns, values))
                .param("act", act)
                .update();
        jdbc.sql(
                        """
        INSERT INTO %1$s (%2$s) OVERRIDING SYSTEM VALUE SELECT %3$s FROM register_change c,
          jsonb_populate_record(NULL::"%1$s", c.before) r
        WHERE c.act = :act AND c.kind = '%1$s' AND c.after IS NULL ORDER BY c.id"""
                                .formatted(table, columns, values))
                .param("act", act)
                .update();
    }

    /** Columns that are stored as given. The id of a job is never changed, and cannot be. */
    private List<String> columns(String table) {
        return jdbc.sql("SELECT column_name FROM information_schema.columns WHERE table_schema = "
                        + "current_schema() AND table_name = :table AND is_generated = 'NEVER' AND "
                        + "(identity_generation IS DISTINCT FROM 'ALWAYS') ORDER BY ordinal_position")
                .param("table", table)
                .query(String.class)
                .list();
    }
}
