package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.e2e.browser.Technician;
import org.juratest.e2e.browser.Technician.Hands;
import org.juratest.e2e.fibre.LinkRun;
import org.juratest.server.command.ApiClient;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.interactions.Actions;
import tools.jackson.databind.JsonNode;

/**
 * Whole journeys with radios and a fibre link: two bands with a variant, a drifted one aligned, a dirty end cleaned.
 */
class RadioJourneysTest {

    @TempDir
    private static Path folder;

    private static Installation installation;
    private static ApiClient api;

    @BeforeAll
    static void start() throws Exception {
        installation = Installation.laid(folder, Path.of(".."));
        installation.startSimulators(100);
        installation.startServer();
    }

    /** Sessions end with the server, and one of these journeys kills it. */
    @BeforeEach
    void signIn() {
        api = new ApiClient(installation.address());
        api.signIn("tavel", "rack-rail-16");
    }

    /** Whatever was done above, every chain holds and every table agrees with it. */
    @AfterAll
    static void stop() throws Exception {
        try (Installation it = installation) {
            assertEquals(0, it.run("verify"), it.output());
        }
    }

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
        it.open("/bench/" + run);
        it.waitFor("the bench", t -> t.primary().equals("Work here"));
        it.press();
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

    private static List<String> attempts(JsonNode run, String step, String lane) {
        return run.path("attempts")
                .valueStream()
                .filter(a -> a.path("step").asString().equals(step)
                        && a.path("lane").asString().equals(lane))
                // A browser that gets no processor for 2 s is not heard: its output goes off, and it measures again.
                .filter(a -> !a.path("words").asString("").contains("was not heard for 2 s"))
                .map(a -> a.path("outcome").asString())
                .toList();
    }

    @Test
    void aWholeRunInTwoBandsByAVariant() throws Exception {
        String run = opened("MFR-RAD-01", "RAD-YEARLY");
        try (Technician it = new Technician(folder.resolve("bands"), installation.address(), Hands.MOUSE, 1280, 800)) {
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
            assertEquals(List.of("valid"), attempts(done, "txCarrier", "vhf"), "the reference is proved on one band");
            assertEquals(List.of(), attempts(done, "txCarrier", "uhf"));
            assertEquals(List.of(), attempts(done, "txAdjacent", "uhf"));
            assertEquals(List.of("valid"), attempts(done, "rxSensitivity", "uhf"));
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
        try (Technician it =
                new Technician(folder.resolve("aligned"), installation.address(), Hands.KEYBOARD, 820, 1180)) {
            // The leads are on another radio first: nothing goes on before that is settled.
            installation.control("radio-lead TES-RAD-02 TES-RAD-03");
            atBench(it, run);
            it.waitFor("the other radio to be noticed", t -> t.stage().contains("This is not the device of this job"));
            installation.control("radio-lead TES-RAD-02 TES-RAD-02");
            it.clickWords("//section[@aria-label='Stage']", "Read it again");
            it.waitFor("the right one", t -> t.primary().startsWith("Begin"));

            it.work("", "the filed record", t -> t.primary().equals("Read and sign the record"));
            JsonNode done = api.get("/api/runs/" + run);
            assertEquals(List.of("valid", "valid"), attempts(done, "txCarrier", "vhf"), "as found, and as left");
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

    /** Its near end is dirty: looked at, cleaned, looked at again; then measured from here and from the far end. */
    @Test
    void aLinkWithADirtyEndIsCleanedMeasuredBothWaysAndSigned() throws Exception {
        String run = LinkRun.opened(installation, "PRA-FIB-01", "5");
        String serial = api.get("/api/runs/" + run).at("/asset/serial").asString();
        try (Technician it = new Technician(folder.resolve("link"), installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/bench/" + run);
            it.waitFor(
                    "the bench",
                    t -> t.primary().equals("Work here") || t.primary().equals("Take over"));
            it.press();
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
            assertEquals(List.of("valid", "valid"), attempts(done, "face", "5"), "as found, and as left");
            assertEquals(List.of("valid"), attempts(done, "trace1550far", "5"));
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
        try (Technician it = new Technician(folder.resolve("array"), installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/bench/" + run);
            it.waitFor(
                    "the bench",
                    t -> t.primary().equals("Work here") || t.primary().equals("Take over"));
            it.press();
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
            assertEquals(List.of("valid", "valid"), attempts(done, "facesNear", "-"));
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
        try (Technician it = new Technician(folder.resolve("cable"), installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/bench/" + run);
            it.waitFor(
                    "the bench",
                    t -> t.primary().equals("Work here") || t.primary().equals("Take over"));
            it.press();
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
            assertEquals(List.of(), attempts(done, "losses", "1.1310"));
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
        try (Technician it = new Technician(folder.resolve("series"), installation.address(), Hands.MOUSE, 1280, 800)) {
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
        try (Technician it =
                new Technician(folder.resolve("recloser"), installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/bench/" + run);
            it.waitFor(
                    "the bench",
                    t -> t.primary().equals("Work here") || t.primary().equals("Take over"));
            it.press();
            it.work(serial, "the slow fast curve", t -> t.text("[data-sentence]")
                    .contains("Adjust or repair it"));
            it.waitFor("its operations, bracketed", t -> t.has("[data-operation='4']"));
            JsonNode found = api.get("/api/runs/" + run);
            assertEquals("pass", point(found, "pickUp/pickUp/B").path("verdict").asString());
            assertEquals(
                    "fail", point(found, "sequence/fast/B.1").path("verdict").asString());
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
                        point(left, "sequence/fast/" + lane).path("verdict").asString(),
                        lane);
                assertEquals(
                        4,
                        point(left, "sequence/operations/" + lane)
                                .at("/counting/value")
                                .asInt(),
                        lane);
            }
            assertTrue(point(left, "sequence/fast/B.1").hasNonNull("asFound"), "as found and as left");
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
        new MeterAtTheBench(installation, api, folder).aReversedTransformerIsFoundCorrectedAndMeasuredAgain();
    }

    @Test
    void aBurdenWithoutARatedOneEndsNotJudged() throws Exception {
        new MeterAtTheBench(installation, api, folder).aBurdenWithoutARatedOneEndsNotJudged();
    }

    @Test
    void aLoadPointIsReleasedByContact() throws Exception {
        new MeterAtTheBench(installation, api, folder).aLoadPointIsReleasedByContact();
    }

    private static final List<String> OTHERS = java.util.stream.Stream.of("A", "B", "C")
            .flatMap(p -> java.util.stream.IntStream.rangeClosed(1, 6).mapToObj(l -> p + "." + l))
            .filter(id -> !List.of("B.1", "B.2").contains(id))
            .toList();

    private static JsonNode point(JsonNode view, String key) {
        return view.path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().equals(key))
                .findFirst()
                .orElseThrow(() -> new AssertionError(key));
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

    /** Act one: the serial, and Enter. Act two: Start. The radio is asked by itself. Act three: its first step. */
    @Test
    void fromATypedSerialToTheFirstStepInThreeActs() throws Exception {
        try (Technician it =
                new Technician(folder.resolve("serial"), installation.address(), Hands.KEYBOARD, 1280, 800)) {
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
        try (Technician it = new Technician(folder.resolve("hidden"), installation.address(), Hands.MOUSE, 1280, 800)) {
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
