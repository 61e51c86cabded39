package org.juratest.e2e.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import org.juratest.e2e.Installation;
import org.juratest.server.command.ApiClient;

/** Records where there are many: the page, the list, the report, the export. */
final class RecordBench {

    private static final int RECORDS = 100_000;
    /** Of these with their events, in valid chains; the others are known to lists, context and trends only. */
    private static final int WHOLE = 2_000;

    private static final int ASKED = 400;
    private static final int WARM = 150;
    private static final int REPORTS = 40;
    private static final int EXPORTS = 9;
    private static final long SEED = 4;

    /**
     * Copies the demo's records of breakers, which have most to them: first their rows, then events whose ids, numbers
     * and hashes are made anew.
     */
    private static final String COPY =
            """
      CREATE TABLE copied AS SELECT gen_random_uuid() AS id, r.id AS template, r.record AS old,
          r.position || '/' || (3000 + g) || '/' || extract(year FROM r.finished_at)::int AS number,
            row_number() OVER (ORDER BY g, r.id) AS k
        FROM run r CROSS JOIN generate_series(1, %1$d / (SELECT count(*) FROM run WHERE status = 'finished'
          AND asset LIKE 'CBK-%%') + 1) g
        WHERE r.status = 'finished' AND r.asset LIKE 'CBK-%%';
      DELETE FROM copied WHERE k > %1$d;
      CREATE INDEX ON copied (k);
      INSERT INTO run (id, asset, position, head, count, person_events, status, output_mode, verdict, complete,
        record, opened_at, finished_at, baseline, demo,
          procedure, title, performed_by, sign_off, amended)
        SELECT c.id, asset, position, head, count, person_events, status, output_mode, verdict, complete, c.number,
          opened_at - c.k * interval '1 minute',
          finished_at - c.k * interval '1 minute', false, true, procedure, title, performed_by, sign_off, amended
            FROM copied c JOIN run r ON r.id = c.template;
      INSERT INTO run_point SELECT c.id, p.point, p.series, p.lane, p.label, p.required, p.as_found, p.as_left,
        p.counting, p.unit, p.qualifier, p.verdict,
          p.margin_used, p.low, p.high FROM copied c JOIN run_point p ON p.run = c.template WHERE c.k <= %2$d * 10;
      INSERT INTO run_table SELECT c.id, replace(t.about, c.old, c.number), t.rows
        FROM copied c JOIN run_table t ON t.run = c.template WHERE c.k <= %2$d * 10;
      DO $$ DECLARE c record; e record; before text; new_id uuid; text_body text; bytes bytea; BEGIN
        FOR c IN SELECT * FROM copied WHERE k <= %2$d LOOP
          before := NULL;
          FOR e IN SELECT * FROM event WHERE run = c.template ORDER BY n LOOP
            new_id := gen_random_uuid();
            text_body := replace(replace(replace(convert_from(e.body, 'UTF8'), c.template::text, c.id::text),
              e.id::text, new_id::text),
              '"record":"' || c.old || '"', '"record":"' || c.number || '"');
            IF before IS NOT NULL THEN text_body := replace(text_body, '"prev":"' || e.prev || '"',
              '"prev":"' || before || '"'); END IF;
            bytes := convert_to(text_body, 'UTF8');
            INSERT INTO event VALUES (c.id, e.n, new_id, before, encode(sha256(bytes), 'hex'), e.at, e."by", e.type,
              bytes);
            before := encode(sha256(bytes), 'hex');
          END LOOP;
          UPDATE run SET head = before WHERE id = c.id;
        END LOOP;
      END $$;
      ANALYZE;""";

    private RecordBench() {}

    static void run() throws Exception {
        System.out.println("Records, server side over HTTP, one client");
        Path folder = Files.createTempDirectory("juratest-records");
        try (Installation installation = new Installation(folder, Path.of(""))) {
            installation.startServer();
            try (Connection database = DriverManager.getConnection(
                    installation.database(),
                    System.getenv("JURATEST_DB_USER"),
                    System.getenv("JURATEST_DB_PASSWORD"))) {
                try (Statement copy = database.createStatement()) {
                    copy.execute(COPY.formatted(RECORDS, WHOLE));
                }
                ApiClient api = new ApiClient(installation.address());
                api.signIn("oster", "penstock-42");
                measure(api, database, numbers(database));
            }
        }
    }

