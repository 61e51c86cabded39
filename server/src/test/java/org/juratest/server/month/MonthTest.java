package org.juratest.server.month;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.time.LocalDate;
import java.time.YearMonth;
import java.time.ZoneId;
import java.util.Map;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.server.InsulationRun;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.databind.JsonNode;

/** The month on one page. */
class MonthTest {

    private static final TestServer SERVER = TestServer.start();
    private static final String STAR = "CBK-1";

    private JdbcTemplate sql;
    private ApiClient tavel;

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    @BeforeEach
    void signIn() {
        sql = SERVER.database().template();
        tavel = SERVER.client("tavel", "rack-rail-16");
    }

    private JsonNode month() {
        return tavel.get("/api/month");
    }

    /** Each thing that happens shows in its figure and its list, and in nothing else. */
    @Test
    void whatHappensInAMonthIsCountedOnceAndListed() {
        JsonNode before = month();
        InsulationRun run = new InsulationRun(SERVER, tavel);
        String failed = run.finished(run.measured(run.opened(), 0.4));
        JsonNode after = month();
        assertEquals(
                before.at("/own/failed").asInt() + 1, after.at("/own/failed").asInt());
        assertEquals(
                before.at("/own/tested").asInt() + 1, after.at("/own/tested").asInt());
        assertEquals(before.at("/own/first").asInt(), after.at("/own/first").asInt());
        JsonNode told = after.path("failed").get(0);
        assertEquals(failed, told.path("record").asString());
        assertTrue(told.path("what").asString().contains("allowed at least"), told.toString());
        assertEquals("open", told.path("since").asString());
        assertTrue(after.path("steps")
                .valueStream()
                .anyMatch(s -> s.path("failed").asInt() >= 1
                        && s.path("failed").asInt() <= s.path("of").asInt()));

        tavel.post(
                "/api/assets/" + STAR + "/events",
                Map.of("kind", "repair", "day", LocalDate.now().toString(), "words", "arc chutes replaced"),
                null);
        tavel.post(
                "/api/assets/" + STAR + "/events",
                Map.of("kind", "failure", "day", LocalDate.now().toString(), "words", "did not trip on a fault"),
                null);
        JsonNode later = month();
        assertEquals(
                after.at("/own/putRight").asInt() + 1, later.at("/own/putRight").asInt());
        assertEquals(
                after.at("/own/inService").asInt() + 1,
                later.at("/own/inService").asInt());
        assertEquals(after.at("/own/failed").asInt(), later.at("/own/failed").asInt());
        assertTrue(later.path("repaired")
                .valueStream()
                .anyMatch(r -> r.path("what").asString().equals("arc chutes replaced")));
        assertEquals("did not trip on a fault", later.at("/inService/0/what").asString());
        JsonNode trends = tavel.get("/api/condition/trends/" + STAR);
        assertTrue(trends.path("marks")
                .valueStream()
                .anyMatch(m -> m.path("kind").asString().equals("failure")));

        String passed = run.finished(run.measured(run.opened(), 900));
        JsonNode since = month();
        assertEquals(
                "passed since: " + passed,
                since.path("failed")
                        .valueStream()
                        .filter(f -> f.path("record").asString().equals(failed))
                        .findFirst()
                        .orElseThrow()
                        .path("since")
                        .asString());
        assertEquals(later.at("/own/first").asInt() + 1, since.at("/own/first").asInt());
    }

    @Test
    void twelveMonthsEndWithTheOneAskedForAndTheirJobsAreThoseOfTheReport() {
        YearMonth last = YearMonth.now().minusMonths(2);
        JsonNode view = tavel.get("/api/month?month=" + last);
        assertEquals(12, view.path("year").size());
        assertEquals(last.toString(), view.at("/year/11/month").asString());
        assertEquals(last.minusMonths(11).toString(), view.at("/year/0/month").asString());
        assertEquals(
                sql.queryForObject(
                        "SELECT count(*) FROM job WHERE status <> 'withdrawn' AND to_char(due, 'YYYY-MM') = ?",
                        Integer.class,
                        last.toString()),
                view.at("/own/due").asInt());
        assertEquals(
                sql.queryForObject(
                        "SELECT count(*) FROM run WHERE status = 'finished' AND finished_at >= ?::date - interval "
                                + "'11 months' AND finished_at < ?::date + interval '1 month'",
                        Integer.class,
                        last.atDay(1).toString(),
                        last.atDay(1).toString()),
                view.path("year")
                        .valueStream()
                        .mapToInt(m -> m.path("tested").asInt())
                        .sum());
    }

    /** Whatever zone server and database have: a figure and its list are of the same hours. */
    @Test
    void whatHappensAtTheTurnOfAMonthIsInOneOfThem() {
        YearMonth month = YearMonth.now().minusMonths(3);
        int before = tavel.get("/api/month?month=" + month).at("/own/inService").asInt();
        int after = tavel.get("/api/month?month=" + month.plusMonths(1))
                .at("/own/inService")
                .asInt();
        for (int minutes : new int[] {-30, 30}) {
            sql.update(
                    "INSERT INTO asset_event (asset, at, kind, words, by) VALUES (?, ?, "
                            + "'failure', 'at midnight', 'oster')",
                    STAR,
                    month.plusMonths(1)
                            .atDay(1)
                            .atStartOfDay(ZoneId.systemDefault())
                            .plusMinutes(minutes)
                            .toOffsetDateTime());
        }
        JsonNode one = tavel.get("/api/month?month=" + month);
        JsonNode next = tavel.get("/api/month?month=" + month.plusMonths(1));
        assertEquals(before + 1, one.at("/own/inService").asInt());
        assertEquals(after + 1, next.at("/own/inService").asInt());
        assertEquals(one.at("/own/inService").asInt(), one.path("inService").size());
        assertEquals(next.at("/own/inService").asInt(), next.path("inService").size());
    }

    @Test
    void itIsOneSheetOfPaperWithTheSameFigures() throws Exception {
        JsonNode view = month();
        try (PDDocument paper = Loader.loadPDF(tavel.bytes("/api/month/paper"))) {
            assertEquals(1, paper.getNumberOfPages());
            String text = new PDFTextStripper().getText(paper);
            assertTrue(text.contains("The fleet in " + view.path("name").asString()), text);
            int settled = view.at("/own/due").asInt() - view.at("/own/ahead").asInt();
            assertTrue(text.contains(view.at("/own/inWindow").asInt() + " of " + settled), text);
        }
    }

    @Test
    void whatIsNoMonthIsRefusedByName() {
        for (String wrong : new String[] {"2026-13", "November", "9999-01", "2026-1"}) {
            assertEquals(
                    "month",
                    problem(409, "unknown-month", () -> tavel.get("/api/month?month=" + wrong))
                            .field());
        }
    }
}
