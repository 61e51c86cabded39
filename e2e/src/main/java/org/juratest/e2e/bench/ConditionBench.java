package org.juratest.e2e.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.UUID;
import java.util.stream.IntStream;
import org.juratest.core.run.Actor;
import org.juratest.core.run.RunState;
import org.juratest.e2e.Installation;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.command.ApiClient;
import org.juratest.server.db.BulkCopy;
import org.juratest.server.db.UuidV7;
import org.juratest.server.run.Tail;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.datasource.SingleConnectionDataSource;

/** The condition of a large fleet: how fast it is loaded, made, and looked at. */
final class ConditionBench {

    private static final int ASSETS = 20_000;
    private static final int POINTS = 5;
    private static final int VISITS = 10;
    private static final int LARGE_POINTS = 20;
    private static final int LARGE_VISITS = 125;
    private static final int ASKED = 60;
    private static final int SHOWN = 20;
    private static final int RAW = 3;
    /** Every so-manieth device has a last record that can be opened. */
    private static final int STEP = 200;

    private static final long SEED = 11;
    private static final Instant BEGIN = Instant.parse("2020-01-01T00:00:00Z");
    /** Share of the time between two visits by which they come late. */
    private static final double SPREAD = 0.3;

    private static final long LONGEST_S = 7200;

    private static final String RUN_COLUMNS = "id, asset, position, status, record, opened_at, finished_at, verdict, "
            + "complete, title, procedure, performed_by, sign_off, demo";
    private static final String POINT_COLUMNS =
            "run, point, series, lane, label, required, as_found, as_left, counting, "
                    + "unit, qualifier, verdict, margin_used, low, high, ideal, scale, uncertainty";
    private static final String RATES =
            """
      SELECT r.asset, v.series, v.lane, regr_slope(v.counting, extract(epoch FROM r.finished_at)) FROM run r
        JOIN run_point v ON v.run = r.id WHERE r.status = 'finished' GROUP BY 1, 2, 3""";

    private ConditionBench() {}

    static void run(boolean large) throws Exception {
        int points = large ? LARGE_POINTS : POINTS;
        int visits = large ? LARGE_VISITS : VISITS;
        System.out.println("Condition of " + ASSETS + " devices, " + figure("%,d", (long) ASSETS * points * visits)
                + " values, server side over HTTP, one client");
        Path folder = Files.createTempDirectory("juratest-condition");
        try (Installation installation = new Installation(folder, Path.of(""))) {
            installation.startServer();
            ApiClient api = new ApiClient(installation.address());
            api.signIn("oster", "penstock-42");
            RegisterBench.store(api, RegisterBench.sheet('S', ASSETS));
            try (Connection database = DriverManager.getConnection(
                    installation.database(),
                    System.getenv("JURATEST_DB_USER"),
                    System.getenv("JURATEST_DB_PASSWORD"))) {
                loaded(database, points, visits);
                made(database, (long) ASSETS * points * visits);
                try (Statement statement = database.createStatement()) {
                    statement.execute("VACUUM ANALYZE");
                }
                looked(api, database);
                shows(api, database);
            }
        }
    }

    private static String figure(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }

    /** A device of the sheet by its number. */
    private static List<String[]> devices(Connection database) throws SQLException {
        List<String[]> devices = new ArrayList<>();
        try (Statement ask = database.createStatement();
                ResultSet rows = ask.executeQuery(
                        "SELECT i.asset, i.position FROM installation i WHERE i.position LIKE 'S%' ORDER BY i.asset")) {
            while (rows.next()) {
                devices.add(new String[] {rows.getString(1), rows.getString(2)});
            }
        }
        return devices;
    }

    /** Where to: tables of runs and of their values. */
    private record Target(String runs, String values) {}

