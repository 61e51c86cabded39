package org.juratest.e2e;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.e2e.browser.Technician;
import org.juratest.e2e.browser.Technician.Hands;
import org.juratest.server.command.ApiClient;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import tools.jackson.databind.JsonNode;

/** Whole journeys through the pages, on the shipped processes. */
class BenchJourneysTest {

    /** One white dot. */
    private static final String PNG =
            "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8/5+hHgAHggJ/PchI7wAAAABJRU5ErkJggg==";

    private static final Predicate<Technician> FINISHED = t -> t.primary().equals("Read and sign the record");

    @TempDir
    private static Path folder;

    private static Installation installation;

    @BeforeAll
    static void start() throws Exception {
        installation = Installation.laid(folder, Path.of(".."));
        installation.startSimulators(100);
        installation.startServer();
    }

    /** Whatever was done above, every chain holds and every table agrees with it. */
    @AfterAll
    static void stop() throws Exception {
        try (Installation it = installation) {
            assertEquals(0, it.run("verify"), it.output());
        }
    }

    @BeforeEach
    void fast() throws Exception {
        installation.control("factor 100");
    }

    private static Technician at(Hands hands, int width, int height) {
        return new Technician(installation.address(), hands, width, height);
    }

    private static ApiClient api() {
        ApiClient client = new ApiClient(installation.address());
        client.signIn("tavel", "rack-rail-16");
        return client;
    }

    private static String serial(String position) {
        return api().roundJobs().stream()
                .filter(j -> j.path("position").asString().equals(position))
                .findFirst()
                .orElseThrow()
                .path("serial")
                .asString();
    }

    private static JsonNode run(String address) {
        return api().get("/api/runs/" + address.substring(address.lastIndexOf('/') + 1));
    }

