package org.juratest.server.condition;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.databind.JsonNode;

/** What follows from a chosen part of the fleet: what it shares, jobs for it, the watch list, the round. */
class SelectionsTest {

    private static final TestServer SERVER = TestServer.start();
    private static final String STAR = "CBK-1";

    private JdbcTemplate sql;
    private ApiClient oster;

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    @BeforeEach
    void signIn() {
        sql = SERVER.database().template();
        oster = SERVER.client("oster", "penstock-42");
        await().atMost(Duration.ofMinutes(2)).until(() -> Long.valueOf(0)
                .equals(sql.queryForObject("SELECT count(*) FROM condition_due", Long.class)));
    }

    /** Twenty more of the star's kind, of which four drift fast and are of one batch. */
    private void twentyMore() {
        if (sql.queryForObject("SELECT count(*) FROM asset WHERE id LIKE 'LOT-%'", Integer.class) > 0) {
            return;
        }
        sql.update("INSERT INTO extra_field (class, key, label) VALUES ('lv-breaker', 'batch', 'Batch')");
        for (int i = 1; i <= 20; i++) {
            String id = "LOT-" + i;
            sql.update(
                    "INSERT INTO asset (id, class, maker, model, serial, nameplate, extra) SELECT ?, class, "
                            + "maker, model, ?, "
                            + "nameplate, jsonb_build_object('batch', CAST(? AS text)) FROM asset WHERE id = ?",
                    id,
                    "L" + i,
                    i <= 4 ? "B14" : "B" + (10 + i % 3),
                    STAR);
            sql.update("INSERT INTO position (code, site, family) VALUES (?, 'MFR', 'breakers')", "MFR-LOT-" + i);
            sql.update(
                    "INSERT INTO installation (asset, position, during) VALUES (?, ?, tstzrange(now() - interval "
                            + "'1 year', NULL))",
                    id,
                    "MFR-LOT-" + i);
            sql.update(
                    "INSERT INTO last_record (asset, run, at, standing) SELECT ?, run, at, 'sound' FROM last_record "
                            + "WHERE asset = ?",
                    id,
                    STAR);
        }
        await().atMost(Duration.ofMinutes(2)).until(() -> Long.valueOf(0)
                .equals(sql.queryForObject("SELECT count(*) FROM condition_due", Long.class)));
        sql.update("INSERT INTO asset_state (asset, standing, why, margin, drift, run, at) SELECT asset, CASE WHEN "
                + "substr(asset, 5)::int <= 4 THEN 'watch' ELSE 'sound' END, 'sound', 0.5, CASE WHEN "
                + "substr(asset, 5)::int <= 4 THEN 0.4 ELSE 0.01 END, run, at FROM last_record WHERE asset LIKE "
                + "'LOT-%' ON CONFLICT (asset) DO UPDATE SET standing = excluded.standing, margin = "
                + "excluded.margin, drift = excluded.drift");
    }

    @Test
    void aGroupOfOneBatchIsToldWithItsOddsAndNothingThatAllHave() {
        twentyMore();
        JsonNode shared = oster.get("/api/condition/shared?marginFrom=0.4&marginTo=0.6&driftFrom=0.3&driftTo=0.5");
        assertEquals(4, shared.path("group").asInt());
        JsonNode first = shared.path("traits").get(0);
        assertEquals("batch", first.path("attribute").asString(), shared.toString());
        assertEquals("B14", first.path("value").asString());
        assertEquals(4, first.path("inGroup").asInt());
        assertEquals(4, first.path("inFleet").asInt());
        double odds = first.path("odds").asDouble();
        int fleet = shared.path("fleet").asInt();
        double byLot = 24.0 / (fleet * (fleet - 1.0) * (fleet - 2) * (fleet - 3));
        assertTrue(odds >= byLot && odds <= 20 * byLot, odds + " of at least " + byLot);
        assertTrue(first.path("words").asString().startsWith("All 4 have batch B14, as 4 of " + fleet + " do"));
        assertTrue(shared.path("traits")
                .valueStream()
                .noneMatch(t -> t.path("attribute").asString().equals("family")));
        assertTrue(shared.path("tried").valueStream().anyMatch(t -> t.asString().equals("last tested by")));
        assertEquals(
                0, oster.get("/api/condition/shared?model=none").path("traits").size());
    }

