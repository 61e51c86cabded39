package org.juratest.e2e.bench;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import org.juratest.e2e.Installation;
import org.juratest.server.command.ApiClient;
import org.postgresql.PGConnection;
import tools.jackson.databind.JsonNode;

/** The register where there is much of it: tables brought in and handed out, the filter, the search. */
final class RegisterBench {

    private static final int ASSETS = 20_000;
    private static final int ROWS = 50_000;
    private static final int SITES = 200;
    private static final int RECORDS_EACH = 5;
    private static final int ASKED = 60;
    private static final long SEED = 5;
    private static final List<String> MODELS = List.of("M160", "M250", "E250", "E630", "X90");
    private static final List<String> MAKERS = List.of("Orvex", "Halmic", "Brennach", "Toldane");

    /** Five finished tests a device, known to lists and searches; no events. */
    private static final String RECORDS =
            """
      INSERT INTO run (id, asset, position, status, record, finished_at, verdict, complete, title, procedure,
        performed_by, sign_off, demo)
        SELECT gen_random_uuid(), i.asset, i.position, 'finished', i.position || '/' || (2020 + g) || '/1',
          timestamptz '2020-06-01' + g * interval '1 year' + random() * interval '100 days',
          'pass', true, 'Yearly test, moulded case', 'CBK-YEARLY', 'tavel', 'reviewed', true
        FROM installation i, generate_series(1, %d) g WHERE i.position LIKE 'S%%';
      INSERT INTO last_record SELECT DISTINCT ON (asset) asset, id, finished_at, 'sound' FROM run ORDER BY asset,
        finished_at DESC ON CONFLICT DO NOTHING;""";

    private RegisterBench() {}

    static void run() throws Exception {
        System.out.println("Register, server side over HTTP, one client");
        Path folder = Files.createTempDirectory("juratest-register");
        try (Installation installation = new Installation(folder, Path.of(""))) {
            installation.startServer();
            ApiClient api = new ApiClient(installation.address());
            api.signIn("oster", "penstock-42");
            store(api, sheet('S', ASSETS));
            try (Connection database = DriverManager.getConnection(
                            installation.database(),
                            System.getenv("JURATEST_DB_USER"),
                            System.getenv("JURATEST_DB_PASSWORD"));
                    Statement records = database.createStatement()) {
                records.execute(RECORDS.formatted(RECORDS_EACH));
                // As the database does by itself a while later; not in the middle of what is measured.
                records.execute("VACUUM ANALYZE");
                asked(api, database);
                tables(api, database);
            }
        }
    }

    private static String figure(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }

    /** A table of breakers, a site for every hundred or so. */
    static byte[] sheet(char letter, int rows) {
        StringBuilder sheet =
                new StringBuilder("site,site.name,site.km,position,position.title,asset,class,maker,model,serial,since,"
                        + "plate.poles,plate.ratedCurrent,plate.ratedVoltage,plate.longTimeSetting\n");
        for (int i = 0; i < rows; i++) {
            int site = i % SITES;
            sheet.append(figure(
                    "%c%03d,\"Site, number %d\",%.1f,%c%03d-CBK-%03d,Feeder "
                            + "%d,%c-%06d,lv-breaker,%s,%s,%c%d-%05d,2024-03-01,3,160,400,100%n",
                    letter,
                    site,
                    site,
                    site * 0.5,
                    letter,
                    site,
                    i / SITES + 1,
                    i / SITES + 1,
                    letter,
                    i,
                    MAKERS.get(i % MAKERS.size()),
                    MODELS.get(i % MODELS.size()),
                    letter,
                    i % 97,
                    i));
        }
        return sheet.toString().getBytes(StandardCharsets.UTF_8);
    }

    static JsonNode store(ApiClient api, byte[] sheet) {
        String id = api.postPatiently("/api/register/imports?name=bench.csv", sheet)
                .path("id")
                .asString();
        JsonNode result = api.told("/api/register/imports/" + id + "/store", p -> {});
        if (!result.path("stored").asBoolean()) {
            throw new IllegalStateException(
                    "the table was not stored: " + result.path("problems").path(0));
        }
        return result;
    }

