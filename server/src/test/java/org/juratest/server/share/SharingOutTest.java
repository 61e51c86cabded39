package org.juratest.server.share;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.LocalDate;
import java.time.temporal.TemporalAdjusters;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.databind.JsonNode;

/** Proposals and moves over HTTP, with a second process where it matters. */
class SharingOutTest {

    private static final TestServer SERVER = TestServer.start();
    private final ApiClient tavel = SERVER.client("tavel", "rack-rail-16");
    private final ApiClient oster = SERVER.client("oster", "penstock-42");
    private final JdbcTemplate sql = SERVER.database().template();
    private final LocalDate today =
            LocalDate.parse(tavel.get("/api/round").path("today").asString());
    /** The first Monday of what a proposal of two weeks covers. */
    private final LocalDate monday = today.with(TemporalAdjusters.next(DayOfWeek.MONDAY));

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    /** Only the jobs of a test are there. */
    @BeforeEach
    void nothingElse() {
        sql.update("UPDATE proposal SET status = 'thrown away'");
        sql.update("UPDATE job SET status = 'withdrawn' WHERE status IN ('open', 'partly done')");
        sql.update("DELETE FROM absence");
        sql.update("DELETE FROM outage");
    }

    private long job(String asset, int minutes, LocalDate opens, LocalDate due, LocalDate closes) {
        Long id = sql.queryForObject(
                "INSERT INTO job (asset, position, procedure, reason, opens, due, closes, minutes, occasion) "
                        + "SELECT ?, position, 'CBK-YEARLY', 'by hand', ?, ?, ?, ?, ? FROM installation "
                        + "WHERE asset = ? "
                        + "AND upper_inf(during) RETURNING id",
                Long.class,
                asset,
                opens,
                due,
                closes,
                minutes,
                "test " + System.nanoTime(),
                asset);
        return id == null ? 0 : id;
    }

    private static Map<String, Object> day(LocalDate day, String person, LocalDate wasDay, String wasPerson) {
        Map<String, Object> body = new HashMap<>();
        body.put("day", day == null ? null : day.toString());
        body.put("person", person);
        body.put("wasDay", wasDay == null ? null : wasDay.toString());
        body.put("wasPerson", wasPerson);
        return body;
    }

    private JsonNode ready(ApiClient client, int weeks) {
        JsonNode asked = client.post("/api/plan/proposals", Map.of("weeks", weeks), null);
        // A small one may be ready before its asking is answered.
        assertTrue(asked.path("id").asLong() > 0, asked.toString());
        return await().atMost(Duration.ofMinutes(2))
                .until(
                        () -> oster.get("/api/plan/proposals/current").path("proposal"),
                        p -> p.path("id").asLong() == asked.path("id").asLong()
                                && !p.path("status").asString().equals("working"));
    }

    private static JsonNode line(JsonNode proposal, long job) {
        return proposal.path("lines")
                .valueStream()
                .filter(l -> l.path("job").asLong() == job)
                .findFirst()
                .orElseThrow(() -> new AssertionError("no line of " + job + " in " + proposal));
    }

    private JsonNode now(long job) {
        return tavel.get("/api/jobs/" + job);
    }