    @Test
    void jobsForASelectionAreRaisedOnceWithTheirReasonAndWhatHasOneIsTold() {
        twentyMore();
        String due = LocalDate.now().plusDays(20).toString();
        Map<String, Object> region = Map.of("driftFrom", 0.3, "driftTo", 0.5);
        assertEquals(
                "why",
                problem(
                                422,
                                "fields-invalid",
                                () -> oster.post(
                                        "/api/condition/jobs", Map.of("filter", region, "due", due, "why", " "), null))
                        .field());
        Map<String, Object> asked = Map.of("filter", region, "due", due, "why", "batch B14 drifts");
        JsonNode raised = oster.post("/api/condition/jobs", asked, null);
        assertEquals(
                List.of("MFR-LOT-1", "MFR-LOT-2", "MFR-LOT-3", "MFR-LOT-4"),
                raised.path("raised").valueStream().map(JsonNode::asString).toList());
        assertEquals(
                4,
                sql.queryForObject(
                        "SELECT count(*) FROM job j JOIN job_decision d ON d.job = j.id WHERE j.asset LIKE 'LOT-%' AND "
                                + "j.reason = 'watch list' AND j.procedure = 'CBK-YEARLY' AND "
                                + "d.why = 'batch B14 drifts'",
                        Integer.class));
        JsonNode again = oster.post("/api/condition/jobs", asked, null);
        assertEquals(0, again.path("raised").size());
        assertEquals(4, again.path("left").size());
        assertTrue(again.path("left").get(0).asString().startsWith("MFR-LOT-1: "), again.toString());
        problem(
                409,
                "nothing-selected",
                () -> oster.post(
                        "/api/condition/jobs",
                        Map.of("filter", Map.of("model", "none"), "due", due, "why", "x"),
                        null));
        ApiClient auditor = SERVER.client("corvise", "ledger-stone-12");
        problem(403, "not-allowed", () -> auditor.post("/api/condition/jobs", asked, null));
    }

    @Test
    void whoIsOnTheWatchListStandsNoBetterUntilTakenOff() {
        twentyMore();
        assertEquals("sound", standing("LOT-9"));
        assertEquals(
                "why",
                problem(422, "fields-invalid", () -> oster.put("/api/condition/watch/LOT-9", Map.of("why", "")))
                        .field());
        problem(404, "unknown-asset", () -> oster.put("/api/condition/watch/NONE", Map.of("why", "smells")));
        JsonNode watched = oster.put("/api/condition/watch/LOT-9", Map.of("why", "smells of ozone"));
        assertEquals("smells of ozone", watched.at("/watched/reason").asString());
        assertEquals("watch", watched.path("standing").asString());
        assertTrue(
                watched.path("reason").asString().endsWith("on the watch list: smells of ozone"), watched.toString());
        assertEquals("watch", standing("LOT-9"));
        assertTrue(oster.get("/api/search?text=watch")
                .path("hits")
                .valueStream()
                .anyMatch(h -> h.path("key").asString().equals("LOT-9")
                        && h.path("standing").asString().equals("watch")));
        // A failure is graver than being watched.
        sql.update("UPDATE asset_state SET standing = 'act', why = 'failed' WHERE asset = 'LOT-9'");
        assertEquals("act", standing("LOT-9"));
        sql.update("UPDATE asset_state SET standing = 'sound', why = 'sound' WHERE asset = 'LOT-9'");
        oster.put("/api/condition/watch/LOT-9", Map.of("why", "hums"));
        oster.delete("/api/condition/watch/LOT-9");
        oster.delete("/api/condition/watch/LOT-9");
        assertEquals("sound", standing("LOT-9"));
        assertEquals(
                List.of("smells of ozone", "hums"),
                sql.queryForList(
                        "SELECT reason FROM watch_mark WHERE asset = 'LOT-9' AND off_by = 'oster' ORDER BY id",
                        String.class),
                "what was taken off stays, with who did");
    }

    private String standing(String asset) {
        return sql.queryForObject("SELECT standing FROM standing_now WHERE asset = ?", String.class, asset);
    }

    @Test
    void whoGoesThereSeesWhatNeedsAttentionOnTheWay() {
        twentyMore();
        Long job = sql.queryForObject(
                "SELECT min(j.id) FROM job j JOIN position p ON p.code = j.position WHERE j.status = 'open' "
                        + "AND p.site = 'MFR' "
                        + "AND j.asset = ?",
                Long.class,
                STAR);
        String day = LocalDate.now().toString();
        sql.update("UPDATE job SET planned_for = CAST(? AS date), person = 'oster' WHERE id = ?", day, job);
        JsonNode round = oster.get("/api/rounds/oster/" + day);
        JsonNode stop = round.path("stops").get(0);
        assertEquals("MFR", stop.path("site").asString());
        List<String> needs = stop.path("needs")
                .valueStream()
                .map(n -> n.path("position").asString())
                .toList();
        assertTrue(needs.containsAll(List.of("MFR-LOT-1", "MFR-LOT-2", "MFR-LOT-3", "MFR-LOT-4")), needs.toString());
        assertFalse(needs.contains("MFR-LOT-7"), needs.toString());
        stop.path("needs")
                .valueStream()
                .forEach(n -> assertFalse(n.path("reason").asString().isBlank()));
    }
}
