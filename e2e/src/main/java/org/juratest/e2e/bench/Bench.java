package org.juratest.e2e.bench;

import com.zaxxer.hikari.HikariDataSource;
import java.io.IOException;
import java.net.HttpURLConnection;
import java.net.ServerSocket;
import java.net.URI;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;
import org.flywaydb.core.Flyway;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Event;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.e2e.Installation;
import org.juratest.e2e.radio.RadioRig;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.run.RunStore;
import org.juratest.server.run.RunTables;
import org.juratest.server.run.Tail;
import org.openjdk.jmh.results.RunResult;
import org.openjdk.jmh.runner.Runner;
import org.openjdk.jmh.runner.RunnerException;
import org.openjdk.jmh.runner.options.OptionsBuilder;
import org.openjdk.jmh.runner.options.TimeValue;
import org.openjdk.jmh.runner.options.VerboseMode;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;

/** {@code ./juratest bench}: prints figures; asserts nothing. */
public final class Bench {

    private static final int APPENDS = 400;
    /** Rounds before those that count: a server that has run for a minute is what people work with. */
    private static final int WARMING_ROUNDS = 8;

    private static final int STARTS = 3;

    private Bench() {}

    /**
     * @param arguments the server's jar, its class-data archive, and which parts alone are asked for: breakers,
     *     condition, files, meters, records, register; with {@code --large} fifty times as many values
     */
    public static void main(String[] arguments) throws Exception {
        Installation.asPeopleHaveIt();
        List<String> asked = List.of(arguments).subList(2, arguments.length);
        if (!asked.isEmpty()) {
            if (asked.contains("records")) {
                RecordBench.run();
            }
            if (asked.contains("breakers")) {
                BreakerBench.run();
            }
            if (asked.contains("meters")) {
                MeterBench.run();
            }
            if (asked.contains("register")) {
                RegisterBench.run();
            }
            if (asked.contains("files")) {
                FilesBench.run();
            }
            if (asked.contains("condition") || asked.equals(List.of("--large"))) {
                ConditionBench.run(asked.contains("--large"));
            }
            return;
        }
        core();
        radio();
        BreakerBench.run();
        MeterBench.run();
        ShareBench.run();
        append();
        starts(arguments[0], arguments[1]);
        RecordBench.run();
        RegisterBench.run();
        FilesBench.run();
        PlanBench.run();
        ConditionBench.run(false);
        PageBench.run();
    }

    static void line(String what, String figure) {
        System.out.printf("%-62s %s%n", what, figure);
    }

    private static String figure(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }

    private static void core() throws RunnerException {
        System.out.println("Core, one core (JMH, mean of 5 x 1 s after 3 x 1 s)");
        Collection<RunResult> results = new Runner(new OptionsBuilder()
                        .include(CoreBenchmarks.class.getName() + ".*")
                        .forks(1)
                        .warmupIterations(3)
                        .measurementIterations(5)
                        .warmupTime(TimeValue.seconds(1))
                        .measurementTime(TimeValue.seconds(1))
                        .verbosity(VerboseMode.SILENT)
                        .build())
                .run();
        Map<String, Double> micros = results.stream()
                .collect(Collectors.toMap(r -> r.getPrimaryResult().getLabel(), r -> r.getPrimaryResult()
                        .getScore()));
        int events = new CoreBenchmarks().eventCount();
        line(
                "fold of a run of " + events + " events",
                figure(
                        "%.0f µs, %.2f million events/s, %.0f x walking the list",
                        micros.get("fold"), events / micros.get("fold"), micros.get("fold") / micros.get("walk")));
        line("its judgement", figure("%.0f µs", micros.get("judge")));
        line("reading its events from bytes", figure("%.0f µs", micros.get("readBytes")));
        line(
                "one look-up in a time-current band",
                figure(
                        "%.3f µs, %.1f x one log and exp",
                        micros.get("curve"), micros.get("curve") / micros.get("bareLogarithms")));
        line(
                "SINAD of 1 s of sound at 48 kHz",
                figure(
                        "%.1f ms, %.1f x the bare transform of as many samples",
                        micros.get("sinad") / 1000, micros.get("sinad") / micros.get("bareTransform")));
    }

    /**
     * A whole test of a radio in two bands, gear and radio behind their sockets, at a hundred times the pace of the
     * clock.
     */
    private static void radio() throws IOException {
        System.out.println("A radio in two bands, periodic test, stand-ins at time factor 100");
        List<Double> each = new ArrayList<>();
        int attempts = 0;
        for (int i = 0; i < 3; i++) {
            try (RadioRig rig = new RadioRig("TES-RAD-03", "rad-yearly-3", 100)) {
                long begin = System.nanoTime();
                attempts = rig.measureAll().size();
                each.add((System.nanoTime() - begin) / 1e9);
            }
        }
        each.sort(null);
        line(
                "all " + attempts + " measurements, median of 3",
                figure("%.1f s, %.2f of 30 s", each.get(1), each.get(1) / 30));
    }

