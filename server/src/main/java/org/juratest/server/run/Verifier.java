package org.juratest.server.run;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import java.util.function.BiConsumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Actor;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.formats.run.EventChain;
import org.juratest.formats.run.EventCodec;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;

/**
 * Walks every chain, compares the columns copied from the events and what is projected from them, holds every run
 * against what was frozen with it, and asks the ledger whether anything is gone as a whole. A few runs are in memory at
 * a time, their events read by all processors. Needs no server and changes nothing, unless told to rebuild. Run it in
 * one transaction of one snapshot.
 */
public final class Verifier {

    /** Runs read at a time: their rows, not their events. */
    private static final int PORTION = 500;
    /** Runs whose events are read together: so many are in memory. */
    private static final int TOGETHER = 50;

    private final JdbcClient jdbc;
    private final RunTables tables;
    private final WholeChecks whole;

    public Verifier(JdbcTemplate template) {
        this.jdbc = JdbcClient.create(template);
        this.tables = new RunTables(template);
        this.whole = new WholeChecks(jdbc);
    }

    /** Something that does not hold, where, in words. */
    public record Finding(String where, String what) {
        @Override
        public String toString() {
            return where + ": " + what;
        }
    }

    /**
     * @param runs walked
     * @param events walked
     * @param findings in the order of the runs; of each chain the first break
     * @param unnamed blobs that nothing names: no break, only room that is taken
     */
    public record Report(long runs, long events, List<Finding> findings, long unnamed) {
        /** With what else was found. */
        public Report and(List<Finding> more) {
            return new Report(
                    runs,
                    events,
                    java.util.stream.Stream.concat(findings.stream(), more.stream())
                            .toList(),
                    unnamed);
        }
    }

    private record Row(
            UUID id,
            @Nullable String job,
            String asset,
            String position,
            @Nullable String record,
            @Nullable String head,
            long count) {
        String name() {
            return (record == null ? "an open run at " + position : "record " + record) + " (" + id + ")";
        }
    }

    private record Stored(
            long n, UUID id, @Nullable String prev, String hash, Instant at, String by, String type, byte[] body) {}

    /**
     * Checks everything. With {@code rebuild} the projections are replaced by what the events give before they are
     * compared.
     */
    public Report run(boolean rebuild) {
        return run(rebuild, (done, of) -> {});
    }

    /** @param progress told how many runs are done, of how many */
    public Report run(boolean rebuild, BiConsumer<Long, Long> progress) {
        List<Finding> findings = new ArrayList<>();
        long all = jdbc.sql("SELECT count(*) FROM run").query(Long.class).single();
        long done = 0;
        long events = 0;
        if (rebuild) {
            tables.clearLast();
        }
        Set<String> people = new TreeSet<>(
                jdbc.sql("SELECT id FROM person").query(String.class).list());
        for (List<Row> portion = rows(new UUID(0, 0));
                !portion.isEmpty();
                portion = rows(portion.get(portion.size() - 1).id)) {
            for (int from = 0; from < portion.size(); from += TOGETHER) {
                List<Walked> some = walked(portion.subList(from, Math.min(portion.size(), from + TOGETHER)));
                if (rebuild) {
                    rewrite(some);
                }
                for (Walked run : some) {
                    events += run.events;
                    one(run, people, findings);
                    progress.accept(++done, all);
                }
            }
        }
        whole.all(findings);
        return new Report(done, events, List.copyOf(findings), whole.unnamedBlobs());
    }

    /** Takes away blobs that nothing names and that are older than a day; gives how many. */
    public long removeUnnamedBlobs() {
        return whole.removeUnnamedBlobs();
    }

    /** A run whose chain was walked; without what its events give if the chain is broken or empty. */
    private record Walked(
            Row row, int events, Optional<Finding> broken, @Nullable RunState state, @Nullable RunRows rows) {}

    /** Reads the events of some runs at once. Reading them is the work, so all processors do it. */
    private List<Walked> walked(List<Row> rows) {
        Map<UUID, List<Stored>> stored = new HashMap<>();
        jdbc.sql("SELECT n, id, prev, hash, at, by, type, body, run FROM event WHERE run IN (:runs) ORDER BY run, n")
                .param("runs", rows.stream().map(Row::id).toList())
                .query((rs, i) -> Map.entry(rs.getObject(9, UUID.class), stored(rs)))
                .list()
                .forEach(e -> stored.computeIfAbsent(e.getKey(), run -> new ArrayList<>())
                        .add(e.getValue()));
        return rows.parallelStream()
                .map(row -> walked(row, stored.getOrDefault(row.id, List.of())))
                .toList();
    }

    private static Walked walked(Row row, List<Stored> stored) {
        if (row.head == null || stored.isEmpty()) {
            return new Walked(
                    row,
                    stored.size(),
                    Optional.of(new Finding(row.name(), "has no events, though its row counts " + row.count)),
                    null,
                    null);
        }
        EventChain.Walk walk =
                EventChain.walk(row.id, stored.stream().map(Stored::body).toList(), row.head, row.count);
        Optional<Finding> broken = walk.broken()
                .map(b -> new Finding(row.name(), "event " + b.n() + " " + b.what()))
                .or(() -> columns(row, stored, walk.events()));
        if (broken.isPresent()) {
            return new Walked(row, stored.size(), broken, null, null);
        }
        RunState state = RunState.of(walk.events());
        return new Walked(row, stored.size(), broken, state, RunRows.of(state));
    }

