package org.juratest.server.run;

import java.time.Clock;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.MethodDeriving;
import org.juratest.core.run.Actor;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.core.trace.Trace;
import org.juratest.formats.run.EventCodec;
import org.juratest.formats.trace.TraceBytes;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.jdbc.core.namedparam.SqlParameterSource;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Runs as lists of events in the database. Appending locks the run's row, so that events of one run are made one after
 * the other whoever makes them; what is projected is written in the same transaction, and other processes are told.
 */
@Repository
public class RunStore {

    /** Channel that carries {@code run n} when events were appended. */
    static final String CHANNEL = "run_event";

    private static final int CACHED = 64;

    private static final String EVENT = "run, n, id, prev, hash, at, by, type, body";
    /** Events that go in one statement with the rest; more go before it. */
    private static final int AT_ONCE = 8;
    /** By number of events less one, and whether the head moves. */
    private static final List<Map<Boolean, String>> STATEMENTS = IntStream.rangeClosed(1, AT_ONCE)
            .mapToObj(n -> Map.of(true, statement(n, true), false, statement(n, false)))
            .toList();

    private final JdbcClient jdbc;
    private final NamedParameterJdbcTemplate batch;
    private final RunTables tables;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final ClockWatch watch;
    private final String origin;
    private final MethodDeriving deriving;
    /**
     * A state with the hash of its last event, its rows where they are known, and the last time the clock was set that
     * it has a note of or comes after.
     */
    private record Known(
            RunState state, @Nullable String head, @Nullable RunRows rows, ClockWatch.@Nullable Jump jump) {}

    private static final Known NOTHING = new Known(RunState.EMPTY, null, null, null);

