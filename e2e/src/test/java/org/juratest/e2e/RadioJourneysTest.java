package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.juratest.e2e.browser.Technician;
import org.juratest.e2e.browser.Technician.Hands;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.interactions.Actions;
import tools.jackson.databind.JsonNode;

/** Whole journeys with radios: two bands with a variant, a drifted one aligned, a page hidden, a server killed. */
class RadioJourneysTest extends LaidJourneys {

    /** Opens the run of a job; gives its id. */
    private static String opened(String position, String procedure) {
        JsonNode job = api.get("/api/jobs?limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals(position)
                        && j.path("procedure").asString().equals(procedure))
                .findFirst()
                .orElseThrow();
        return api.post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                .path("id")
                .asString();
    }

    /** Signs in and takes a run that was opened elsewhere. */
    private static void atBench(Technician it, String run) {
        it.signIn("tavel", "rack-rail-16");
        it.takes(run);
        it.waitFor(
                "the device to be asked by itself",
                t -> t.primary().startsWith("Compare") || t.primary().startsWith("Begin"));
    }

    /** Waits for what the device says of itself. */
    private static void identified(Technician it, String run) {
        atBench(it, run);
        it.waitFor(
                "what the device says",
                t -> t.browser()
                                        .findElements(By.cssSelector("[data-device] tr[data-same=true]"))
                                        .size()
                                >= 5
                        && t.primary().startsWith("Begin"));
    }