    /**
     * Rows of visits and their values, into some tables, as a file of old records would come: device after device,
     * visit after visit. Gives the seconds it took, of making the rows as well.
     */
    private static double copied(Connection database, List<String[]> devices, int points, int visits, Target target)
            throws SQLException {
        long begin = System.nanoTime();
        database.setAutoCommit(false);
        JdbcTemplate jdbc = new JdbcTemplate(new SingleConnectionDataSource(database, true));
        Random random = new Random(SEED);
        int rows = devices.size() * visits;
        UUID[] ids = new UUID[rows];
        Instant first = Instant.now().minus(Duration.ofDays(3650));
        BulkCopy.rows(
                jdbc,
                target.runs + " (" + RUN_COLUMNS + ")",
                IntStream.range(0, rows).iterator(),
                i -> {
                    String[] device = devices.get(i / visits);
                    int v = i % visits;
                    // One after the other, as ids of records are.
                    UUID id = UuidV7.at(BEGIN.plusMillis(i));
                    ids[i] = id;
                    Instant at =
                            first.plus(Duration.ofDays((long) (3650 * (v + random.nextDouble() * SPREAD) / visits)));
                    return new Object[] {
                        id,
                        device[0],
                        device[1],
                        "finished",
                        device[1] + "/" + (2016 + v) + "/1",
                        at,
                        at,
                        "pass",
                        true,
                        "Yearly test, moulded case",
                        "CBK-YEARLY",
                        "tavel",
                        "reviewed",
                        true
                    };
                },
                done -> {});
        double[][] lines = new double[points][];
        BulkCopy.rows(
                jdbc,
                target.values + " (" + POINT_COLUMNS + ")",
                IntStream.range(0, rows * points).iterator(),
                i -> {
                    int p = i % points;
                    int v = i / points % visits;
                    int d = i / points / visits;
                    if (v == 0) {
                        // One device in twenty drifts to speak of.
                        lines[p] = new double[] {
                            200 + 20 * random.nextGaussian(), (d % 20 == 0 ? 40 : 4) * random.nextDouble() / visits
                        };
                    }
                    double value = lines[p][0] + lines[p][1] * v + random.nextGaussian();
                    return new Object[] {
                        ids[i / points],
                        "contact/r/" + p,
                        "breaker.contact",
                        String.valueOf(p),
                        "Contact resistance, lane " + p,
                        true,
                        value,
                        null,
                        value,
                        "uOhm",
                        "=",
                        "pass",
                        (value - 100) / 200,
                        null,
                        300,
                        100,
                        "linear",
                        1
                    };
                },
                done -> {});
        database.commit();
        database.setAutoCommit(true);
        return (System.nanoTime() - begin) / 1e9;
    }

    private static void loaded(Connection database, int points, int visits) throws SQLException {
        List<String[]> devices = devices(database);
        try (Statement statement = database.createStatement()) {
            statement.execute("CREATE TABLE bare_run AS SELECT " + RUN_COLUMNS + " FROM run WHERE false");
            statement.execute("CREATE TABLE bare_point AS SELECT " + POINT_COLUMNS + " FROM run_point WHERE false");
            double bare = copied(database, devices, points, visits, new Target("bare_run", "bare_point"));
            statement.execute("DROP TABLE bare_run, bare_point");
            double ours = copied(database, devices, points, visits, new Target("run", "run_point"));
            long begin = System.nanoTime();
            statement.execute(
                    "INSERT INTO last_record SELECT DISTINCT ON (asset) asset, id, finished_at, 'sound' FROM run "
                            + "ORDER BY asset, finished_at DESC ON CONFLICT DO NOTHING");
            ours += (System.nanoTime() - begin) / 1e9;
            Bench.line(
                    "load of " + figure("%,d", (long) devices.size() * visits) + " visits with their values",
                    figure(
                            "%.1f s, %.0f values/s, %.2f of the speed of a bare COPY (%.1f s)",
                            ours, (double) devices.size() * points * visits / ours, bare / ours, bare));
        }
    }

    private static long waiting(Connection database) throws SQLException {
        try (Statement ask = database.createStatement();
                ResultSet rows = ask.executeQuery("SELECT count(*) FROM condition_due")) {
            rows.next();
            return rows.getLong(1);
        }
    }

    private static void made(Connection database, long values) throws Exception {
        long begin = System.nanoTime();
        while (waiting(database) > 0) {
            if ((System.nanoTime() - begin) / 1e9 > LONGEST_S) {
                throw new IllegalStateException("the conditions are not made after " + LONGEST_S + " s");
            }
            Thread.sleep(100);
        }
        double taken = (System.nanoTime() - begin) / 1e9;
        Bench.line("conditions of all made by the queue", figure("%.1f s, %.0f values/s", taken, values / taken));
    }

