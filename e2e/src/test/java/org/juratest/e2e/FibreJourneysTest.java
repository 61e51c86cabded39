package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.juratest.e2e.browser.Technician;
import org.juratest.e2e.browser.Technician.Hands;
import org.juratest.e2e.fibre.LinkRun;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import tools.jackson.databind.JsonNode;

/** Whole journeys with a fibre link and multi-fibre cables: cleaned, measured both ways, stopped, in a series. */
class FibreJourneysTest extends LaidJourneys {

    /** Its near end is dirty: looked at, cleaned, looked at again; then measured from here and from the far end. */
    @Test
    void aLinkWithADirtyEndIsCleanedMeasuredBothWaysAndSigned() throws Exception {
        String run = LinkRun.opened(installation, "PRA-FIB-01", "5");
        String serial = api.get("/api/runs/" + run).at("/asset/serial").asString();
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.takes(run);
            it.work(serial, "the dirty end", t -> t.text("[data-sentence]").contains("Adjust or repair it"));
            it.clickWords("//section", "Adjusted…");
            it.type("words", "Wiped dry, twice");
            it.clickWords("//form", "Record it");
            it.waitFor("the cleaning in the ledger", t -> t.text("aside").contains("Adjusted: Wiped dry"));
            installation.control("fibre-clean PRA-FIB-01:5");
            it.work(
                    serial,
                    "the end before and after, side by side",
                    t -> t.browser()
                                    .findElements(By.cssSelector("[data-picture=kept] [data-attempt]"))
                                    .size()
                            == 2);

            // One measurement follows the other by itself, so each trace stands for a moment only: afterwards all of
            // them can be called up again.
            it.work(serial, "the end", t -> t.primary().startsWith("Finish"));
            it.browser()
                    .findElement(By.xpath("//nav[@aria-label='Steps']//button[contains(., 'Trace at 1310 nm')]"))
                    .click();
            it.waitFor("a trace above its route", t -> t.has("[data-distance] canvas"));
            it.clickWords("//section", "Lay over");
            it.waitFor(
                    "the difference to the year before",
                    t -> t.has("[data-distance-difference] canvas") || t.stage().contains("no such trace"));

            it.work(serial, "the filed record", t -> t.primary().equals("Read and sign the record"));
            JsonNode done = api.get("/api/runs/" + run);
            assertEquals(List.of("valid", "valid"), RunView.attempts(done, "face", "5"), "as found, and as left");
            assertEquals(List.of("valid"), RunView.attempts(done, "trace1550far", "5"));
            List<JsonNode> means = done.at("/judgement/points")
                    .valueStream()
                    .filter(p -> p.path("key").asString().startsWith("mean1550/spliceMean#"))
                    .toList();
            assertEquals(3, means.size(), means.toString());
            means.forEach(p -> assertEquals("pass", p.path("verdict").asString(), p.toString()));

            it.press();
            it.waitFor(
                    "its traces with what stands along them",
                    t -> t.has("[data-marked-traces] canvas")
                            && t.text("[data-marked-traces]").contains("Closure 1"));
            assertTrue(it.text("[data-headline]").startsWith("Passed as left"), it.text("[data-headline]"));
            assertTrue(it.text("article").contains("Wiped dry, twice"), "what was done is on the record");
            it.press();
            it.type("password", "rack-rail-16");
            it.keys(Keys.ENTER);
            it.waitFor("the signature", t -> t.has("[data-signing=signed]"));
        }
    }

    /** All faces of a connector at one look; those that fail are walked by key, it is cleaned, and looked at again. */
    @Test
    void aDirtyArrayIsWalkedByKeyCleanedAndSigned() throws Exception {
        String run = LinkRun.opened(
                installation, api, "PRA-MPC-01", Map.of("procedure", "MPC-FACES", "why", "before it is connected"));
        String serial = api.get("/api/runs/" + run).at("/asset/serial").asString();
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.takes(run);
            it.work(serial, "the faces at one look", t -> t.has("[data-spots='12']"));
            assertEquals(List.of("4", "9"), failingSpots(it));
            it.browser().executeScript("document.querySelector('[data-spots]').focus()");
            for (String expected : List.of("4", "9", "4")) {
                it.keys("n");
                it.waitFor("face " + expected + ", large", t -> t.has("[data-large='" + expected + "']"));
            }
            it.keys(Keys.ARROW_RIGHT);
            it.waitFor("its neighbour", t -> t.has("[data-large='5']"));
            it.keys(Keys.ESCAPE);
            it.waitFor("all of them again", t -> !t.has("[data-large]") && t.has("[data-chosen='']"));
            it.keys("n");
            it.waitFor("the place was not lost: the next after the fifth", t -> t.has("[data-large='9']"));

            it.clickWords("//section", "Adjusted…");
            it.type("words", "Wiped dry");
            it.clickWords("//form", "Record it");
            it.waitFor("the cleaning in the ledger", t -> t.text("aside").contains("Adjusted: Wiped dry"));
            it.work(serial, "both looks", t -> t.stage().contains("look 2: all in order"));
            it.clickWords("//section", "look 1");
            it.waitFor("what was found is kept", t -> failingSpots(t).equals(List.of("4", "9")));
            it.work(serial, "the filed record", t -> t.primary().equals("Read and sign the record"));
            JsonNode done = api.get("/api/runs/" + run);
            assertEquals(List.of("valid", "valid"), RunView.attempts(done, "facesNear", "-"));
            it.press();
            it.waitFor("its faces on the record", t -> t.has("[data-spots='12']"));
        }
    }

    /** Two fibres are crossed: the run asks at polarity, ends there with a reason, and has its record all the same. */
    @Test
    void aCrossedCableIsStoppedAtPolarity() throws Exception {
        String run = LinkRun.opened(
                installation, api, "PRA-MPC-02", Map.of("procedure", "MPC-ACCEPT", "why", "new from the store"));
        JsonNode view = api.get("/api/runs/" + run);
        api.act(
                view,
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of("facesNear", "facesFar", "returnReference", "lossReference"),
                                "withoutLanes",
                                Map.of(),
                                "withoutPairs",
                                List.of())));
        String serial = view.at("/asset/serial").asString();
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.takes(run);
            it.work(serial, "the crossed threads", t -> t.has("[data-threads-wrong='2']"));
            assertEquals(
                    List.of("3", "4"),
                    it.browser().findElements(By.cssSelector("[data-thread][data-right=false]")).stream()
                            .map(e -> String.valueOf(e.getDomAttribute("data-thread")))
                            .sorted()
                            .toList());
            it.work(serial, "the question", t -> t.primary().startsWith("Go on, or stop here"));
            it.clickWords("//section", "Stop here…");
            it.type("words", "Crossed: goes back to the maker");
            it.clickWords("//form", "Stop here");
            it.work(serial, "the filed record", t -> t.primary().equals("Read and sign the record"));
            JsonNode done = api.get("/api/runs/" + run);
            assertEquals("finished", done.path("status").asString());
            assertEquals(List.of(), RunView.attempts(done, "losses", "1.1310"));
            it.press();
            it.waitFor(
                    "why it ended on the record", t -> t.text("article").contains("Crossed: goes back to the maker"));
        }
    }

    /** How many references of a run hold from the one before. */
    private static long carried(String serial) {
        boolean known = api.get("/api/jobs/running")
                .valueStream()
                .anyMatch(j -> j.path("serial").asString().equals(serial));
        return !known
                ? 0
                : running(serial)
                        .path("attempts")
                        .valueStream()
                        .filter(a -> a.hasNonNull("carried"))
                        .count();
    }

    /** Two cables of a box, one after the other: the next number by itself, and the references of the first again. */
    @Test
    void aSeriesOfCablesGoesOnByItselfWithTheReferencesOfTheFirst() throws Exception {
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/series/PRA-MPC-90");
            it.waitFor("the series", t -> t.has("[data-next]"));
            // The procedure is the last of three; the number is written anew, and kept by itself.
            it.browser().findElement(By.cssSelector("fieldset [role=combobox]")).sendKeys(Keys.ENTER);
            it.waitFor("the procedures", t -> t.has("[role=option]"));
            it.browser()
                    .findElement(By.xpath("//*[@role='option'][contains(., 'Receive inspection')]"))
                    .click();
            String all = Keys.chord(Keys.CONTROL, "a");
            it.browser().findElement(By.cssSelector("fieldset input")).sendKeys(all, "{box}{n}");
            it.waitFor("its fields", t -> t.has("[data-series-field=box]") && t.has("[data-series-field=n]"));
            it.browser()
                    .findElement(By.cssSelector("[data-series-field=box] input"))
                    .sendKeys("T");
            it.browser()
                    .findElement(By.cssSelector("[data-series-field=n] input"))
                    .sendKeys(all, "9");
            it.waitFor("it is kept", t -> t.text("[data-next]").equals("T9") && t.has("[data-keeping=kept]"));
            it.clickWords("//main", "Test T9");
            it.waitFor("the bench", t -> t.primary().startsWith("Compare"));
            narrowed(it, "T9");
            it.work("T9", "the filed record", t -> t.primary().equals("Read and sign the record"));
            it.waitFor("the next one", t -> t.text("[data-next-of-series]").contains("T10"));
            it.clickWords("//section", "Test the next: T10");
            it.waitFor(
                    "the next one's bench",
                    t -> t.text("body").contains("no. T10") && t.primary().startsWith("Compare"));
            narrowed(it, "T10");
            for (int references = 1; references <= 2; references++) {
                int wanted = 24 * references;
                // The large button does the same: on a slow machine the offer may come under a press on it.
                it.work("T10", "an offer", t -> t.has("[data-carry=yes]") || carried("T10") >= wanted);
                it.follow("[data-carry=yes] button", "it to hold", t -> carried("T10") >= wanted);
                it.waitFor("it holds", t -> t.text("[data-references]").contains(", all 24, taken"));
            }
            assertEquals(48, carried("T10"));
            it.work("T10", "the filed record", t -> t.primary().equals("Read and sign the record"));
            it.open("/series/PRA-MPC-90");
            it.waitFor("both in the list", t -> t.has("[data-series-item=T9]") && t.has("[data-series-item=T10]"));
            assertEquals("T11", it.text("[data-next]"));
        }
    }

    private static JsonNode running(String serial) {
        return api.get("/api/runs/"
                + api.get("/api/jobs/running")
                        .valueStream()
                        .filter(j -> j.path("serial").asString().equals(serial))
                        .findFirst()
                        .orElseThrow()
                        .path("run")
                        .asString());
    }

    /** Only the references of a run are taken; the rest is told by other journeys. The page then works here again. */
    private static void narrowed(Technician it, String serial) {
        JsonNode run = running(serial);
        api.drive(run.path("id").asString());
        api.act(
                api.get("/api/runs/" + run.path("id").asString()),
                "scopeSet",
                Map.of("scope", Map.of("withoutSteps", List.of("facesNear", "facesFar", "polarity", "losses"))));
        api.fallSilent();
        // Not before the page has heard of it: a serial typed meanwhile would be typed into a field that goes away.
        it.waitFor("the run is nobody's", t -> t.primary().equals("Work here"));
        it.press();
        it.waitFor("the run is this page's again", t -> t.primary().startsWith("Compare"));
    }

    private static List<String> failingSpots(Technician it) {
        return it.browser().findElements(By.cssSelector("[data-spot][data-standing=fail]")).stream()
                .map(e -> String.valueOf(e.getDomAttribute("data-spot")))
                .toList();
    }
}
