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
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.server.InsulationRun;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.databind.JsonNode;

/** The fleet as it is asked for: marks, counts, what needs attention, filters. */
class FleetTest {

    private static final TestServer SERVER = TestServer.start();

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

    private static int at(JsonNode view, String asset) {
        List<String> assets =
                view.at("/marks/asset").valueStream().map(JsonNode::asString).toList();
        return assets.indexOf(asset);
    }

    private static long all(JsonNode counts) {
        return counts.path("act").asLong()
                + counts.path("watch").asLong()
                + counts.path("sound").asLong()
                + counts.path("unknown").asLong();
    }

    @Test
    void everyDeviceInServiceIsAMarkOnceAndTheCountsAreTheirs() {
        JsonNode view = oster.get("/api/condition");
        long installed = sql.queryForObject(
                "SELECT count(*) FROM installation i JOIN asset a ON a.id = i.asset WHERE upper_inf(i.during) AND "
                        + "a.retired_at IS NULL",
                Long.class);
        assertEquals(installed, view.at("/marks/asset").size());
        assertEquals(installed, view.at("/marks/standing").asString().length());
        assertEquals(installed, all(view.path("counts")));
        for (String column : List.of("position", "model")) {
            assertEquals(installed, view.at("/marks/" + column).size(), column);
        }
        assertEquals(
                sql.queryForObject("SELECT count(*) FROM asset_state WHERE margin IS NOT NULL", Long.class),
                view.at("/marks/margin").size());
        assertTrue(view.at("/marks/drift").size() <= view.at("/marks/margin").size());
        view.at("/marks/model")
                .valueStream()
                .forEach(m -> assertTrue(
                        m.asInt() >= 0 && m.asInt() < view.at("/marks/models").size(), m.toString()));
        assertEquals(
                installed,
                view.at("/choices/site")
                        .valueStream()
                        .mapToLong(c -> c.path("assets").asLong())
                        .sum());
        String letters = view.at("/marks/standing").asString();
        assertEquals(
                view.at("/counts/unknown").asLong(),
                letters.chars().filter(c -> c == 'u').count());
    }

    @Test
    void whatFailedIsToldWithItsFigureAndWhatItShouldBe() {
        ApiClient tavel = SERVER.client("tavel", "rack-rail-16");
        InsulationRun run = new InsulationRun(SERVER, tavel);
        run.finished(run.measured(run.opened(), 0.4));
        await().atMost(Duration.ofMinutes(2))
                .until(() -> told().path("reason").asString().contains(", allowed "));
        JsonNode need = told();
        assertEquals("act", need.path("standing").asString());
        assertTrue(
                need.path("reason").asString().matches("Insulation, .+: 0\\.\\d+, allowed at least 100 M.+"),
                need.path("reason").asString());
        JsonNode view = oster.get("/api/condition?standing=act");
        assertEquals('a', view.at("/marks/standing").asString().charAt(at(view, "CBK-1")));
        assertTrue(view.at("/marks/margin").get(at(view, "CBK-1")).asDouble() > 1);
        assertTrue(view.at("/counts/unknown").asLong() > 0, "the others are counted still");
    }

    private JsonNode told() {
        return oster.get("/api/condition")
                .path("needs")
                .valueStream()
                .filter(n -> n.path("asset").asString().equals("CBK-1"))
                .findFirst()
                .orElse(tools.jackson.databind.node.MissingNode.getInstance());
    }

    @Test
    void whatMustNotBeUsedIsToBeActedOnWhateverItsRecordSays() {
        oster.put("/api/register/assets/CBK-2/do-not-use", Map.of("why", "scorched"));
        try {
            JsonNode need = oster.get("/api/condition").path("needs").get(0);
            assertEquals("CBK-2", need.path("asset").asString());
            assertEquals("must not be used: scorched", need.path("reason").asString());
        } finally {
            oster.delete("/api/register/assets/CBK-2/do-not-use");
        }
    }

    @Test
    void filtersNarrowMarksAndCountsAlike() {
        JsonNode all = oster.get("/api/condition");
        for (String by : List.of("family", "site", "model")) {
            JsonNode choice = all.at("/choices/" + by).get(0);
            JsonNode some = oster.get("/api/condition?" + by + "="
                    + java.net.URLEncoder.encode(
                            choice.path("value").asString(), java.nio.charset.StandardCharsets.UTF_8));
            assertEquals(choice.path("assets").asLong(), some.at("/marks/asset").size(), by);
            assertEquals(choice.path("assets").asLong(), all(some.path("counts")), by);
        }
        assertEquals(
                0, oster.get("/api/condition?minAge=900").at("/marks/asset").size());
        assertEquals(
                all.at("/marks/asset").size(),
                oster.get("/api/condition?minAge=0&maxAge=900")
                        .at("/marks/asset")
                        .size());
        assertEquals(
                0, oster.get("/api/condition?family=none").at("/marks/asset").size());
    }