    @Test
    void aProposalIsMadeSeenTakenUpInPartAndUndoneAsOne() {
        long fixed = job("CBK-1", 60, today, monday.plusDays(2), monday.plusDays(4));
        long beside = job("CBK-2", 60, today, monday.plusDays(2), monday.plusDays(4));
        long late = job("CBK-3", 60, today.minusDays(60), today.minusDays(40), today.minusDays(20));
        long never = job("CBK-3", 600, today, monday.plusDays(2), monday.plusDays(4));
        oster.put("/api/jobs/" + fixed + "/day", day(monday.plusDays(2), "tavel", null, null));

        JsonNode proposal = ready(oster, 2);
        assertEquals("ready", proposal.path("status").asString(), proposal.toString());
        assertEquals(today.plusDays(1).toString(), proposal.path("first").asString());
        assertEquals(today.plusDays(14).toString(), proposal.path("last").asString());
        assertEquals("fixed", line(proposal, fixed).path("state").asString());
        assertEquals(
                List.of("beside MFR-CBK-07"),
                line(proposal, beside)
                        .path("reasons")
                        .valueStream()
                        .map(JsonNode::asString)
                        .filter(r -> r.startsWith("beside"))
                        .toList());
        assertEquals("open", line(proposal, late).path("state").asString());
        assertTrue(line(proposal, late).path("reasons").toString().contains("40 days over"), proposal.toString());
        JsonNode left = proposal.path("left").get(0);
        assertEquals(never, left.path("job").asLong());
        assertTrue(left.path("words").toString().contains("nobody has 600 min"), left.toString());
        assertFalse(now(beside).path("plannedFor").isTextual(), "nothing moves before somebody takes it up");

        // By job: the other stays as it is.
        long id = proposal.path("id").asLong();
        JsonNode taken = oster.post("/api/plan/proposals/" + id + "/taken", Map.of("jobs", List.of(beside)), null);
        assertEquals(1, taken.path("taken").asInt(), taken.toString());
        assertEquals(
                line(proposal, beside).path("day").asString(),
                now(beside).path("plannedFor").asString());
        assertFalse(now(late).path("plannedFor").isTextual());
        JsonNode after = oster.get("/api/plan/proposals/current").path("proposal");
        assertEquals("taken", line(after, beside).path("state").asString());
        assertEquals("open", line(after, late).path("state").asString());

        // What somebody decides otherwise about in the meantime stays as they decided.
        tavel.put("/api/jobs/" + late + "/day", day(today, "tavel", null, null));
        taken = oster.post("/api/plan/proposals/" + id + "/taken", Map.of("jobs", List.of(late, fixed)), null);
        assertEquals(0, taken.path("taken").asInt());
        assertEquals(2, taken.path("left").size(), taken.toString());
        assertEquals(today.toString(), now(late).path("plannedFor").asString());

        // Undone as one, and only once.
        JsonNode act = oster.get("/api/jobs/moves?by=oster").get(0);
        assertEquals("MFR-CBK-08 taken up from the proposal", act.path("words").asString());
        problem(403, "not-allowed", () -> SERVER.client("corvise", "ledger-stone-12")
                .post("/api/jobs/moves/" + act.path("id").asLong() + "/undo", Map.of(), null));
        oster.post("/api/jobs/moves/" + act.path("id").asLong() + "/undo", Map.of(), null);
        assertFalse(now(beside).path("plannedFor").isTextual());
        problem(
                409,
                "undone-already",
                () -> oster.post("/api/jobs/moves/" + act.path("id").asLong() + "/undo", Map.of(), null));
    }

    /** What was taken up may move with the next proposal; what a person fixed, or let stay, does not. */
    @Test
    void whatWasTakenUpMayMoveAndWhatWasFixedStays() {
        long loose = job("CBK-1", 60, today, monday.plusDays(9), monday.plusDays(9));
        JsonNode first = ready(oster, 2);
        LocalDate proposed = LocalDate.parse(line(first, loose).path("day").asString());
        oster.post("/api/plan/proposals/" + first.path("id").asLong() + "/taken", Map.of("jobs", List.of(loose)), null);
        assertFalse(oster.get("/api/plan/jobs/" + loose).path("fixed").asBoolean());
        // That day is no day any more.
        sql.update(
                "INSERT INTO absence (person, from_day, to_day, why) SELECT id, ?, ?, 'course' FROM person",
                proposed,
                proposed);
        JsonNode second = ready(oster, 2);
        assertFalse(line(second, loose).path("day").asString().equals(proposed.toString()), second.toString());
        assertEquals(proposed.toString(), line(second, loose).path("wasDay").asString());

        oster.put("/api/jobs/" + loose + "/fixed", Map.of("fixed", true));
        assertTrue(oster.get("/api/plan/jobs/" + loose).path("fixed").asBoolean());
        JsonNode third = ready(oster, 2);
        assertEquals("fixed", line(third, loose).path("state").asString());
        assertEquals(proposed.toString(), line(third, loose).path("day").asString());
        problem(409, "not-planned", () -> {
            long free = job("CBK-2", 30, today, monday, monday);
            oster.put("/api/jobs/" + free + "/fixed", Map.of("fixed", true));
        });
    }