    @Test
    void aWholeRunInTwoBandsByAVariant() throws Exception {
        String run = opened("MFR-RAD-01", "RAD-YEARLY");
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
            identified(it, run);

            // One band of one step is left out, one limit is another one on one band; both go into a variant.
            it.click("[aria-label='Adjacent channel power, UHF']");
            it.waitFor("it to be left out", t -> !t.browser()
                    .findElement(By.cssSelector("[aria-label='Adjacent channel power, UHF']"))
                    .isSelected());
            it.clickWords("//section[@aria-label='Variant']", "Limits and parameters");
            it.clickWords("//*[@role='dialog']", "Sensitivity");
            it.clickWords("//*[@data-limit='rxSensitivity/level/uhf']", "Change…");
            it.fill("[aria-label='At most']", "-122");
            it.clickWords("//*[@data-limit='rxSensitivity/level/uhf']", "Change the limit");
            it.waitFor("the reason to be asked", t -> t.text("[role=dialog]").contains("Say why"));
            it.fill("[aria-label='Why']", "beyond the ridge");
            it.clickWords("//*[@data-limit='rxSensitivity/level/uhf']", "Change the limit");
            it.waitFor("the change to be marked", t -> t.text("[data-limit='rxSensitivity/level/uhf']")
                    .contains("changed"));
            assertFalse(
                    it.text("[data-limit='rxSensitivity/level/vhf']").contains("changed"),
                    "the other band keeps its own");
            it.clickWords("//*[@role='dialog']", "Done");
            it.clickWords("//section[@aria-label='Variant']", "Save as variant");
            it.type("variant-name", "Ridge portables");
            it.type("variant-words", "for those carried beyond the ridge");
            it.clickWords("//*[@role='dialog']", "Save");
            it.waitFor(
                    "the variant",
                    t -> t.text("[data-variant]").contains("Ridge portables, revision 1")
                            && t.text("[data-variant]").contains("1 limit"));

            it.work("", "the filed record", t -> t.primary().equals("Read and sign the record"));
            JsonNode done = api.get("/api/runs/" + run);
            assertEquals("finished", done.path("status").asString());
            assertEquals(
                    List.of("valid"),
                    RunView.attempts(done, "txCarrier", "vhf"),
                    "the reference is proved on one band");
            assertEquals(List.of(), RunView.attempts(done, "txCarrier", "uhf"));
            assertEquals(List.of(), RunView.attempts(done, "txAdjacent", "uhf"));
            assertEquals(List.of("valid"), RunView.attempts(done, "rxSensitivity", "uhf"));
            it.press();
            it.waitFor("the record", t -> t.has("[data-lanes='txPower']"));
            assertTrue(it.text("[data-headline]").contains("ailed"), it.text("[data-headline]"));
            String record = it.text("article");
            assertTrue(record.contains("Ridge portables, revision 1"), record);
            assertTrue(record.matches("(?s).*Adjacent channel power.{0,40}UHF.*"), record);
            assertTrue(record.toLowerCase(java.util.Locale.ROOT).contains("path loss"), record);
            assertTrue(
                    it.has("[data-lanes='rxSensitivity'] [data-point='rxSensitivity/level/vhf']")
                            && it.has("[data-lanes='rxSensitivity'] [data-point='rxSensitivity/level/uhf']"),
                    "side by side");
            assertTrue(it.has("audio"), "what was heard can be heard again");
        }
    }

    @Test
    void aDriftedRadioIsAlignedAndLeftBetterThanItWasFound() throws Exception {
        String run = opened("TES-RAD-02", "RAD-ALIGN");
        try (Technician it = new Technician(installation.address(), Hands.KEYBOARD, 820, 1180)) {
            // The leads are on another radio first: nothing goes on before that is settled.
            installation.control("radio-lead TES-RAD-02 TES-RAD-03");
            atBench(it, run);
            it.waitFor("the other radio to be noticed", t -> t.stage().contains("This is not the device of this job"));
            installation.control("radio-lead TES-RAD-02 TES-RAD-02");
            it.clickWords("//section[@aria-label='Stage']", "Read it again");
            it.waitFor("the right one", t -> t.primary().startsWith("Begin"));

            it.work("", "the filed record", t -> t.primary().equals("Read and sign the record"));
            JsonNode done = api.get("/api/runs/" + run);
            assertEquals(
                    List.of("valid", "valid"), RunView.attempts(done, "txCarrier", "vhf"), "as found, and as left");
            assertTrue(
                    done.path("adjustments").valueStream().anyMatch(a -> a.path("settings")
                            .valueStream()
                            .anyMatch(s -> s.path("name").asString().equals("reference"))),
                    done.path("adjustments").toString());
            JsonNode carrier = done.at("/judgement/points")
                    .valueStream()
                    .filter(p -> p.path("key").asString().equals("txCarrier/error/vhf"))
                    .findFirst()
                    .orElseThrow();
            assertTrue(
                    carrier.at("/asFound/value").asDouble() > 2.5
                            && Math.abs(carrier.at("/asLeft/value").asDouble()) < 0.5,
                    carrier.toString());
            it.press();
            it.waitFor(
                    "the settings before and after",
                    t -> t.text("article").contains("reference")
                            && t.text("article").contains("ettings"));
            assertTrue(it.text("[data-headline]").startsWith("Passed as left"), it.text("[data-headline]"));
        }
    }

    /** Act one: the serial, and Enter. Act two: Start. The radio is asked by itself. Act three: its first step. */
    @Test
    void fromATypedSerialToTheFirstStepInThreeActs() throws Exception {
        try (Technician it = new Technician(installation.address(), Hands.KEYBOARD, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            String serial = api.get("/api/jobs?limit=200")
                    .path("jobs")
                    .valueStream()
                    .filter(j -> j.path("position").asString().equals("VAU-RAD-02"))
                    .findFirst()
                    .orElseThrow()
                    .path("serial")
                    .asString();
            it.waitFor("the round", t -> t.has("[data-open-search]"));
            new Actions(it.browser())
                    .keyDown(Keys.CONTROL)
                    .sendKeys("k")
                    .keyUp(Keys.CONTROL)
                    .perform();
            it.waitFor("the search", t -> t.has("[data-search]"));
            it.keys(serial);
            it.waitFor("the radio", t -> t.has("[data-hit^='asset.'][aria-selected=true]"));
            it.keys(Keys.ENTER);
            it.waitFor(
                    "its job, ready to be started",
                    t -> Boolean.TRUE.equals(t.browser()
                            .executeScript("return document.activeElement?.ariaLabel === 'Start VAU-RAD-02'")));
            it.keys(Keys.ENTER);
            it.waitFor("what the radio says of itself", t -> t.primary().startsWith("Begin"));
            assertEquals(
                    serial, api.get("/api/jobs/running").get(0).path("serial").asString());
            it.press();
            it.waitFor("its first step", t -> t.stage().contains("1 of 2"));

            // Another run is begun beside it; each is a press away from the other, and is as it was.
            String other = opened("PRA-RAD-01", "RAD-YEARLY");
            it.open("/bench/" + other);
            it.waitFor("the other run", t -> t.primary().equals("Work here") && t.has("[data-open-runs]"));
            it.click("[data-open-runs]");
            it.waitFor("the first run", t -> t.has("[data-open-run='VAU-RAD-02']"));
            it.click("[data-open-run='VAU-RAD-02']");
            it.waitFor("its first step again", t -> t.stage().contains("1 of 2"));
        }
    }

    /** What a browser does when another tab comes in front, at a moment that no person hits: between two outputs. */
    private static final String HIDE_IN_A_GAP =
            """
      const [run, after] = arguments;
      window.hiddenAt = null;
      const news = new EventSource('/api/runs/' + run + '/stream?after=' + after);
      news.addEventListener('event', (e) => {
        const told = JSON.parse(e.data);
        if (told.type === 'attemptClosed' && window.hiddenAt === null) {
          Object.defineProperty(document, 'visibilityState', { value: 'hidden', configurable: true });
          document.dispatchEvent(new Event('visibilitychange'));
          window.hiddenAt = told.n;
          news.close();
        }
      });""";

    @Test
    void aPageThatIsHiddenInTheGapOfASequenceEndsIt() throws Exception {
        String run = opened("TES-RAD-03", "RAD-YEARLY");
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
            identified(it, run);
            it.work("", "the first transmitter step to wait for its press", t -> t.primary()
                    .startsWith("Hold "));
            it.browser()
                    .executeScript(
                            HIDE_IN_A_GAP,
                            run,
                            api.get("/api/runs/" + run).path("n").asLong());
            it.hold();
            it.waitFor(
                    "the page to be hidden in a gap", t -> t.browser().executeScript("return window.hiddenAt") != null);
            it.waitFor(
                    "the sequence to end",
                    t -> !api.get("/api/runs/" + run).path("busy").asBoolean());
            long hidden = ((Number) it.browser().executeScript("return window.hiddenAt")).longValue();
            JsonNode after = api.get("/api/runs/" + run);
            assertEquals("safe", after.at("/output/mode").asString());
            List<String> events = api.get("/api/runs/" + run + "/events?after=" + hidden)
                    .valueStream()
                    .map(e -> e.path("type").asString())
                    .toList();
            // The word of the page is some milliseconds on its way: what came on meanwhile went off for it, and nothing
            // came on again.
            assertTrue(events.stream().filter("energised"::equals).count() <= 1, events.toString());
            assertTrue(
                    after.path("attempts")
                                    .valueStream()
                                    .filter(a -> a.path("outcome").asString().equals("valid"))
                                    .count()
                            < 10,
                    "it did not go on to its end");
            Thread.sleep(500);
            assertEquals(
                    after.path("n").asLong(),
                    api.get("/api/runs/" + run).path("n").asLong(),
                    "and nothing follows");
        }
    }

    @Test
    void fromTheLeadToTheRecordThroughASilentPortAndAKilledServer() throws Exception {
        JsonNode record = RadioAtTheBench.carriedOut(installation);
        assertEquals(
                "Passed",
                record.at("/headline/title").asString(),
                record.path("headline").toString());
    }
}