    @Test
    void aRegionIsAListAndATableOfTheSameDevicesInTheOrderAskedFor() throws Exception {
        // The few records of a test have no rate yet.
        sql.update("UPDATE asset_state SET drift = 0.04 WHERE margin IS NOT NULL");
        JsonNode marks = oster.get("/api/condition").path("marks");
        int rated = marks.path("drift").size();
        assertTrue(rated > 0);
        double edge = marks.path("margin").get(0).asDouble();
        String region = "marginFrom=" + edge + "&marginTo=" + edge + "&driftFrom=-9&driftTo=9";
        long inside = java.util.stream.IntStream.range(0, rated)
                .filter(i -> marks.path("margin").get(i).asDouble() == edge)
                .count();
        JsonNode list = oster.get("/api/condition/devices?" + region);
        assertEquals(inside, list.path("total").asLong());
        assertEquals(inside, list.path("devices").size());
        assertEquals(
                marks.path("asset").size(),
                oster.get("/api/condition?" + region).at("/marks/asset").size(),
                "the map stays whole around a region");

        List<Double> margins = oster.get("/api/condition/devices?order=margin")
                .path("devices")
                .valueStream()
                .filter(d -> d.has("margin"))
                .map(d -> d.path("margin").asDouble())
                .toList();
        assertEquals(
                margins.stream().sorted(java.util.Comparator.reverseOrder()).toList(), margins);
        JsonNode all = oster.get("/api/condition/devices?order=position");
        JsonNode rest = oster.get("/api/condition/devices?order=position&from=3");
        assertEquals(all.path("devices").get(3), rest.path("devices").get(0));
        String table = new String(oster.bytes("/api/condition/devices/table?" + region));
        assertEquals(1 + inside, table.lines().count(), table);
    }

    @Test
    void everyDeviceHasItsReasonInWordsWhateverItsStanding() {
        JsonNode devices = oster.get("/api/condition/devices?order=gravest").path("devices");
        devices.valueStream().forEach(d -> {
            assertTrue(!d.path("reason").asString().isBlank(), d.toString());
            if (d.path("standing").asString().equals("sound") && d.has("margin")) {
                assertTrue(d.path("reason").asString().contains("allowed"), d.toString());
            }
        });
        String asset = sql.queryForObject(
                "SELECT min(x.asset) FROM asset_state x JOIN installation i ON i.asset = x.asset AND "
                        + "upper_inf(i.during) JOIN asset a ON a.id = x.asset WHERE a.do_not_use IS NULL",
                String.class);
        sql.update("UPDATE asset_state SET standing = 'watch', why = 'near' WHERE asset = ?", asset);
        sql.update("UPDATE last_record SET standing = 'watch' WHERE asset = ?", asset);
        sql.update(
                "INSERT INTO job (asset, position, procedure, reason, occasion, opens, due, closes) SELECT asset, "
                        + "position, 'LATE', 'interval', 'interval', current_date - 9, current_date - 9, "
                        + "current_date - 1 "
                        + "FROM installation WHERE asset = ? AND upper_inf(during)",
                asset);
        JsonNode overdue = oster.get("/api/condition/devices?standing=unknown")
                .path("devices")
                .valueStream()
                .filter(d -> d.path("asset").asString().equals(asset))
                .findFirst()
                .orElseThrow();
        assertTrue(overdue.path("reason").asString().startsWith("overdue; when last tested, "), overdue.toString());
    }

    @ParameterizedTest
    @CsvSource({"marginFrom=abc, marginFrom", "minAge=old, minAge", "driftTo=1..2, driftTo", "from=x, from"})
    void whatIsNoNumberInAnAddressIsRefusedByName(String query, String field) {
        assertEquals(
                field,
                problem(422, "value-invalid", () -> oster.get("/api/condition/devices?" + query))
                        .field());
    }