    private static void asked(ApiClient api, Connection database) throws SQLException {
        Random random = new Random(SEED);
        List<Double> bare = RecordBench.times(ASKED, 10, i -> {
            try (Statement look = database.createStatement();
                    ResultSet rows = look.executeQuery("SELECT count(*) FROM asset WHERE search LIKE '%m160%'")) {
                rows.next();
            }
        });
        line("tree of sites with marks", RecordBench.times(ASKED, 20, i -> api.get("/api/register")), bare);
        line(
                "filter as one types, 2 words over all columns",
                RecordBench.times(
                        ASKED,
                        20,
                        i -> api.get("/api/register/find?text=m160%20s" + figure("%03d", random.nextInt(SITES)))),
                bare);
        line(
                "search by a part of a serial",
                RecordBench.times(
                        ASKED, 20, i -> api.get("/api/search?text=-" + figure("%05d", random.nextInt(ASSETS)))),
                bare);
        line(
                "search by a part of a position",
                RecordBench.times(
                        ASKED,
                        20,
                        i -> api.get("/api/search?text="
                                + figure("%03d-cbk-%03d", random.nextInt(SITES), 1 + random.nextInt(90)))),
                bare);
        line(
                "search by words of place and device",
                RecordBench.times(
                        ASKED, 20, i -> api.get("/api/search?text=number%20" + random.nextInt(SITES) + "%20e630")),
                bare);
        line(
                "search with a typo in it",
                RecordBench.times(
                        ASKED,
                        20,
                        i -> api.get("/api/search?text="
                                + figure("s%03d-cbk-O%02d", random.nextInt(SITES), 1 + random.nextInt(90)))),
                bare);
    }

    private static void line(String what, List<Double> times, List<Double> bare) {
        Bench.line(
                what + ", " + ASSETS + " assets, " + ASSETS * RECORDS_EACH + " records",
                figure(
                        "p50 %.0f ms, p95 %.0f ms; p50 is %.1f x a bare look through all devices (%.1f ms)",
                        RecordBench.median(times),
                        RecordBench.p95(times),
                        RecordBench.median(times) / RecordBench.median(bare),
                        RecordBench.median(bare)));
    }

    private static void tables(ApiClient api, Connection database) throws Exception {
        byte[] sheet = sheet('T', ROWS);
        long begin = System.nanoTime();
        String id = api.postPatiently("/api/register/imports?name=bench.csv", sheet)
                .path("id")
                .asString();
        double taken = (System.nanoTime() - begin) / 1e9;
        begin = System.nanoTime();
        JsonNode result = api.told("/api/register/imports/" + id + "/store", p -> {});
        double stored = (System.nanoTime() - begin) / 1e9;
        if (!result.path("stored").asBoolean()) {
            throw new IllegalStateException(
                    "the table was not stored: " + result.path("problems").path(0));
        }
        Bench.line(
                "import of " + ROWS + " rows, all new: taken, then checked and stored",
                figure(
                        "%.1f s + %.1f s, %.1f x a plain COPY of the same bytes (%.2f s)",
                        taken, stored, (taken + stored) / plain(database, sheet), plain(database, sheet)));
        begin = System.nanoTime();
        byte[] out = api.bytes("/api/register/export");
        double written = (System.nanoTime() - begin) / 1e9;
        begin = System.nanoTime();
        store(api, out);
        Bench.line(
                "export of everything, and back in unchanged",
                figure(
                        "%.1f s out (%.0f rows/s), %.1f s in",
                        written, (ROWS + ASSETS) / written, (System.nanoTime() - begin) / 1e9));
        begin = System.nanoTime();
        api.postPatiently("/api/register/acts/" + result.path("act").asLong() + "/undo", java.util.Map.of());
        Bench.line("undo of the import", figure("%.1f s", (System.nanoTime() - begin) / 1e9));
    }

    /** The least there is to do with such a table: its bytes into one table of texts. */
    private static double plain(Connection database, byte[] sheet) throws Exception {
        try (Statement table = database.createStatement()) {
            table.execute("DROP TABLE IF EXISTS plain_copy");
            table.execute("CREATE TABLE plain_copy (a text, b text, c text, d text, e text, f text, g text, h text, i "
                    + "text, j text, k text, l text, m text, n text, o text)");
            long begin = System.nanoTime();
            database.unwrap(PGConnection.class)
                    .getCopyAPI()
                    .copyIn("COPY plain_copy FROM STDIN (FORMAT csv, HEADER)", new java.io.ByteArrayInputStream(sheet));
            return (System.nanoTime() - begin) / 1e9;
        }
    }
}