    @Test
    void anotherProcessSeesItStopsItAndOneIsWorkedOnAtATime() {
        for (int i = 0; i < 150; i++) {
            job("CBK-" + (1 + i % 3), 20 + i % 40, today, monday.plusDays(i % 50), monday.plusDays(i % 50 + 4));
        }
        try (TestServer other = SERVER.another()) {
            ApiClient there = other.client("oster", "penstock-42");
            JsonNode asked = oster.post("/api/plan/proposals", Map.of("weeks", 8), null);
            long id = asked.path("id").asLong();
            problem(409, "being-worked-on", () -> there.post("/api/plan/proposals", Map.of("weeks", 1), null));
            problem(
                    409,
                    "not-ready",
                    () -> there.post("/api/plan/proposals/" + id + "/taken", Map.of("jobs", List.of(1)), null));
            await().atMost(Duration.ofMinutes(2)).until(() -> {
                JsonNode seen = there.get("/api/plan/proposals/current").path("proposal");
                return seen.path("asked").asInt() >= 150 && seen.path("placed").asInt() > 20;
            });
            there.post("/api/plan/proposals/" + id + "/stop", Map.of(), null);
            JsonNode stopped = await().atMost(Duration.ofMinutes(2))
                    .until(
                            () -> there.get("/api/plan/proposals/current").path("proposal"),
                            p -> p.path("status").asString().equals("ready"));
            assertTrue(stopped.path("placed").asInt() > 20, "the best so far");
            // By week: all of one week's lines.
            String week = stopped.path("lines").get(0).path("day").asString();
            List<Long> jobs = stopped.path("lines")
                    .valueStream()
                    .filter(l -> l.path("day").asString().equals(week))
                    .map(l -> l.path("job").asLong())
                    .toList();
            JsonNode taken = there.post("/api/plan/proposals/" + id + "/taken", Map.of("jobs", jobs), null);
            assertEquals(jobs.size(), taken.path("taken").asInt(), taken.toString());
            assertEquals(
                    (long) jobs.size(),
                    sql.queryForObject(
                            "SELECT count(*) FROM job WHERE planned_for = CAST(? AS date)", Long.class, week));
            there.delete("/api/plan/proposals/" + id);
            assertFalse(
                    oster.get("/api/plan/proposals/current").path("proposal").isObject());
        }
    }

    /** A process that died leaves a proposal that came to nothing, and the next one can be asked for. */
    @Test
    void aSilentProcessHoldsNothingUp() {
        sql.update("INSERT INTO proposal (by, at, first_day, days, status, beat) VALUES ('oster', now(), current_date, "
                + "7, 'working', now() - interval '1 minute')");
        JsonNode current = oster.get("/api/plan/proposals/current").path("proposal");
        assertEquals("failed", current.path("status").asString());
        assertEquals("The server that worked on it ended.", current.path("why").asString());
        assertEquals("ready", ready(oster, 1).path("status").asString());
    }

    @Test
    void whatMakesNoSenseIsRefused() {
        problem(409, "out-of-range", () -> oster.post("/api/plan/proposals", Map.of("weeks", 0), null));
        problem(409, "out-of-range", () -> oster.post("/api/plan/proposals", Map.of("weeks", 9), null));
        problem(403, "not-allowed", () -> tavel.post("/api/plan/proposals", Map.of("weeks", 2), null));
        problem(
                404,
                "unknown-proposal",
                () -> oster.post("/api/plan/proposals/999999/taken", Map.of("jobs", List.of(1)), null));
        JsonNode proposal = ready(oster, 1);
        long id = proposal.path("id").asLong();
        problem(
                409,
                "unknown-job",
                () -> oster.post("/api/plan/proposals/" + id + "/taken", Map.of("jobs", List.of(-1)), null));
        problem(
                409,
                "no-jobs",
                () -> oster.post("/api/plan/proposals/" + id + "/taken", Map.of("jobs", List.of()), null));
    }

