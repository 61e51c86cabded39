package org.juratest.server.register;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.awt.Color;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import tools.jackson.databind.JsonNode;

/** The register over HTTP: changed, undone, exchanged, imported, searched. */
class RegisterTest {

    private static final TestServer SERVER = TestServer.start();
    private static final Map<String, String> PLATE =
            Map.of("poles", "3", "ratedCurrent", "0.16 kA", "ratedVoltage", "400");
    private static int made;

    private ApiClient tavel;
    private ApiClient oster;

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    @BeforeEach
    void signIn() {
        tavel = SERVER.client("tavel", "rack-rail-16");
        oster = SERVER.client("oster", "penstock-42");
    }

    private static Map<String, Object> form(String id, Map<String, String> plate) {
        return Map.of(
                "id",
                id,
                "assetClass",
                "lv-breaker",
                "maker",
                "Halmic",
                "model",
                "E160",
                "serial",
                "S/" + id,
                "plate",
                plate);
    }

    /** A position with a device of its own. */
    private String place() {
        String code = "MFR-TST-" + (10 + made++);
        tavel.post("/api/register/positions", Map.of("code", code, "site", "MFR", "family", "breakers"), null);
        tavel.post("/api/register/assets", form("T-" + code, PLATE), null);
        tavel.post(
                "/api/register/exchanges",
                Map.of("position", code, "in", "T-" + code, "at", "2026-01-05T08:00:00Z"),
                null);
        return code;
    }

    private JsonNode change(String path, String field, String was, String now) {
        return tavel.patch(
                "/api/register/" + path, Map.of("changes", List.of(Map.of("field", field, "was", was, "now", now))));
    }

    private String plate(String asset, String key) {
        return tavel.get("/api/register/assets/" + asset)
                .path("plate")
                .valueStream()
                .filter(p -> p.at("/field/key").asString().equals(key))
                .findFirst()
                .orElseThrow()
                .path("typed")
                .asString();
    }

    private JsonNode undo(ApiClient who, JsonNode act) {
        return who.post("/api/register/acts/" + act.path("id").asLong() + "/undo", Map.of(), null);
    }

    private Map<String, String> plates(String asset) {
        Map<String, String> all = new TreeMap<>();
        tavel.get("/api/register/assets/" + asset)
                .path("plate")
                .forEach(p ->
                        all.put(p.at("/field/key").asString(), p.path("typed").asString()));
        return all;
    }

    /**
     * A choice among several, such as how a supply is measured, takes nothing else along: neither by plan nor unseen.
     */
    @Test
    void anotherServiceChangesNothingElseOfAnInstallation() {
        Map<String, String> plate = Map.of(
                "service", "3-phase 4-wire",
                "connection", "by transformers",
                "accuracyClass", "0.5 S",
                "ratedVoltage", "400",
                "ratedCurrent", "5",
                "meterConstant", "2000",
                "ctPrimary", "200",
                "ctSecondary", "5",
                "testBlock", "TB-4");
        Map<String, Object> form = new HashMap<>(form("T-MET-1", plate));
        form.put("assetClass", "energy-meter");
        tavel.post("/api/register/assets", form, null);
        Map<String, String> before = plates("T-MET-1");
        JsonNode act = change("assets/T-MET-1", "plate.service", "3-phase 4-wire", "3-phase 3-wire");
        Map<String, String> after = plates("T-MET-1");
        assertEquals("3-phase 3-wire", after.put("service", "3-phase 4-wire"));
        assertEquals(before, after);
        undo(tavel, act);
        assertEquals(before, plates("T-MET-1"));
    }

    @Test
    void aValueIsChangedInPlaceAndUndone() {
        String asset = "T-" + place();
        assertEquals("0.16 kA", plate(asset, "ratedCurrent"));
        JsonNode act = change("assets/" + asset, "plate.ratedCurrent", "0.16 kA", "250");
        assertEquals("Tavel", act.path("name").asString().substring(3));
        assertEquals(
                List.of("ratedCurrent", "0.16 kA", "250 A"),
                List.of(
                        act.at("/changes/0/field").asString(),
                        act.at("/changes/0/before").asString(),
                        act.at("/changes/0/after").asString()));
        undo(tavel, act);
        assertEquals("0.16 kA", plate(asset, "ratedCurrent"));
        problem(409, "undone-already", () -> undo(tavel, act));
        // RunFixture newest first: undone, changed, installed, added.
        List<String> told = tavel.get("/api/register/acts?of=asset:" + asset)
                .valueStream()
                .map(a -> a.path("words").asString())
                .toList();
        assertEquals(4, told.size());
        assertTrue(told.get(0).startsWith("Undone: Changed ratedCurrent"), told.get(0));
    }

    @Test
    void whoLookedAtAnOlderValueIsToldTheNewOne() {
        String code = place();
        change("positions/" + code, "title", "", "Feeder 3");
        ProblemException stale =
                problem(409, "changed-meanwhile", () -> change("positions/" + code, "title", "", "Feeder 4"));
        assertTrue(stale.getMessage().contains("Feeder 3"));
        assertEquals("title", stale.field());
        // Another value of the same thing does not collide.
        change("positions/" + code, "part", "", "main");
    }

    @Test
    void anUndoTouchesNothingThatWasChangedSince() {
        String asset = "T-" + place();
        JsonNode first = change("assets/" + asset, "model", "E160", "E161");
        change("assets/" + asset, "serial", "S/" + asset, "X1" + asset);
        // Another value: the undo of the first leaves it alone.
        undo(tavel, first);
        JsonNode page = tavel.get("/api/register/assets/" + asset);
        assertEquals(
                List.of("E160", "X1" + asset),
                List.of(page.path("model").asString(), page.path("serial").asString()));
        JsonNode second = change("assets/" + asset, "model", "E160", "E162");
        change("assets/" + asset, "model", "E162", "E163");
        ProblemException since = problem(409, "changed-since", () -> undo(tavel, second));
        assertTrue(since.getMessage().contains("A. Tavel"), since.getMessage());
        JsonNode others = tavel.get("/api/register/acts?limit=1").get(0);
        assertEquals("tavel", others.path("by").asString());
        undo(oster, others);
        JsonNode osters = oster.post(
                "/api/register/sites",
                Map.of("code", "NEW" + made++, "name", "New", "km", "2,5", "altitude", "600", "zone", "CET"),
                null);
        problem(409, "not-yours", () -> undo(tavel, osters));
    }

