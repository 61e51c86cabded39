package org.juratest.server.record;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;
import org.juratest.core.run.Event;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.core.run.SignOff;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.run.EventChain;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.people.People;
import org.juratest.server.register.Register;
import org.juratest.server.run.RecordLines;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.stereotype.Repository;

/** Finished runs as records: found by filters, read whole. */
@Repository
public class Records {

    private static final String LINE =
            """
      SELECT r.id, r.record, r.finished_at, r.position, p.site, s.name, r.asset, a.maker, a.model, a.serial,
        coalesce(r.title, ''), r.verdict, r.complete,
        coalesce(w.name, r.performed_by, ''), r.sign_off, r.amended,
        is_baseline(r.asset, r.procedure, r.id, r.baseline), s.zone
      FROM run r JOIN asset a ON a.id = r.asset JOIN position p ON p.code = r.position JOIN site s ON s.code = p.site
        LEFT JOIN person w ON w.id = r.performed_by
      WHERE r.status = 'finished'""";
    private static final String LINES =
            """
      SELECT r.id, r.finished_at, t.about, t.rows, coalesce(w.name, r.performed_by, ''), r.verdict, r.sign_off
      FROM run r JOIN asset a ON a.id = r.asset JOIN position p ON p.code = r.position
        LEFT JOIN person w ON w.id = r.performed_by LEFT JOIN run_table t ON t.run = r.id
      WHERE r.status = 'finished'""";
    private static final String BEYOND = " AND (r.finished_at, r.id) < (:at, :id)";
    private static final String ORDER = " ORDER BY r.finished_at DESC, r.id DESC";
    /** Lines read at a time where many are. */
    private static final int PORTION = 200;
    /** Records read whole at a time where many are. */
    private static final int TOGETHER = 20;

    private final NamedParameterJdbcTemplate jdbc;
    private final Register register;
    private final People people;

    public Records(JdbcTemplate template, Register register, People people) {
        this.jdbc = new NamedParameterJdbcTemplate(template);
        this.register = register;
        this.people = people;
    }

    /**
     * A record in a list.
     *
     * @param by name of who finished it
     * @param signing how far it is signed off
     */
    public record RecordLine(
            UUID run,
            String number,
            Instant finishedAt,
            String position,
            String site,
            String siteName,
            String asset,
            String maker,
            String model,
            String serial,
            String title,
            Verdict verdict,
            boolean complete,
            String by,
            SignOff.State signing,
            boolean amended,
            boolean baseline,
            String zone) {}

    /** A run read whole, with the bytes of its events and where its chain breaks, if it does. */
    record Whole(RunState run, List<byte[]> bodies, @Nullable String broken) {}

    /** Zone in which days of lists begin: that of the first site of the line. */
    ZoneId zone() {
        return jdbc.getJdbcTemplate().queryForList("SELECT zone FROM site ORDER BY km LIMIT 1", String.class).stream()
                .findFirst()
                .map(ZoneId::of)
                .orElse(ZoneId.of("UTC"));
    }

    /**
     * A page of records, newest first.
     *
     * @param after cursor of the page before; absent for the first
     */
    List<RecordLine> page(RecordFilter filter, @Nullable Cursor after, int limit) {
        MapSqlParameterSource values = filter.values(zone()).addValue("limit", limit);
        String beyond = "";
        if (after != null) {
            beyond = BEYOND;
            after.into(values);
        }
        return jdbc.query(LINE + filter.where() + beyond + ORDER + " LIMIT :limit", values, Records::line);
    }

    /** How many records a filter finds. */
    long count(RecordFilter filter) {
        Long count = jdbc.queryForObject(
                """
        SELECT count(*) FROM run r JOIN asset a ON a.id = r.asset JOIN position p ON p.code = r.position
        WHERE r.status = 'finished'"""
                        + filter.where(),
                filter.values(zone()),
                Long.class);
        return count == null ? 0 : count;
    }

