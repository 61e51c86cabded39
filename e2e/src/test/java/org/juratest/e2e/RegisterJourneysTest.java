package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.e2e.browser.Technician;
import org.juratest.e2e.browser.Technician.Hands;
import org.juratest.server.command.ApiClient;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import tools.jackson.databind.JsonNode;

/** Journeys through the register, on the shipped server. */
class RegisterJourneysTest {

    @TempDir
    private static Path folder;

    private static Installation installation;

    @BeforeAll
    static void start() throws Exception {
        installation = Installation.laid(folder, Path.of(".."));
        installation.startServer();
    }

    @AfterAll
    static void stop() {
        installation.close();
    }

    private static Technician at(int width, int height) {
        return new Technician(installation.address(), Hands.MOUSE, width, height);
    }

    private static ApiClient api() {
        ApiClient client = new ApiClient(installation.address());
        client.signIn("oster", "penstock-42");
        return client;
    }

    private static ApiClient technician() {
        ApiClient client = new ApiClient(installation.address());
        client.signIn("tavel", "rack-rail-16");
        return client;
    }

    /** From the map to the round, another baseline, a shared cause: in one browser, as one would in one morning. */
    @Test
    void theFleetIsLookedAtAndWhatFollowsIsDone() {
        try (Technician it = at(1280, 800)) {
            ConditionAtTheDesk desk = new ConditionAtTheDesk(it);
            ApiClient tavel = technician();
            it.signIn("tavel", "rack-rail-16");
            desk.fromAMarkToAJobOnTheRound(tavel);
            desk.anotherBaselineAfterARepair(tavel);
            desk.aRegionWithItsSharedCause(tavel);
        }
    }

