package org.juratest.e2e.browser;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.juratest.e2e.Installation;
import org.juratest.e2e.fibre.LinkRun;
import org.juratest.server.command.ApiClient;
import org.openqa.selenium.By;
import tools.jackson.databind.JsonNode;

/** {@code ./juratest pictures}: takes the pictures of the main views, by working a job of the demo. */
public final class Pictures {

    private static final String POSITION = "MFR-CBK-07";
    private static final String RADIO = "MFR-RAD-01";
    private static final String EXCHANGED = "PRA-CBK-03";

    private final Technician it;
    private final Installation installation;
    private final Path into;

    private Pictures(Technician it, Installation installation, Path into) {
        this.it = it;
        this.installation = installation;
        this.into = into;
    }

    /**
     * @param arguments the folder the pictures go to; with {@code links} those of fibre links alone, with
     *     {@code breakers} those of breakers and reclosers
     */
    public static void main(String[] arguments) throws Exception {
        Path folder = Files.createTempDirectory("juratest-pictures");
        try (Installation installation = new Installation(folder, Path.of(""))) {
            installation.startSimulators(100);
            installation.startServer();
            try (Technician it = new Technician(installation.address(), Technician.Hands.MOUSE, 1280, 800)) {
                it.dark(false);
                Pictures pictures = new Pictures(it, installation, Path.of(arguments[0]));
                List<String> parts = List.of(arguments);
                if (parts.contains("links") || parts.contains("breakers")) {
                    it.open("/");
                    it.signIn("tavel", "rack-rail-16");
                    if (parts.contains("breakers")) {
                        ApiClient api = new ApiClient(installation.address());
                        api.signIn("tavel", "rack-rail-16");
                        pictures.breakers(api);
                    } else {
                        pictures.links();
                    }
                } else {
                    pictures.take();
                }
            }
        }
    }

    private void take() throws Exception {
        it.open("/");
        it.waitFor("the counts", t -> t.has("dl"));
        it.signIn("tavel", "rack-rail-16");
        ApiClient tavel = new ApiClient(installation.address());
        tavel.signIn("tavel", "rack-rail-16");
        it.waitFor(
                "the conditions",
                t -> tavel.get("/api/condition").at("/marks/drift").size() > 100);
        it.open("/round");
        it.waitFor("what needs attention on the way", t -> t.has("[data-needs]"));
        picture("round");
        it.open("/plan");
        it.waitFor("the weeks", t -> t.has("[data-load='person:tavel']") && t.has("[data-plan-job]"));
        picture("plan");
        it.open("/round");
        it.waitFor("the round again", t -> t.has("section[aria-label=Stops]"));
        ApiClient api = new ApiClient(installation.address());
        api.signIn("tavel", "rack-rail-16");
        String serial = api.roundJobs().stream()
                .filter(j -> j.path("position").asString().equals(POSITION))
                .findFirst()
                .orElseThrow()
                .path("serial")
                .asString();
        it.start(POSITION);
        it.work(
                serial,
                "the late pole armed",
                t -> t.primary().startsWith("Hold to switch on pole B")
                        && t.stage().contains("until it trips"));
        installation.control("factor 2");
        it.hold();
        it.waitFor("the open window", t -> t.text("[data-elapsed]").matches("(1[5-9]|2\\d)\\.\\d.s"));
        picture("bench-live");
        it.dark(true);
        size(820, 1180);
        picture("bench-live-tablet");
        size(1280, 800);
        it.dark(false);
        it.waitFor("the late trip", t -> t.text("[data-sentence]").contains("Adjust or repair it"));
        installation.control("factor 100");
        it.clickWords("//section", "Adjusted…");
        it.type("words", "Mechanism exercised ten times, latch cleaned and greased");
        it.clickWords("//form", "Record it");
        installation.control("slow " + POSITION + ":B 1.02");
        // At the pace of the picture it would take two minutes.
        it.doNotWaitToCool("Only for the picture");
        it.work(serial, "the filed record", t -> t.primary().equals("Read and sign the record"));
        it.press();
        it.waitFor("the record", t -> t.has("[data-headline]"));
        it.waitFor("its curve", t -> t.has("[data-traces] canvas"));
        picture("record");
        String number =
                it.browser().findElement(By.cssSelector("[data-record]")).getDomAttribute("data-record");
        it.open("/compare?of=" + number + "&with=last&with=baseline&changed=1");
        it.waitFor("the comparison", t -> t.has("[data-compared]"));
        picture("compare");
        it.open("/asset/" + POSITION);
        it.waitFor("its life", t -> t.has("figure a"));
        picture("asset");
        condition();
        breakers(api);
        radio(api);
        links();
        meters(api);
        register(api);
    }

