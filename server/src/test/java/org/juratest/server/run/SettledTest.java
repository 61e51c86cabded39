package org.juratest.server.run;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.db.UuidV7;
import tools.jackson.databind.JsonNode;

/** What only a person can tell, and what a person says of the set-up, over the interface. */
class SettledTest {

    private static TestServer server;
    private ApiClient api;
    private String run = "";

    @BeforeAll
    static void start() {
        server = TestServer.start();
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    @BeforeEach
    void open() {
        api = server.client("tavel", "rack-rail-16");
        JsonNode job = api.get("/api/jobs")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals("MFR-CBK-07"))
                .findFirst()
                .orElseThrow();
        run = job.hasNonNull("run")
                ? job.path("run").asString()
                : api.post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                        .path("id")
                        .asString();
        api.drive(run);
    }

    /** An attempt as gear would have left it, that nothing could tell about. */
    private UUID unclear(String lane) {
        UUID attempt = UuidV7.now();
        RunStore store = server.context().getBean(RunStore.class);
        store.append(
                UUID.fromString(run),
                Actor.process("test"),
                state -> List.of(
                        new AttemptEvents.AttemptBegun(attempt, "contact", lane, "mic-1", 1),
                        new AttemptEvents.NoValue(
                                attempt,
                                new PointKey("contact", "r", lane),
                                AttemptEvents.Blank.NOTHING_THERE,
                                "nothing flows"),
                        new AttemptEvents.AttemptClosed(
                                attempt, Attempt.Outcome.UNCLEAR, "nothing flows. Connected?")));
        return attempt;
    }

    private JsonNode now() {
        return api.get("/api/runs/" + run);
    }

    private JsonNode settle(UUID attempt, boolean device) {
        return api.act(
                now(), "attemptSettled", Map.of("attempt", attempt.toString(), "device", device, "words", "looked"));
    }

    private static JsonNode point(JsonNode view, String key) {
        return view.path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().equals(key))
                .findFirst()
                .orElseThrow();
    }

    private static String outcome(JsonNode view, UUID attempt) {
        return view.path("attempts")
                .valueStream()
                .filter(a -> a.path("id").asString().equals(attempt.toString()))
                .map(a -> a.path("outcome").asString())
                .findFirst()
                .orElseThrow();
    }

    @Test
    void whatAPersonSaysIsTheDeviceFailsWithoutAValue() {
        UUID attempt = unclear("A");
        assertEquals("unclear", outcome(now(), attempt));
        assertEquals("notJudged", point(now(), "contact/r/A").path("verdict").asString());
        JsonNode settled = settle(attempt, true);
        JsonNode point = point(settled, "contact/r/A");
        assertEquals("fail", point.path("verdict").asString());
        assertTrue(point.path("why").asString().startsWith("no value: nothing flows"), point.toString());
        assertFalse(point.path("counting").hasNonNull("value"));
        TestServer.problem(409, "attempt-is-clear", () -> settle(attempt, false));
        assertEquals(
                "fail",
                server.database()
                        .template()
                        .queryForObject(
                                "SELECT verdict FROM run_point WHERE run = ?::uuid AND point = 'contact/r/A'",
                                String.class,
                                run),
                "and the fast table says the same");
    }

    @Test
    void whatAPersonSaysIsTheConnectionCountsForNothing() {
        UUID attempt = unclear("B");
        JsonNode settled = settle(attempt, false);
        assertEquals("connectionFailed", outcome(settled, attempt));
        assertEquals("notJudged", point(settled, "contact/r/B").path("verdict").asString());
        assertFalse(point(settled, "contact/r/B").hasNonNull("counting"));
    }

    @Test
    void whatIsSettledByMistakeCanBeTakenBack() {
        UUID attempt = unclear("C");
        JsonNode settled = settle(attempt, true);
        String event = settled.path("doings")
                .valueStream()
                .filter(d -> d.path("type").asString().equals("attemptSettled"))
                .reduce((a, b) -> b)
                .orElseThrow()
                .path("id")
                .asString();
        JsonNode back = api.act(settled, "withdrawn", Map.of("target", event, "reason", "the other clamp"));
        assertEquals("unclear", outcome(back, attempt));
    }

    @Test
    void onlyWhatWasChargedIsDischargedOrEarthed() {
        TestServer.problem(409, "not-charged", () -> api.act(now(), "earthed", Map.of("step", "contact", "lane", "A")));
        TestServer.problem(
                409,
                "not-charged",
                () -> api.act(
                        now(),
                        "discharged",
                        Map.of("step", "contact", "lane", "A", "residual", Map.of("value", 3, "unit", "V"))));
        assertEquals(0, now().path("charges").size());
    }

    @Test
    void aSetUpThatMovedIsToldWithWords() {
        TestServer.problem(409, "words-missing", () -> api.act(now(), "setupMoved", Map.of("words", " ")));
        JsonNode told = api.act(now(), "setupMoved", Map.of("words", "the bench was moved"));
        assertTrue(
                told.path("doings")
                        .valueStream()
                        .anyMatch(d -> d.path("type").asString().equals("setupMoved")),
                told.path("doings").toString());
        assertEquals(0, told.path("references").size(), "this procedure has none");
    }

    @Test
    void whatOnlyGearCanSayNobodyTells() {
        for (String type : List.of("captured", "featureFound", "noValue")) {
            TestServer.problem(409, "unknown-action", () -> api.act(now(), type, Map.of()));
        }
    }
}
