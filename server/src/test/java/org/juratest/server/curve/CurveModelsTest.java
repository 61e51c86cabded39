package org.juratest.server.curve;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import tools.jackson.databind.JsonNode;

/** The curve library over HTTP: models drawn at some settings, models of one's own, and which devices go by them. */
class CurveModelsTest {

    private static final TestServer SERVER = TestServer.start();
    private static final String POINTS = "1.3;120;2400\n2;30;90\n3;10;30\n6;2,2;6";

    private static ApiClient tavel;
    private static ApiClient oster;

    @BeforeAll
    static void signedIn() {
        tavel = SERVER.client("tavel", "rack-rail-16");
        oster = SERVER.client("oster", "penstock-42");
    }

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    private static JsonNode model(String id) {
        return tavel.get("/api/curve-models")
                .valueStream()
                .filter(m -> m.path("id").asString().equals(id))
                .findFirst()
                .orElseThrow();
    }

    private static Map<String, Object> part(Map<String, ?> with) {
        Map<String, Object> part = new LinkedHashMap<>(
                Map.of("label", "long time", "settingKey", "longTimeSetting", "pickUpLow", 1.05, "pickUpHigh", 1.3));
        part.putAll(with);
        return part;
    }

    private static Map<String, Object> form(int seen, Map<String, ?> part) {
        return Map.of(
                "maker", "Unheard",
                "model", "X1",
                "technology", "thermal-magnetic",
                "source", "read off the sheet in the door",
                "condition", "one pole alone, cold",
                "ratings", List.of(),
                "parts", List.of(part(part)),
                "seen", seen);
    }

    private static JsonNode trial(Map<String, ?> what, Map<String, Double> plate) {
        Map<String, Object> body = new LinkedHashMap<>(what);
        body.put("plate", plate);
        return oster.post("/api/curve-models/preview", body, null);
    }

    @Test
    void aModelIsDrawnAtItsSettingsAndRefusesOthers() {
        JsonNode m160 = model("orvex-m160");
        assertFalse(m160.path("own").asBoolean());
        assertTrue(m160.path("uses").asInt() >= 1 && m160.path("usedBy").size() >= 1, m160.toString());
        JsonNode at100 = trial(Map.of("id", "orvex-m160"), Map.of("ratedCurrent", 100.0, "longTimeSetting", 100.0));
        JsonNode at80 = trial(Map.of("id", "orvex-m160"), Map.of("ratedCurrent", 100.0, "longTimeSetting", 80.0));
        assertTrue(at100.path("outline").size() > 20);
        assertTrue(
                at80.path("outline").get(0).path("at").asDouble()
                        < at100.path("outline").get(0).path("at").asDouble(),
                "a dial moves the band");
        ProblemException outside = problem(
                422,
                "fields-invalid",
                () -> trial(Map.of("id", "orvex-m160"), Map.of("ratedCurrent", 100.0, "longTimeSetting", 900.0)));
        assertTrue(
                outside.fields().get("plate").contains("900"), outside.fields().toString());
        problem(404, "unknown-curve", () -> trial(Map.of("id", "none"), Map.of()));
    }

    /** Pasted points become the band that the next run of such a device is judged by. */
    @Test
    void ownPointsAreKeptInRevisionsAndUsed() {
        problem(403, "not-allowed", () -> tavel.put("/api/curve-models/unheard-x1", form(0, Map.of("points", POINTS))));
        JsonNode kept = oster.put("/api/curve-models/unheard-x1", form(0, Map.of("points", POINTS)));
        assertEquals(1, kept.path("revision").asInt());
        assertTrue(kept.path("own").asBoolean());
        assertTrue(kept.path("usedBy").toString().contains("MFR-CBK-08"), "its maker and model are on that plate");
        JsonNode drawn = trial(Map.of("id", "unheard-x1"), Map.of("ratedCurrent", 100.0, "longTimeSetting", 100.0));
        JsonNode at300 = drawn.path("outline")
                .valueStream()
                .filter(p -> Math.abs(p.path("at").asDouble() - 300) < 1e-6)
                .findFirst()
                .orElseThrow();
        assertEquals(10, at300.path("low").asDouble(), 1e-9);
        assertEquals(30, at300.path("high").asDouble(), 1e-9);
        problem(
                409,
                "changed-meanwhile",
                () -> oster.put("/api/curve-models/unheard-x1", form(0, Map.of("points", POINTS))));
        JsonNode again = oster.put(
                "/api/curve-models/unheard-x1",
                form(
                        1,
                        Map.of(
                                "formula",
                                "iec-vi",
                                "timeSettingKey",
                                "longTimeDelay",
                                "minusPercent",
                                10,
                                "plusPercent",
                                15)));
        assertEquals(2, again.path("revisions").size());
        assertEquals("iec-vi", again.at("/form/parts/0/formula").asString());
        // What was handed out comes back unchanged.
        JsonNode out = oster.get("/api/curves?id=unheard-x1");
        oster.post("/api/curves", out, null);
        assertEquals(3, model("unheard-x1").path("revision").asInt());
        assertEquals(out, oster.get("/api/curves?id=unheard-x1"));
    }

    @Test
    void whatIsWrongIsNamedAndWhatShipsStays() {
        ProblemException points = problem(
                422,
                "fields-invalid",
                () -> oster.put("/api/curve-models/bad-one", form(0, Map.of("points", "2;10;40\n1;5;20"))));
        assertTrue(
                points.fields().get("parts.0.points").contains("Line 2"),
                points.fields().toString());
        ProblemException more = problem(
                422,
                "fields-invalid",
                () -> oster.put(
                        "/api/curve-models/bad-one",
                        form(0, Map.of("formula", "iec-zz", "pickUpLow", -1, "settingKey", "1 x"))));
        assertTrue(
                more.fields()
                        .keySet()
                        .containsAll(List.of(
                                "parts.0.formula",
                                "parts.0.pickUpLow",
                                "parts.0.settingKey",
                                "parts.0.timeSettingKey")),
                more.fields().toString());
        problem(
                409,
                "ships-with-the-program",
                () -> oster.put("/api/curve-models/orvex-m160", form(0, Map.of("points", POINTS))));
        problem(422, "fields-invalid", () -> oster.put("/api/curve-models/A_B", form(0, Map.of("points", POINTS))));
    }
}