    /** A transformer the other way round on the phasor wheel, and load points as they fill. */
    private void meters(ApiClient api) throws Exception {
        String run = LinkRun.opened(
                installation, api, "TES-MET-02", Map.of("procedure", "MET-SITE", "why", "its bill fell by a third"));
        it.work(taken(run), "the phasors", t -> t.has("[data-wheel]") && t.has("[data-change]"));
        picture("phasor-wheel");
        run = LinkRun.opened(
                installation, api, "VAU-MET-03", Map.of("procedure", "MET-LOAD", "why", "slow at night, they say"));
        api.act(api.get("/api/runs/" + run), "scopeSet", Map.of("scope", Map.of("withoutSteps", List.of("creep"))));
        it.work(
                taken(run),
                "a load point that fails",
                t -> t.text("[data-load='inductive/b']").matches("(?s).*\u22121\\.\\d.*")
                        && t.text("[data-sentence]").contains("Adjust or repair it"));
        picture("load-points");
    }

    /** The drift map with a region chosen on it, a trend, the month. */
    private void condition() throws Exception {
        it.open("/condition?region=0.68,1.02,0.18,0.3");
        it.waitFor(
                "the region and what it shares",
                t -> t.has("[data-region]") && t.has("[data-shared]") && t.has("[data-trend-field] svg"));
        picture("condition");
        it.open("/condition/trend/" + POSITION);
        it.waitFor("the trend", t -> t.has("[data-outlook]") && t.has("[data-trend-field] svg"));
        picture("trend");
        it.open("/condition/month");
        it.waitFor("the month", t -> t.has("[data-coming]"));
        picture("month");
    }

    /**
     * A dirty array with the worst of its faces large; the trace of a bent fibre over the record of the year before.
     */
    private void links() throws Exception {
        ApiClient api = new ApiClient(installation.address());
        api.signIn("tavel", "rack-rail-16");
        String serial = taken(LinkRun.opened(
                installation, api, "PRA-MPC-01", Map.of("procedure", "MPC-FACES", "why", "before it is connected")));
        it.work(serial, "the faces at one look", t -> t.has("[data-spots='12']"));
        it.browser().executeScript("document.querySelector('[data-spots]').focus()");
        it.keys("n");
        it.waitFor("a face that fails, large", t -> t.has("[data-large='4']"));
        picture("cable-array");
        serial = taken(LinkRun.opened(installation, "PRA-FIB-01", "4"));
        it.work(
                serial,
                "the trace at the longer wavelength",
                t -> t.has("[data-distance] canvas")
                        && t.text("[data-distance]").contains("1550"));
        it.clickWords("//section", "Lay over");
        it.waitFor("the difference", t -> t.has("[data-distance-difference] canvas"));
        picture("link-trace");
    }

