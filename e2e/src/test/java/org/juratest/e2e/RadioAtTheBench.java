package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import tools.jackson.databind.JsonNode;

/**
 * A radio at the bench over the server's interface: its lead, its limits, what falls silent and what is killed while it
 * is keyed, its record.
 */
final class RadioAtTheBench {

    private static final String RADIO = "TES-RAD-06";

    private final Installation installation;
    private ApiClient api;
    private String run = "";

    private RadioAtTheBench(Installation installation) {
        this.installation = installation;
    }

    /** Carries out the whole of it; gives the record. */
    static JsonNode carriedOut(Installation installation) throws Exception {
        RadioAtTheBench it = new RadioAtTheBench(installation);
        it.signIn();
        it.run = it.api
                .post("/api/jobs/" + it.raised() + "/run", Map.of("gear", Map.of()), null)
                .path("id")
                .asString();
        it.api.drive(it.run);
        it.prepared(it.act(
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of(
                                        "txDistortion",
                                        "txHum",
                                        "txSubTone",
                                        "txDigital",
                                        "rxSquelch",
                                        "rxSound",
                                        "rxDigital",
                                        "current"),
                                "withoutLanes",
                                Map.of(),
                                "withoutPairs",
                                List.of("rxSelectivity/uhf", "txAdjacent/uhf")))));
        it.theLeadIsCharacterised();
        it.limitsAndParametersGoThereAndBack();
        it.aSilentDataPortIsNamedAndAskedAgain();
        it.aServerKilledWhileTheRadioIsKeyed();
        String number = it.finished();
        JsonNode record = it.theRecord(number);
        it.api.close();
        return record;
    }

    private void signIn() {
        api = new ApiClient(installation.address());
        api.signIn("oster", "penstock-42");
    }

    private long raised() {
        JsonNode place = api.get("/api/register/positions/" + RADIO);
        return api.post(
                        "/api/jobs",
                        Map.of(
                                "asset",
                                place.at("/place/asset/id").asString(),
                                "procedure",
                                "RAD-ACCEPT",
                                "occasion",
                                "finding",
                                "due",
                                LocalDate.now().toString(),
                                "why",
                                "hardly heard"),
                        null)
                .path("id")
                .asLong();
    }

    private JsonNode now() {
        return api.get("/api/runs/" + run);
    }

    private JsonNode act(String type, Map<String, ?> data) {
        return api.act(now(), type, data);
    }

    private void prepared(JsonNode view) {
        JsonNode device = api.post(
                "/api/runs/" + run + "/device",
                Map.of(),
                view.path("personEvents").asLong());
        assertTrue(
                device.path("compared")
                        .valueStream()
                        .filter(c -> c.hasNonNull("register"))
                        .allMatch(c -> c.path("same").asBoolean()),
                device.path("compared").toString());
        // Steps up to the first that is measured; what is put back comes at the end.
        for (JsonNode step : device.path("steps")
                .valueStream()
                .takeWhile(s -> !s.path("hazard").asBoolean())
                .toList()) {
            String id = step.path("id").asString();
            device.path("points")
                    .valueStream()
                    .filter(p -> p.path("step").asString().equals(id))
                    .forEach(p -> act(
                            "answerGiven",
                            Map.of(
                                    "step",
                                    id,
                                    "point",
                                    p.path("point").asString(),
                                    "lane",
                                    p.path("lane").asString(),
                                    "answer",
                                    "inOrder")));
            step.path("confirmations")
                    .forEach(c -> act(
                            "holdReleased",
                            Map.of("step", id, "confirmation", c.path("id").asString())));
        }
    }

    private void theLeadIsCharacterised() {
        JsonNode lead = now().path("gear")
                .valueStream()
                .filter(g -> g.path("role").asString().equals("rf-path"))
                .findFirst()
                .orElseThrow();
        String path = "/api/runs/" + run + "/path";
        for (Object wrong : List.of(List.of(400, 100), List.of(), List.of(0.5), List.of(100, 2000))) {
            ProblemException refused = assertThrows(
                    ProblemException.class,
                    () -> api.post(
                            path,
                            Map.of("gear", lead.path("id").asString(), "megahertz", wrong),
                            now().path("personEvents").asLong()));
            assertEquals("megahertz", refused.field(), wrong.toString());
        }
        JsonNode after = api.post(
                path,
                Map.of("gear", lead.path("id").asString(), "megahertz", List.of(100, 150, 300, 500)),
                now().path("personEvents").asLong());
        JsonNode points = after.path("gear")
                .valueStream()
                .filter(g -> g.path("role").asString().equals("rf-path"))
                .findFirst()
                .orElseThrow()
                .at("/path/loss/points");
        assertEquals(4, points.size());
        assertTrue(
                points.valueStream()
                        .allMatch(p -> p.path("decibels").asDouble() > 29
                                && p.path("decibels").asDouble() < 34),
                points.toString());
        assertTrue(
                points.get(3).path("decibels").asDouble()
                        > points.get(0).path("decibels").asDouble(),
                "a cable takes off more the higher it goes: " + points);
    }

    private void limitsAndParametersGoThereAndBack() {
        Map<String, Object> limit = Map.of(
                "step",
                "rxSensitivity",
                "point",
                "level",
                "lane",
                "uhf",
                "reason",
                "the valley is deep",
                "limit",
                Map.of("kind", "fixed", "when", "start", "high", -124, "source", "changed: the valley is deep"));
        JsonNode changed = act("limitChanged", limit);
        assertTrue(point(changed, "rxSensitivity/level/uhf").path("altered").asBoolean());
        assertFalse(
                point(changed, "rxSensitivity/level/vhf").path("altered").asBoolean(), "the other band keeps its own");
        JsonNode back = act("backToProcedure", Map.of("step", "rxSensitivity", "point", "level", "lane", "uhf"));
        assertFalse(point(back, "rxSensitivity/level/uhf").path("altered").asBoolean());
        assertEquals(
                "\u2212119",
                point(back, "rxSensitivity/level/uhf").path("span").asString().replaceAll("[^0-9\u2212]", ""));
    }

    /** Arms a step with what follows it, and presses. */
    private void pressed(String step, String lane) {
        JsonNode armed = api.post(
                "/api/runs/" + run + "/arm",
                Map.of("step", step, "lane", lane, "on", true),
                now().path("personEvents").asLong());
        assertTrue(
                armed.path("what").asString().contains("then on by itself"),
                armed.path("what").asString());
        api.post(
                "/api/runs/" + run + "/energise",
                Map.of("token", armed.path("token").asString()),
                null);
    }

    private static JsonNode last(JsonNode view) {
        return view.path("attempts").get(view.path("attempts").size() - 1);
    }

    private void aSilentDataPortIsNamedAndAskedAgain() throws Exception {
        pressed("txCarrier", "vhf");
        Installation.until("some steps", () -> now().path("attempts").size() >= 3);
        installation.control("line data-port silent");
        Installation.until("the sequence to end", () -> !now().path("busy").asBoolean());
        JsonNode silent = now();
        String port = silent.path("gear")
                .valueStream()
                .filter(g -> g.path("role").asString().equals("radio-data-port"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asString();
        // What was measured when it fell silent may have had all it needed; then only its end is not confirmed.
        if (!last(silent).path("outcome").asString().equals("valid")) {
            assertEquals("instrumentError", last(silent).path("outcome").asString());
            assertTrue(
                    last(silent).path("words").asString().startsWith("Data port 1: "),
                    last(silent).path("words").asString());
            assertEquals(
                    List.of(port),
                    new ArrayList<>(silent.path("gearLost").propertyNames()),
                    "not the test set, which answers");
        }
        assertEquals(List.of(port), new ArrayList<>(silent.path("unconfirmed").propertyNames()));
        ProblemException still = assertThrows(
                ProblemException.class,
                () -> pressed(
                        last(silent).path("step").asString(),
                        last(silent).path("lane").asString()));
        assertTrue(still.getMessage().contains("Data port 1"), still.getMessage());
        installation.control("line data-port good");
    }

    private void aServerKilledWhileTheRadioIsKeyed() throws Exception {
        JsonNode before = now();
        // Slow enough that what is live when it is looked at still is when the server dies.
        installation.control("factor 1");
        pressed(last(before).path("step").asString(), last(before).path("lane").asString());
        assertTrue(now().path("unconfirmed").isEmpty(), "the port was asked before it was used again");
        Installation.until(
                "the next is live",
                () -> now().path("attempts").size() > before.path("attempts").size()
                        && now().at("/output/mode").asString().equals("live"));
        installation.killServer();
        api.fallSilent();
        installation.startServer();
        signIn();
        api.drive(run);
        Installation.until("the run to be found interrupted", () -> now().hasNonNull("interrupted"));
        assertTrue(
                now().path("interrupted").asString().contains("confirms that its output is off"),
                now().path("interrupted").asString());
        String asked = now().at("/lastOff/answered").asString();
        assertTrue(asked.contains("Data port 1:"), "what keys the radio is asked, not only what measures: " + asked);
        act("resumed", Map.of());
        installation.control("factor 100");
    }

    private String finished() throws Exception {
        for (int n = 0; n < 40; n++) {
            JsonNode view = now();
            JsonNode due = view.path("steps")
                    .valueStream()
                    .filter(s -> s.path("inScope").asBoolean()
                            && !s.path("method").asString("").isEmpty())
                    .filter(s -> s.path("lanes").valueStream().anyMatch(l -> isDue(view, s, l)))
                    .findFirst()
                    .orElse(null);
            if (due == null) {
                break;
            }
            String lane = due.path("lanes")
                    .valueStream()
                    .filter(l -> isDue(view, due, l))
                    .findFirst()
                    .orElseThrow()
                    .path("id")
                    .asString();
            JsonNode armed = api.post(
                    "/api/runs/" + run + "/arm",
                    Map.of("step", due.path("id").asString(), "lane", lane, "on", true),
                    view.path("personEvents").asLong());
            api.post(
                    "/api/runs/" + run + "/energise",
                    Map.of("token", armed.path("token").asString()),
                    null);
            Installation.until(
                    "a sequence to end",
                    () -> now().path("attempts").size() > view.path("attempts").size()
                            && !now().path("busy").asBoolean());
        }
        for (JsonNode step : now().path("steps")) {
            for (JsonNode c : step.path("confirmations")) {
                if (!c.path("confirmed").asBoolean()) {
                    act(
                            "holdReleased",
                            Map.of(
                                    "step",
                                    step.path("id").asString(),
                                    "confirmation",
                                    c.path("id").asString()));
                }
                if (c.hasNonNull("back")) {
                    act(
                            "restored",
                            Map.of(
                                    "step",
                                    step.path("id").asString(),
                                    "confirmation",
                                    c.path("id").asString()));
                }
            }
        }
        return api.post(
                        "/api/runs/" + run + "/finish",
                        Map.of(),
                        now().path("personEvents").asLong())
                .path("record")
                .asString();
    }

    private static boolean isDue(JsonNode view, JsonNode step, JsonNode lane) {
        return view.path("attempts")
                        .valueStream()
                        .noneMatch(a ->
                                a.path("step").asString().equals(step.path("id").asString())
                                        && a.path("lane")
                                                .asString()
                                                .equals(lane.path("id").asString())
                                        && a.path("outcome").asString().equals("valid"))
                && !step.path("provesAllLanes").asBoolean();
    }

    private JsonNode theRecord(String number) throws Exception {
        JsonNode record = api.get("/api/records/" + number).path("record");
        JsonNode power = record.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals("txPower"))
                .findFirst()
                .orElseThrow();
        assertEquals(
                List.of("band VHF", "band UHF"),
                power.path("lanes")
                        .valueStream()
                        .map(b -> b.path("label").asString())
                        .toList(),
                "side by side");
        assertEquals(
                List.of("rad-1", "att-30", "gen-2"),
                record.path("gear")
                        .valueStream()
                        .map(g -> g.path("id").asString())
                        .toList(),
                "what stands behind a figure, each once");
        assertEquals(4, record.at("/more/paths/0/points").size(), "the lead as it was characterised");
        assertTrue(
                record.path("notTested").toString().contains("Selectivity")
                        && record.path("notTested").toString().contains("Bit errors"),
                record.path("notTested").toString());
        JsonNode selectivity = record.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals("rxSelectivity"))
                .findFirst()
                .orElseThrow();
        assertTrue(selectivity.toString().contains("wanted \u221211"), "with a true minus: " + selectivity);
        try (PDDocument pdf = Loader.loadPDF(api.bytes("/api/records/" + number + "/pdf"))) {
            String text = new PDFTextStripper().getText(pdf).replaceAll("\\s+", " ");
            for (String words : List.of(
                    "Carrier power",
                    "band VHF",
                    "band UHF",
                    "Signal generator 2",
                    "Path loss",
                    "over the data port",
                    "Acceptance test")) {
                assertTrue(text.contains(words), words + " in " + text);
            }
        }
        return record;
    }

    private static JsonNode point(JsonNode view, String key) {
        return view.path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().equals(key))
                .findFirst()
                .orElseThrow();
    }
}