    /** The folder of examples with what is wrong in it, dropped on the records, to a record that is signed. */
    @Test
    void aFolderOfFilesBecomesRecords() throws Exception {
        List<Path> files;
        try (Stream<Path> all = Files.list(Path.of("../docs/examples/traces"))) {
            files = all.sorted().toList();
        }
        assertEquals(60, files.size());
        try (Technician it = at(1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/records");
            it.waitFor("the records", t -> t.has("[data-bring-in]"));
            it.click("[data-bring-in]");
            it.waitFor("the start", t -> t.has("[data-files]"));
            it.hand("[data-files]", files);
            it.waitFor("the files to be read", t -> t.has("[data-intake-head]") && !t.has("[data-progress]"));
            assertTrue(it.text("[data-intake-head]").contains("60 files, 57 ready"), it.text("[data-intake-head]"));
            assertTrue(it.text("[data-files=unreadable]").contains("offset 74"), it.text("[data-files=unreadable]"));
            // What a reload finds is what was there.
            it.browser().navigate().refresh();
            it.waitFor("the file that names nothing", t -> t.has("[data-files=unmatched]"));
            assertTrue(it.text("[data-files=unmatched]").contains("OLD-07"));
            it.clickWords("//section[@data-files='unmatched']", "Choose what it is of");
            it.waitFor("the field", t -> t.has("[data-pick]"));
            it.fill("[data-pick]", "VAU-FIB-01");
            it.waitFor("what is found", t -> t.text("[data-files=unmatched]").contains("FIB-10"));
            it.clickWords("//section[@data-files='unmatched']", "VAU-FIB-01");
            it.waitFor("that it is ready", t -> t.text("[data-intake-head]").contains("58 ready"));
            it.click("[data-store]");
            it.waitFor("that they are stored", t -> t.has("[data-stored]"));
            assertEquals(
                    3, it.browser().findElements(By.cssSelector("[data-made]")).size());
            it.click("[data-made]");
            it.waitFor("the record", t -> t.text("main").contains("files imported"));
            assertTrue(it.text("main").contains("Splice"), "no splice on the record");
        }
    }

    @Test
    void aTableWithErrorsIsCorrectedAndStored() throws Exception {
        String titles = "Ort;Name;Kilometer;Platz;Klasse;maker;model;S/N;poles;ratedCurrent\n";
        Path wrong = Files.writeString(
                folder.resolve("wrong.csv"),
                titles + "QUA;Quarry " + "siding;4,2;QUA-CBK-01;lv-breaker;Orvex;M160;Q-1;3;1,600\n"
                        + "QUA;;;QUA-CBK-01;lv-breaker;Orvex;M160;Q-2;7;160\n");
        Path right = Files.writeString(
                folder.resolve("right.csv"),
                titles + "QUA;Quarry " + "siding;4,2;QUA-CBK-01;lv-breaker;Orvex;M160;Q-1;3;160\n"
                        + "QUA;;;QUA-CBK-02;lv-breaker;Orvex;M160;Q-2;3;0,16 kA\n");
        try (Technician it = at(1280, 800)) {
            it.signIn("oster", "penstock-42");
            it.open("/register/tables");
            it.waitFor("the start", t -> t.has("[data-table]"));
            it.hand("[data-table]", wrong);
            for (List<String> column : List.of(
                    List.of("Ort", "Site code"),
                    List.of("Name", "Name of the site"),
                    List.of("Kilometer", "km along the line"),
                    List.of("Platz", "Position code"),
                    List.of("Klasse", "Class"))) {
                String row = "tr[data-column='" + column.get(0) + "'] [data-select]";
                it.choose(row, column.get(1));
                it.waitFor(
                        column.get(0) + " to be taken",
                        t -> t.browser().findElement(By.cssSelector(row)).isEnabled()
                                && !t.browser()
                                        .findElement(By.cssSelector(row))
                                        .getDomAttribute("data-select")
                                        .isEmpty());
            }
            it.click("[data-check]");
            it.waitFor("the problems", t -> t.has("[data-problem]"));
            List<String> told = it.browser().findElements(By.cssSelector("[data-problem]")).stream()
                    .map(WebElement::getText)
                    .toList();
            assertEquals(3, told.size(), told.toString());
            assertTrue(
                    told.get(0).startsWith("2 ratedCurrent") && told.get(0).contains("1600 or as 1.600"), told.get(0));
            assertTrue(told.get(1).startsWith("3 Platz QUA-CBK-01 is in line 2 already"), told.get(1));
            assertTrue(told.get(2).startsWith("3 poles Poles is 1 to 4"), told.get(2));
            assertTrue(it.browser().findElements(By.cssSelector("[data-store]")).isEmpty(), "nothing can be stored");
            it.open("/register/tables");
            it.waitFor("the start", t -> t.has("[data-table]"));
            it.hand("[data-table]", right);
            it.waitFor("the kept columns", t -> t.text("section[aria-label=Columns]")
                    .contains("10 of 10 columns are used, as in the last table"));
            it.click("[data-check]");
            it.waitFor("that it can be stored", t -> t.has("[data-store]"));
            // Checked is not stored, and a reload loses nothing.
            it.browser().navigate().refresh();
            it.waitFor("the table again", t -> t.has("[data-check]"));
            it.click("[data-check]");
            it.waitFor("that it can be stored", t -> t.has("[data-store]"));
            it.click("[data-store]");
            it.waitFor("that it is stored", t -> t.has("[data-stored]"));
            it.open("/register");
            it.fill("[data-filter]", "quarry q-2");
            it.waitFor(
                    "the second breaker alone",
                    t -> t.has("[data-found='1'],[data-place=QUA-CBK-02]")
                            && t.browser()
                                            .findElements(By.cssSelector("[data-place]"))
                                            .size()
                                    == 1);
            it.open("/register/changes");
            it.waitFor(
                    "the import among the changes", t -> t.text("[data-told]").contains("Imported right.csv"));
            it.clickWords("//li[@data-told][1]", "Undo");
            it.waitFor("what was undone", t -> t.text("[data-act]").contains("Undone: Imported right.csv"));
            assertTrue(api().get("/api/register").path("sites").valueStream().noneMatch(s -> s.path("code")
                    .asString()
                    .equals("QUA")));
        }
    }

    /** A curve is pasted, seen as it is made, kept; the next run of such a device is judged along it. */
    @Test
    void aPastedCurveIsDrawnKeptAndUsed() {
        try (Technician it = at(1280, 800)) {
            it.signIn("oster", "penstock-42");
            it.open("/register/curves/new");
            it.fill("[name=id]", "unheard-q7");
            it.fill("[name=maker]", "Unheard");
            it.fill("[name=model]", "Q7");
            it.fill("[name=source]", "read off the sheet in the door");
            it.fill("[data-points='0']", "2;30;90\n1;10;30");
            it.waitFor(
                    "what is wrong with it", t -> t.text("[data-trial-wrong]").contains("Line 2"));
            it.fill("[data-points='0']", "1.3;120;2400\n2;30;90\n3;10;30\n6;2,2;6");
            it.waitFor("its band", t -> t.has("[data-curve-field] canvas"));
            it.clickWords("//form", "Keep the curve");
            it.waitFor("its page", t -> t.has("[data-uses='0']") && t.has("[data-dial=longTimeSetting]"));
        }
        ApiClient oster = api();
        oster.post("/api/register/positions", Map.of("code", "PRA-CBK-77", "site", "PRA", "family", "breakers"), null);
        oster.post(
                "/api/register/assets",
                Map.of(
                        "id",
                        "CBK-Q7",
                        "assetClass",
                        "lv-breaker",
                        "maker",
                        "Unheard",
                        "model",
                        "Q7",
                        "serial",
                        "Q7-1",
                        "plate",
                        Map.of("poles", "3", "ratedCurrent", "100", "ratedVoltage", "400", "longTimeSetting", "100")),
                null);
        oster.post(
                "/api/register/exchanges",
                Map.of("position", "PRA-CBK-77", "in", "CBK-Q7", "at", "2024-01-05T08:00:00Z"),
                null);
        String run = org.juratest.e2e.fibre.LinkRun.opened(
                installation, technician(), "PRA-CBK-77", Map.of("procedure", "CBK-YEARLY", "why", "new in its place"));
        JsonNode curve = technician().get("/api/runs/" + run + "/curve");
        assertEquals("read off the sheet in the door", curve.path("source").asString());
        assertTrue(
                curve.path("outline")
                        .valueStream()
                        .anyMatch(p -> Math.abs(p.path("at").asDouble() - 300) < 1e-6
                                && Math.abs(p.path("high").asDouble() - 30) < 1e-6),
                curve.toString());
    }

    @Test
    void aDeviceIsExchangedAndBothHistoriesStandOnOneAxis() {
        ApiClient api = api();
        JsonNode job = Breakers.job(technician());
        String position = job.path("position").asString();
        String old = job.path("asset").asString();
        try (Technician it = at(820, 1180)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/register/position/" + position);
            it.waitFor("what stands there", t -> t.has("[data-standing-here='" + old + "']"));
            it.clickWords("//section[@aria-label='What stands here']", "Exchange");
            it.click("[data-source=new]");
            it.choose("[name=assetClass]", "Low-voltage breaker, moulded case");
            it.fill("[name=maker]", "Orvex");
            it.fill("[name=model]", "M160");
            it.fill("[name=serial]", "99-0001");
            it.fill("[name='plate.poles']", "3");
            it.fill("[name='plate.ratedCurrent']", "100 V");
            it.click("[data-send]");
            it.waitFor(
                    "what is wrong with the plate", t -> t.text("[data-wrong]").contains("V is a voltage"));
            // What was typed survives a reload.
            it.browser().navigate().refresh();
            it.waitFor("what stands there", t -> t.has("[data-standing-here='" + old + "']"));
            it.clickWords("//section[@aria-label='What stands here']", "Exchange");
            it.waitFor(
                    "the kept number",
                    t -> t.has("[name=serial]")
                            && "99-0001"
                                    .equals(t.browser()
                                            .findElement(By.cssSelector("[name=serial]"))
                                            .getDomProperty("value")));
            it.fill("[name='plate.ratedCurrent']", "0.1 kA");
            it.fill("[name=why]", "contacts burnt");
            it.click("[data-send]");
            it.waitFor("the exchange", t -> t.text("[data-act]").contains("Exchanged " + old));
            it.waitFor(
                    "both on the axis",
                    t -> t.browser().findElements(By.cssSelector("[data-held]")).size() == 2);
            assertEquals(
                    4,
                    it.browser()
                            .findElements(By.cssSelector("figure a[aria-label^=Record]"))
                            .size(),
                    "the records of the one that went out");
            it.follow(
                    "[data-held='" + old + "'] a",
                    "its own page",
                    t -> t.text("aside").contains("it stands nowhere now")
                            && t.text("aside").contains(position));
            assertTrue(
                    technician().roundJobs().stream()
                            .noneMatch(j -> j.path("asset").asString().equals(old)),
                    "its jobs are withdrawn");
            it.clickWords("//header", "Do");
            it.clickWords("//body", "Must not be used");
            it.fill("[data-why]", "contacts burnt");
            it.click("[data-send]");
            it.waitFor(
                    "that it is barred",
                    t -> t.has("[data-barred]") && t.text("[role=alert]").contains("contacts burnt"));
            // Installed again nowhere while it is barred.
            it.open("/register/position/" + position);
            it.clickWords("//section[@aria-label='What stands here']", "Exchange");
            it.click("[data-source=known]");
            it.fill("[data-pick]", old);
            it.waitFor(
                    "the barred one", t -> t.text("[data-choice='" + old + "']").contains("Do not use"));
            it.click("[data-choice='" + old + "']");
            it.click("[data-send]");
            it.waitFor("the refusal", t -> t.text("[data-wrong]").contains("not to be used: contacts burnt"));
        }
    }

    @Test
    void whatMustNotBeUsedIsSeenOnTheRoundAtTheBenchAndInItsRecords() {
        ApiClient api = api();
        JsonNode job = technician().roundJobs().stream()
                .filter(j -> j.path("position").asString().equals("MFR-CBK-07"))
                .findFirst()
                .orElseThrow();
        try (Technician it = at(1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            assertTrue(
                    it.browser().findElements(By.cssSelector("[data-barred]")).isEmpty());
            // Another person bars it; the round says so by itself.
            api.put(
                    "/api/register/assets/" + job.path("asset").asString() + "/do-not-use",
                    java.util.Map.of("why", "arc chute cracked"));
            it.waitFor("the bar on the round", t -> t.has("main li [data-barred]"));
            assertEquals(
                    true,
                    it.browser()
                            .executeScript(
                                    // How far down the round it stands depends on what else is due that day.
                                    "const b = document.querySelector('main li [data-barred]');"
                                            + "b.scrollIntoView({ block: 'center' });"
                                            + "const r = b.getBoundingClientRect();"
                                            + "return document.elementFromPoint(r.right - 4, (r.top + r.bottom) "
                                            + "/ 2).closest('[data-barred]') !== null"),
                    "it is seen whole, and not cut off");
            it.start("MFR-CBK-07");
            it.waitFor("the bar at the bench", t -> t.text("section[aria-label=Stage] [role=alert]")
                    .contains("arc chute cracked"));
            it.open("/records/MFR-CBK-07/" + (java.time.LocalDate.now().getYear() - 1) + "/1");
            it.waitFor("the bar over the record", t -> t.text("[role=alert]").contains("arc chute cracked"));
            it.open("/register?where=barred");
            it.waitFor(
                    "it among the barred",
                    t -> t.has("[data-place=MFR-CBK-07] [data-barred]") && t.has("[data-place=VAU-DEF-03]"));
        }
    }

    @Test
    void aClassIsAddedAndUsed() {
        try (Technician it = at(1280, 800)) {
            it.signIn("oster", "penstock-42");
            it.open("/register/classes");
            it.waitFor("the classes", t -> t.has("[data-add-class]"));
            it.click("[data-add-class]");
            it.fill("[name=title]", "Surge arrester");
            it.fill("[name=code]", "surge-arrester");
            it.choose("[name=family]", "breakers");
            it.fill("[name=mark]", "ARR");
            it.click("[data-add-field]");
            it.fill("[data-row='0'] [data-label]", "Rated voltage Ur");
            it.choose("[data-row='0'] [data-unit]", "kV");
            it.fill("[data-row='0'] [data-min]", "60");
            it.fill("[data-row='0'] [data-max]", "1");
            it.click("[data-row='0'] [data-needed]");
            it.click("[data-add-field]");
            it.fill("[data-row='1'] [data-label]", "Housing");
            it.choose("[data-row='1'] [data-kind]", "choice");
            it.fill("[data-row='1'] [data-choices]", "polymer, porcelain");
            it.click("[data-save]");
            it.waitFor("what is wrong with its range", t -> t.text("[data-row='0'] [data-wrong]")
                    .contains("is less than the least"));
            it.fill("[data-row='0'] [data-min]", "1");
            it.fill("[data-row='0'] [data-max]", "60");
            it.click("[data-save]");
            it.waitFor("the class", t -> t.has("[data-class=surge-arrester]"));
            it.open("/register");
            it.clickWords("//header", "Add");
            it.clickWords("//body", "An asset, to the store");
            it.choose("[name=assetClass]", "Surge arrester");
            it.waitFor("its first id", t -> "ARR-1001"
                    .equals(t.browser().findElement(By.cssSelector("[name=id]")).getDomProperty("value")));
            it.fill("[name=maker]", "Halmic");
            it.fill("[name=model]", "A24");
            it.fill("[name=serial]", "SA-77");
            it.fill("[name='plate.ratedVoltageUr']", "24");
            it.choose("[name='plate.housing']", "porcelain");
            it.click("[data-send]");
            it.waitFor("the new asset's page", t -> t.text("h1").contains("Halmic A24, no. SA-77"));
            // Changed where it stands, by keyboard: refused, corrected, undone.
            it.waitFor("its plate", t -> t.has("[data-field='plate.ratedVoltageUr']"));
            it.click("[data-field='plate.ratedVoltageUr']");
            it.keys("90", Keys.ENTER);
            it.waitFor("the refusal", t -> t.text("[data-wrong]").contains("1 to 60 kV, not 90"));
            it.keys(Keys.BACK_SPACE, Keys.BACK_SPACE, "36", Keys.ENTER);
            it.waitFor("the new value", t -> t.text("[data-field='plate.ratedVoltageUr']")
                    .startsWith("36"));
            it.clickWords("//*[@data-act]", "Undo");
            it.waitFor("the old value", t -> t.text("[data-field='plate.ratedVoltageUr']")
                    .startsWith("24"));
            // Found from anywhere, typed wrong.
            it.open("/round");
            it.waitFor("the round", t -> t.has("[data-open-search]"));
            new org.openqa.selenium.interactions.Actions(it.browser())
                    .keyDown(Keys.CONTROL)
                    .sendKeys("k")
                    .keyUp(Keys.CONTROL)
                    .perform();
            it.waitFor("the search", t -> t.has("[data-search]"));
            it.keys("hamlic sa-77");
            it.waitFor("what comes near", t -> t.has("[data-hit='asset.ARR-1001']"));
            it.keys(Keys.ENTER);
            it.waitFor("its page", t -> t.text("h1").contains("Halmic A24, no. SA-77"));
        }
    }
}
