package org.juratest.server.condition;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.server.InsulationRun;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.databind.JsonNode;

/** The trends of one device as they are asked for, and what they are compared with. */
class TrendsTest {

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
        settled();
    }

    private void settled() {
        await().atMost(Duration.ofMinutes(2)).until(() -> Long.valueOf(0)
                .equals(sql.queryForObject("SELECT count(*) FROM condition_due", Long.class)));
    }

    private JsonNode trends(String key) {
        return tavel.get("/api/condition/trends/" + key);
    }

    private static JsonNode point(JsonNode trends, String series, String lane) {
        return trends.path("points")
                .valueStream()
                .filter(p -> p.path("series").asString().equals(series)
                        && p.path("lane").asString().equals(lane))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void aPointHasItsValuesWithLimitGearAndConditionsAndSaysWhatTheTablesSay() {
        JsonNode trends = trends(STAR);
        assertEquals(trends.path("asset"), trends("MFR-CBK-07").path("asset"), "by its position too");
        assertEquals(
                sql.queryForObject("SELECT count(*) FROM series_state WHERE asset = ?", Integer.class, STAR),
                trends.path("points").size());
        for (Map<String, Object> row : sql.queryForList(
                "SELECT series, lane, value, margin, drift, visits FROM series_state WHERE asset = ?", STAR)) {
            JsonNode point = point(trends, (String) row.get("series"), (String) row.get("lane"));
            JsonNode visits = point.path("visits");
            assertEquals(row.get("visits"), visits.size(), row.toString());
            JsonNode last = visits.get(visits.size() - 1);
            assertEquals(row.get("value"), last.path("value").asDouble(), row.toString());
            assertEquals(
                    row.get("margin"),
                    point.has("margin") ? point.path("margin").asDouble() : null);
            assertEquals(
                    row.get("drift"), point.has("drift") ? point.path("drift").asDouble() : null);
            assertFalse(point.path("outlook").asString().isBlank());
        }
        JsonNode contact = trends.path("points")
                .valueStream()
                .filter(p -> p.path("series").asString().contains("contact")
                        && p.path("unit").asString().contains("Ω"))
                .findFirst()
                .orElseThrow();
        JsonNode visit = contact.path("visits").get(0);
        assertFalse(visit.path("gear").asString().isBlank(), visit.toString());
        assertFalse(visit.path("source").asString().isBlank(), visit.toString());
        assertTrue(visit.has("high"), visit.toString());
        assertEquals(
                1,
                tavel.get("/api/condition/trends/" + STAR + "?series="
                                + contact.path("series").asString() + "&lane="
                                + contact.path("lane").asString())
                        .path("points")
                        .size());
    }

    /** What was there before stays to be seen; comparison, earlier values and trend follow what was chosen. */
    @Test
    void aNewBaselineIsChosenWithAReasonAndEverythingFollowsIt() {
        InsulationRun run = new InsulationRun(SERVER, tavel);
        String record = run.finished(run.measured(run.opened(), 900));
        settled();
        String old = sql.queryForObject(
                "SELECT record FROM run WHERE asset = ? AND baseline ORDER BY finished_at LIMIT 1", String.class, STAR);

        for (String reason : List.of("", " ", "x".repeat(200))) {
            assertEquals(
                    "reason",
                    problem(
                                    422,
                                    "fields-invalid",
                                    () -> tavel.put(
                                            "/api/condition/baselines/" + STAR,
                                            Map.of("record", record, "reason", reason)))
                            .field());
        }
        assertEquals(
                "record",
                problem(
                                422,
                                "fields-invalid",
                                () -> tavel.put(
                                        "/api/condition/baselines/" + STAR,
                                        Map.of("record", "CBK-2/2020/1", "reason", "contacts replaced")))
                        .field());

        JsonNode chosen =
                tavel.put("/api/condition/baselines/" + STAR, Map.of("record", record, "reason", "contacts replaced"));
        JsonNode baselines = chosen.path("baselines");
        assertEquals(2, baselines.size(), baselines.toString());
        assertEquals(old, baselines.get(0).path("record").asString());
        assertFalse(baselines.get(0).path("inForce").asBoolean());
        assertTrue(baselines.get(1).path("inForce").asBoolean());
        assertEquals("contacts replaced", baselines.get(1).path("reason").asString());
        assertEquals(
                "baseline-already",
                problem(
                                409,
                                "baseline-already",
                                () -> tavel.put(
                                        "/api/condition/baselines/" + STAR,
                                        Map.of("record", record, "reason", "again")))
                        .type());

        settled();
        JsonNode insulation = trends(STAR)
                .path("points")
                .valueStream()
                .filter(p -> p.path("series").asString().contains("insulation"))
                .findFirst()
                .orElseThrow();
        JsonNode visits = insulation.path("visits");
        JsonNode last = visits.get(visits.size() - 1);
        assertEquals(record, last.path("number").asString());
        assertTrue(last.path("cut").asBoolean() && last.path("baseline").asBoolean(), "the trend begins anew");
        assertFalse(visits.get(0).path("baseline").asBoolean());
        assertEquals(
                1,
                sql.queryForObject(
                        "SELECT n FROM series_state WHERE asset = ? AND series = ? AND lane = ?",
                        Integer.class,
                        STAR,
                        insulation.path("series").asString(),
                        insulation.path("lane").asString()));
        assertEquals(List.of(), new ConditionCheck(sql).findings(), "a rebuild makes the same of it");

        // The next run compares with it.
        String next = run.finished(run.measured(run.opened(), 880));
        assertEquals(
                record,
                tavel.get("/api/comparisons?of=" + next + "&with=baseline")
                        .at("/with/0/number")
                        .asString());
        JsonNode device = tavel.get("/api/assets/" + STAR);
        assertEquals(
                List.of(record),
                device.path("records")
                        .valueStream()
                        .filter(r -> r.path("baseline").asBoolean())
                        .map(r -> r.path("number").asString())
                        .toList());

        // And back, by choosing the old one again.
        tavel.put(
                "/api/condition/baselines/" + STAR, Map.of("record", old, "reason", "the new contacts came out again"));
        settled();
        assertTrue(trends(STAR).path("baselines").get(0).path("inForce").asBoolean());
        assertEquals(List.of(), new ConditionCheck(sql).findings());
    }

    @Test
    void whatHappenedToTheDeviceIsAMarkAndARepairBeginsASegment() {
        sql.update(
                "INSERT INTO asset_event (asset, at, kind, words, by) VALUES (?, now(), 'repair', "
                        + "'arc chutes replaced', 'oster')",
                STAR);
        InsulationRun run = new InsulationRun(SERVER, tavel);
        String record = run.finished(run.measured(run.opened(), 870));
        settled();
        JsonNode trends = trends(STAR);
        assertTrue(trends.path("marks")
                .valueStream()
                .anyMatch(m -> m.path("kind").asString().equals("repair")
                        && m.path("words").asString().equals("arc chutes replaced")));
        assertTrue(trends.path("marks")
                .valueStream()
                .anyMatch(m -> m.path("kind").asString().equals("installed")));
        JsonNode cut = trends.path("points")
                .valueStream()
                .flatMap(p -> p.path("visits").valueStream())
                .filter(v -> v.path("number").asString().equals(record)
                        && v.path("cut").asBoolean())
                .findFirst()
                .orElseThrow();
        assertEquals(record, cut.path("number").asString());
    }

    @Test
    void whatThereIsNotIsSaidByName() {
        problem(404, "unknown-asset", () -> trends("NO-SUCH"));
    }
}