    /**
     * Makes something of every record a filter finds and hands it on, newest first: events of some records are read by
     * one query, and these records worked on side by side. Nothing but they is in memory.
     *
     * @param make is called for several records at once
     */
    <T> void eachWhole(RecordFilter filter, BiFunction<Whole, RecordView, T> make, Consumer<T> use) {
        // Names and labels are asked once for an export, and not for each of its records.
        Map<String, String> names = new ConcurrentHashMap<>();
        Map<String, Map<String, String>> labels = new ConcurrentHashMap<>();
        List<RecordLine> page = page(filter, null, PORTION);
        while (!page.isEmpty()) {
            for (int from = 0; from < page.size(); from += TOGETHER) {
                List<UUID> runs = page.subList(from, Math.min(page.size(), from + TOGETHER)).stream()
                        .map(RecordLine::run)
                        .toList();
                wholes(runs).parallelStream()
                        .map(w -> make.apply(
                                w,
                                RecordViews.of(
                                        w.run,
                                        id -> names.computeIfAbsent(id, people::name),
                                        labels.computeIfAbsent(
                                                w.run.opened().asset().assetClass(), register::labels),
                                        w.broken)))
                        .toList()
                        .forEach(use);
            }
            page = page.size() < PORTION ? List.of() : page(filter, Cursor.of(page.get(page.size() - 1)), PORTION);
        }
    }

    private record Lines(
            UUID run, Instant at, @Nullable RecordLines lines, String by, String verdict, String signing) {}

    /**
     * Hands on the rows of every record a filter finds in a table, newest first, some records at a time. They are kept,
     * so that no events are read but of a record whose rows are missing.
     */
    void eachLines(RecordFilter filter, Consumer<CharSequence> use) {
        Cursor after = null;
        List<Lines> page;
        do {
            MapSqlParameterSource values = filter.values(zone()).addValue("limit", PORTION);
            String beyond = "";
            if (after != null) {
                beyond = BEYOND;
                after.into(values);
            }
            page = jdbc.query(LINES + filter.where() + beyond + ORDER + " LIMIT :limit", values, Records::lines);
            StringBuilder rows = new StringBuilder();
            for (Lines one : page) {
                RecordLines lines = one.lines == null ? RecordLines.of(whole(one.run).run) : one.lines;
                lines.write(one.by, one.verdict, one.signing, rows);
                after = new Cursor(one.at, one.run);
            }
            use.accept(rows);
        } while (page.size() == PORTION);
    }

    private static Lines lines(ResultSet rs, int i) throws SQLException {
        String about = rs.getString(3);
        return new Lines(
                rs.getObject(1, UUID.class),
                rs.getTimestamp(2).toInstant(),
                about == null ? null : new RecordLines(about, rs.getString(4)),
                rs.getString(5),
                rs.getString(6),
                rs.getString(7));
    }

    /** Finished runs with their events, in the order given. */
    private List<Whole> wholes(List<UUID> runs) {
        record Row(String head, long count) {}
        Map<UUID, Row> rows = new HashMap<>();
        MapSqlParameterSource values = new MapSqlParameterSource("runs", runs.toArray(UUID[]::new));
        jdbc.query("SELECT id, head, count FROM run WHERE id = ANY (:runs)", values, rs -> {
            rows.put(rs.getObject(1, UUID.class), new Row(String.valueOf(rs.getString(2)), rs.getLong(3)));
        });
        Map<UUID, List<byte[]>> bodies = new HashMap<>();
        jdbc.query("SELECT run, body FROM event WHERE run = ANY (:runs) ORDER BY run, n", values, rs -> {
            bodies.computeIfAbsent(rs.getObject(1, UUID.class), r -> new ArrayList<>())
                    .add(rs.getBytes(2));
        });
        return runs.parallelStream()
                .filter(rows::containsKey)
                .map(run -> whole(
                        run,
                        bodies.getOrDefault(run, List.of()),
                        Objects.requireNonNull(rows.get(run)).head,
                        Objects.requireNonNull(rows.get(run)).count))
                .toList();
    }

    /**
     * Place in a list. Prints as {@code microseconds.run} and parses back.
     *
     * @param at when the last record shown was finished
     */
    record Cursor(Instant at, UUID run) {

