package org.juratest.web;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** What of phasors, counts and test blocks is shown. */
class MeterFigureTest {

    private static Page page;

    @BeforeAll
    static void open() throws Exception {
        page = new Page();
    }

    @AfterAll
    static void close() {
        page.close();
    }

    @Test
    void aWheelIsReadFromWhatAnAttemptKept() {
        JsonNode wheel = page.call(
                "wheelOf",
                """
                [{"name":"Voltage 1","facts":{"phasor":"230.1 0.00","wiring1":"current 2 reversed",
                "wiring2":"currents 1 and 3 exchanged","assumes":"x","missing":"","rotation":"POSITIVE"}},
                {"name":"Voltage 2","facts":{"phasor":"229.8 -120.02"}},{"name":"Current 1","facts":{}}]
                """
                        .replace("\n", ""));
        assertEquals(-120.02, wheel.at("/voltages/1/degrees").asDouble());
        assertTrue(wheel.at("/voltages/2").isNull() && wheel.at("/currents/0").isNull(), wheel.toString());
        assertEquals(
                "[\"current 2 reversed\",\"currents 1 and 3 exchanged\"]",
                wheel.path("wirings").toString());
        assertTrue(page.call("wheelOf", "[{\"name\":\"Signal\",\"facts\":{}}]").isNull());
        assertTrue(page.call("phasorOf", "\"230 soon\"").isNull());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "current 2 reversed | current | [2]",
                "currents 1 and 3 exchanged, current 2 reversed | current | [1,2,3]",
                "voltages 1 and 2 exchanged | voltage | [1,2]",
                "voltages 1 and 2 exchanged | current | []",
                "currents moved on: input 1 has phase 2, 2 has 3, 3 has 1 | current | [1,2,3]",
                "as it should be | current | []"
            })
    void inputsThatAWiringNamesStandOut(String wiring, String what, String inputs) {
        assertEquals(
                inputs,
                page.call("wrongInputs", "\"" + wiring + "\"", "\"" + what + "\"")
                        .toString());
    }

    @Test
    void onlyWhatIsReversedIsTurned() {
        assertTrue(page.call("isReversed", "\"current 2 reversed\"", "2").asBoolean());
        assertFalse(page.call("isReversed", "\"current 2 reversed\"", "1").asBoolean());
    }

    @Test
    void aRaceTellsHowFarBothHaveCome() {
        JsonNode race = page.call(
                "race",
                """
                {"pulses":{"value":5,"unit":"1"},"wanted":{"value":10,"unit":"1"},
                "meterEnergy":{"value":0.005,"unit":"kW.h"},"referenceEnergy":{"value":0.00495,"unit":"kW.h"},
                "error":{"value":1.01,"unit":"%"},"run":{"value":2,"unit":"1"},"runs":{"value":3,"unit":"1"}}
                """
                        .replace("\n", ""));
        assertEquals(0.5, race.path("meter").asDouble());
        assertEquals(0.495, race.path("reference").asDouble(), 1e-9);
        assertEquals("5 of 10", race.path("meterWords").asString());
        assertTrue(race.path("referenceWords").asString().startsWith("4.95"), race.toString());
        assertFalse(race.has("waits"));
        assertTrue(race.path("runs").asString().startsWith("run 2 of 3"));
    }

    /** Before the first pulse nothing has been run, and nothing is divided by nothing. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{\"waitsForContact\":{\"value\":1,\"unit\":\"1\"}} | Waiting for the contact",
                "{\"warming\":{\"value\":30,\"unit\":\"s\"}} | Warming up",
                "{\"settling\":{\"value\":2,\"unit\":\"s\"}} | Settling",
                "{} | Looking at the load"
            })
    void beforeItCountsItSaysWhatItWaitsFor(String values, String words) {
        JsonNode race = page.call("race", values);
        assertTrue(race.path("waits").asString().startsWith(words), race.toString());
        assertEquals(0, race.path("reference").asDouble());
    }

    @Test
    void theBlockShowsWhichLinkToOpenNext() {
        String steps =
                """
                [{"id":"short","method":"ct.shorted","lanes":[{"id":"L1","label":"L1"},{"id":"L2","label":"L2"},
                {"id":"L3","label":"L3"}],"confirmations":[]},
                {"id":"open","lanes":[],"confirmations":[{"id":"l1","text":"","confirmed":true,"restored":false}]},
                {"id":"close","lanes":[],"confirmations":[{"id":"all","text":"","confirmed":false,"restored":false}]},
                {"id":"restore","method":"ct.restored","lanes":[],"confirmations":[]}]
                """
                        .replace("\n", "");
        String points =
                """
                {"short":[{"lane":"L1","point":"current","verdict":"pass","counting":{"figure":"0.002"}},
                {"lane":"L2","point":"current","verdict":"pass","counting":{"figure":"0.001"}},
                {"lane":"L3","point":"current","verdict":"fail","counting":{"figure":"2.1"}}]}
                """
                        .replace("\n", "");
        JsonNode rows = page.call("block", steps, points);
        assertEquals("open", rows.at("/0/state").asString());
        assertFalse(rows.at("/1/isNext").asBoolean(), "not before all are shorted");
        JsonNode all = page.call("block", steps, points.replace("fail", "pass"));
        assertTrue(all.at("/1/isNext").asBoolean(), "shorted and still closed");
        assertFalse(all.at("/2/isNext").asBoolean(), "one after the other");
        assertEquals("live", rows.at("/2/state").asString());
        assertEquals("not shorted: leave its link closed", rows.at("/2/words").asString());
        JsonNode closed = page.call(
                "block",
                steps.replace("\"all\",\"text\":\"\",\"confirmed\":false", "\"all\",\"text\":\"\",\"confirmed\":true"),
                points);
        assertFalse(closed.at("/0/isOpen").asBoolean(), "closed again");
        JsonNode back = page.call(
                "block",
                steps,
                points.replace(
                        "}]}",
                        "}],\"restore\":[{\"lane\":\"L1\",\"point\":\"current\",\"verdict\":\"pass\","
                                + "\"counting\":{\"figure\":\"2.2\"}}]}"));
        assertFalse(back.at("/0/isShorted").asBoolean());
        assertEquals("2.2", back.at("/0/figure").asString());
    }

    @Test
    void namesThatWouldLieOverEachOtherShareAPlace() {
        assertEquals(
                "[{\"name\":\"L1, L3\",\"x\":112,\"y\":50},{\"name\":\"L2\",\"x\":160,\"y\":50}]",
                page.call(
                                "together",
                                "[{\"id\":\"L1\",\"x\":100,\"y\":50},{\"id\":\"L2\",\"x\":160,\"y\":50},"
                                        + "{\"id\":\"L3\",\"x\":112,\"y\":60}]")
                        .toString());
    }

    /** What a register waits for is told as energy, what a demand waits for as an interval. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{\"wantedEnergy\":{\"value\":0.4,\"unit\":\"kW.h\"},\"referenceEnergy\":{\"value\":0.1,"
                        + "\"unit\":\"kW.h\"}} | 100 | The reference adds up | 0.25",
                "{\"demand\":{\"value\":0.8,\"unit\":\"kW\"},\"until it begins\":{\"value\":90,"
                        + "\"unit\":\"s\"}} | 0.8 | Waiting until | ",
                "{\"demand\":{\"value\":0.8,\"unit\":\"kW\"},\"interval\":{\"value\":90,"
                        + "\"unit\":\"s\"}} | 0.8 | One interval | ",
                "{} | \u2026 | Reading | "
            })
    void whatIsAddedUpSaysWhatItWaitsFor(String values, String figure, String words, Double share) {
        JsonNode added = page.call("addedUp", values);
        assertTrue(added.path("figure").asString().startsWith(figure), added.toString());
        assertTrue(added.path("words").asString().startsWith(words), added.toString());
        assertEquals(share != null, added.has("share"));
        if (share != null) {
            assertEquals(share, added.path("share").asDouble(), 1e-9);
        }
    }

    @Test
    void energiesThatAreNotActiveHaveTheirOwnUnits() {
        JsonNode race = page.call(
                "race",
                "{\"pulses\":{\"value\":5,\"unit\":\"1\"},\"wanted\":{\"value\":10,\"unit\":\"1\"},"
                        + "\"power\":{\"value\":230,\"unit\":\"var\"},"
                        + "\"referenceEnergy\":{\"value\":0.005,\"unit\":\"kvar.h\"}}");
        assertTrue(race.path("referenceWords").asString().endsWith("varh"), race.toString());
        assertTrue(race.path("beside").asString().endsWith("var"), race.toString());
    }

    /** Sets of tests keep each procedure once, and none gets lost when the order is changed. */
    @Test
    void aSetOfTestsKeepsItsTestsWhenItsOrderChanges() {
        String items = "[{\"procedure\":\"A\",\"variant\":\"V\"},{\"procedure\":\"B\"}]";
        assertEquals(
                "[{\"procedure\":\"B\"},{\"procedure\":\"A\",\"variant\":\"V\"}]",
                page.call("movedTest", items, "0", "1").toString());
        assertEquals(items, page.call("movedTest", items, "1", "1").toString(), "the last stays the last");
        assertEquals(
                "[{\"procedure\":\"A\"},{\"procedure\":\"B\"}]",
                page.call("withVariant", items, "0", "\"\"").toString());
        assertEquals(
                "[{\"code\":\"C\"}]",
                page.call("remaining", "[{\"code\":\"A\"},{\"code\":\"C\"}]", items)
                        .toString());
    }
}