    /** A table of the fleet has each device once, with what the list says of it, and no cell that is a formula. */
    @Test
    void theTableSaysWhatTheListSays() {
        String asset = sql.queryForObject(
                "SELECT min(n.asset) FROM standing_now n JOIN installation i ON i.asset = n.asset "
                        + "AND upper_inf(i.during) "
                        + "WHERE n.by_record IS NOT NULL",
                String.class);
        oster.put("/api/condition/watch/" + asset, Map.of("why", "=1+1, \"smells\""));
        try {
            List<JsonNode> listed = new java.util.ArrayList<>();
            for (int from = 0; ; from += 100) {
                JsonNode page = oster.get("/api/condition/devices?order=position&from=" + from)
                        .path("devices");
                if (page.isEmpty()) {
                    break;
                }
                page.forEach(listed::add);
            }
            String table = new String(
                    oster.bytes("/api/condition/devices/table?order=position"),
                    java.nio.charset.StandardCharsets.UTF_8);
            List<String> rows = table.lines().skip(1).toList();
            assertEquals(listed.size(), rows.size());
            for (int i = 0; i < rows.size(); i++) {
                assertTrue(
                        rows.get(i).startsWith(listed.get(i).path("asset").asString() + ","),
                        rows.get(i) + " is not " + listed.get(i));
            }
            assertTrue(
                    rows.stream().noneMatch(r -> r.contains(",=") || r.contains("\"=")),
                    "a spreadsheet would reckon with it");
        } finally {
            oster.delete("/api/condition/watch/" + asset);
        }
    }

    /**
     * What is advised stands beside what is set, with the device that needs it soonest; a plan is not changed by it.
     */
    @Test
    void advisedIntervalsStandBesideTheSetOnesAndFollowTheRisk() {
        JsonNode plan = plan();
        String asset = sql.queryForObject(
                "SELECT min(s.asset) FROM series_state s JOIN installation i ON i.asset = s.asset "
                        + "AND upper_inf(i.during) "
                        + "WHERE s.procedure = 'CBK-YEARLY'",
                String.class);
        sql.update("UPDATE series_state SET advice = NULL WHERE procedure = 'CBK-YEARLY'");
        assertFalse(plan().has("advice"), "nothing is known, and nothing is advised");
        sql.update("UPDATE asset_state SET test_interval = 1 WHERE asset = ?", asset);
        sql.update("UPDATE series_state SET advice = 7 WHERE asset = ? AND procedure = 'CBK-YEARLY'", asset);
        JsonNode advice = plan().path("advice");
        assertEquals(1, advice.path("devices").asInt());
        assertEquals(1, advice.path("shorter").asInt(), "7 months are less than the 12 that are set");
        assertEquals(7, advice.path("least").asInt());
        assertEquals(7, advice.path("middle").asInt());
        assertEquals(asset, advice.path("leastAsset").asString());
        assertEquals(plan.path("plan"), plan().path("plan"), "no plan is changed by it");

        assertEquals(
                "risk",
                problem(409, "out-of-range", () -> oster.put("/api/condition/advice-risk", Map.of("risk", 0.9)))
                        .field());
        ApiClient tavel = SERVER.client("tavel", "rack-rail-16");
        problem(403, "not-allowed", () -> tavel.put("/api/condition/advice-risk", Map.of("risk", 0.1)));
        oster.put("/api/condition/advice-risk", Map.of("risk", 0.2));
        await().atMost(Duration.ofMinutes(2)).until(() -> Long.valueOf(0)
                .equals(sql.queryForObject("SELECT count(*) FROM condition_due", Long.class)));
        assertEquals(
                0.2, tavel.get("/api/condition/trends/" + asset).path("risk").asDouble());
        assertEquals(List.of(), new ConditionCheck(sql).findings(), "the tables are of the new risk");
        oster.put("/api/condition/advice-risk", Map.of("risk", 0.05));
    }

    private JsonNode plan() {
        return oster.get("/api/plans")
                .valueStream()
                .filter(l -> l.at("/plan/procedure").asString().equals("CBK-YEARLY")
                        && l.at("/plan/occasion").asString().equals("interval"))
                .findFirst()
                .orElseThrow();
    }

    @ParameterizedTest
    @CsvSource({
        "standing=dead, standing",
        "minAge=-1, minAge",
        "maxAge=1e300, maxAge",
        "minAge=NaN, minAge",
        "driftTo=NaN, driftTo",
        "order=worst, order",
        "from=-1, from"
    })
    void whatIsNoFilterIsRefusedByName(String query, String field) {
        assertEquals(
                field,
                problem(
                                409,
                                query.startsWith("standing")
                                        ? "unknown-standing"
                                        : query.startsWith("order") ? "unknown-order" : "out-of-range",
                                () -> oster.get("/api/condition/devices?" + query))
                        .field());
    }
}
