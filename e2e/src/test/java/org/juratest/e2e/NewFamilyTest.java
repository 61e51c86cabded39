package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.e2e.browser.Technician;
import org.juratest.server.Juratest;
import org.juratest.server.TestDatabase;
import org.juratest.server.command.ApiClient;
import org.juratest.simulators.Ports;
import org.juratest.simulators.Simulators;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.lamps.LampStandIns;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;
import org.springframework.boot.SpringApplication;
import org.springframework.context.ConfigurableApplicationContext;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * A family that no other file knows, the signal lamps of the test folders, goes from its class to its signed record,
 * its comparison and its report, through the real server and the real browser.
 */
class NewFamilyTest {

    @TempDir
    private static Path folder;

    private static ConfigurableApplicationContext server;
    private static final List<StandInFamily.Running> STAND_INS = new ArrayList<>();
    private static String address = "";

    @BeforeAll
    static void start() throws Exception {
        List<StandInFamily> families = Simulators.families();
        List<String> roles = families.stream().flatMap(f -> f.roles().stream()).toList();
        Ports ports = Ports.kept(folder.resolve("ports"), roles, 0);
        Fleet fleet = FleetGenerator.generate(
                FleetGenerator.SEED,
                LocalDate.now(),
                ZoneId.systemDefault(),
                ports,
                families.stream().map(NewFamilyTest::little).toList());
        Path file = Files.write(
                folder.resolve("fleet.json"), JsonMapper.builder().build().writeValueAsBytes(fleet));
        for (StandInFamily family : families) {
            if (family.id().equals("lamps")) {
                STAND_INS.add(family.start(fleet, ports, StandInLog.none(), () -> {}));
            }
        }
        TestDatabase database = TestDatabase.create();
        server = SpringApplication.run(
                Juratest.class,
                "--server.port=0",
                "--spring.datasource.url=" + database.url(),
                "--spring.datasource.username=" + TestDatabase.user(),
                "--spring.datasource.password=" + TestDatabase.password(),
                "--juratest.demo-fleet=" + file);
        address = "http://127.0.0.1:" + server.getEnvironment().getProperty("local.server.port");
    }

    /** Of the other families their gear alone: a valley without their devices and past is laid in no time. */
    private static FleetGenerator.Bringer little(StandInFamily family) {
        return family.id().equals("lamps")
                ? family
                : new FleetGenerator.Bringer() {
                    @Override
                    public String id() {
                        return family.id();
                    }

                    @Override
                    public FleetPart part(Ground ground) {
                        return new FleetPart(family.part(ground).gear(), List.of(), Map.of(), Map.of(), null);
                    }
                };
    }

    @AfterAll
    static void stop() throws Exception {
        if (server != null) {
            server.close();
        }
        for (StandInFamily.Running running : STAND_INS) {
            running.close();
        }
    }

    private static ApiClient api(String person, String password) {
        ApiClient client = new ApiClient(address);
        client.signIn(person, password);
        return client;
    }

    private static JsonNode job(ApiClient api) {
        String asset = api.get("/api/register/positions/" + LampStandIns.POSITION)
                .at("/place/asset/id")
                .asString();
        return api.post(
                "/api/jobs",
                Map.of(
                        "asset",
                        asset,
                        "procedure",
                        "SIG-LAMP",
                        "occasion",
                        "finding",
                        "due",
                        LocalDate.now().toString(),
                        "why",
                        "a driver found it dim"),
                null);
    }

    private static JsonNode point(JsonNode view, String key) {
        return StreamSupport.stream(view.path("points").spliterator(), false)
                .filter(p -> p.path("key").asString().equals(key))
                .findFirst()
                .orElseThrow(() -> new AssertionError("no " + key));
    }