    /** A recloser at its first level, and the pulses that climb to the trip of a pole. */
    private void breakers(ApiClient api) throws Exception {
        String run = LinkRun.opened(
                installation, api, "ORE-REC-01", Map.of("procedure", "REC-2YEARLY", "why", "found slow in service"));
        api.act(
                api.get("/api/runs/" + run),
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of("counterBefore", "counterAfter", "counted", "pickUp"),
                                "withoutLanes",
                                Map.of(
                                        "phases",
                                        List.of("A", "C"),
                                        "runs",
                                        List.of(
                                                "A.1", "A.2", "A.3", "C.1", "C.2", "C.3", "A.4", "A.5", "A.6", "B.4",
                                                "B.5", "B.6", "C.4", "C.5", "C.6")),
                                "withoutPairs",
                                List.of())));
        it.work(
                taken(run),
                "a sequence that fails",
                t -> t.has("[data-operation='4']") && t.text("[data-sentence]").contains("Adjust or repair it"));
        picture("sequence");
        run = LinkRun.opened(
                installation, api, "PRA-CBK-02", Map.of("procedure", "CBK-ACCEPT", "why", "moved from another board"));
        api.act(
                api.get("/api/runs/" + run),
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of("insulation", "contact", "contactAgain", "contactChange", "longTime"),
                                "withoutLanes",
                                Map.of("poles", List.of("B", "C")),
                                "withoutPairs",
                                List.of())));
        it.work(
                taken(run),
                "a search by pulses",
                t -> t.has("[data-picture=kept]") && t.has("[data-point='instantaneous/pickUp/A'] b"));
        picture("search-pulses");
    }

    /** Takes a run that was opened elsewhere; gives what the device's plate says. */
    private String taken(String run) {
        it.takes(run);
        ApiClient api = new ApiClient(installation.address());
        api.signIn("tavel", "rack-rail-16");
        return api.get("/api/runs/" + run).at("/asset/serial").asString();
    }

    /** A radio in two bands that is deaf in one of them. */
    private void radio(ApiClient api) throws Exception {
        JsonNode job = api.get("/api/jobs?limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals(RADIO))
                .findFirst()
                .orElseThrow();
        it.takes(api.post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                .path("id")
                .asString());
        it.waitFor("what the device says", t -> t.has("[data-device] tr[data-same]") && t.has("[data-variant]"));
        installation.control("factor 3");
        it.work(
                "",
                "the sensitivity",
                t -> t.has("[data-point='rxSensitivity/level/vhf']")
                        && t.has("[data-picture=live]")
                        && t.text("[data-sentence]").matches("SINAD 1[0-5]\\..*"));
        Thread.sleep(700);
        picture("radio-search");
        installation.control("factor 100");
        it.work("", "the filed record", t -> t.primary().equals("Read and sign the record"));
    }

    /** A device exchanged after four years of tests, a table with errors, and the search. */
    private void register(ApiClient api) throws Exception {
        String old = api.get("/api/register/positions/" + EXCHANGED)
                .at("/place/asset/id")
                .asString();
        api.post(
                "/api/register/exchanges",
                Map.of(
                        "position",
                        EXCHANGED,
                        "out",
                        old,
                        "outRetired",
                        "contacts burnt",
                        "why",
                        "contacts burnt",
                        "inNew",
                        Map.of(
                                "id",
                                "CBK-1101",
                                "assetClass",
                                "lv-breaker",
                                "maker",
                                "Orvex",
                                "model",
                                "M160",
                                "serial",
                                "49-3020",
                                "curve",
                                "orvex-m160",
                                "plate",
                                Map.of(
                                        "poles",
                                        "3",
                                        "ratedCurrent",
                                        "100",
                                        "ratedVoltage",
                                        "400",
                                        "longTimeSetting",
                                        "100"))),
                null);
        it.open("/register/position/" + EXCHANGED);
        it.waitFor(
                "both on one axis",
                t -> t.browser().findElements(By.cssSelector("[data-held]")).size() == 2);
        picture("register");
        try (Technician oster = new Technician(installation.address(), Technician.Hands.MOUSE, 1280, 800)) {
            oster.dark(false);
            oster.signIn("oster", "penstock-42");
            oster.open("/plan/share");
            oster.waitFor("the question for how many weeks", t -> t.has("[data-ask-proposal]"));
            oster.click("[data-ask-proposal]");
            oster.waitFor("the proposal", t -> t.has("[data-proposal]"));
            oster.click("[data-proposed] input[type=checkbox]");
            oster.picture(into.resolve("share.png"));
            System.out.println("share");
        }
    }

    private void size(int width, int height) {
        it.browser()
                .executeCdpCommand(
                        "Emulation.setDeviceMetricsOverride",
                        Map.of("width", width, "height", height, "deviceScaleFactor", 1, "mobile", false));
    }

    private void picture(String name) throws InterruptedException {
        // Fonts and the drawing of a canvas come a moment after the words.
        Thread.sleep(600);
        it.picture(into.resolve(name + ".png"));
        System.out.println(name);
    }
}
