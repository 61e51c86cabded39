package org.juratest.server.starting;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.juratest.server.TestServer.problem;

import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.springframework.jdbc.core.simple.JdbcClient;
import tools.jackson.databind.JsonNode;

/** Starting points as people see, set and forget them; how runs find them is told by runs at stand-ins. */
class StartingPointsTest {

    private static final TestServer SERVER = TestServer.start();

    private static ApiClient tavel;

    @BeforeAll
    static void signedIn() {
        tavel = SERVER.client("tavel", "rack-rail-16");
    }

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    private static void learned(String model, String method, double wanted) {
        SERVER.context()
                .getBean(JdbcClient.class)
                .sql("INSERT INTO starting_point (maker, model, method, title, param, wanted, wanted_unit, value, hit, "
                        + "record, kept_by) VALUES ('Halmic', :model, :method, 'To lock-out', 'drive', :wanted, 'A', "
                        + "1.05, :hit, 'R-1', 'tavel')")
                .param("model", model)
                .param("method", method)
                .param("wanted", wanted)
                .param("hit", wanted / 1.05)
                .update();
    }

    private static JsonNode of(String model) {
        return tavel.get("/api/starting-points")
                .valueStream()
                .filter(p -> p.path("model").asString().equals(model))
                .findFirst()
                .orElseThrow();
    }

    private static Map<String, Object> form(double value, String why, JsonNode seen) {
        return Map.of("value", value, "why", why, "seen", seen.path("at").asString());
    }

    @Test
    void itIsSetByHandWithinWhatTheMethodTakesAndForAReason() {
        learned("set", "breaker.sequence", 560);
        JsonNode known = of("set");
        assertEquals(0.5, known.path("low").asDouble());
        String path = "/api/starting-points/" + known.path("id").asLong();
        assertEquals(
                Map.of("value", "The method takes 0.5000 to 2.000.", "why", "Say why, in a few words."),
                problem(422, "fields-invalid", () -> tavel.put(path, form(2.5, " ", known)))
                        .fields());
        assertEquals(1.05, of("set").path("value").asDouble(), "nothing was stored");

        JsonNode set = tavel.put(path, form(1.11, "weak feed", known));
        assertEquals(1.11, set.path("value").asDouble());
        assertEquals("weak feed", set.path("why").asString());
        assertFalse(set.hasNonNull("record"), "it is no longer what the record found");
        // Who still sees the old one changes nothing.
        problem(409, "changed-meanwhile", () -> tavel.put(path, form(1.2, "older screen", known)));
        problem(
                409,
                "changed-meanwhile",
                () -> tavel.delete(path + "?seen=" + known.path("at").asString()));
        tavel.delete(path + "?seen=" + set.path("at").asString());
        problem(404, "unknown-starting-point", () -> tavel.put(path, form(1.2, "gone", set)));
    }

    /** A method that a later version no longer has, or that learns nothing of the name, is not told. */
    @Test
    void whatNoMethodTakesIsNotTold() {
        learned("gone", "breaker.nothing", 10);
        assertFalse(tavel.get("/api/starting-points")
                .valueStream()
                .anyMatch(p -> p.path("model").asString().equals("gone")));
    }

    @Test
    void whoOnlyReadsSetsNothing() {
        learned("read", "breaker.sequence", 80);
        JsonNode known = of("read");
        ApiClient corvise = SERVER.client("corvise", "ledger-stone-12");
        assertEquals(1.05, of("read").path("value").asDouble());
        problem(
                403,
                "not-allowed",
                () -> corvise.put("/api/starting-points/" + known.path("id").asLong(), form(1.2, "why", known)));
    }

    /** A run on another device of the type is offered what the record before had to set, kept within its own range. */
    @Test
    void aRunIsOfferedWhatTheTypeNeededBefore() {
        learned("offers", "breaker.sequence", 400);
        learned("offers", "breaker.sequence", 800);
        learned("other", "breaker.sequence", 1600);
        JdbcClient jdbc = SERVER.context().getBean(JdbcClient.class);
        jdbc.sql("UPDATE starting_point SET value = 1.7 WHERE model = 'offers' AND wanted = 800")
                .update();
        jdbc.sql("INSERT INTO position (code, site, family) VALUES ('MFR-REC-91', 'MFR', 'breakers')")
                .update();
        jdbc.sql("INSERT INTO asset (id, class, maker, model, serial, nameplate) VALUES ('REC-91', 'recloser', "
                        + "'Halmic', 'offers', 'H-91', :plate::jsonb)")
                .param(
                        "plate",
                        """
                        {"ratings": {"pickUp": {"value": 200, "unit": "A"}, "coil": {"value": 100, "unit": "A"}},
                         "texts": {"controller": "hydraulic"}}""")
                .update();
        jdbc.sql("INSERT INTO installation (asset, position, during) VALUES ('REC-91', 'MFR-REC-91', "
                        + "tstzrange(now(), NULL))")
                .update();
        long job = jdbc.sql("INSERT INTO job (asset, position, procedure, reason, opens, due, closes) VALUES "
                        + "('REC-91', 'MFR-REC-91', 'REC-2YEARLY', 'by hand', current_date, current_date, "
                        + "current_date) RETURNING id")
                .query(Long.class)
                .single();
        JsonNode run = tavel.post("/api/jobs/" + job + "/run", Map.of("gear", Map.of()), null);
        Map<String, JsonNode> offers = new HashMap<>();
        tavel.get("/api/runs/" + run.path("id").asString() + "/starting-points/sequence")
                .forEach(o -> offers.put(o.path("at").asString(), o));
        assertEquals(1.05, offers.get("A.1").path("value").asDouble(), "twice 200 A, as the record before");
        assertEquals("R-1", offers.get("A.1").path("record").asString());
        assertEquals(1.25, offers.get("A.2").path("value").asDouble(), "no more than this step may be set to");
        assertFalse(offers.get("A.3").has("value"), "another model's 1600 A say nothing of this one");
    }
}
