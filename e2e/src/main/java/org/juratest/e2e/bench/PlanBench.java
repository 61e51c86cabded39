package org.juratest.e2e.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import org.juratest.e2e.Installation;
import org.juratest.server.command.ApiClient;

/**
 * The plan where there is much of it: jobs laid ahead, laid again where nothing changes, and the screen that shows
 * them.
 */
final class PlanBench {

    private static final int ASSETS = 20_000;
    private static final int PLANS = 3;
    private static final int ASKED = 60;

    /** Devices of a class of their own at 200 sites, installed over five years. */
    private static final String FLEET =
            """
      INSERT INTO asset_class (code, family, title, nameplate_schema, mark) SELECT 'bench', 'networks', 'Bench',
        nameplate_schema, 'BEN' FROM asset_class WHERE code = 'switch';
      INSERT INTO site (code, name, km, altitude, zone) SELECT 'B' || to_char(n, 'FM000'), 'Site ' || n, n, 0, 'CET'
        FROM generate_series(1, 200) n;
      INSERT INTO position (code, site, family) SELECT 'BEN-' || n, 'B' || to_char(1 + n %% 200, 'FM000'), 'networks'
        FROM generate_series(1, %1$d) n;
      INSERT INTO asset (id, class, maker, model, serial, nameplate) SELECT 'BN-' || n, 'bench', 'Ulmeric', 'B',
        n::text, '{}' FROM generate_series(1, %1$d) n;
      INSERT INTO plan (title, procedure, occasion, class, every, amount, counting, before, after, starts, reason,
        lead_days, authorisation)
        SELECT 'Bench ' || months, procedure, 'interval', 'bench', 'months', months, 'due', 'P14D', 'P14D',
          current_date, 'risk', 14, 'protection'
        FROM (VALUES (3, 'SWI-YEARLY'), (12, 'WAP-YEARLY'), (60, 'CBK-YEARLY')) v(months, procedure);""";

    private static final String INSTALLED =
            "INSERT INTO installation (asset, position, during) SELECT 'BN-' || n, 'BEN-' || n, tstzrange(now() "
                    + "- n * interval '2 hours' - interval '100 days', NULL) FROM generate_series(1, %d) n";

    private PlanBench() {}

    static void run() throws Exception {
        System.out.println("Plan, server side, one client");
        Path folder = Files.createTempDirectory("juratest-plan");
        try (Installation installation = new Installation(folder, Path.of(""))) {
            installation.startServer();
            ApiClient api = new ApiClient(installation.address());
            api.signIn("oster", "penstock-42");
            try (Connection database = DriverManager.getConnection(
                            installation.database(),
                            System.getenv("JURATEST_DB_USER"),
                            System.getenv("JURATEST_DB_PASSWORD"));
                    Statement sql = database.createStatement()) {
                sql.execute(FLEET.formatted(ASSETS));
                sql.execute(INSTALLED.formatted(ASSETS));
                double laid = laid(sql);
                long jobs = number(sql, "SELECT count(*) FROM job WHERE asset LIKE 'BN-%'");
                double plain = plain(sql);
                Bench.line(
                        "horizon of " + ASSETS + " assets x " + PLANS + " plans, " + jobs
                                + " jobs laid for the first time",
                        figure(
                                "%.1f s, %.0f assets/s, %.1f x a plain insert of the same rows (%.2f s)",
                                laid, ASSETS / laid, laid / plain, plain));
                sql.execute("VACUUM ANALYZE");
                sql.execute("UPDATE horizon SET again_at = '-infinity' WHERE asset LIKE 'BN-%'");
                double again = laid(sql);
                Bench.line(
                        "the same on the next day, nothing to change",
                        figure("%.1f s, %.0f assets/s", again, ASSETS / again));
                asked(api, database, jobs);
            }
        }
    }

    private static String figure(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }

    private static long number(Statement sql, String query) throws SQLException {
        try (ResultSet rs = sql.executeQuery(query)) {
            rs.next();
            return rs.getLong(1);
        }
    }

    /** Seconds from when the server begins to when it has laid all; it looks every two seconds. */
    private static double laid(Statement sql) throws SQLException, InterruptedException {
        String left = "SELECT count(*) FROM horizon WHERE again_at <= now()";
        while (number(sql, left) == ASSETS) {
            Thread.sleep(10);
        }
        // The first claim was made a moment before it was seen.
        long begin = System.nanoTime();
        long first = ASSETS - number(sql, left);
        while (number(sql, left) > 0) {
            Thread.sleep(20);
        }
        double rest = (System.nanoTime() - begin) / 1e9;
        return rest * ASSETS / Math.max(1, ASSETS - first);
    }

    private static double plain(Statement sql) throws SQLException {
        sql.execute("DROP TABLE IF EXISTS plain_job");
        sql.execute("CREATE TABLE plain_job (LIKE job INCLUDING ALL)");
        long begin = System.nanoTime();
        sql.execute("INSERT INTO plain_job OVERRIDING SYSTEM VALUE SELECT * FROM job WHERE asset LIKE 'BN-%'");
        return (System.nanoTime() - begin) / 1e9;
    }

    private static void asked(ApiClient api, Connection database, long jobs) throws SQLException {
        List<Double> bare = RecordBench.times(ASKED, 10, i -> {
            try (Statement look = database.createStatement();
                    ResultSet rows = look.executeQuery(
                            "SELECT count(*), sum(minutes) FROM job WHERE status IN ('open', 'running', 'partly "
                                    + "done')")) {
                rows.next();
            }
        });
        LocalDate today =
                LocalDate.parse(api.get("/api/plan/load").path("today").asString());
        line(
                "plan screen: load of 26 weeks by person and site",
                RecordBench.times(ASKED, 10, i -> api.get("/api/plan/load")),
                bare,
                jobs);
        line(
                "plan screen: jobs of a week with what they lack",
                RecordBench.times(ASKED, 10, i -> api.get("/api/plan/jobs?when=" + today.plusWeeks(i % 26))),
                bare,
                jobs);
        line(
                "what can be put on a day",
                RecordBench.times(ASKED, 10, i -> api.get("/api/rounds/tavel/" + today.plusDays(i % 20) + "/free")),
                bare,
                jobs);
        line("a round", RecordBench.times(ASKED, 10, i -> api.get("/api/rounds/tavel/" + today)), bare, jobs);
        line(
                "due and done over a year",
                RecordBench.times(
                        10,
                        3,
                        i -> api.get("/api/compliance?by=quarter&from=" + today.minusYears(1) + "&to="
                                + today.plusMonths(6))),
                bare,
                jobs);
    }

    private static void line(String what, List<Double> times, List<Double> bare, long jobs) {
        Bench.line(
                what + ", " + jobs + " open jobs",
                figure(
                        "p50 %.0f ms, p95 %.0f ms; p50 is %.1f x a bare count of open jobs (%.1f ms)",
                        RecordBench.median(times),
                        RecordBench.p95(times),
                        RecordBench.median(times) / RecordBench.median(bare),
                        RecordBench.median(bare)));
    }
}