    @Test
    void aDeviceIsExchangedAndBothHistoriesAreKept() {
        JsonNode place = tavel.get("/api/register/positions/MFR-CBK-09");
        String out = place.at("/place/asset/id").asString();
        assertEquals("CBK-3", out);
        long jobs = place.path("jobs").asLong();
        long job = tavel.get("/api/jobs")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("asset").asString().equals(out))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asLong();
        assertTrue(jobs > 0);
        // It was tested on 20 November 2025: it cannot have left before that.
        Map<String, Object> exchange = new HashMap<>(Map.of(
                "position",
                "MFR-CBK-09",
                "out",
                out,
                "inNew",
                form("CBK-1500", PLATE),
                "at",
                "2025-11-20T02:00:00Z",
                "why",
                "rusty"));
        assertTrue(problem(422, "fields-invalid", () -> tavel.post("/api/register/exchanges", exchange, null))
                .fields()
                .get("at")
                .contains("2025-11-20"));
        problem(404, "unknown-asset", () -> tavel.get("/api/register/assets/CBK-1500"));
        exchange.put("at", "2026-11-01T09:30:00Z");
        JsonNode act = tavel.post("/api/register/exchanges", exchange, null);
        JsonNode held = tavel.get("/api/register/positions/MFR-CBK-09").path("held");
        assertEquals(
                List.of("CBK-1500", "CBK-3"),
                held.valueStream().map(h -> h.at("/asset/id").asString()).toList());
        assertEquals(held.at("/1/standings/0/to"), held.at("/0/standings/0/from"));
        assertEquals(1, held.at("/1/tests").size());
        assertEquals(
                0, tavel.get("/api/register/positions/MFR-CBK-09").path("jobs").asLong());
        problem(409, "job-withdrawn", () -> tavel.post("/api/jobs/" + job + "/run", Map.of("gear", Map.of()), null));
        // Whoever still sees the old device is told.
        exchange.put("inNew", form("CBK-1501", PLATE));
        assertTrue(problem(409, "changed-meanwhile", () -> tavel.post("/api/register/exchanges", exchange, null))
                .getMessage()
                .contains("CBK-1500 stands at MFR-CBK-09 now"));
        undo(tavel, act);
        assertEquals(
                "CBK-3",
                tavel.get("/api/register/positions/MFR-CBK-09")
                        .at("/place/asset/id")
                        .asString());
        assertEquals(
                jobs,
                tavel.get("/api/register/positions/MFR-CBK-09").path("jobs").asLong());
        problem(404, "unknown-asset", () -> tavel.get("/api/register/assets/CBK-1500"));
        assertEquals(1, tavel.get("/api/assets/CBK-3").path("standings").size());
    }

    @Test
    void aDeviceOnTheBenchStaysWhereItIs() {
        long job = tavel.get("/api/jobs")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("asset").asString().equals("CBK-2"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asLong();
        JsonNode run = tavel.post("/api/jobs/" + job + "/run", Map.of("gear", Map.of()), null);
        ProblemException busy = problem(
                422,
                "fields-invalid",
                () -> tavel.post("/api/register/exchanges", Map.of("position", "MFR-CBK-08", "out", "CBK-2"), null));
        assertTrue(
                busy.fields().get("out").contains("A run is open on CBK-2"),
                busy.fields().toString());
        JsonNode driven = tavel.drive(run.path("id").asString());
        tavel.post(
                "/api/runs/" + run.path("id").asString() + "/abort",
                Map.of("reason", "test over"),
                driven.path("personEvents").asLong());
        JsonNode out = tavel.post("/api/register/exchanges", Map.of("position", "MFR-CBK-08", "out", "CBK-2"), null);
        undo(tavel, out);
        // Nor is it undone that it came, once it is tested where it came to.
        tavel.post("/api/register/exchanges", Map.of("position", "MFR-CBK-08", "out", "CBK-2"), null);
        JsonNode back = tavel.post("/api/register/exchanges", Map.of("position", "MFR-CBK-08", "in", "CBK-2"), null);
        SERVER.database().template().update("UPDATE job SET status = 'open' WHERE id = ?", job);
        JsonNode again = tavel.post("/api/jobs/" + job + "/run", Map.of("gear", Map.of()), null);
        assertTrue(problem(409, "needed-since", () -> undo(tavel, back))
                .getMessage()
                .contains("CBK-2 at MFR-CBK-08 was tested since"));
        JsonNode drivenAgain = tavel.drive(again.path("id").asString());
        tavel.post(
                "/api/runs/" + again.path("id").asString() + "/abort",
                Map.of("reason", "test over"),
                drivenAgain.path("personEvents").asLong());
        undo(tavel, back);
        tavel.post("/api/register/exchanges", Map.of("position", "MFR-CBK-08", "in", "CBK-2"), null);
        tavel.close();
    }

    @Test
    void aDeviceMovesOnlyFromWhereOneSaysItStands() {
        String from = place();
        String to = place();
        String mover = "T-" + from;
        tavel.post(
                "/api/register/exchanges", Map.of("position", to, "out", "T-" + to, "outRetired", "burnt out"), null);
        problem(
                409,
                "changed-meanwhile",
                () -> tavel.post("/api/register/exchanges", Map.of("position", to, "in", mover), null));
        tavel.post("/api/register/exchanges", Map.of("position", to, "in", mover, "inFrom", from), null);
        assertEquals(
                List.of(to, from),
                tavel.get("/api/assets/" + mover)
                        .path("standings")
                        .valueStream()
                        .map(s -> s.path("position").asString())
                        .toList());
        assertTrue(
                tavel.get("/api/register/positions/" + from).at("/place/asset").isMissingNode());
        ProblemException retired = problem(
                422,
                "fields-invalid",
                () -> tavel.post("/api/register/exchanges", Map.of("position", from, "in", "T-" + to), null));
        assertTrue(retired.fields().get("in").contains("burnt out"));
        // The other way round in time: neither the place nor the device was free then.
        ProblemException early = problem(
                422,
                "fields-invalid",
                () -> tavel.post(
                        "/api/register/exchanges",
                        Map.of("position", from, "inNew", form("E-" + from, PLATE), "at", "2026-02-01T00:00:00Z"),
                        null));
        assertTrue(
                early.fields().get("at").contains("Another device stood at " + from + " until"),
                early.fields().toString());
        // A position with a history is retired, not taken away, and only while it is empty.
        problem(409, "still-needed", () -> oster.delete("/api/register/positions/" + from));
        assertTrue(problem(
                        422,
                        "fields-invalid",
                        () -> oster.put("/api/register/positions/" + to + "/retirement", Map.of("why", "wall gone")))
                .getMessage()
                .contains(mover));
        oster.put("/api/register/positions/" + from + "/retirement", Map.of("why", "wall gone"));
        problem(
                409,
                "retired",
                () -> tavel.post("/api/register/exchanges", Map.of("position", from, "in", mover, "inFrom", to), null));
    }

    @Test
    void badInputIsToldFieldByFieldAndNothingIsStored() {
        Map<String, Object> form = new HashMap<>(form(
                "no good id",
                Map.of("poles", "three", "ratedCurrent", "1,250", "ratedVoltage", "4 kA", "colour", "grey")));
        form.put("serial", " ");
        ProblemException wrong = problem(422, "fields-invalid", () -> tavel.post("/api/register/assets", form, null));
        assertEquals(
                Set.of("id", "serial", "plate.poles", "plate.ratedCurrent", "plate.ratedVoltage", "plate.colour"),
                wrong.fields().keySet());
        assertTrue(
                wrong.fields().get("plate.ratedCurrent").contains("1250 or as 1.250"),
                wrong.fields().toString());
        String asset = "T-" + place();
        assertTrue(
                problem(422, "fields-invalid", () -> change("assets/" + asset, "plate.ratedCurrent", "0.16 kA", "7000"))
                        .getMessage()
                        .contains("1 to 6300 A"));
        assertTrue(problem(422, "fields-invalid", () -> change("assets/" + asset, "plate.poles", "3", ""))
                .getMessage()
                .contains("Poles is missing"));
        problem(422, "fields-invalid", () -> change("assets/" + asset, "id", asset, "X"));
        assertTrue(problem(422, "fields-invalid", () -> change("assets/" + asset, "serial", "S/" + asset, "48-2291\tx"))
                .getMessage()
                .contains("tabs"));
        problem(
                403,
                "not-allowed",
                () -> tavel.post(
                        "/api/register/sites",
                        Map.of("code", "XX", "name", "X", "km", "1", "altitude", "1", "zone", "CET"),
                        null));
        ProblemException site = problem(
                422,
                "fields-invalid",
                () -> oster.post(
                        "/api/register/sites",
                        Map.of("code", "x/y", "name", "", "km", "far", "altitude", "99999", "zone", "Moon"),
                        null));
        assertEquals(
                Set.of("code", "name", "km", "altitude", "zone"), site.fields().keySet());
    }

    /** What nobody types by mistake is refused or comes back as it was; the server never fails over it. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "\u0000",
                "a\u0000b",
                "line\nbreak",
                "\t",
                "<b>&amp;</b>",
                "'; DROP TABLE asset; --",
                "%_\\\\",
                "\uFFFF",
                "\uD83D\uDD0C",
                "\uD800",
                "{\"a\":1}",
                "  x  ",
                "\u202Eabc"
            })
    void hostileTextIsRefusedOrKeptAsItIs(String text) {
        String code = place();
        JsonNode extra = oster.post("/api/extra-fields", Map.of("site", "MFR", "label", "Hostile"), null);
        String key = tavel.get("/api/register/positions/" + code)
                .path("extra")
                .get(0)
                .path("key")
                .asString();
        for (List<String> field : List.of(
                List.of("positions/" + code, "title", ""),
                List.of("positions/" + code, "extra." + key, ""),
                List.of("assets/T-" + code, "serial", "S/T-" + code))) {
            try {
                JsonNode act = change(field.get(0), field.get(1), field.get(2), text);
                String kept = act.path("changes").size() == 0
                        ? ""
                        : act.at("/changes/0/after").asString("");
                assertTrue(kept.equals(text.strip()) || text.equals("\uD800"), field + " kept " + kept);
            } catch (ProblemException e) {
                assertTrue(e.status() == 422 || e.status() == 400, e.status() + " " + e.getMessage());
            }
        }
        for (String address : List.of(
                "/api/search?text=", "/api/register/find?text=", "/api/records?text=", "/api/register/acts?of=")) {
            try {
                tavel.get(address + java.net.URLEncoder.encode(text, StandardCharsets.UTF_8));
            } catch (ProblemException e) {
                assertTrue(e.status() == 422 || e.status() == 400, address + " " + e.status() + " " + e.getMessage());
            }
        }
        undo(oster, extra);
    }

    @Test
    void whatMustNotBeUsedIsSeenAndNotInstalled() {
        String code = place();
        String asset = "T-" + code;
        tavel.put("/api/register/assets/" + asset + "/do-not-use", Map.of("why", "cracked case"));
        assertTrue(tavel.get("/api/register/do-not-use")
                .valueStream()
                .anyMatch(b -> b.path("asset").asString().equals(asset)
                        && b.path("why").asString().equals("cracked case")));
        assertEquals(
                "act",
                tavel.get("/api/register/positions/" + code)
                        .at("/place/asset/standing")
                        .asString());
        assertEquals(
                1,
                tavel.get("/api/register/find?where=barred&text=" + code)
                        .path("count")
                        .asInt());
        tavel.post("/api/register/exchanges", Map.of("position", code, "out", asset), null);
        assertTrue(problem(
                        422,
                        "fields-invalid",
                        () -> tavel.post("/api/register/exchanges", Map.of("position", code, "in", asset), null))
                .getMessage()
                .contains("cracked case"));
        TestServer.problem(403, "not-allowed", () -> tavel.delete("/api/register/assets/" + asset + "/do-not-use"));
        oster.delete("/api/register/assets/" + asset + "/do-not-use");
        tavel.post("/api/register/exchanges", Map.of("position", code, "in", asset), null);
        assertEquals(
                "unknown",
                tavel.get("/api/register/positions/" + code)
                        .at("/place/asset/standing")
                        .asString());
    }

    @Test
    void standingComesFromTheLastRecordAndWhatIsOverdueIsNotKnown() {
        assertEquals(
                "watch",
                SERVER.database()
                        .template()
                        .queryForObject("SELECT standing FROM last_record WHERE asset = 'CBK-1'", String.class));
        SERVER.database()
                .template()
                .update("UPDATE job SET opens = current_date - 9, due = current_date - 9, closes = current_date "
                        + "- 1 WHERE asset = 'CBK-1' AND status = 'open'");
        assertEquals("unknown", standing("CBK-1"));
        SERVER.database()
                .template()
                .update("UPDATE job SET opens = current_date, due = current_date, closes = current_date + 3 "
                        + "WHERE asset = 'CBK-1' AND status = 'open'");
        assertEquals("watch", standing("CBK-1"));
        // Without a rated voltage a required limit is missing: tested in part only, where no state says more.
        SERVER.database().template().update("DELETE FROM condition_due WHERE asset = 'CBK-2'");
        SERVER.database().template().update("DELETE FROM asset_state WHERE asset = 'CBK-2'");
        SERVER.database()
                .template()
                .update("UPDATE job SET opens = current_date, due = current_date, closes = current_date + 3 "
                        + "WHERE asset = 'CBK-2' AND status = 'open'");
        assertEquals("unknown", standing("CBK-2"));
        // What its test points do over time says more than its last record, but only with that record in it.
        String state =
                "INSERT INTO asset_state (asset, standing, why, run, at) SELECT asset, 'watch', 'outlier', %s, at "
                        + "FROM last_record WHERE asset = 'CBK-2' ON CONFLICT (asset) DO UPDATE SET run = excluded.run";
        SERVER.database().template().update(state.formatted("gen_random_uuid()"));
        assertEquals("unknown", standing("CBK-2"));
        SERVER.database().template().update(state.formatted("run"));
        assertEquals("watch", standing("CBK-2"));
        JsonNode site = tavel.get("/api/register")
                .path("sites")
                .valueStream()
                .filter(s -> s.path("code").asString().equals("MFR"))
                .findFirst()
                .orElseThrow();
        long all = site.path("marks").valueStream().mapToLong(JsonNode::asLong).sum();
        assertEquals(site.path("positions").asLong() - site.path("empty").asLong(), all);
    }

    private String standing(String asset) {
        return tavel.get("/api/register/sites/MFR")
                .path("places")
                .valueStream()
                .filter(p -> p.at("/asset/id").asString("").equals(asset))
                .findFirst()
                .orElseThrow()
                .at("/asset/standing")
                .asString();
    }

    @Test
    void aClassIsAddedAsDataAndUsed() {
        Map<String, Object> doc = Map.of(
                "code",
                "surge-arrester",
                "family",
                "breakers",
                "mark",
                "ARR",
                "schema",
                Map.of(
                        "title",
                        "Surge arrester",
                        "type",
                        "object",
                        "properties",
                        Map.of(
                                "ratings",
                                        Map.of(
                                                "type",
                                                "object",
                                                "required",
                                                List.of("ratedVoltage"),
                                                "properties",
                                                Map.of(
                                                        "ratedVoltage",
                                                        Map.of(
                                                                "title",
                                                                "Rated voltage Ur",
                                                                "x-unit",
                                                                "kV",
                                                                "properties",
                                                                Map.of(
                                                                        "value",
                                                                        Map.of(
                                                                                "type", "number", "minimum", 1,
                                                                                "maximum", 60))))),
                                "texts",
                                        Map.of(
                                                "properties",
                                                Map.of(
                                                        "housing",
                                                        Map.of(
                                                                "title",
                                                                "Housing",
                                                                "type",
                                                                "string",
                                                                "enum",
                                                                List.of("polymer", "porcelain")))))));
        problem(403, "not-allowed", () -> tavel.post("/api/asset-classes/documents", doc, null));
        JsonNode act = oster.post("/api/asset-classes/documents", doc, null);
        assertEquals(
                "ARR-1001",
                tavel.get("/api/register/free-code?assetClass=surge-arrester")
                        .path("code")
                        .asString());
        Map<String, Object> asset = Map.of(
                "id",
                "ARR-1001",
                "assetClass",
                "surge-arrester",
                "maker",
                "Halmic",
                "model",
                "A24",
                "serial",
                "9",
                "plate",
                Map.of("ratedVoltage", "24", "housing", "glass"));
        assertTrue(problem(422, "fields-invalid", () -> tavel.post("/api/register/assets", asset, null))
                .getMessage()
                .contains("polymer, porcelain"));
        Map<String, Object> good = new HashMap<>(asset);
        good.put("plate", Map.of("ratedVoltage", "24", "housing", "polymer"));
        tavel.post("/api/register/assets", good, null);
        // A class that plates hang on is not undone, and changes only as far as they fit.
        problem(409, "needed-since", () -> undo(oster, act));
        JsonNode view = oster.get("/api/asset-classes")
                .path("classes")
                .valueStream()
                .filter(c -> c.path("code").asString().equals("surge-arrester"))
                .findFirst()
                .orElseThrow();
        Map<String, Object> form = Map.of(
                "code",
                "surge-arrester",
                "family",
                "breakers",
                "title",
                "Surge arrester",
                "mark",
                "ARR",
                "fields",
                List.of(Map.of(
                        "key",
                        "ratedVoltage",
                        "label",
                        "Rated voltage Ur",
                        "kind",
                        "number",
                        "unit",
                        "kV",
                        "max",
                        20,
                        "required",
                        true,
                        "choices",
                        List.of())));
        ProblemException broken =
                problem(422, "fields-invalid", () -> put(form, view.path("seen").asLong()));
        assertEquals(Set.of("fields", "fields[0]"), broken.fields().keySet());
        assertTrue(
                broken.fields().get("fields").contains("Housing")
                        && broken.fields().get("fields[0]").contains("ARR-1001"),
                broken.fields().toString());
        problem(409, "changed-meanwhile", () -> put(form, view.path("seen").asLong() - 1));
        Map<String, Object> unkept = new HashMap<>(doc);
        unkept.put("schema", Map.of("title", "X", "if", Map.of()));
        assertEquals(
                Set.of("schema.if"),
                problem(422, "fields-invalid", () -> oster.post("/api/asset-classes/documents", unkept, null))
                        .fields()
                        .keySet());
    }

    private JsonNode put(Map<String, Object> form, long seen) {
        return oster.put("/api/asset-classes/" + form.get("code"), form, seen);
    }

    @Test
    void ownFieldsHaveTheirLabelsAndTheirValuesComeBackWithThem() {
        String code = place();
        oster.post("/api/extra-fields", Map.of("site", "MFR", "label", "Clé n°"), null);
        assertTrue(problem(
                        422,
                        "fields-invalid",
                        () -> oster.post("/api/extra-fields", Map.of("site", "MFR", "label", "clé N°"), null))
                .getMessage()
                .contains("already"));
        JsonNode field =
                tavel.get("/api/register/positions/" + code).path("extra").get(0);
        assertEquals("cle_n", field.path("key").asString());
        change("positions/" + code, "extra.cle_n", "", "hook 4");
        long id = field.path("id").asLong();
        assertEquals(
                1, oster.get("/api/extra-fields/" + id + "/use").path("values").asLong());
        JsonNode act = oster.delete("/api/extra-fields/" + id);
        assertEquals(
                0, tavel.get("/api/register/positions/" + code).path("extra").size());
        undo(oster, act);
        assertEquals(
                "hook 4",
                tavel.get("/api/register/positions/" + code)
                        .path("extra")
                        .get(0)
                        .path("value")
                        .asString());
        oster.delete("/api/extra-fields/" + id);
    }

    @Test
    void filesAreToldFromTheirBytesAndPicturesGetAThumbnail() throws IOException {
        String asset = "T-" + place();
        String to = "/api/attachments?kind=asset&key=" + asset + "&name=";
        BufferedImage plate = new BufferedImage(900, 300, BufferedImage.TYPE_INT_RGB);
        plate.setRGB(0, 0, Color.RED.getRGB());
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ImageIO.write(plate, "png", out);
        byte[] png = out.toByteArray();
        JsonNode act = tavel.post(to + "plate.png", png, null);
        JsonNode file = tavel.get("/api/register/assets/" + asset).path("files").get(0);
        assertEquals("image/png", file.path("mediaType").asString());
        String path = "/api/attachments/" + file.path("id").asString();
        assertArrayEquals(png, tavel.bytes(path));
        BufferedImage small = ImageIO.read(new ByteArrayInputStream(tavel.bytes(path + "/thumbnail")));
        assertEquals(List.of(240, 80), List.of(small.getWidth(), small.getHeight()));
        JsonNode caption = change("files/" + file.path("id").asString(), "caption", "", "as found");
        assertEquals(
                "as found",
                tavel.get("/api/register/assets/" + asset)
                        .path("files")
                        .get(0)
                        .path("caption")
                        .asString());
        undo(tavel, caption);
        problem(404, "unknown-file", () -> change("files/none", "caption", "", "x"));
        JsonNode turned = tavel.post(to + "turned.jpg", heldUpright(plate), null);
        assertEquals("turned.jpg", turned.at("/changes/0/after").asString());
        String upright = "/api/attachments/"
                + tavel.get("/api/register/assets/" + asset)
                        .path("files")
                        .get(0)
                        .path("id")
                        .asString();
        BufferedImage tall = ImageIO.read(new ByteArrayInputStream(tavel.bytes(upright + "/thumbnail")));
        assertEquals(List.of(80, 240), List.of(tall.getWidth(), tall.getHeight()));
        undo(tavel, turned);
        assertTrue(problem(
                        422,
                        "fields-invalid",
                        () -> tavel.post(to + "cut.png", Arrays.copyOf(png, png.length / 2), null))
                .getMessage()
                .contains("cut off"));
        assertTrue(problem(422, "fields-invalid", () -> tavel.post(to + "page.svg", new byte[] {0, 1, 2, 3}, null))
                .getMessage()
                .contains("none of JPEG, PNG, PDF"));
        assertTrue(problem(
                        422,
                        "fields-invalid",
                        () -> tavel.post(to + "big.txt", new byte[Attachments.LARGEST + 1], null))
                .getMessage()
                .contains("20 MiB"));
        problem(
                404,
                "unknown-asset",
                () -> tavel.post(
                        "/api/attachments?kind=asset&key=NONE&name=a.txt", "a".getBytes(StandardCharsets.UTF_8), null));
        undo(tavel, act);
        assertEquals(0, tavel.get("/api/register/assets/" + asset).path("files").size());
        assertThrows(ProblemException.class, () -> tavel.bytes(path));
    }

    /** A JPEG whose camera says that it was held upright (Exif 2.3, orientation 6). */
    private static byte[] heldUpright(BufferedImage image) throws IOException {
        ByteArrayOutputStream jpeg = new ByteArrayOutputStream();
        ImageIO.write(image, "jpg", jpeg);
        byte[] exif = {
            (byte) 0xFF,
            (byte) 0xE1,
            0,
            34,
            'E',
            'x',
            'i',
            'f',
            0,
            0,
            'M',
            'M',
            0,
            42,
            0,
            0,
            0,
            8,
            0,
            1,
            1,
            0x12,
            0,
            3,
            0,
            0,
            0,
            1,
            0,
            6,
            0,
            0,
            0,
            0,
            0,
            0
        };
        ByteArrayOutputStream with = new ByteArrayOutputStream();
        with.write(jpeg.toByteArray(), 0, 2);
        with.write(exif);
        with.write(jpeg.toByteArray(), 2, jpeg.size() - 2);
        return with.toByteArray();
    }

    @Test
    void aRouteIsCheckedLineByLineUndoneAndComesByATable() {
        Map<String, Object> form = new java.util.HashMap<>(form("ROUTE-1", Map.of()));
        form.put("assetClass", "fibre-link");
        form.put(
                "plate",
                Map.of("fibres", "12", "length", "2.4", "kind", "single-mode", "route", "0;end;A\n1;pole;B\n2;end;C"));
        String wrong = problem(422, "fields-invalid", () -> tavel.post("/api/register/assets", form, null))
                .fields()
                .get("plate.route");
        assertTrue(wrong.startsWith("Route: Line 2, what: it is one of end"), wrong);
        form.put("plate", Map.of("fibres", "12", "length", "2.4", "kind", "single-mode"));
        tavel.post("/api/register/assets", form, null);

        String table = "km,what,name,height_m,slack_m,position\n0,end,Depot,410,,MFR-CBK-09\n2.40,end,Halt,930\n";
        String kept = "0;end;Depot;410;;MFR-CBK-09\n2.4;end;Halt;930";
        JsonNode act = change("assets/ROUTE-1", "plate.route", "", table);
        assertEquals(kept, plate("ROUTE-1", "route"));
        String nowhere = problem(
                        422,
                        "fields-invalid",
                        () -> change("assets/ROUTE-1", "plate.route", kept, kept.replace("CBK-09", "CBK-98")))
                .fields()
                .get("plate.route");
        assertTrue(nowhere.contains("no position MFR-CBK-98"), nowhere);
        undo(tavel, act);
        assertEquals("", plate("ROUTE-1", "route"));

        JsonNode stored = store(
                take("asset,class,plate.route\nROUTE-1,fibre-link,\"" + kept.replace(";MFR-CBK-09", "") + "\"\n"));
        assertEquals("", problems(stored));
        assertEquals(kept.replace(";;MFR-CBK-09", ""), plate("ROUTE-1", "route"));
        JsonNode checked = check(take("asset,class,plate.route\nROUTE-1,fibre-link,\"0;end;A\n1;end;\"\n"));
        assertTrue(problems(checked).contains("Line 2, name"), problems(checked));
    }

    // ---- Import

    private JsonNode take(String table) {
        return oster.post("/api/register/imports?name=valley.csv", table.getBytes(StandardCharsets.UTF_8), null);
    }

    private JsonNode check(JsonNode view) {
        return oster.told("/api/register/imports/" + view.path("id").asString() + "/check", p -> {});
    }

    private JsonNode store(JsonNode view) {
        return oster.told("/api/register/imports/" + view.path("id").asString() + "/store", p -> {});
    }

    private static String problems(JsonNode result) {
        List<String> lines = new ArrayList<>();
        result.path("problems")
                .forEach(p -> lines.add(p.path("line").asLong() + " "
                        + p.path("column").asString("") + ": " + p.path("what").asString()));
        return String.join("\n", lines);
    }

    private static List<Long> counts(JsonNode result, String kind) {
        JsonNode count = result.path("counts")
                .valueStream()
                .filter(c -> c.path("kind").asString().equals(kind))
                .findFirst()
                .orElseThrow();
        return List.of(
                count.path("added").asLong(),
                count.path("changed").asLong(),
                count.path("alike").asLong());
    }

    @Test
    void aTableIsStoredWholeOrNotAtAll() {
        String head = "site;site.name;km;position;Description;class;maker;model;S/N;poles;ratedCurrent;remarks\n";
        JsonNode view = take(
                head
                        + """
        IMP;Import halt;8,5;IMP-CBK-01;"Feeder ""left""; lower
        row";lv-breaker;Halmic;E9;a1;3;160;-
        IMP;;;IMP-CBK-02;;lv-breaker;Halmic;E9;a1;3;1,600;
        IMP;Another name;;IMP-CBK-02;;no-class;Halmic;E9;a3;3;160;
        XYZ;;;XYZ-CBK-01;;lv-breaker;Halmic;E9;a4;5;160 V;
        IMP;;;imp cbk 9;;lv-breaker;Halmic;E9;;3;160;
        """);
        assertEquals(
                List.of(";", "UTF-8", "5"),
                List.of(
                        view.path("separator").asString(),
                        view.path("encoding").asString(),
                        view.path("rows").asString()));
        assertEquals(
                List.of(
                        "site",
                        "site.name",
                        "site.km",
                        "position",
                        "position.title",
                        "class",
                        "maker",
                        "model",
                        "serial",
                        "plate.poles",
                        "plate.ratedCurrent",
                        ""),
                view.path("columns")
                        .valueStream()
                        .map(c -> c.path("field").asString())
                        .toList());
        JsonNode wrong = check(view);
        String told = problems(wrong);
        for (String expected : List.of(
                "2 Description: It is one line",
                "4 S/N: The same maker, model and serial number are in line 2",
                "4 ratedCurrent: Rated current In: \"1,600\" can be read as 1600 or as 1.600",
                "5 position: IMP-CBK-02 is in line 4 already",
                "5 class: There is no class \"no-class\"",
                "5 site: An earlier row says something else of the site IMP",
                "6 site.name: The site XYZ is new",
                "6 km: The site XYZ is new",
                "6 poles: Poles is 1 to 4, not 5",
                "6 ratedCurrent: Rated current In: V is a voltage",
                "7 position: \"imp cbk 9\" does not do",
                "7 S/N: The asset is new")) {
            assertTrue(told.contains(expected), expected + " is not in\n" + told);
        }
        assertEquals(told.lines().count(), 12, told);
        assertFalse(store(view).path("stored").asBoolean());
        problem(404, "unknown-site", () -> tavel.get("/api/register/sites/IMP"));
        JsonNode good = take(head + "IMP;Import halt;8,5;IMP-CBK-01;\"Feeder \"\"left\"\"; "
                + "lower\";lv-breaker;Halmic;E9;a1;3;160;-\n"
                + "IMP;;;IMP-CBK-02;'=1+1;lv-breaker;Halmic;E9;a2;3;0.16 kA;\n");
        JsonNode done = store(good);
        assertTrue(done.path("stored").asBoolean(), problems(done));
        assertEquals(List.of(2L, 0L, 0L), counts(done, "assets"));
        JsonNode places = tavel.get("/api/register/sites/IMP").path("places");
        assertEquals(
                List.of("Feeder \"left\"; lower", "=1+1"),
                places.valueStream().map(p -> p.path("title").asString()).toList());
        problem(409, "stored-already", () -> store(good));
        // One act, undone as one.
        undo(oster, Map.of("id", done.path("act").asLong()));
        problem(404, "unknown-site", () -> tavel.get("/api/register/sites/IMP"));
    }

    private void undo(ApiClient who, Map<String, Long> act) {
        who.post("/api/register/acts/" + act.get("id") + "/undo", Map.of(), null);
    }

    @Test
    void whatIsHandedOutComesBackUnchanged() {
        String code = place();
        change("positions/" + code, "title", "", "'@home, \"x\"");
        change("assets/T-" + code, "model", "E160", "-model\u00a0;µ");
        tavel.post(
                "/api/register/measuring-installations",
                Map.of("code", "MFR-WHL-" + made, "site", "MFR", "title", "Whole"),
                null);
        change("positions/" + code, "partOf", "", "MFR-WHL-" + made);
        byte[] sheet = oster.bytes("/api/register/export");
        String text = new String(sheet, StandardCharsets.UTF_8);
        assertTrue(text.contains("''@home") && text.contains("'-model"), "formulas are not guarded");
        JsonNode result = store(oster.post("/api/register/imports?name=back.csv", sheet, null));
        assertEquals("", problems(result));
        result.path("counts")
                .forEach(c -> assertEquals(
                        List.of(0L, 0L),
                        List.of(c.path("added").asLong(), c.path("changed").asLong()),
                        c.toString()));
        assertTrue(counts(result, "assets").get(2) > 3);
        assertTrue(result.path("act").isMissingNode());
    }

    @ParameterizedTest
    @CsvSource({"UTF-16LE, tab", "UTF-16BE, ;", "windows-1252, |", "UTF-8, ;"})
    void encodingsAndSeparatorsAreFoundOut(String encoding, String separator) {
        String sign = separator.equals("tab") ? "\t" : separator;
        String table = (encoding.startsWith("UTF") ? "\uFEFF" : "")
                + String.join(sign, "site", "site.name", "km", "\"alt;itude, |\"") + "\r\n"
                + String.join(sign, "ENC", "Häusern", "1.5", "x") + "\r\n";
        JsonNode view = oster.post(
                "/api/register/imports?name=enc.csv", table.getBytes(java.nio.charset.Charset.forName(encoding)), null);
        assertEquals(
                List.of(encoding, separator, "Häusern"),
                List.of(
                        view.path("encoding").asString(),
                        view.path("separator").asString(),
                        view.path("columns").get(1).path("samples").get(0).asString()));
    }

    @Test
    void bytesThatAreNoTableAreToldByByte() {
        JsonNode view = oster.post(
                "/api/register/imports?name=x.csv",
                "site;site.name\nA\u00e9;\u00e9t\u00e9".getBytes(StandardCharsets.ISO_8859_1),
                null);
        assertEquals("windows-1252", view.path("encoding").asString());
        assertTrue(problem(
                        422,
                        "table-invalid",
                        () -> oster.put(
                                "/api/register/imports/" + view.path("id").asString(), Map.of("encoding", "UTF-8")))
                .getMessage()
                .contains("byte 17 (line 2)"));
        assertTrue(problem(422, "table-invalid", () -> take("site;name\n\"open;x\n"))
                .getMessage()
                .contains("line 2"));
        problem(422, "table-invalid", () -> take(" \n"));
        JsonNode barred = oster.put("/api/register/imports/" + view.path("id").asString(), Map.of("separator", "|"));
        assertEquals(
                List.of("|", "1"),
                List.of(
                        barred.path("separator").asString(),
                        String.valueOf(barred.path("columns").size())));
        JsonNode back = oster.put("/api/register/imports/" + view.path("id").asString(), Map.of("separator", ";"));
        assertEquals(
                List.of("site", "site.name"),
                back.path("columns")
                        .valueStream()
                        .map(c -> c.path("field").asString())
                        .toList());
        problem(
                422,
                "fields-invalid",
                () -> oster.put(
                        "/api/register/imports/" + view.path("id").asString(),
                        Map.of("fields", List.of("site", "site"))));
        problem(
                403,
                "not-allowed",
                () -> tavel.post("/api/register/imports?name=x.csv", "site\nA".getBytes(StandardCharsets.UTF_8), null));
    }

    @Test
    void whoGoesAwayWhileATableIsStoredHasCancelledIt() throws Exception {
        StringBuilder table = new StringBuilder("site,site.name,km,position,family\n");
        for (int i = 0; i < 30_000; i++) {
            table.append("CAN,Cancelled halt,1,CAN-POS-").append(i).append(",breakers\n");
        }
        String id = oster.postPatiently(
                        "/api/register/imports?name=long.csv", table.toString().getBytes(StandardCharsets.UTF_8))
                .path("id")
                .asString();
        IllegalStateException gone = assertThrows(
                IllegalStateException.class,
                () -> oster.told("/api/register/imports/" + id + "/store", p -> {
                    throw new IllegalStateException("gone");
                }));
        assertEquals("gone", gone.getMessage());
        // Whoever comes next waits for the end of the other, and finds the table as it was.
        JsonNode checked = await().atMost(Duration.ofMinutes(2))
                .ignoreExceptionsMatching(
                        e -> e instanceof ProblemException busy && "already-there".equals(busy.type()))
                .until(
                        () -> {
                            oster.put("/api/register/imports/" + id, Map.of("encoding", "UTF-8"));
                            return oster.told("/api/register/imports/" + id + "/check", p -> {});
                        },
                        Objects::nonNull);
        assertEquals(List.of(1L, 0L, 0L), counts(checked, "sites"), "nothing of it is stored");
        problem(404, "unknown-site", () -> tavel.get("/api/register/sites/CAN"));
    }

    @Test
    void ofTwoWhoExchangeAtOnceOneIsTold() throws Exception {
        String code = place();
        tavel.post("/api/register/assets", form("S1-" + code, PLATE), null);
        tavel.post("/api/register/assets", form("S2-" + code, PLATE), null);
        List<CompletableFuture<String>> both = List.of("S1-", "S2-").stream()
                .map(in -> CompletableFuture.supplyAsync(() -> {
                    try {
                        SERVER.client("tavel", "rack-rail-16")
                                .post(
                                        "/api/register/exchanges",
                                        Map.of("position", code, "out", "T-" + code, "in", in + code),
                                        null);
                        return "done";
                    } catch (ProblemException e) {
                        return e.type();
                    }
                }))
                .toList();
        List<String> ends = both.stream().map(CompletableFuture::join).sorted().toList();
        assertEquals(List.of("changed-meanwhile", "done"), ends);
        assertEquals(
                2, tavel.get("/api/register/positions/" + code).path("held").size());
    }

    @Test
    void theMappingIsKeptForTablesWithTheSameTitles() {
        String table = "Ort;Ortsname;Kilometer\nKPT;Kept halt;3\n";
        JsonNode view = take(table);
        assertFalse(view.path("kept").asBoolean());
        oster.put(
                "/api/register/imports/" + view.path("id").asString(),
                Map.of("fields", List.of("site", "site.name", "site.km")));
        JsonNode again = take(table.replace("KPT", "KPU"));
        assertTrue(again.path("kept").asBoolean());
        assertEquals(List.of(1L, 0L, 0L), counts(check(again), "sites"));
    }

    @Test
    void devicesChangePlacesInOneTable() {
        String a = place();
        String b = place();
        String rows = "position,asset,since\n" + a + ",T-" + b + ",DAY\n" + b + ",T-" + a + ",DAY\n";
        String told = problems(check(take(rows.replace("DAY", ""))));
        assertTrue(told.contains("T-" + b + " stands at " + b) && told.contains("say since when"), told);
        assertTrue(problems(check(take(rows.replace("DAY", "01/02/2026")))).contains("is not a day"));
        assertTrue(problems(check(take(rows.replace("DAY", "2025-12-01")))).contains("came to"));
        JsonNode done = store(take(rows.replace("DAY", "01.02.2026")));
        assertEquals(List.of(0L, 2L, 0L), counts(done, "devices installed"), problems(done));
        assertEquals(
                "T-" + b,
                tavel.get("/api/register/positions/" + a).at("/place/asset/id").asString());
        assertEquals(2, tavel.get("/api/assets/T-" + a).path("standings").size());
    }

    // ---- Search

    private List<String> hits(String text) {
        return tavel.get("/api/search?text=" + java.net.URLEncoder.encode(text, StandardCharsets.UTF_8))
                .path("hits")
                .valueStream()
                .map(h -> h.path("kind").asString() + " " + h.path("key").asString())
                .toList();
    }

    @ParameterizedTest
    @CsvSource({
        "48-2291, asset CBK-1",
        "48-2291, record MFR-CBK-07/2025/1",
        "mfr-cbk-07/2025, record MFR-CBK-07/2025/1",
        "montfrel, site MFR",
        "MFR m160, asset CBK-1",
        "tavel, person tavel",
        "yearly, procedure CBK-YEARLY",
        "defibrillator, assetClass defibrillator",
        "montfrl, site MFR",
        "48-2219, asset CBK-1",
        "mfr-cbk-O7, position MFR-CBK-07",
        "orvx, asset CBK-1",
        "defibrilator, assetClass defibrillator"
    })
    void everythingIsFoundByAnyPartAndInSpiteOfATypo(String text, String expected) {
        assertTrue(hits(text).contains(expected), text + " found " + hits(text));
    }

    /**
     * Words of class, family, maker, place and site together, in any order, in spite of a typo; and how things stand.
     */
    @ParameterizedTest
    @CsvSource({
        "montfrel moulded, asset CBK-1",
        "breaker at montfrel, asset CBK-1",
        "orvex mfr breakers, asset CBK-1",
        "montfrl orvx, asset CBK-1",
        "moulded, asset CBK-1"
    })
    void devicesAreFoundByWhatTheyAre(String text, String expected) {
        assertTrue(hits(text).contains(expected), text + " found " + hits(text));
    }

    @Test
    void howThingsStandNarrowsWhatIsFound() {
        org.springframework.jdbc.core.JdbcTemplate sql = SERVER.database().template();
        Long late = sql.queryForObject(
                "INSERT INTO job (asset, position, procedure, reason, occasion, opens, due, closes) VALUES ('CBK-2', "
                        + "'MFR-CBK-08', 'CBK-YEARLY', 'late', 'found', current_date - 90, current_date - 60, "
                        + "current_date - 30) RETURNING id",
                Long.class);
        assertTrue(
                hits("overdue breaker").contains("job " + late),
                hits("overdue breaker").toString());
        assertTrue(hits("overdue defibrillator").stream().noneMatch(h -> h.startsWith("job ")), "none of that class");
        String verdict = sql.queryForObject("SELECT verdict FROM run WHERE record = 'MFR-CBK-07/2025/1'", String.class);
        String word = verdict.startsWith("marginal") ? "marginal" : verdict.equals("fail") ? "failed" : "passed";
        String other = word.equals("failed") ? "passed" : "failed";
        for (String text : List.of(" 2025", " montfrel", " breaker 2025")) {
            assertTrue(hits(word + text).contains("record MFR-CBK-07/2025/1"), word + text + hits(word + text));
            assertFalse(hits(other + text).contains("record MFR-CBK-07/2025/1"), other + text);
        }
        assertTrue(hits("failed 2019").stream().noneMatch(h -> h.startsWith("record ")), "none of that year");
        assertTrue(hits("failed montfrel unheard m160").stream().noneMatch(h -> h.startsWith("record ")));
        sql.update("DELETE FROM job WHERE id = ?", late);
    }

    /** Of a job what its hit does not show: the device it is for, by whose words it may have been found. */
    private String deviceOf(JsonNode hit) {
        if (!hit.path("kind").asString().equals("job")) {
            return "";
        }
        JsonNode job = tavel.get("/api/jobs/" + hit.path("key").asString());
        return String.join(
                " ",
                job.path("asset").asString(),
                job.path("maker").asString(),
                job.path("model").asString(),
                job.path("serial").asString());
    }

    @Test
    void searchTakesWhatIsTypedAsWords() {
        assertEquals(List.of(), hits("   "));
        for (String sign : List.of("%", "_", "'; DROP TABLE asset; --")) {
            tavel.get("/api/search?text=" + java.net.URLEncoder.encode(sign, StandardCharsets.UTF_8))
                    .path("hits")
                    .forEach(h -> assertTrue(
                            (h.path("title").asString() + h.path("detail").asString() + deviceOf(h)).contains(sign),
                            sign + " is taken for any sign: " + h));
        }
        assertEquals("asset CBK-1", hits("cbk-1").get(0));
    }
}