    private static void looked(ApiClient api, Connection database) throws Exception {
        List<String[]> devices = devices(database);
        Random random = new Random(SEED);
        opened(database, devices);
        List<Double> rates = RecordBench.times(RAW, 1, i -> {
            try (Statement ask = database.createStatement();
                    ResultSet rows = ask.executeQuery(RATES)) {
                rows.next();
            }
        });
        List<Double> map = RecordBench.times(ASKED, 20, i -> api.bytes("/api/condition"));
        Bench.line(
                "drift map of all",
                figure(
                        "p50 %.0f ms, p95 %.0f ms; %.0f x as fast as regr_slope over the raw rows (%.0f ms)",
                        RecordBench.median(map),
                        RecordBench.p95(map),
                        RecordBench.median(rates) / RecordBench.median(map),
                        RecordBench.median(rates)));
        asked("drift map of a site", i -> api.bytes("/api/condition?site=" + figure("S%03d", random.nextInt(200))));
        asked(
                "list of a region",
                i -> api.bytes("/api/condition/devices?marginFrom=0.7&marginTo=1&driftFrom=0.01&driftTo=1"));
        asked(
                "what a region shares",
                i -> api.bytes("/api/condition/shared?marginFrom=0.7&marginTo=1&driftFrom=0.01&driftTo=1"));
        asked(
                "trends of a device",
                i -> api.bytes("/api/condition/trends/" + devices.get(sampled(random, devices.size()))[0]));
        asked("page of a device", i -> api.bytes("/api/assets/" + devices.get(sampled(random, devices.size()))[0]));
        asked("the month on one page", i -> api.bytes("/api/month"));
    }

    private static int sampled(Random random, int devices) {
        return random.nextInt(devices / STEP) * STEP;
    }

    private static void opened(Connection database, List<String[]> devices) throws SQLException {
        try (PreparedStatement insert = database.prepareStatement(
                "INSERT INTO event (run, n, id, prev, hash, at, by, type, body) SELECT run, 0, ?, NULL, '00', now(), "
                        + "'person:bench', 'opened', ? FROM last_record WHERE asset = ?")) {
            for (int d = 0; d < devices.size(); d += STEP) {
                SampleRun sample = new SampleRun();
                Tail tail = new Tail(UUID.randomUUID(), RunState.EMPTY, null, "bench");
                tail.add(Actor.person("bench"), sample.opened(), Instant.now());
                insert.setObject(1, UUID.randomUUID());
                insert.setBytes(2, EventCodec.write(tail.state().events().get(0)));
                insert.setString(3, devices.get(d)[0]);
                insert.executeUpdate();
            }
        }
        try (Statement count = database.createStatement()) {
            count.execute("UPDATE run r SET count = 1, head = '00' FROM event e WHERE e.run = r.id AND e.by = "
                    + "'person:bench'");
        }
    }

    private static void asked(String what, RecordBench.Asking asking) throws SQLException {
        List<Double> times = RecordBench.times(ASKED, 15, asking);
        Bench.line(what, figure("p50 %.0f ms, p95 %.0f ms", RecordBench.median(times), RecordBench.p95(times)));
    }

    /** From the commit of a record to its device's mark. */
    private static void shows(ApiClient api, Connection database) throws Exception {
        List<String[]> devices = devices(database);
        List<Double> times = RecordBench.times(SHOWN, 3, i -> {
            UUID run = UUID.randomUUID();
            String[] device = devices.get(7 * (i + 1));
            database.setAutoCommit(false);
            try (Statement add = database.createStatement()) {
                add.execute(
                        "INSERT INTO run (" + RUN_COLUMNS + ") SELECT '" + run + "', asset, position, status, record "
                                + "|| 'x', now(), now(), verdict, complete, title, procedure, "
                                + "performed_by, sign_off, demo "
                                + "FROM "
                                + "run WHERE id = (SELECT run FROM last_record WHERE asset = '" + device[0] + "')");
                add.execute("INSERT INTO run_point (" + POINT_COLUMNS + ") SELECT '" + run
                        + "', point, series, lane, label, required, as_found, as_left, counting, unit, qualifier, "
                        + "verdict, margin_used, low, high, ideal, scale, uncertainty FROM run_point "
                        + "WHERE run = (SELECT run "
                        + "FROM last_record WHERE asset = '" + device[0] + "')");
                add.execute("UPDATE last_record SET run = '" + run + "', at = now() WHERE asset = '" + device[0] + "'");
            }
            database.commit();
            database.setAutoCommit(true);
            try (PreparedStatement ask = database.prepareStatement("SELECT run FROM asset_state WHERE asset = ?")) {
                ask.setString(1, device[0]);
                while (true) {
                    try (ResultSet rows = ask.executeQuery()) {
                        if (rows.next() && run.equals(rows.getObject(1, UUID.class))) {
                            break;
                        }
                    }
                    Thread.onSpinWait();
                }
            }
            api.bytes("/api/condition?site=" + device[1].substring(0, 4));
        });
        Bench.line(
                "a new record until its mark is there, map of its site fetched",
                figure("p50 %.0f ms, p95 %.0f ms", RecordBench.median(times), RecordBench.p95(times)));
    }
}