    private static Optional<Finding> columns(Row row, List<Stored> stored, List<Event> events) {
        for (int n = 0; n < stored.size(); n++) {
            Stored s = stored.get(n);
            Event event = events.get(n);
            Stored copy = new Stored(
                    event.n(),
                    event.id(),
                    event.prev(),
                    EventCodec.hash(s.body),
                    event.at(),
                    event.by().toString(),
                    event.data().type(),
                    s.body);
            if (!copy.equals(s)) {
                return Optional.of(
                        new Finding(row.name(), "the columns beside event " + s.n + " do not say what the event says"));
            }
        }
        return Optional.empty();
    }

    /** Replaces the rows of those whose chains hold. */
    private void rewrite(List<Walked> runs) {
        tables.rewrite(runs.stream()
                .filter(r -> r.state != null)
                .map(r -> new RunTables.Whole(r.row.id, r.row.asset, Objects.requireNonNull(r.state)))
                .toList());
    }

    /** Holds what the events of one run give against the tables. */
    private void one(Walked run, Set<String> people, List<Finding> findings) {
        run.broken.ifPresent(findings::add);
        RunState state = run.state;
        RunRows rows = run.rows;
        if (state == null || rows == null) {
            return;
        }
        Row row = run.row;
        rows.differences(tables.stored(row.id)).forEach(d -> findings.add(new Finding(row.name(), d)));
        frozen(row, state).forEach(what -> findings.add(new Finding(row.name(), what)));
        blobs(state).forEach(what -> findings.add(new Finding(row.name(), what)));
        state.events().stream()
                .map(Event::by)
                .filter(Actor::isPerson)
                .map(Actor::id)
                .filter(id -> !people.contains(id))
                .distinct()
                .forEach(id -> findings.add(
                        new Finding(row.name(), id + ", who worked in it, is no longer among the people")));
    }

    private List<Row> rows(UUID after) {
        return jdbc.sql("SELECT id, job::text, asset, position, record, head, count FROM run WHERE id > :after "
                        + "ORDER BY id LIMIT :most")
                .param("after", after)
                .param("most", PORTION)
                .query((rs, i) -> new Row(
                        rs.getObject(1, UUID.class),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getLong(7)))
                .list();
    }

    private static Stored stored(ResultSet rs) throws SQLException {
        return new Stored(
                rs.getLong(1),
                rs.getObject(2, UUID.class),
                rs.getString(3),
                rs.getString(4),
                Objects.requireNonNull(RunTables.instant(rs, 5)),
                rs.getString(6),
                rs.getString(7),
                rs.getBytes(8));
    }

    /** What was frozen when the run was opened, and how the run's row and the procedures stand to it now. */
    private List<String> frozen(Row row, RunState state) {
        List<String> words = new ArrayList<>();
        RunEvents.Opened opened = state.opened();
        if (row.job != null && !row.job.equals(opened.job())) {
            words.add("its row names job " + row.job + ", but it was opened for job " + opened.job());
        }
        if (!row.asset.equals(opened.asset().asset())
                || !row.position.equals(opened.asset().position())) {
            words.add("its row names " + row.asset + " at " + row.position + ", but it was opened for "
                    + opened.asset().asset() + " at " + opened.asset().position());
        }
        String hash = jdbc.sql("SELECT hash FROM procedure_version WHERE code = :code AND version = :version")
                .param("code", opened.procedure().code())
                .param("version", opened.procedure().version())
                .query(String.class)
                .optional()
                .orElse(null);
        if (hash == null) {
            words.add("version " + opened.procedure().version() + " of "
                    + opened.procedure().code() + ", by which it was carried out, is gone");
        } else if (!hash.equals(opened.procedureHash())) {
            words.add("version " + opened.procedure().version() + " of "
                    + opened.procedure().code() + " is not the one by which it was carried out");
        }
        RunEvents.VariantApplied variant = state.variant();
        if (variant != null
                && variant.hash() != null
                && jdbc.sql("SELECT NOT EXISTS (SELECT 1 FROM variant_revision WHERE variant = :variant AND "
                                + "revision = :revision AND hash = :hash)")
                        .param("variant", variant.variant())
                        .param("revision", variant.revision())
                        .param("hash", variant.hash())
                        .query(Boolean.class)
                        .single()) {
            words.add("revision " + variant.revision() + " of the variant \"" + variant.name()
                    + "\", by which it was carried out, is gone or another");
        }
        return words;
    }

    /** Blobs that a run names and that are gone. What is there is held against its name elsewhere, once for all. */
    private List<String> blobs(RunState state) {
        Set<String> named = state.events().stream()
                .map(Event::data)
                .map(Verifier::blob)
                .filter(Objects::nonNull)
                .collect(Collectors.toCollection(TreeSet::new));
        if (named.isEmpty()) {
            return List.of();
        }
        named.removeAll(jdbc.sql("SELECT sha256 FROM blob WHERE sha256 IN (:names)")
                .param("names", named)
                .query(String.class)
                .list());
        return named.stream()
                .map(hash -> "what was captured as " + hash.substring(0, 12) + " is gone")
                .toList();
    }

    private static @Nullable String blob(EventData data) {
        return data instanceof StepEvents.Photo photo
                ? photo.blob()
                : data instanceof AttemptEvents.TraceTaken trace
                        ? trace.blob()
                        : data instanceof AttemptEvents.SoundTaken sound
                                ? sound.blob()
                                : data instanceof AttemptEvents.Captured captured ? captured.sha256() : null;
    }
}