    /** States by run; only ever a shortcut: the chain in the database decides whether one still holds. */
    private final Map<UUID, Known> recent = Collections.synchronizedMap(new LinkedHashMap<>(CACHED, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<UUID, Known> eldest) {
            return size() > CACHED;
        }
    });

    public RunStore(JdbcTemplate template, RunTables tables, PlatformTransactionManager transactions, Clock clock) {
        this.jdbc = JdbcClient.create(template);
        this.batch = new NamedParameterJdbcTemplate(template);
        this.tables = tables;
        this.transaction = new TransactionTemplate(transactions);
        this.clock = clock;
        this.deriving = new MethodDeriving(this::trace);
        this.watch = new ClockWatch(clock, System::nanoTime);
        this.origin = jdbc.sql("SELECT value FROM setting WHERE key = 'origin'")
                .query(String.class)
                .single();
    }

    private Optional<Trace> trace(String sha256) {
        return jdbc.sql("SELECT bytes FROM blob WHERE sha256 = :hash AND media_type = :type")
                .param("hash", sha256)
                .param("type", TraceBytes.MEDIA_TYPE)
                .query((rs, i) -> TraceBytes.read(rs.getBytes(1)))
                .optional();
    }

    /** A new run told in memory; what follows from its events is computed with what is kept here. */
    public Tail tail(UUID run) {
        return new Tail(run, RunState.EMPTY, null, origin, deriving);
    }

    private record Row(String asset, @Nullable String head, long count) {}

    /** Makes a run's row; its first event follows in the same transaction. */
    void create(UUID run, @Nullable Long job, String asset, String position, boolean demo) {
        jdbc.sql("INSERT INTO run (id, job, asset, position, demo) VALUES (:id, :job, :asset, :position, :demo)")
                .param("id", run)
                .param("job", job, java.sql.Types.BIGINT)
                .param("asset", asset)
                .param("position", position)
                .param("demo", demo)
                .update();
    }

    /**
     * The state of a run.
     *
     * @throws NotFoundException if there is none
     */
    public RunState state(UUID run) {
        Row row = row(run, false);
        return known(run, row).state;
    }

    private Row row(UUID run, boolean lock) {
        return jdbc.sql("SELECT asset, head, count FROM run WHERE id = :run" + (lock ? " FOR UPDATE" : ""))
                .param("run", run)
                .query((rs, i) -> new Row(rs.getString(1), rs.getString(2), rs.getLong(3)))
                .optional()
                .orElseThrow(() -> new NotFoundException("run", run.toString()));
    }

    private Known known(UUID run, Row row) {
        Known known = recent.getOrDefault(run, NOTHING);
        if (known.state.n() + 1 == row.count && Objects.equals(known.head, row.head)) {
            return known;
        }
        RunState state = known.state;
        List<Event> missing = state.n() + 1 < row.count ? events(run, state.n()) : List.of();
        if (missing.isEmpty() || !Objects.equals(missing.get(0).prev(), known.head)) {
            // What was kept is not the beginning of what the database holds (a transaction that was rolled back).
            state = RunState.EMPTY;
            missing = events(run, -1);
        }
        for (Event event : missing) {
            state = state.after(event);
        }
        Known now = new Known(state, row.head, null, known.jump);
        recent.put(run, now);
        return now;
    }

    /** Events after number {@code after}, in order. */
    public List<Event> events(UUID run, long after) {
        return bodies(run, after).stream().map(EventCodec::read).toList();
    }

    /** Canonical bytes of the events after number {@code after}, in order. */
    List<byte[]> bodies(UUID run, long after) {
        return jdbc.sql("SELECT body FROM event WHERE run = :run AND n > :after ORDER BY n")
                .param("run", run)
                .param("after", after)
                .query((rs, i) -> rs.getBytes(1))
                .list();
    }

    /**
     * Appends what a function makes of the present state, and what follows from it.
     *
     * @param make gives the events to append; may throw to refuse, and then nothing is written. It is called under the
     *     lock of the run's row, within the transaction
     */
    public RunState append(UUID run, Actor by, Function<RunState, List<? extends EventData>> make) {
        return append(run, state -> make.apply(state).stream()
                .map(data -> new Addition(by, data))
                .toList());
    }

    /** An event to be appended, and who makes it. */
    record Addition(Actor by, EventData data) {}

    /** Likewise, where not all is made by one. */
    RunState append(UUID run, Function<RunState, List<Addition>> make) {
        Known after = transaction.execute(status -> {
            Row row = row(run, true);
            Known known = known(run, row);
            RunState before = known.state;
            Tail tail = new Tail(run, before, row.head, origin, deriving);
            ClockWatch.Jump jump = watch.look();
            noteJump(run, before, tail, jump);
            for (Addition addition : make.apply(before)) {
                tail.add(addition.by, addition.data, clock.instant());
            }
            tail.follow(clock.instant());
            RunRows rows = tail.isEmpty() ? known.rows : insert(run, row, known, tail);
            return new Known(tail.state(), tail.head(), rows, jump);
        });
        if (after == null) {
            throw new IllegalStateException("a transaction without a result");
        }
        recent.put(run, after);
        return after.state;
    }

    /** A run that was open while the clock was set says so, once. */
    private void noteJump(UUID run, RunState before, Tail tail, ClockWatch.@Nullable Jump jump) {
        if (jump == null
                || !before.isOpened()
                || before.status() != RunState.Status.OPEN
                || jump.equals(recent.getOrDefault(run, NOTHING).jump)) {
            return;
        }
        StepEvents.Note note = new StepEvents.Note(jump.words());
        if (!before.events().get(0).at().isAfter(jump.from())
                && before.remarks().stream().noneMatch(e -> e.data().equals(note))) {
            tail.add(Actor.process(origin), note, clock.instant());
        }
    }

    /**
     * What is written and told with every event goes in one statement: each way to the database and back is felt with
     * every reading.
     */
    private RunRows insert(UUID run, Row row, Known before, Tail tail) {
        List<Tail.Made> made = tail.made();
        List<Tail.Made> many = made.size() <= AT_ONCE ? List.of() : made.subList(0, made.size() - AT_ONCE);
        if (!many.isEmpty()) {
            batch.batchUpdate(
                    "INSERT INTO event (" + EVENT + ") VALUES (" + values(0) + ")",
                    many.stream()
                            .map(m -> event(m, 0, new MapSqlParameterSource()))
                            .toArray(SqlParameterSource[]::new));
        }
        List<Tail.Made> few = made.subList(many.size(), made.size());
        RunRows was = !before.state.isOpened() ? null : before.rows == null ? RunRows.of(before.state) : before.rows;
        RunRows is = was == null
                ? RunRows.of(tail.state())
                : RunRows.of(was, made.stream().map(m -> m.event().data()).toList(), tail.state());
        boolean headMoved = was == null || !was.head().equals(is.head());
        MapSqlParameterSource given = headMoved ? RunTables.headValues(is.head()) : new MapSqlParameterSource();
        for (int i = 0; i < few.size(); i++) {
            event(few.get(i), i, given);
        }
        given.addValue("last", tail.head())
                .addValue("count", row.count + made.size())
                .addValue("this", run)
                .addValue("message", run + " " + tail.state().n());
        batch.query(STATEMENTS.get(few.size() - 1).get(headMoved), given, rs -> {});
        // Last of all locks: job, run, ledger.
        made.forEach(m -> {
            if (m.event().data() instanceof RunEvents.Opened || m.event().data() instanceof RunEvents.Finished) {
                jdbc.sql("SELECT enter_ledger(:run, :kind, :event)")
                        .param("run", run)
                        .param("kind", m.event().data().type())
                        .param("event", m.hash())
                        .query()
                        .singleRow();
            }
        });
        made.forEach(m -> {
            if (m.event().data() instanceof AttemptEvents.Captured c && c.kind() == AttemptEvents.CaptureKind.FILE) {
                jdbc.sql("INSERT INTO brought_file (sha256, run, name) VALUES (:sha, :run, :name) ON CONFLICT DO "
                                + "NOTHING")
                        .param("sha", c.sha256())
                        .param("run", run)
                        .param("name", c.name())
                        .update();
            }
        });
        tables.write(run, row.asset, was, is);
        return is;
    }

    /** Appends so many events at once, and moves the run's row with its head or without. */
    private static String statement(int events, boolean headMoves) {
        return "WITH told AS (INSERT INTO event (" + EVENT + ") VALUES "
                + IntStream.range(0, events)
                        .mapToObj(i -> "(" + values(i) + ")")
                        .collect(Collectors.joining(", "))
                + "), moved AS (UPDATE run SET head = :last, count = :count" + (headMoves ? ", " + RunTables.HEAD : "")
                + " WHERE id = :this) SELECT pg_notify('" + CHANNEL + "', :message)";
    }

    private static String values(int i) {
        return ":run%1$d, :n%1$d, :id%1$d, :prev%1$d, :hash%1$d, :at%1$d, :by%1$d, :type%1$d, :body%1$d".formatted(i);
    }

    private static MapSqlParameterSource event(Tail.Made made, int i, MapSqlParameterSource into) {
        Event event = made.event();
        return into.addValue("run" + i, event.run())
                .addValue("n" + i, event.n())
                .addValue("id" + i, event.id())
                .addValue("prev" + i, event.prev(), java.sql.Types.VARCHAR)
                .addValue("hash" + i, made.hash())
                .addValue("at" + i, RunTables.time(event.at()), java.sql.Types.TIMESTAMP_WITH_TIMEZONE)
                .addValue("by" + i, event.by().toString())
                .addValue("type" + i, event.data().type())
                .addValue("body" + i, made.body());
    }

    /** Stores a whole run that was told in memory, as history. */
    public void insertWhole(UUID run, @Nullable Long job, String asset, String position, Tail tail) {
        insertWhole(run, job, asset, position, tail, true);
    }

    /** Likewise, of people or of the demo. */
    public void insertWhole(UUID run, @Nullable Long job, String asset, String position, Tail tail, boolean demo) {
        transaction.executeWithoutResult(status -> {
            create(run, job, asset, position, demo);
            insert(run, new Row(asset, null, 0), NOTHING, tail);
        });
    }

    /** Id of this installation. */
    public String origin() {
        return origin;
    }

    /** The next record number of a position in a year, under a lock on its row. Call within a transaction. */
    public String nextRecord(String position, int year) {
        int n = jdbc.sql(
                        """
        INSERT INTO record_number (position, year, last) VALUES (:position, :year, 1)
        ON CONFLICT (position, year) DO UPDATE SET last = record_number.last + 1 RETURNING last""")
                .param("position", position)
                .param("year", year)
                .query(Integer.class)
                .single();
        return position + "/" + year + "/" + n;
    }
}