    @Test
    void aSignalLampGoesFromItsClassToItsSignedRecord() throws Exception {
        try (ApiClient api = api("oster", "penstock-42");
                Technician it = new Technician(address, Technician.Hands.MOUSE, 1280, 800)) {
            String run = api.post("/api/jobs/" + job(api).path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                    .path("id")
                    .asString();
            it.signIn("tavel", "rack-rail-16");
            it.open("/bench/" + run);
            it.waitFor(
                    "the bench", t -> t.has("[aria-label=Deck]") && !t.primary().isEmpty());
            it.work(LampStandIns.SERIAL, "the daylight was taken", t -> t.has("[data-references]"));
            assertTrue(it.text("[data-references]").contains("holds until"), it.text("[data-references]"));
            it.work(LampStandIns.SERIAL, "a lamp shines", t -> t.text("[aria-label=Stage]")
                    .contains("it shines"));
            assertTrue(it.has("[data-lamp-stage]"), "the stage is the family's own");
            it.work(LampStandIns.SERIAL, "all is done", t -> t.primary().startsWith("Finish"));
            theNumbersAreTheLamps(api.get("/api/runs/" + run));
            it.open("/bench/" + run);
            it.waitFor("the bench again", t -> t.primary().startsWith("Finish"));
            it.press();
            it.waitFor("the record to be filed", t -> t.primary().startsWith("Read"));
            it.press();
            it.waitFor("the record", t -> t.has("[data-headline]"));
            assertEquals("Failed, one point", it.text("[data-headline]"));
            assertTrue(
                    it.text("header").contains("Spot 2") || it.text("article").contains("Spot 2"), "which one");
            assertTrue(it.text("article").contains("What was seen"), it.text("article"));
            it.waitFor("the picture", t -> t.has("figure img"));
            it.waitFor("the family's drawing", t -> t.has("[data-chart='bright/red'] [data-lamp-row] canvas"));
            it.browser().executeScript("document.querySelector(\"[data-chart]\").scrollIntoView()");
            it.waitFor("its spots", t -> t.text("[data-chart='bright/red']").contains("2 red 3.00\u2006lx, as found"));
            assertTrue(it.text("[data-chart='bright/green']").contains("1 green 4.00\u2006lx, as found"), "by point");
            it.press();
            it.waitFor("the dialog", t -> t.has("[role=dialog] #password"));
            it.type("password", "rack-rail-16");
            it.click("[data-send]");
            it.waitFor("it to be signed", t -> t.has("[data-signing=signed]"));
            String number = api.get("/api/runs/" + run).path("record").asString();
            theReport(api, number);
            it.open("/compare?of=" + run + "&with=last");
            it.waitFor("the comparison", t -> t.text("body").contains("lamp 2 red, Illuminance"));
            it.waitFor(
                    "what was then in the family's drawing",
                    t -> t.has("[data-chart='bright/green'] [data-lamp-row] [data-spot=past]"));
        }
    }

    /** A lamp that draws no current: its filament is gone, or its plug is out. Only a person can tell. */
    @Test
    void aLampThatStaysDarkIsAskedAboutAndFails() throws Exception {
        STAND_INS.forEach(s -> s.command(new String[] {"lamp", "2.green", "broken"}));
        try (ApiClient api = api("oster", "penstock-42");
                Technician it = new Technician(address, Technician.Hands.MOUSE, 820, 1180)) {
            String run = api.post("/api/jobs/" + job(api).path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                    .path("id")
                    .asString();
            it.signIn("tavel", "rack-rail-16");
            it.open("/bench/" + run);
            it.waitFor(
                    "the bench", t -> t.has("[aria-label=Deck]") && !t.primary().isEmpty());
            it.work(LampStandIns.SERIAL, "nobody can tell", t -> t.primary().equals("Say which it was"));
            assertTrue(it.text("body").contains("Is its plug in?"), it.text("body"));
            it.clickWords("//body", "It is the device");
            it.type("words", "plug in, filament seen broken");
            it.send();
            // The button says something else as soon as the answer is on its way.
            it.waitFor("it to be settled", t -> !point(api.get("/api/runs/" + run), "bright/illuminance/2.green")
                    .path("verdict")
                    .asString()
                    .equals("notJudged"));
            JsonNode dark = point(api.get("/api/runs/" + run), "bright/illuminance/2.green");
            assertEquals("fail", dark.path("verdict").asString());
            assertEquals("no value: it draws no current", dark.path("why").asString());
            assertEquals(
                    "pass",
                    point(api.get("/api/runs/" + run), "bright/illuminance/1.red")
                            .path("verdict")
                            .asString());
        } finally {
            STAND_INS.forEach(s -> s.command(new String[] {"lamp", "2.green", "whole"}));
        }
    }

    private static void theNumbersAreTheLamps(JsonNode view) {
        // 0.05 lx for each of 60 steps; the daylight of 0.35 lx is taken off.
        JsonNode dim = point(view, "bright/illuminance/2.red");
        assertEquals(3.0, dim.at("/asFound/value").asDouble(), 0.02);
        assertEquals("fail", dim.at("/asFound/verdict").asString());
        assertEquals(5.0, dim.at("/asLeft/value").asDouble(), 0.1, "set to 5.35 lx with the daylight in it");
        assertEquals("pass", dim.path("verdict").asString());
        assertEquals("at least 4.0", dim.path("span").asString().substring(0, 12));
        assertEquals(
                "at least 3.0",
                point(view, "bright/illuminance/1.green")
                        .path("span")
                        .asString()
                        .substring(0, 12),
                "another colour, another row");
        assertEquals(
                "pass", point(view, "bright/size#1/1.green").path("verdict").asString());
        JsonNode large = point(view, "bright/size#2/1.green");
        assertEquals("fail", large.path("verdict").asString());
        assertEquals(8.1, large.at("/counting/value").asDouble(), 0.3);
        assertTrue(
                StreamSupport.stream(view.path("captures").spliterator(), false)
                        .anyMatch(c -> c.path("kind").asString().equals("picture")),
                "the glass was seen");
        assertEquals(
                1,
                StreamSupport.stream(view.path("adjustments").spliterator(), false)
                        .filter(a -> a.at("/settings/0/name").asString().equals("brightness.2.red"))
                        .count());
    }

    private static void theReport(ApiClient api, String number) throws Exception {
        byte[] pdf = api.bytes("/api/records/" + number + "/pdf");
        try (PDDocument document = Loader.loadPDF(pdf)) {
            String text = new PDFTextStripper().getText(document);
            assertTrue(text.contains("Signal lamp, brightness"), text);
            assertTrue(text.contains("What was seen"), text);
            assertTrue(text.contains("Spot 1"), text);
            assertTrue(text.contains("Brightness, red") && text.contains("2 red 3.00 lx, as found"), text);
        }
    }
}