    private static List<String> numbers(Connection database) throws SQLException {
        List<String> numbers = new ArrayList<>();
        try (Statement all = database.createStatement();
                ResultSet rows = all.executeQuery("SELECT number FROM copied WHERE k <= " + WHOLE + " ORDER BY k")) {
            while (rows.next()) {
                numbers.add(rows.getString(1));
            }
        }
        return numbers;
    }

    private static void measure(ApiClient api, Connection database, List<String> numbers) throws SQLException {
        Random random = new Random(SEED);
        String broken = api.get("/api/records/" + numbers.get(0))
                .at("/record/chain")
                .path("broken")
                .asString("");
        if (!broken.isEmpty()) {
            throw new IllegalStateException("the copied chains do not hold: " + broken);
        }
        List<Double> page =
                times(ASKED, WARM, i -> api.get("/api/records/" + numbers.get(random.nextInt(numbers.size()))));
        List<Double> bare = times(ASKED, WARM, i -> bodies(database, numbers.get(random.nextInt(numbers.size()))));
        long records = api.get("/api/records?limit=1").path("count").asLong();
        Bench.line(
                "record page, " + records + " records",
                figure(
                        "p50 %.0f ms, p95 %.0f ms; p50 is %.1f x a bare select of its events (%.1f ms)",
                        median(page), p95(page), median(page) / median(bare), median(bare)));
        List<Double> list =
                times(ASKED / 4, 10, i -> api.get("/api/records?site=MFR&verdict=marginal&from=2025-01-01"));
        Bench.line(
                "list of records, narrowed by site, verdict and date",
                figure("p50 %.0f ms, p95 %.0f ms", median(list), p95(list)));
        List<Double> search = times(ASKED / 4, 10, i -> api.get("/api/records?text=CBK-07"));
        Bench.line(
                "list of records, by a part of the position",
                figure("p50 %.0f ms, p95 %.0f ms", median(search), p95(search)));
        List<Double> pdf = times(
                REPORTS,
                REPORTS / 2,
                i -> api.bytes("/api/records/" + numbers.get(random.nextInt(numbers.size())) + "/pdf"));
        Bench.line(
                "report as PDF/A-3 with its record attached",
                figure(
                        "p50 %.0f ms, p95 %.0f ms; p50 is %.1f x the record page",
                        median(pdf), p95(pdf), median(pdf) / median(page)));
        int rows = exported(api, 1);
        List<Double> export = times(EXPORTS, 2, i -> exported(api, 1 + i % 2));
        Bench.line(
                "export of " + rows + " test points as CSV",
                figure("%.0f test points/s", rows / (median(export) / 1e3)));
    }

    /** Rows of a copy of all records of breakers, as a table. */
    private static int exported(ApiClient api, int copy) {
        byte[] table = api.bytes("/api/records/export/csv?text=/" + (3000 + copy) + "/");
        return new String(table, java.nio.charset.StandardCharsets.UTF_8).split("\r\n").length - 1;
    }

    interface Asking {
        void ask(int i) throws SQLException;
    }

    /** Milliseconds of each, ascending, the first few thrown away. */
    static List<Double> times(int count, int warm, Asking asking) throws SQLException {
        List<Double> times = new ArrayList<>();
        for (int i = 0; i < count + warm; i++) {
            long begin = System.nanoTime();
            asking.ask(i);
            if (i >= warm) {
                times.add((System.nanoTime() - begin) / 1e6);
            }
        }
        times.sort(null);
        return times;
    }

    private static void bodies(Connection database, String number) throws SQLException {
        try (PreparedStatement select = database.prepareStatement(
                "SELECT e.body FROM event e JOIN run r ON r.id = e.run WHERE r.record = ? ORDER BY e.n")) {
            select.setString(1, number);
            try (ResultSet rows = select.executeQuery()) {
                while (rows.next()) {
                    rows.getBytes(1);
                }
            }
        }
    }

    static double median(List<Double> sorted) {
        return sorted.get(sorted.size() / 2);
    }

    static double p95(List<Double> sorted) {
        return sorted.get((int) Math.ceil(0.95 * sorted.size()) - 1);
    }

    private static String figure(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }
}
