package org.juratest.server.testset;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.databind.JsonNode;

/** What is tested in one go at a position: kept with its variants, started once, done in its order. */
class TestSetTest {

    private static final TestServer SERVER = TestServer.start();

    private static ApiClient tavel;
    private static JdbcTemplate sql;

    @BeforeAll
    static void signedIn() {
        tavel = SERVER.client("tavel", "rack-rail-16");
        sql = SERVER.database().template();
    }

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    private static String place(String asset) {
        String position = "MFR-" + asset;
        sql.update("INSERT INTO position (code, site, family) VALUES (?, 'MFR', 'breakers')", position);
        sql.update(
                "INSERT INTO asset (id, class, maker, model, serial, nameplate) SELECT ?, class, maker, 'TS', ?, "
                        + "nameplate FROM asset WHERE id = 'CBK-1'",
                asset,
                asset);
        sql.update(
                "INSERT INTO installation (asset, position, during) VALUES (?, ?, tstzrange(now(), NULL))",
                asset,
                position);
        return position;
    }

    private static Map<String, Object> item(String procedure, @Nullable String variant) {
        Map<String, Object> item = new HashMap<>();
        item.put("procedure", procedure);
        if (variant != null) {
            item.put("variant", variant);
        }
        return item;
    }

    private static Map<String, Object> form(long seen, List<Map<String, Object>> items) {
        return Map.of("items", items, "seen", seen);
    }

    /** Jobs that its set has started, whatever plans lay beside them. */
    private static int ofSet(String position) {
        return sql.queryForObject("SELECT count(*) FROM job WHERE of_set = ?", Integer.class, position);
    }

    private static String of(String position) {
        return "/api/test-sets/" + position;
    }

    /** A variant without its contact resistance, saved from a run of another device. */
    private static String variant() {
        place("TS-V");
        sql.update("INSERT INTO job (asset, position, procedure, reason, opens, due, closes) VALUES ('TS-V', "
                + "'MFR-TS-V', 'CBK-YEARLY', 'by hand', current_date, current_date, current_date)");
        long job = sql.queryForObject(
                "SELECT id FROM job WHERE asset = 'TS-V' AND procedure = 'CBK-YEARLY' LIMIT 1", Long.class);
        JsonNode run = tavel.post("/api/jobs/" + job + "/run", Map.of("gear", Map.of()), null);
        run = tavel.drive(run.path("id").asString());
        run = tavel.act(
                run,
                "scopeSet",
                Map.of("scope", Map.of("withoutSteps", List.of("contact", "contactAgain", "contactChange"))));
        return tavel.post(
                        "/api/runs/" + run.path("id").asString() + "/variants",
                        Map.of("name", "Trip alone", "words", "for a set"),
                        run.path("personEvents").asLong())
                .at("/variant/code")
                .asString();
    }

    @Test
    void aSetIsKeptAndStartedOnceInItsOrderWithItsVariants() {
        String variant = variant();
        String position = place("TS-1");
        JsonNode empty = tavel.get(of(position));
        assertEquals(0, empty.path("items").size());
        assertEquals("TS-1", empty.path("asset").asString());
        problem(409, "no-set", () -> tavel.post(of(position) + "/start", Map.of(), null));
        JsonNode kept =
                tavel.put(of(position), form(0, List.of(item("CBK-YEARLY", variant), item("CBK-ACCEPT", null))));
        assertEquals(1, kept.path("version").asLong());
        assertEquals("Trip alone", kept.at("/items/0/variantName").asString());
        assertEquals(
                "seen",
                problem(409, "changed-meanwhile", () -> tavel.put(of(position), form(0, List.of())))
                        .field());

        JsonNode started = tavel.post(of(position) + "/start", Map.of(), null);
        JsonNode run = tavel.get("/api/runs/" + started.path("run").asString());
        assertEquals("CBK-YEARLY", run.path("procedure").asString());
        assertEquals(variant, run.at("/variant/code").asString());
        assertTrue(run.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals("contact"))
                .noneMatch(s -> s.path("inScope").asBoolean()));
        assertEquals(
                List.of("CBK-ACCEPT", "CBK-YEARLY"),
                sql.queryForList(
                        "SELECT procedure FROM job WHERE of_set = ? AND person = 'tavel' AND planned_for IS NOT NULL "
                                + "AND status IN ('open', 'running') ORDER BY 1",
                        String.class,
                        position),
                "both are on a day of whoever started them");

