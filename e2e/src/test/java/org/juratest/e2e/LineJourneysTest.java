package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.juratest.e2e.browser.Technician;
import org.juratest.e2e.browser.Technician.Hands;
import org.juratest.e2e.fibre.LinkRun;
import tools.jackson.databind.JsonNode;

/** Whole journeys on the line: a recloser put in order, energy meters and their transformers under load. */
class LineJourneysTest extends LaidJourneys {

    private static final List<String> OTHERS = java.util.stream.Stream.of("A", "B", "C")
            .flatMap(p -> java.util.stream.IntStream.rangeClosed(1, 6).mapToObj(l -> p + "." + l))
            .filter(id -> !List.of("B.1", "B.2").contains(id))
            .toList();

    /** A recloser whose fast curve has become slow on one phase: found, adjusted, and left in order at two levels. */
    @Test
    void aReclosersSlowFastCurveIsFoundAdjustedAndLeftInOrder() throws Exception {
        String run = LinkRun.opened(
                installation, api, "ORE-REC-01", Map.of("procedure", "REC-2YEARLY", "why", "found slow in service"));
        JsonNode view = api.get("/api/runs/" + run);
        api.act(
                view,
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of("counterBefore", "counterAfter", "counted"),
                                "withoutLanes",
                                Map.of("phases", List.of("A", "C"), "runs", OTHERS),
                                "withoutPairs",
                                List.of())));
        String serial = view.at("/asset/serial").asString();
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.takes(run);
            it.work(serial, "the slow fast curve", t -> t.text("[data-sentence]")
                    .contains("Adjust or repair it"));
            it.waitFor("its operations, bracketed", t -> t.has("[data-operation='4']"));
            JsonNode found = api.get("/api/runs/" + run);
            assertEquals(
                    "pass",
                    RunView.point(found, "pickUp/pickUp/B").path("verdict").asString());
            assertEquals(
                    "fail",
                    RunView.point(found, "sequence/fast/B.1").path("verdict").asString());
            it.clickWords("//section", "Adjusted…");
            it.type("words", "Timing piston cleaned and adjusted, oil changed");
            it.clickWords("//form", "Record it");
            installation.control("recloser ORE-REC-01:B fast 1.0");
            it.waitFor("where it should have started", t -> t.text("[data-starting-points]")
                    .contains("as found on phase B 2 x of this run"));
            it.clickWords("//*[@data-starting-points]", "Start from it");
            it.waitFor("that it starts there", t -> t.text("[data-starting-points] [data-set]")
                    .startsWith("1.0"));
            it.work(serial, "the filed record", t -> t.primary().equals("Read and sign the record"));
            JsonNode left = api.get("/api/runs/" + run);
            for (String lane : List.of("B.1", "B.2")) {
                assertEquals(
                        "pass",
                        RunView.point(left, "sequence/fast/" + lane)
                                .path("verdict")
                                .asString(),
                        lane);
                assertEquals(
                        4,
                        RunView.point(left, "sequence/operations/" + lane)
                                .at("/counting/value")
                                .asInt(),
                        lane);
            }
            assertTrue(RunView.point(left, "sequence/fast/B.1").hasNonNull("asFound"), "as found and as left");
            JsonNode known = api.get("/api/starting-points")
                    .valueStream()
                    .filter(p -> p.path("wanted").asDouble() == 400)
                    .findFirst()
                    .orElseThrow();
            assertEquals(400, known.path("hit").asDouble(), 0.02 * 400, "as left it was hit: " + known);
            it.press();
            it.waitFor("the record", t -> t.text("article").contains("Timing piston cleaned"));
            it.open("/register/starting-points");
            it.waitFor("what everyone starts from", t -> t.text("main").contains("Operations to lock-out"));
            it.clickWords("//li[@data-starting][1]", "Change…");
            it.fill("[name=value]", "3");
            it.fill("[data-why]", "weak feed");
            it.clickWords("//form", "Set it");
            it.waitFor("why not", t -> t.text("[data-wrong]").contains("The method takes 0.5"));
            it.fill("[name=value]", "1.08");
            it.clickWords("//form", "Set it");
            it.waitFor("that it is set", t -> t.text("[data-starting]").contains("set by tavel: weak feed"));
        }
    }

    @Test
    void aReversedTransformerIsFoundCorrectedAndMeasuredAgain() throws Exception {
        new MeterAtTheBench(installation, api).aReversedTransformerIsFoundCorrectedAndMeasuredAgain();
    }

    @Test
    void aBurdenWithoutARatedOneEndsNotJudged() throws Exception {
        new MeterAtTheBench(installation, api).aBurdenWithoutARatedOneEndsNotJudged();
    }

    @Test
    void aLoadPointIsReleasedByContact() throws Exception {
        new MeterAtTheBench(installation, api).aLoadPointIsReleasedByContact();
    }

    @Test
    void theTestsOfASiteAreStartedInOneGo() {
        new MeterAtTheBench(installation, api).theTestsOfASiteAreStartedInOneGo();
    }
}