    @Test
    void aFailedPoleIsAdjustedAndMeasuredAgainByMouse() throws Exception {
        String position = "MFR-CBK-07";
        String serial = serial(position);
        try (Technician it = at(Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            assertTrue(it.text("main h1").matches("\\w+ jobs? at \\w+ stops?"), it.text("main h1"));
            String run = it.start(position);

            // The wrong device is not touched.
            it.type("serial", "00-0000");
            it.press();
            it.waitFor("the other device to be noticed", t -> t.stage().contains("This is not the device of this job"));
            assertEquals("Compare with the register", it.primary());
            it.work(serial, "the first question", t -> t.stage().contains("1 of 3"));

            it.clickWords("//footer", "Note");
            it.type("words", "Counter reads 412");
            it.clickWords("//form", "Keep the note");
            it.waitFor("the note in the ledger", t -> t.text("aside").contains("Counter reads 412"));
            Path photo =
                    Files.write(folder.resolve("photo.png"), Base64.getDecoder().decode(PNG));
            it.browser().findElement(By.cssSelector("[data-photo]")).sendKeys(photo.toString());
            it.clickWords("//form", "Keep the photo");
            it.waitFor("the photo in the ledger", t -> t.has("aside img[src^='/api/blobs/']"));

            // What makes safe is not answered by Enter, however often, nor by a number that is drummed.
            it.work(serial, "the confirmations", t -> t.primary().equals("Tick 2 of 5"));
            for (int n = 0; n < 15; n++) {
                it.keys(Keys.ENTER);
            }
            // The tick before these is one of the drum, too, for a moment.
            await().pollDelay(Duration.ofMillis(500)).until(() -> true);
            // All at once: by way of the driver they would come as far apart as a busy machine lets them.
            it.browser()
                    .executeScript("for (const key of '2345') document.body.dispatchEvent("
                            + "new KeyboardEvent('keydown', { key, bubbles: true }))");
            it.waitFor("one tick", t -> t.primary().equals("Tick 3 of 5"));
            assertEquals(
                    2,
                    it.browser()
                            .findElements(By.cssSelector("[aria-label=Stage] input:checked"))
                            .size(),
                    "one key, one tick");
            // A box that was ticked by mouse keeps no key from the bench.
            it.tick(3);
            it.waitFor("the third tick", t -> t.primary().equals("Tick 4 of 5"));
            it.tick(4);
            it.waitFor("the fourth tick", t -> t.primary().equals("Tick 5 of 5"));

            it.work(serial, "the failed pole", t -> t.text("[data-sentence]").contains("Adjust or repair it"));
            assertTrue(it.text("[data-sentence]").startsWith("Long-time trip, pole B: 4"), it.text("[data-sentence]"));
            it.clickWords("//section", "Adjusted…");
            it.type("words", "Mechanism exercised ten times, latch cleaned and greased");
            it.clickWords("//form", "Record it");
            it.waitFor("the adjustment in the ledger", t -> t.text("aside").contains("Adjusted: Mechanism"));
            installation.control("slow " + position + ":B 1.02");

            it.work(serial, "all poles measured", t -> t.primary().startsWith("Go on: contact resistance again"));
            it.clickWords(
                    "//aside",
                    position + "/" + java.time.LocalDate.now().minusYears(1).getYear() + "/1");
            it.waitFor("last year's trips over the stage", t -> t.stage()
                    .contains("pole C in " + (java.time.LocalDate.now().getYear() - 1)));

            it.work(serial, "the filed record", FINISHED);
            assertTrue(it.stage().contains("Record " + position + "/"), it.stage());
            assertEquals("Marginal", it.text("[data-verdict]"));
            assertTrue(
                    it.stage()
                            .matches("(?s).*As found, Long-time trip, pole B failed first.*as found "
                                    + "4\\d\\.\\d.*as left 2\\d\\.\\d.*"),
                    it.stage());
            JsonNode record = run(run);
            assertEquals("finished", record.path("status").asString());
            assertEquals(2, record.path("remarks").size());
            it.clickWords("//section", "with last time");
            it.waitFor("the comparison", t -> t.has("[data-compared='longTime/time/B'] [data-seen]"));
            assertTrue(
                    it.text("[data-compared='longTime/time/B']").contains("as found +1"),
                    it.text("[data-compared='longTime/time/B']"));
            it.waitFor("the poles' differences below the curves", t -> t.text("[data-differences]")
                    .contains("pole B since"));
            it.waitFor(
                    "the captured currents over each other",
                    t -> t.has("[data-traces='2'] canvas") && t.has("[data-trace-difference] canvas"));
            it.browser().navigate().back();
            it.waitFor("the bench again", FINISHED);
            it.press();
            signedAndAmended(it, record.path("record").asString());
            it.open("/round");
            it.waitFor(
                    "the round without the job",
                    t -> t.has("main ol li") && !t.has("[aria-label$='" + position + "']"));
        }
        reviewed(position);
    }

    /** What who did the work does with the record. */
    private static void signedAndAmended(Technician it, String number) throws Exception {
        it.waitFor("the record", t -> t.text("[data-headline]").equals("Passed as left, two points marginal"));
        assertTrue(
                it.text("[data-point='longTime/time/B']").matches("(?s)Pole B\\s+4\\d\\.\\d\\s+2\\d\\.\\d.*"),
                it.text("[data-point='longTime/time/B']"));
        it.press();
        it.type("password", "not it");
        it.keys(Keys.ENTER);
        it.waitFor("the refusal", t -> t.text("[role=dialog]").contains("This is not your password"));
        it.type("password", "rack-rail-16");
        it.keys(Keys.ENTER);
        it.waitFor(
                "the signature",
                t -> t.has("[data-signing=signed]") && t.text("[data-signing]").contains("A. Tavel"));
        it.clickWords("//aside", "Amend");
        it.type("words", "Counter reads 421, not 412");
        it.type("reason", "two digits changed places");
        it.type("password", "rack-rail-16");
        it.keys(Keys.ENTER);
        it.waitFor("the amendment", t -> t.text("[data-amendment]").contains("421, not 412"));
        assertTrue(it.text("article").contains("Counter reads 412"), "the original stays");

        Path downloads = Files.createDirectories(folder.resolve("downloads"));
        it.browser()
                .executeCdpCommand(
                        "Browser.setDownloadBehavior",
                        Map.of("behavior", "allow", "downloadPath", downloads.toString()));
        it.clickWords("//aside", "PDF");
        String[] parts = number.split("/");
        Path pdf = downloads.resolve(parts[0] + "_" + parts[1] + "-" + parts[2] + ".pdf");
        it.waitFor("the report as a file", t -> Files.exists(pdf));
        try (PDDocument document = Loader.loadPDF(pdf.toFile())) {
            String text = new PDFTextStripper().getText(document);
            assertTrue(
                    text.contains("Record " + number) && text.contains("421, not 412") && text.contains("performed"),
                    text);
            JsonNode head = api().get("/api/records/" + number).at("/record/chain/head");
            assertTrue(text.replaceAll("\\s", "").contains(head.asString()), "the head is printed");
        }
    }

    /** A supervisor finds the record in the list and reviews it; the address keeps what the list was narrowed to. */
    private static void reviewed(String position) {
        try (Technician it = at(Hands.MOUSE, 1280, 800)) {
            it.signIn("oster", "penstock-42");
            it.open("/records?signing=signed");
            it.waitFor("the list", t -> t.text("[data-count]").matches("\\d+ records? found"));
            it.browser().findElement(By.cssSelector("input[type=search]")).sendKeys(position);
            it.waitFor("one record in the list", t -> t.text("[data-count]").equals("1 record found"));
            assertTrue(
                    String.valueOf(it.browser().getCurrentUrl()).endsWith("/records?signing=signed&text=" + position),
                    it.browser().getCurrentUrl());
            it.browser().navigate().refresh();
            it.waitFor("it again", t -> t.has("tr[data-record^='" + position + "'] a"));
            it.click("tr[data-record^='" + position + "'] a");
            it.waitFor("the record", t -> t.primary().equals("Review and sign"));
            it.press();
            it.type("password", "penstock-42");
            it.keys(Keys.ENTER);
            it.waitFor("the review", t -> t.has("[data-signing=reviewed]"));
            it.clickWords("//aside", "Life of this device");
            it.waitFor(
                    "its life",
                    t -> t.text("main").contains("Adjusted and repaired")
                            && t.has("figure a[aria-label*='record " + position + "']"));
        }
    }

    @Test
    void aWholeRunByKeyboardOnly() {
        JsonNode job = Breakers.job(api());
        String position = job.path("position").asString();
        try (Technician it = at(Hands.KEYBOARD, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            String run = it.start(position);
            it.work(job.path("serial").asString(), "the first question", t -> t.stage()
                    .contains("1 of 3"));
            it.keys("?");
            it.waitFor("the keys", t -> t.text("[role=dialog]").contains("stop output"));
            it.keys(Keys.ESCAPE);
            it.waitFor("the keys to go", t -> !t.has("[role=dialog]"));
            it.keys("2");
            it.type("words", "A scratch on the plate");
            it.send();
            it.waitFor("the next question", t -> t.stage().contains("2 of 3"));

            it.work(job.path("serial").asString(), "something armed", t -> t.primary()
                    .startsWith("Hold"));
            it.keys(Keys.ENTER);
            assertTrue(it.has("[data-surround=armed]"), "a short press switches nothing on");
            it.keys(Keys.ESCAPE);
            it.waitFor("safe", t -> t.has("[data-surround=safe]"));
            assertEquals(
                    0,
                    run(run).path("attempts")
                            .valueStream()
                            .filter(a -> a.path("step").asString().equals("contact"))
                            .count());

            it.work(job.path("serial").asString(), "the filed record", FINISHED);
            JsonNode record = run(run);
            assertEquals("finished", record.path("status").asString());
            assertTrue(
                    record.path("answers").get(0).path("words").asString().equals("A scratch on the plate"),
                    record.path("answers").toString());
        }
    }

    @Test
    void aServerThatDiesInMidInjectionIsResumed() throws Exception {
        JsonNode job = Breakers.job(api());
        String serial = job.path("serial").asString();
        try (Technician it = at(Hands.MOUSE, 1280, 800)) {
            String run = injecting(it, job);
            installation.killServer();
            it.waitFor("the news of the lost link", t -> t.text("[data-link=lost]")
                    .contains("treat it as live until this screen confirms"));
            installation.startServer();
            it.waitFor("the confirmation", t -> t.text("[data-link=back]").contains("Output confirmed off at"));
            it.waitFor("what happened", t -> t.stage().contains("confirms that its output is off"));
            assertEquals("Read, go on", it.primary());
            // A new page in the same tab goes on where the old one was.
            it.browser().navigate().refresh();
            it.waitFor("the same after a reload", t -> t.primary().equals("Read, go on"));
            installation.control("factor 100");
            it.press();
            it.waitFor("the step again", t -> !t.primary().equals("Read, go on"));
            // Its four minutes still count at the pace the gear had when it was cut off.
            it.doNotWaitToCool("Cut off after a second; it is cold");
            it.work(serial, "the filed record", FINISHED);
            JsonNode record = run(run);
            assertEquals("finished", record.path("status").asString());
            assertFalse(record.path("judgement").path("notTested").isEmpty(), "what was left out is listed");
            assertEquals(
                    "partly done",
                    api().get("/api/jobs/" + job.path("id").asLong())
                            .path("status")
                            .asString());
        }
    }

    @Test
    void aSecondScreenWatchesAndStops() throws Exception {
        JsonNode job = Breakers.job(api());
        try (Technician it = at(Hands.MOUSE, 1280, 800);
                Technician other = at(Hands.KEYBOARD, 820, 1180)) {
            other.signIn("oster", "penstock-42");
            String run = ready(it, job);
            // Both pages are there before current flows: a browser that is busy with loading may miss its beats on a
            // small machine.
            other.open(run);
            other.waitFor("the other screen to watch", t -> t.stage().contains("You are watching"));
            inject(it, job);
            other.waitFor("the live figures of the other screen", t -> t.text("[data-elapsed]")
                    .matches("\\d+\\.\\d.s"));
            // Another page of the same screen keeps the figures and the stop.
            it.click("nav a[href='/round']");
            it.waitFor(
                    "the banner on the round",
                    t -> t.text("body").contains("Stop output")
                            && t.text("body").contains("Live"));
            other.keys(".");
            other.waitFor("safe at the watcher", t -> t.has("[data-surround=safe]"));
            it.click("nav a[href='" + run + "']");
            it.waitFor("who stopped it", t -> t.text("[data-sentence]").contains("stopped by oster"));
            other.press();
            other.waitFor("the other screen to drive", t -> !t.stage().contains("You are watching"));
            it.waitFor("this screen to watch", t -> t.stage().contains("Another screen (oster) drives this run"));
            assertEquals("Take over", it.primary());
            assertEquals(
                    List.of("aborted"),
                    run(run).path("attempts")
                            .valueStream()
                            .map(a -> a.path("outcome").asString())
                            .toList());
        }
    }

    /** Works until the current of the long-time trip flows at the pace of the clock. */
    private String injecting(Technician it, JsonNode job) throws Exception {
        String run = ready(it, job);
        inject(it, job);
        return run;
    }

    private static void inject(Technician it, JsonNode job) throws Exception {
        // What was armed a while ago may have fallen back.
        it.work(job.path("serial").asString(), "a pole ready to be armed", t -> t.primary()
                .startsWith("Hold to switch on pole A"));
        installation.control("factor 1");
        it.hold();
        it.waitFor("the current to flow", t -> t.text("[data-elapsed]").matches("[1-9]\\d*\\.\\d.s"));
    }

    /** Signs in, leaves out all but the long-time trip, and works until it can be switched on. */
    private String ready(Technician it, JsonNode job) {
        it.signIn("tavel", "rack-rail-16");
        String run = it.start(job.path("position").asString());
        it.work(job.path("serial").asString(), "the scope", t -> t.primary().startsWith("Begin"));
        for (String step : List.of(
                "Look over",
                "Insulation",
                "Prepare for insulation",
                "Contact resistance",
                "Contact resistance again",
                "Change over the test")) {
            By box = By.xpath("//nav[@aria-label='Steps']//label[normalize-space(.)='" + step + "']/input");
            it.waitFor("the box of " + step, t -> t.browser().findElement(box).isEnabled());
            it.browser().findElement(box).click();
            it.waitFor(
                    step + " to be left out", t -> !t.browser().findElement(box).isSelected());
        }
        it.work(job.path("serial").asString(), "a pole ready to be armed", t -> t.primary()
                .startsWith("Hold to switch on pole A"));
        return run;
    }

    @Test
    void whoIsNotSignedInSeesNothingAndAWrongAddressSaysSo() {
        try (Technician it = at(Hands.MOUSE, 1280, 800)) {
            it.open("/bench/01990000-0000-7000-8000-000000000000");
            it.waitFor("the sign-in", t -> t.has("#password"));
            it.type("person", "tavel");
            it.type("password", "wrong");
            it.keys(Keys.ENTER);
            it.waitFor("the refusal", t -> t.text("[role=alert]").contains("Name or password is not right"));
            it.type("password", "rack-rail-16");
            it.keys(Keys.ENTER);
            it.waitFor("that there is no such run", t -> t.text("[role=alert]")
                    .contains("There is no run at this address"));
            it.open("/nowhere");
            it.waitFor("that there is no such page", t -> t.text("main").contains("There is no page at this address"));
        }
    }
}