        // Starting it again goes on with what is there.
        JsonNode again = tavel.post(of(position) + "/start", Map.of(), null);
        assertEquals(started.toString(), again.toString());
        assertEquals(2, ofSet(position));
        assertTrue(tavel.get(of(position)).at("/items/0/run").isString());
        assertFalse(tavel.get(of(position)).at("/items/1").has("run"));
        assertEquals("CBK-YEARLY", tavel.get(of(position)).path("next").asString());

        // Once the first is done it is gone on with the second, and nothing is raised again.
        long first = started.path("jobs").get(0).asLong();
        sql.update("UPDATE run SET status = 'aborted' WHERE job = ?", first);
        sql.update("UPDATE job SET status = 'done', done_on = current_date WHERE id = ?", first);
        assertEquals("CBK-ACCEPT", tavel.get(of(position)).path("next").asString());
        JsonNode on = tavel.post(of(position) + "/start", Map.of(), null);
        assertEquals(
                "CBK-ACCEPT",
                tavel.get("/api/runs/" + on.path("run").asString())
                        .path("procedure")
                        .asString());
        assertEquals(2, ofSet(position));

        // With all of it done a start begins anew.
        sql.update("UPDATE run SET status = 'aborted' WHERE job IN (SELECT id FROM job WHERE of_set = ?)", position);
        sql.update("UPDATE job SET status = 'done', done_on = current_date WHERE of_set = ?", position);
        assertFalse(tavel.get(of(position)).has("next"));
        assertEquals(
                2,
                tavel.post(of(position) + "/start", Map.of(), null).path("jobs").size());
    }

    @Test
    void whatIsNoItemIsNamedAndNothingIsLost() {
        String position = place("TS-4");
        tavel.put(of(position), form(0, List.of(item("CBK-YEARLY", null))));
        List<@Nullable Object> items = new ArrayList<>();
        items.add(null);
        problem(400, "cannot-be-read", () -> tavel.put(of(position), Map.of("items", items, "seen", 1)));
        assertEquals(1, tavel.get(of(position)).path("items").size());
        // Absent reads as empty, as everywhere.
        assertEquals(0, tavel.put(of(position), Map.of("seen", 1)).path("items").size());
    }

    @Test
    void whatDoesNotFitIsNamedByItsPlace() {
        String position = place("TS-2");
        for (Map.Entry<String, List<Map<String, Object>>> wrong : Map.of(
                        "items.0.procedure", List.of(item("MET-SITE", null)),
                        "items.1.procedure", List.of(item("CBK-YEARLY", null), item("CBK-YEARLY", null)),
                        "items.0.variant", List.of(item("CBK-YEARLY", "NOWHERE")))
                .entrySet()) {
            assertTrue(
                    problem(422, "fields-invalid", () -> tavel.put(of(position), form(0, wrong.getValue())))
                            .fields()
                            .containsKey(wrong.getKey()),
                    wrong.getKey());
        }
        problem(404, "unknown-position", () -> tavel.get(of("NOWHERE")));
        problem(403, "not-allowed", () -> SERVER.client("corvise", "ledger-stone-12")
                .put(of(position), form(0, List.of())));
        assertEquals(0, ofSet(position));
    }

    @Test
    void whereNothingStandsNothingIsStarted() {
        String position = place("TS-3");
        tavel.put(of(position), form(0, List.of(item("CBK-YEARLY", null))));
        sql.update("UPDATE installation SET during = tstzrange(lower(during), now()) WHERE asset = 'TS-3'");
        problem(422, "fields-invalid", () -> tavel.post(of(position) + "/start", Map.of(), null));
        assertEquals(0, tavel.get(of(position)).path("choices").size());
    }

    @Test
    void whatIsAnothersStaysOnTheirDay() {
        String position = place("TS-5");
        tavel.put(of(position), form(0, List.of(item("CBK-YEARLY", null), item("CBK-ACCEPT", null))));
        sql.update(
                "INSERT INTO job (asset, position, procedure, reason, opens, due, closes, person, planned_for) VALUES "
                        + "('TS-5', ?, 'CBK-ACCEPT', 'by hand', current_date - 1, current_date - 1, current_date + 9, "
                        + "'ruvane', current_date + 1)",
                position);
        JsonNode started = tavel.post(of(position) + "/start", Map.of(), null);
        assertEquals(2, started.path("jobs").size());
        String person = "SELECT person FROM job WHERE of_set = ? AND procedure = ?";
        assertEquals("tavel", sql.queryForObject(person, String.class, position, "CBK-YEARLY"));
        assertEquals("ruvane", sql.queryForObject(person, String.class, position, "CBK-ACCEPT"));
    }
}