    /** Bodies that lack what they are to hold are refused with words; none ends in a fault of the program. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "/api/jobs/moves | {}",
                "/api/jobs/moves | {\"moves\": null}",
                "/api/jobs/moves | {\"moves\": [null]}",
                "/api/jobs/moves | {\"moves\": [{\"job\": 1}]}",
                "/api/jobs/moves | {\"moves\": [{\"job\": 999999, \"to\": {}}]}",
                "/api/plan/proposals | {}",
                "/api/plan/proposals | {\"weeks\": 1e300}",
                "/api/plan/proposals/1/taken | {}",
                "/api/plan/proposals/1/taken | {\"jobs\": [null]}",
                "/api/rounds/tavel/2030-01-07/jobs | {\"jobs\": [null]}",
                "/api/jobs/moves/0/undo | {}"
            })
    void whatIsLackingIsRefused(String address, String body) {
        ProblemException refused = assertThrows(
                ProblemException.class,
                () -> oster.post(address, body.getBytes(java.nio.charset.StandardCharsets.UTF_8), null));
        assertTrue(refused.status() >= 400 && refused.status() < 500, refused.status() + " " + refused.getMessage());
        if (body.contains("[null]")) {
            assertEquals("cannot-be-read", refused.type());
            assertTrue(refused.getMessage().contains("one of its elements is empty"), refused.getMessage());
            assertTrue(
                    refused.getMessage().contains("at " + body.substring(2, body.indexOf('"', 2))),
                    refused.getMessage());
        }
    }

    /** Several put on a day in one go come off it in one go, and an order by hand is given back. */
    @Test
    void movesOfARoundAreUndoneAsOne() {
        long one = job("CBK-1", 30, today, monday, monday);
        long two = job("CBK-2", 30, today, monday, monday);
        String address = "/api/rounds/tavel/" + monday;
        tavel.post(address + "/jobs", Map.of("jobs", List.of(one, two)), null);
        tavel.put(address + "/order", Map.of("jobs", List.of(two, one)));
        JsonNode acts = tavel.get("/api/jobs/moves?by=tavel");
        assertTrue(acts.get(0).path("words").asString().startsWith("Ordered by hand"), acts.toString());
        assertTrue(acts.get(1).path("words").asString().startsWith("2 jobs put on"), acts.toString());
        tavel.post("/api/jobs/moves/" + acts.get(0).path("id").asLong() + "/undo", Map.of(), null);
        assertFalse(tavel.get(address).path("ordered").asBoolean());
        // One of the two was moved since: it stays, and is told.
        tavel.put("/api/jobs/" + two + "/day", day(null, null, monday, "tavel"));
        JsonNode undone = tavel.post("/api/jobs/moves/" + acts.get(1).path("id").asLong() + "/undo", Map.of(), null);
        assertEquals("MFR-CBK-08 was moved since", undone.path("left").get(0).asString());
        assertFalse(now(one).path("plannedFor").isTextual());
        // Nothing of it can be undone: said, and it is not counted as undone.
        JsonNode off = tavel.get("/api/jobs/moves?by=tavel").get(0);
        tavel.put("/api/jobs/" + two + "/day", day(today, "tavel", null, null));
        problem(
                409,
                "changed-meanwhile",
                () -> tavel.post("/api/jobs/moves/" + off.path("id").asLong() + "/undo", Map.of(), null));
        assertFalse(tavel.get("/api/jobs/moves?by=tavel").get(1).path("undone").asBoolean());
    }

    /** A whole stop goes to another person: all of it or nothing, and back as one. */
    @Test
    void severalAreMovedAllOrNone() {
        long one = job("CBK-1", 30, today, monday, monday.plusDays(3));
        long two = job("CBK-2", 30, today, monday, monday);
        tavel.post("/api/rounds/tavel/" + monday + "/jobs", Map.of("jobs", List.of(one, two)), null);
        LocalDate tuesday = monday.plusDays(1);
        problem(
                422,
                "fields-invalid",
                () -> oster.post(
                        "/api/jobs/moves",
                        Map.of(
                                "moves",
                                List.of(
                                        Map.of("job", one, "to", day(tuesday, "oster", monday, "tavel")),
                                        Map.of("job", two, "to", day(tuesday, "oster", monday, "tavel")))),
                        null));
        assertEquals("tavel", now(one).path("person").asString(), "none is moved where one cannot be");
        JsonNode act = oster.post(
                "/api/jobs/moves",
                Map.of(
                        "moves",
                        List.of(
                                Map.of("job", one, "to", day(monday, "oster", monday, "tavel")),
                                Map.of("job", two, "to", day(monday, "oster", monday, "tavel")))),
                null);
        assertTrue(act.path("words").asString().matches("2 jobs put on .*, M\\. Oster"), act.toString());
        assertEquals("oster", now(two).path("person").asString());
        oster.post("/api/jobs/moves/" + act.path("id").asLong() + "/undo", Map.of(), null);
        assertEquals("tavel", now(one).path("person").asString());
        assertEquals("tavel", now(two).path("person").asString());
        problem(409, "out-of-range", () -> oster.post("/api/jobs/moves", Map.of("moves", List.of()), null));
    }

    @Test
    void onesOwnOpenRunsAreListed() {
        long one = job("CBK-1", 30, today, monday, monday);
        JsonNode run = tavel.post("/api/jobs/" + one + "/run", Map.of("gear", Map.of()), null);
        assertEquals(
                run.path("id").asString(),
                tavel.get("/api/jobs/running").get(0).path("run").asString());
        assertEquals(
                0,
                SERVER.client("ruvane", "gantry-post-57")
                        .get("/api/jobs/running")
                        .size());
        assertEquals(
                one,
                tavel.get("/api/plan/jobs?asset=CBK-1&when=all")
                        .path("jobs")
                        .get(0)
                        .path("id")
                        .asLong());
        sql.update(
                "UPDATE run SET status = 'aborted' WHERE id = CAST(? AS uuid)",
                run.path("id").asString());
        sql.update("UPDATE job SET status = 'withdrawn' WHERE id = ?", one);
    }
}