        void into(MapSqlParameterSource values) {
            values.addValue("at", at.atOffset(java.time.ZoneOffset.UTC)).addValue("id", run);
        }

        static Cursor of(RecordLine line) {
            return new Cursor(line.finishedAt, line.run);
        }

        /** @throws Refusal if the text is not one that a list gave */
        static Cursor parse(String text) {
            int dot = text.indexOf('.');
            try {
                return new Cursor(
                        Instant.EPOCH.plus(Long.parseLong(text.substring(0, Math.max(dot, 0))), ChronoUnit.MICROS),
                        UUID.fromString(text.substring(dot + 1)));
            } catch (IllegalArgumentException | ArithmeticException | java.time.DateTimeException e) {
                throw new Refusal("bad-cursor", "The cursor \"" + text + "\" is not one this list gave.", "after");
            }
        }

        @Override
        public String toString() {
            return ChronoUnit.MICROS.between(Instant.EPOCH, at) + "." + run;
        }
    }

    private static RecordLine line(ResultSet rs, int i) throws SQLException {
        return new RecordLine(
                rs.getObject(1, UUID.class),
                rs.getString(2),
                rs.getTimestamp(3).toInstant(),
                rs.getString(4),
                rs.getString(5),
                rs.getString(6),
                rs.getString(7),
                rs.getString(8),
                rs.getString(9),
                rs.getString(10),
                rs.getString(11),
                CoreJson.mapper().convertValue(rs.getString(12), Verdict.class),
                rs.getBoolean(13),
                rs.getString(14),
                rs.getString(15) == null
                        ? SignOff.State.UNSIGNED
                        : CoreJson.mapper().convertValue(rs.getString(15), SignOff.State.class),
                rs.getBoolean(16),
                rs.getBoolean(17),
                rs.getString(18));
    }

    /**
     * The run of a record number.
     *
     * @throws NotFoundException if there is none
     */
    public UUID run(String number) {
        return jdbc
                .queryForList(
                        "SELECT id FROM run WHERE record = :number",
                        new MapSqlParameterSource("number", number),
                        UUID.class)
                .stream()
                .findFirst()
                .orElseThrow(() -> new NotFoundException("record", number));
    }

    /** Records of an asset, newest first. */
    public List<RecordLine> ofAsset(String asset, int limit) {
        return page(new RecordFilter(asset, null, null, null, null, null, null, null, null, null), null, limit);
    }

    /**
     * A run with its chain walked.
     *
     * @throws NotFoundException if there is none
     */
    Whole whole(UUID run) {
        MapSqlParameterSource id = new MapSqlParameterSource("run", run);
        record Row(@Nullable String head, long count) {}
        Row row = jdbc
                .query(
                        "SELECT head, count FROM run WHERE id = :run",
                        id,
                        (rs, i) -> new Row(rs.getString(1), rs.getLong(2)))
                .stream()
                .findFirst()
                .orElseThrow(() -> new NotFoundException("run", run.toString()));
        List<byte[]> bodies =
                jdbc.query("SELECT body FROM event WHERE run = :run ORDER BY n", id, (rs, i) -> rs.getBytes(1));
        return whole(run, bodies, String.valueOf(row.head), row.count);
    }

    private static Whole whole(UUID run, List<byte[]> bodies, String head, long count) {
        List<Event> events = bodies.stream().map(EventCodec::read).toList();
        String broken = EventChain.links(run, events, bodies, head, count)
                .map(b -> "event " + b.n() + " " + b.what())
                .orElse(null);
        return new Whole(RunState.of(events), bodies, broken);
    }

    /**
     * A record as it reads.
     *
     * @throws NotFoundException if the run is not finished
     */
    RecordView view(Whole whole) {
        if (whole.run.finished() == null) {
            throw new NotFoundException(
                    "record", "of run " + whole.run.events().get(0).run());
        }
        return RecordViews.of(
                whole.run,
                people::name,
                register.labels(whole.run.opened().asset().assetClass()),
                whole.broken);
    }
}
