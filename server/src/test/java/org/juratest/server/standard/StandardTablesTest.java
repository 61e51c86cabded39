package org.juratest.server.standard;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.juratest.core.standard.StandardTable;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import org.juratest.server.run.RunStore;
import org.juratest.server.series.CablePlace;
import tools.jackson.databind.JsonNode;

/** Tables of standards: kept in revisions, chosen by the plate, frozen with the run. */
class StandardTablesTest {

    private static final TestServer SERVER = TestServer.start();
    private static final String FLAT = "iec-61300-3-35-2015-sm";
    private static final String ANGLED = "iec-61300-3-35-2015-apc";

    private static ApiClient tavel;
    private static ApiClient oster;

    @BeforeAll
    static void signedIn() {
        tavel = SERVER.client("tavel", "rack-rail-16");
        oster = SERVER.client("oster", "penstock-42");
        CablePlace.gear(SERVER);
    }

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    private static JsonNode table(String id) {
        return tavel.get("/api/standard-tables")
                .valueStream()
                .filter(t -> t.path("id").asString().equals(id))
                .findFirst()
                .orElseThrow();
    }

    /** What {@code id} says, as a form; changed by {@code with}. */
    private static Map<String, Object> form(String id, Map<String, ?> with) {
        JsonNode t = table(id);
        Map<String, Object> form = new LinkedHashMap<>();
        for (String text : List.of("group", "title", "edition")) {
            form.put(text, t.path(text).asString());
        }
        Map<String, String> when = new LinkedHashMap<>();
        t.path("when")
                .propertyStream()
                .forEach(e -> when.put(e.getKey(), e.getValue().asString()));
        form.put("when", when);
        form.put("rows", rows(t));
        form.put("retired", false);
        form.put("seen", t.path("revision").asInt());
        form.putAll(with);
        return form;
    }

    private static List<List<String>> rows(JsonNode t) {
        List<List<String>> rows = new ArrayList<>();
        t.path("rows")
                .forEach(r -> rows.add(
                        new ArrayList<>(r.valueStream().map(JsonNode::asString).toList())));
        return rows;
    }

    private static JsonNode keep(ApiClient who, String id, Map<String, Object> form) {
        return who.put("/api/standard-tables/" + id, form);
    }

    private static StandardTable ofRun(String run) {
        return Objects.requireNonNull(SERVER.context()
                .getBean(RunStore.class)
                .state(UUID.fromString(run))
                .opened()
                .table("endFaces"));
    }

    private static String opened(String position, String number) {
        String series = CablePlace.made(tavel, position, number);
        tavel.put(
                series,
                Map.of(
                        "procedure",
                        "MPC-RECEIVE",
                        "pattern",
                        "{n}",
                        "fields",
                        List.of(Map.of("name", "n", "value", number + "2", "runs", true)),
                        "seen",
                        0));
        return tavel.post(series + "/next", Map.of("serial", number + "2"), null)
                .path("run")
                .asString();
    }

    @Test
    void aRunKeepsTheTableItWasOpenedWith() {
        String before = opened("MFR-MPC-11", "71");
        assertEquals(ANGLED, ofRun(before).id());
        List<List<String>> rows = rows(table(ANGLED));
        int most = table(ANGLED)
                .path("columns")
                .valueStream()
                .map(JsonNode::asString)
                .toList()
                .indexOf("most");
        rows.get(0).set(most, "2");
        JsonNode kept = keep(oster, ANGLED, form(ANGLED, Map.of("rows", rows, "edition", "house rule of today")));
        assertEquals(1, kept.path("revision").asInt());
        assertEquals("oster", kept.path("keptBy").asString());
        String after = opened("MFR-MPC-12", "81");
        assertEquals("4", ofRun(before).cell(0, "most"));
        assertEquals("2", ofRun(after).cell(0, "most"));
        assertEquals("house rule of today", ofRun(after).edition());
        JsonNode shipped = tavel.get("/api/standard-tables/" + ANGLED + "/0");
        assertEquals("4", shipped.path("rows").path(0).path(most).asString());
        assertEquals(1, table(ANGLED).path("revisions").size());
        assertTrue(problem(404, "unknown-table", () -> tavel.get("/api/standard-tables/" + ANGLED + "/9"))
                .getMessage()
                .contains("revision 9"));
    }

    @Test
    void whatIsWrongIsNamedByItsCell() {
        List<List<String>> rows = rows(table(FLAT));
        rows.get(1).set(rows.get(1).size() - 1, "few");
        ProblemException bad =
                problem(422, "fields-invalid", () -> keep(oster, FLAT, form(FLAT, Map.of("rows", rows))));
        assertTrue(bad.fields().containsKey("rows.1.most"), bad.fields().toString());
        problem(422, "fields-invalid", () -> keep(oster, "No_Name", form(FLAT, Map.of("seen", 0))));
        problem(422, "fields-invalid", () -> keep(oster, "new-one", form(FLAT, Map.of("group", "stamps", "seen", 0))));
        problem(422, "fields-invalid", () -> keep(oster, FLAT, form(FLAT, Map.of("edition", "  "))));
        assertEquals(0, table(FLAT).path("revision").asInt());
    }

    @Test
    void oneThatServesAllOthersHasToStay() {
        for (Map<String, ?> with :
                List.of(Map.of("retired", true), Map.<String, Object>of("when", Map.of("kind", "single-mode")))) {
            ProblemException last = problem(422, "fields-invalid", () -> keep(oster, FLAT, form(FLAT, with)));
            assertTrue(last.getMessage().contains("stay in use"), last.getMessage());
        }
    }

    @Test
    void ofTwoWhoKeepTheSameOneOnlyOneIsHeard() {
        keep(oster, "house-flat", form(FLAT, Map.of("seen", 0, "when", Map.of("connectors", "flat"))));
        Map<String, Object> form = form("house-flat", Map.of("title", "for the house"));
        List<Integer> answers = Stream.of(1, 2, 3)
                .map(i -> CompletableFuture.supplyAsync(() -> {
                    try {
                        keep(oster, "house-flat", form);
                        return 200;
                    } catch (ProblemException e) {
                        return e.status();
                    }
                }))
                .toList()
                .stream()
                .map(CompletableFuture::join)
                .sorted()
                .toList();
        assertEquals(List.of(200, 409, 409), answers);
        assertEquals(2, table("house-flat").path("revision").asInt());
        problem(403, "not-allowed", () -> keep(tavel, "house-flat", form("house-flat", Map.of())));
    }
}