    private static void append() throws SQLException {
        System.out.println("Database, events appended one by one, each in a transaction of its own");
        try (HikariDataSource source = new HikariDataSource()) {
            source.setJdbcUrl(System.getenv("JURATEST_DB_URL"));
            source.setUsername(System.getenv("JURATEST_DB_USER"));
            source.setPassword(System.getenv("JURATEST_DB_PASSWORD"));
            Flyway flyway =
                    Flyway.configure().dataSource(source).cleanDisabled(false).load();
            flyway.clean();
            flyway.migrate();
            JdbcTemplate jdbc = new JdbcTemplate(source);
            RunStore store = new RunStore(
                    jdbc, new RunTables(jdbc), new DataSourceTransactionManager(source), Clock.systemUTC());
            prepare(jdbc);
            List<Double> ratios = new ArrayList<>();
            double ours = 0;
            for (int round = 0; round < WARMING_ROUNDS + 5; round++) {
                UUID run = UUID.randomUUID();
                SampleRun sample = new SampleRun();
                Tail tail = new Tail(run, RunState.EMPTY, null, store.origin());
                tail.add(Actor.person("bench"), sample.opened(), java.time.Instant.now());
                store.insertWhole(run, null, "BENCH-1", "BEN-CBK-01", tail);
                double appended = seconds(() -> {
                    for (int i = 0; i < APPENDS; i++) {
                        store.append(
                                run,
                                Actor.person("bench"),
                                state -> List.of(new StepEvents.Note("a note of some length, as people write them")));
                    }
                });
                List<Event> same = store.events(run, 0);
                double plain = plain(source, jdbc, same);
                if (round >= WARMING_ROUNDS) {
                    ratios.add(appended / plain);
                    ours += appended / 5;
                }
            }
            ratios.sort(null);
            line(
                    "append with lock, chain, fold and projection",
                    figure(
                            "%.2f ms an event; %.2f x a plain JDBC insert of the same rows (%.2f to %.2f)",
                            ours * 1000 / APPENDS, ratios.get(2), ratios.get(0), ratios.get(4)));
        }
    }

    private static void prepare(JdbcTemplate jdbc) {
        jdbc.update("INSERT INTO site VALUES ('BEN', 'Bench', 0, 0, 'UTC')");
        jdbc.update("INSERT INTO position VALUES ('BEN-CBK-01', 'BEN', 'breakers')");
        jdbc.update("INSERT INTO asset_class VALUES ('lv-breaker', 'breakers', 'Breaker', '{}')");
        jdbc.update("INSERT INTO asset VALUES ('BENCH-1', 'lv-breaker', 'Orvex', 'M160', '1', '{}', NULL)");
    }

    /** The least a program must do to keep the same rows: insert, update the run's row, commit. */
    private static double plain(HikariDataSource source, JdbcTemplate jdbc, List<Event> events) throws SQLException {
        UUID run = UUID.randomUUID();
        jdbc.update("INSERT INTO run (id, asset, position) VALUES (?, 'BENCH-1', 'BEN-CBK-01')", run);
        List<byte[]> bodies = events.stream().map(EventCodec::write).toList();
        try (Connection connection = source.getConnection()) {
            connection.setAutoCommit(false);
            try (PreparedStatement insert = connection.prepareStatement(
                            "INSERT INTO event (run, n, id, prev, hash, at, by, type, body) VALUES (?, ?, ?, ?, "
                                    + "?, now(), ?, ?, ?)");
                    PreparedStatement update = connection.prepareStatement(
                            "UPDATE run SET head = ?, count = ?, person_events = ? WHERE id = ?")) {
                return seconds(() -> {
                    try {
                        for (int i = 0; i < bodies.size(); i++) {
                            insert.setObject(1, run);
                            insert.setLong(2, i);
                            insert.setObject(3, UUID.randomUUID());
                            insert.setString(4, "00");
                            insert.setString(5, "00");
                            insert.setString(6, "person:bench");
                            insert.setString(7, "note");
                            insert.setBytes(8, bodies.get(i));
                            insert.executeUpdate();
                            update.setString(1, "00");
                            update.setLong(2, i);
                            update.setLong(3, i);
                            update.setObject(4, run);
                            update.executeUpdate();
                            connection.commit();
                        }
                    } catch (SQLException e) {
                        throw new IllegalStateException(e);
                    }
                });
            }
        }
    }

    private static double seconds(Runnable work) {
        long start = System.nanoTime();
        work.run();
        return (System.nanoTime() - start) / 1e9;
    }

    private static void starts(String jar, String archive) throws IOException, InterruptedException {
        System.out.println("Server, from the command to the first answer, database running");
        List<Double> cold = new ArrayList<>();
        List<Double> warm = new ArrayList<>();
        for (int i = 0; i < STARTS; i++) {
            cold.add(start(List.of("java", "-Xshare:off", "-jar", jar, "serve")));
            warm.add(start(List.of("java", "-XX:SharedArchiveFile=" + archive, "-jar", jar, "serve")));
        }
        cold.sort(null);
        warm.sort(null);
        line("cold (no class-data archive), median of " + STARTS, figure("%.1f s", cold.get(STARTS / 2)));
        line(
                "warm (with the archive that start makes), median of " + STARTS,
                figure("%.1f s, %.2f of cold", warm.get(STARTS / 2), warm.get(STARTS / 2) / cold.get(STARTS / 2)));
    }

    private static double start(List<String> command) throws IOException, InterruptedException {
        int port;
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        ProcessBuilder builder =
                new ProcessBuilder(command).redirectErrorStream(true).redirectOutput(ProcessBuilder.Redirect.DISCARD);
        builder.environment().put("JURATEST_PORT", String.valueOf(port));
        builder.environment().put("JURATEST_DEMO_FLEET", "");
        long begin = System.nanoTime();
        Process server = builder.start();
        try {
            while (!answers(port)) {
                if (!server.isAlive()) {
                    throw new IOException("the server ended by itself");
                }
                Thread.sleep(20);
            }
            return (System.nanoTime() - begin) / 1e9;
        } finally {
            server.destroyForcibly().onExit().join();
        }
    }

    private static boolean answers(int port) {
        try {
            HttpURLConnection connection = (HttpURLConnection) URI.create("http://127.0.0.1:" + port + "/api/status")
                    .toURL()
                    .openConnection();
            connection.setReadTimeout(5000);
            return connection.getResponseCode() == 200;
        } catch (IOException e) {
            return false;
        }
    }
}
