package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import org.juratest.e2e.browser.Technician;
import org.juratest.e2e.browser.Technician.Hands;
import org.juratest.e2e.fibre.LinkRun;
import org.juratest.server.command.ApiClient;
import tools.jackson.databind.JsonNode;

/** Journeys of whoever tests measuring installations. */
final class MeterAtTheBench {

    private final Installation installation;
    private final ApiClient api;

    MeterAtTheBench(Installation installation, ApiClient api) {
        this.installation = installation;
        this.api = api;
    }

    /** Opens a run with some of its steps, and takes it at a screen. */
    private Technician begun(String position, String procedure, List<String> without, Map<String, List<String>> lanes) {
        String run = LinkRun.opened(
                installation, api, position, Map.of("procedure", procedure, "why", "customer asked for it"));
        JsonNode view = api.act(
                api.get("/api/runs/" + run),
                "scopeSet",
                Map.of("scope", Map.of("withoutSteps", without, "withoutLanes", lanes, "withoutPairs", List.of())));
        Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800);
        it.signIn("tavel", "rack-rail-16");
        it.takes(run);
        this.run = run;
        this.serial = view.at("/asset/serial").asString();
        return it;
    }

    private String run = "";
    private String serial = "";

    private JsonNode point(String key) {
        return api.get("/api/runs/" + run)
                .path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().equals(key))
                .findFirst()
                .orElseThrow(() -> new AssertionError(key));
    }

    private String verdict(String key) {
        return point(key).path("verdict").asString();
    }

    /** The yearly site test finds a reversed transformer, it is put right, and measured again as left. */
    void aReversedTransformerIsFoundCorrectedAndMeasuredAgain() throws Exception {
        installation.control("meter TES-MET-02:L2 reversed 1");
        try (Technician it = begun("TES-MET-02", "MET-SITE", List.of("before", "after", "advance"), Map.of())) {
            it.work(serial, "what is to be changed", t -> t.text("[data-change]")
                    .contains("Current 2 reversed"));
            assertTrue(it.text("[data-wheel]").contains("power factor 0.97 leading"), "with what it assumes");
            assertEquals("fail", verdict("wiring/changes/-"));
            it.clickWords("//section", "Adjusted…");
            it.type("words", "S1 and S2 of L2 exchanged at the test block, shorted meanwhile");
            it.clickWords("//form", "Record it");
            installation.control("meter TES-MET-02:L2 reversed 0");
            it.work(serial, "the filed record", t -> t.primary().equals("Read and sign the record"));
            assertEquals("pass", verdict("wiring/changes/-"));
            assertEquals(1, point("wiring/changes/-").at("/asFound/value").asInt(), "as found stays");
            assertEquals("pass", verdict("error/error/-"));
            for (String phase : List.of("L1", "L2", "L3")) {
                assertEquals("pass", verdict("ctRatio/error/" + phase), phase);
            }
            it.press();
            it.waitFor("the record", t -> t.text("article").contains("S1 and S2 of L2 exchanged"));
        }
    }

    /** Nobody knows what these transformers are rated for: the burden is measured, and not judged. */
    void aBurdenWithoutARatedOneEndsNotJudged() throws Exception {
        try (Technician it = begun("VAU-MET-02", "CT-BURDEN", List.of(), Map.of("phases", List.of("L2", "L3")))) {
            it.work(serial, "the block, its link to be opened", t -> t.has("[data-block^='L1:shorted']"));
            it.work(serial, "the filed record", t -> t.primary().equals("Read and sign the record"));
            JsonNode burden = point("burden/vaNominal/L1");
            assertEquals("notJudged", burden.path("verdict").asString());
            assertTrue(burden.at("/counting/value").asDouble() > 1, burden.toString());
            assertTrue(
                    burden.path("why").asString().contains("\"Current transformers, rated burden\""),
                    burden.toString());
        }
    }

    /** Load points in a row; one waits for the contact at the source, with nothing on until it closes. */
    void aLoadPointIsReleasedByContact() throws Exception {
        installation.control("contact-in off");
        try (Technician it = begun(
                "PRA-MET-01",
                "MET-LOAD",
                List.of("before", "creep", "start", "capacitive", "after"),
                Map.of("phases", List.of("L2", "L3"), "unityLoads", List.of("a", "d")))) {
            it.work(serial, "that it waits for the contact", t -> t.text("[data-waits]")
                    .contains("Waiting for the contact"));
            assertTrue(it.text("[data-sentence]").contains("Nothing is on yet"), it.text("[data-sentence]"));
            for (String key : List.of("unity/error/b", "unity/error/c", "inductive/error/a", "inductive/error/b")) {
                assertEquals("pass", verdict(key), key);
            }
            installation.control("contact-in on");
            it.work(serial, "the filed record", t -> t.primary().equals("Read and sign the record"));
            assertEquals("pass", verdict("single/error/L1"));
        }
    }

    /** A site starts its own tests in one go, the first by its variant at the bench, and is gone on with from there. */
    void theTestsOfASiteAreStartedInOneGo() {
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/register/position/PRA-MET-03");
            it.waitFor("the position", t -> t.has("[data-standing-here]"));
            it.clickWords("//main", "Do");
            it.clickWords("//body", "Its set of tests");
            it.waitFor("its tests", t -> t.has("[data-test=MET-SITE]") && t.has("[data-test=MET-LOAD]"));
            it.clickWords("//main", "Start 2 tests");
            it.waitFor(
                    "the first at the bench",
                    t -> t.has("[aria-label=Deck]") && !t.primary().isEmpty());
            String bench = String.valueOf(it.browser().getCurrentUrl())
                    .substring(installation.address().length());
            JsonNode begun = api.get("/api/runs/" + bench.substring("/bench/".length()));
            assertEquals("MET-SITE", begun.path("procedure").asString());
            assertEquals(
                    "MET-SITE-WIRING",
                    begun.at("/variant/code").asString(),
                    begun.path("variant").toString());
            String today = api.get("/api/round").path("today").asString();
            assertTrue(
                    api.get("/api/rounds/tavel/" + today)
                            .path("stops")
                            .valueStream()
                            .flatMap(stop -> stop.path("jobs").valueStream())
                            .anyMatch(job -> job.path("position").asString().equals("PRA-MET-03")
                                    && job.path("title").asString().startsWith("Load points")),
                    "what was raised is on the round");

            it.open("/tests/PRA-MET-03");
            it.waitFor(
                    "where it stands",
                    t -> t.text("[data-test=MET-SITE]").contains("at the bench")
                            && t.text("[data-test=MET-LOAD]").contains("a job of it is open"));
            it.clickWords("//main", "Go on with");
            it.waitFor("the same run", t -> String.valueOf(t.browser().getCurrentUrl())
                    .endsWith(bench));
        }
    }
}
