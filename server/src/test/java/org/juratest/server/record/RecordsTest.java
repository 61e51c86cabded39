package org.juratest.server.record;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import com.google.zxing.BinaryBitmap;
import com.google.zxing.DecodeHintType;
import com.google.zxing.client.j2se.BufferedImageLuminanceSource;
import com.google.zxing.common.HybridBinarizer;
import com.google.zxing.qrcode.QRCodeReader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVRecord;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.cos.COSName;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.common.filespecification.PDComplexFileSpecification;
import org.apache.pdfbox.rendering.PDFRenderer;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.core.run.Actor;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.run.EventChain;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.InsulationRun;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import org.juratest.server.db.UuidV7;
import org.juratest.server.run.RecordLines;
import org.juratest.server.run.RunStore;
import org.juratest.server.run.Tail;
import org.juratest.server.run.Verifier;
import org.verapdf.gf.foundry.VeraGreenfieldFoundryProvider;
import org.verapdf.pdfa.Foundries;
import org.verapdf.pdfa.PDFAParser;
import org.verapdf.pdfa.flavours.PDFAFlavour;
import org.verapdf.pdfa.results.ValidationResult;
import tools.jackson.databind.JsonNode;

/** Records over HTTP: signed, printed, exported, compared. */
class RecordsTest {

    private static final TestServer SERVER = TestServer.start();
    private static final String PASSWORD = "rack-rail-16";
    /** One dot, with an alpha channel, which PDF/A has its own rules for. */
    private static final byte[] PHOTO = java.util.Base64.getDecoder()
            .decode("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8/5+hHgAHggJ/PchI7wAAAABJRU5ErkJggg==");

    private static final String OLD = "/api/records/MFR-CBK-07/2025/1";

    private ApiClient tavel;
    private ApiClient oster;

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    @BeforeEach
    void signIn() {
        tavel = SERVER.client("tavel", PASSWORD);
        oster = SERVER.client("oster", "penstock-42");
    }

    /**
     * A finished run of the insulation part of the star's procedure, with a note and photos; gives its record's
     * address.
     */
    private String filed() {
        InsulationRun filed = new InsulationRun(SERVER, tavel);
        JsonNode run = filed.opened();
        run = tavel.act(run, "note", Map.of("text", "=1+1 <b>Counter</b> reads 412 \u0001 & \uD83D\uDD27"));
        for (byte[] photo : List.of(PHOTO, new byte[] {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1A, '\n', 1, 2, 3})) {
            String blob = tavel.post("/api/blobs", photo, null).path("sha256").asString();
            run = tavel.act(
                    run,
                    "photo",
                    Map.of(
                            "blob",
                            blob,
                            "mediaType",
                            "image/png",
                            "words",
                            photo == PHOTO ? "The set-up" : "A photo cut off on its way"));
        }
        run = filed.measured(run, 2400);
        JsonNode open = run;
        assertEquals(
                "not-finished",
                problem(
                                409,
                                "not-finished",
                                () -> tavel.post(
                                        "/api/runs/" + open.path("id").asString() + "/signatures",
                                        Map.of("password", PASSWORD),
                                        open.path("personEvents").asLong()))
                        .type());
        return "/api/records/" + filed.finished(run);
    }

    private static JsonNode sign(ApiClient who, String record, String password) {
        return who.post(
                record + "/signatures",
                Map.of("password", password),
                who.get(record).path("personEvents").asLong());
    }

    @Test
    void isSignedReviewedAndAmendedWithThePasswordOnly() {
        String record = filed();
        JsonNode unsigned = tavel.get(record);
        assertEquals("unsigned", unsigned.at("/record/signing/state").asString());
        assertFalse(unsigned.path("context").hasNonNull("mayNotSign"));
        assertEquals(
                "password",
                problem(409, "wrong-password", () -> sign(tavel, record, "penstock-42"))
                        .field());
        problem(409, "not-performer", () -> sign(oster, record, "penstock-42"));
        problem(428, "if-match-missing", () -> tavel.post(record + "/signatures", Map.of("password", PASSWORD), null));
        JsonNode signed = sign(tavel, record, PASSWORD);
        assertEquals("signed", signed.at("/record/signing/state").asString());
        assertEquals("A. Tavel", signed.at("/record/signing/entries/0/name").asString());
        problem(
                412,
                "run-moved-on",
                () -> oster.post(
                        record + "/reviews",
                        Map.of("decision", "accepted", "password", "penstock-42"),
                        unsigned.path("personEvents").asLong()));
        JsonNode reviewed = oster.post(
                record + "/reviews",
                Map.of("decision", "accepted", "password", "penstock-42"),
                signed.path("personEvents").asLong());
        assertEquals("reviewed", reviewed.at("/record/signing/state").asString());
        assertEquals(
                1,
                oster.get("/api/records?signing=reviewed&position=MFR-CBK-07&from=2026-01-01&text="
                                + record.substring(13).replace("/", "%2F"))
                        .path("count")
                        .asLong());
        JsonNode amended = tavel.post(
                record + "/amendments",
                Map.of(
                        "field",
                        "insulation/r/A-E",
                        "text",
                        "read at 15 °C",
                        "reason",
                        "wrong line of the book",
                        "password",
                        PASSWORD),
                reviewed.path("personEvents").asLong());
        assertEquals("signed", amended.at("/record/signing/state").asString());
        assertEquals(unsigned.at("/record/steps"), amended.at("/record/steps"), "what was recorded stands as it was");
        assertEquals(
                "Insulation, path A to earth, closed",
                amended.at("/record/signing/entries/2/concerns").asString());
        assertEquals(unsigned.at("/record/finishedAt"), amended.at("/record/finishedAt"));
    }

    @Test
    void ofTwoWhoSignAtOnceOneIsTold() {
        String record = filed();
        long seen = tavel.get(record).path("personEvents").asLong();
        ApiClient other = SERVER.client("tavel", PASSWORD);
        List<CompletableFuture<String>> both = Stream.of(tavel, other)
                .map(c -> CompletableFuture.supplyAsync(() -> {
                    try {
                        return c.post(record + "/signatures", Map.of("password", PASSWORD), seen)
                                .at("/record/signing/state")
                                .asString();
                    } catch (ProblemException e) {
                        return e.type();
                    }
                }))
                .toList();
        assertEquals(
                Set.of("signed", "run-moved-on"),
                new HashSet<>(both.stream().map(CompletableFuture::join).toList()));
        assertEquals(1, tavel.get(record).at("/record/signing/entries").size());
    }

    @Test
    void anIncompleteRecordIsAcceptedOnlyWithAReason() {
        String record = "/api/records/MFR-CBK-08/2025/1";
        JsonNode seen = oster.get(record);
        assertTrue(
                seen.at("/record/headline/title").asString().startsWith("Incomplete"),
                seen.at("/record/headline").toString());
        JsonNode again = tavel.post(
                record + "/amendments",
                Map.of("field", "asset", "text", "Rated 400 V", "reason", "plate cleaned", "password", PASSWORD),
                seen.path("personEvents").asLong());
        long now = again.path("personEvents").asLong();
        ProblemException open = problem(
                409,
                "point-open",
                () -> oster.post(record + "/reviews", Map.of("decision", "accepted", "password", "penstock-42"), now));
        assertTrue(
                open.field().startsWith("insulation/r/") && open.getMessage().contains("Insulation, path A to B"),
                open.getMessage());
        JsonNode accepted = oster.post(
                record + "/reviews",
                Map.of("decision", "acceptedIncomplete", "words", "next year", "password", "penstock-42"),
                now);
        assertEquals("reviewed", accepted.at("/record/signing/state").asString());
    }

    @Test
    void thePaperSaysWhatTheScreenSaysAndCarriesTheRecord() throws Exception {
        String record = filed();
        for (String path : List.of(OLD, record)) {
            JsonNode page = tavel.get(path).path("record");
            byte[] json = tavel.bytes(path + "/json");
            byte[] pdf = tavel.bytes(path + "/pdf");
            assertArrayEquals(
                    canonical(page),
                    canonical(CoreJson.mapper().readTree(json).path("page")),
                    "the file says what the screen says");
            try (PDDocument document = Loader.loadPDF(pdf)) {
                saysTheSame(page, new PDFTextStripper().getText(document));
                PDComplexFileSpecification attached = document.getDocumentCatalog()
                        .getNames()
                        .getEmbeddedFiles()
                        .getNames()
                        .get(RecordPdf.ATTACHED);
                assertArrayEquals(json, attached.getEmbeddedFile().toByteArray());
                assertEquals("Data", attached.getCOSObject().getNameAsString("AFRelationship"));
                for (PDPage sheet : document.getPages()) {
                    for (COSName font : sheet.getResources().getFontNames()) {
                        assertTrue(sheet.getResources().getFont(font).isEmbedded(), font.getName());
                    }
                }
                assertTrue(
                        qr(document).endsWith("/records/" + page.path("number").asString()), qr(document));
            }
            conforms(pdf);
        }
    }

    private static byte[] canonical(JsonNode json) {
        return EventCodec.canonical(CoreJson.mapper().writeValueAsBytes(json));
    }

    private static void saysTheSame(JsonNode page, String paper) {
        String flat = paper.replaceAll("[\\s\u00a0]+", " ");
        List<String> said = new ArrayList<>(List.of(
                "Record " + page.path("number").asString(),
                page.at("/headline/title").asString(),
                page.at("/chain/head").asString(),
                "Juratest " + page.at("/chain/software").asString(),
                page.at("/asset/serial").asString(),
                "A. Tavel"));
        page.path("steps").forEach(s -> s.path("points").forEach(p -> {
            Stream.of("asFound", "asLeft")
                    .map(v -> p.path("point").path(v).path("figure").asString(""))
                    .filter(f -> !f.isEmpty())
                    .forEach(said::add);
            said.add(p.path("criteria")
                    .asString(s.path("criteria").asString(""))
                    .split(",")[0]
                    .replace('\u00a0', ' '));
        }));
        page.path("remarks")
                .valueStream()
                .filter(r -> r.hasNonNull("blob"))
                .forEach(r -> said.add(r.path("text").asString()));
        page.path("traces").forEach(t -> said.add(t.path("title").asString() + ": injected current"));
        page.path("notTested").forEach(n -> said.add(n.asString()));
        page.path("gear").forEach(g -> said.add(g.path("certificate").asString().substring(0, 6)));
        assertTrue(said.size() > 20, said.toString());
        said.forEach(words -> assertTrue(flat.contains(words), "\"" + words + "\" is not in:\n" + flat));
    }

    private static String qr(PDDocument document) throws Exception {
        for (int page = document.getNumberOfPages() - 1; page >= 0; page--) {
            try {
                return new QRCodeReader()
                        .decode(
                                new BinaryBitmap(new HybridBinarizer(new BufferedImageLuminanceSource(
                                        new PDFRenderer(document).renderImageWithDPI(page, 200)))),
                                Map.of(DecodeHintType.TRY_HARDER, true))
                        .getText();
            } catch (com.google.zxing.ReaderException e) {
                // It stands on another page.
                continue;
            }
        }
        throw new IllegalStateException("no QR code");
    }

    private static void conforms(byte[] pdf) throws Exception {
        VeraGreenfieldFoundryProvider.initialise();
        try (PDFAParser parser =
                Foundries.defaultInstance().createParser(new ByteArrayInputStream(pdf), PDFAFlavour.PDFA_3_U)) {
            ValidationResult result = Foundries.defaultInstance()
                    .createValidator(PDFAFlavour.PDFA_3_U, false)
                    .validate(parser);
            assertTrue(result.getTotalAssertions() > 100, "it looked at something");
            assertTrue(result.isCompliant(), () -> result.getTestAssertions().toString());
        }
    }

    @Test
    void theFileHoldsAChainThatAnybodyCanWalk() {
        JsonNode file = CoreJson.mapper().readTree(tavel.bytes(OLD + "/json"));
        List<byte[]> bodies =
                file.path("events").valueStream().map(RecordsTest::canonical).toList();
        UUID run = UUID.fromString(file.path("run").asString());
        assertEquals(
                java.util.Optional.empty(),
                EventChain.check(run, bodies, file.path("head").asString(), bodies.size()));
        assertEquals(
                "pole B failed as found",
                file.at("/page/headline/detail").asString().substring(16, 38));
        assertTrue(file.at("/page/steps")
                .valueStream()
                .anyMatch(s -> s.path("done").toString().contains("Adjusted: greased (pole B)")));
    }

    @Test
    void aBrokenChainIsSaidOnThePage() {
        String record = filed();
        String number = record.substring("/api/records/".length());
        SERVER.database()
                .template()
                .update(
                        "UPDATE event SET body = convert_to(replace(convert_from(body, 'UTF8'), 'reads 412', "
                                + "'reads 413'), 'UTF8') "
                                + "WHERE type = 'note' AND run = (SELECT id FROM run WHERE record = ?)",
                        number);
        assertTrue(tavel.get(record).at("/record/chain/broken").asString().contains("does not have the hash"));
        SERVER.database()
                .template()
                .update(
                        "UPDATE event SET body = convert_to(replace(convert_from(body, 'UTF8'), 'reads 413', "
                                + "'reads 412'), 'UTF8') "
                                + "WHERE type = 'note' AND run = (SELECT id FROM run WHERE record = ?)",
                        number);
        assertFalse(tavel.get(record).path("record").path("chain").hasNonNull("broken"));
    }

    @Test
    void tablesHoldEveryPointAndNoFormula() throws IOException {
        List<CSVRecord> rows = CSVFormat.RFC4180
                .builder()
                .setHeader()
                .setSkipHeaderRecord(true)
                .get()
                .parse(new StringReader(new String(tavel.bytes(OLD + "/csv"), StandardCharsets.UTF_8)))
                .getRecords();
        assertEquals(24, rows.size());
        CSVRecord late = rows.stream()
                .filter(r -> r.get("point").equals("time") && r.get("lane").equals("B"))
                .findFirst()
                .orElseThrow();
        assertEquals(
                List.of("41.6", "fail", "24.3", "pass", "s"),
                Stream.of("as_found", "as_found_verdict", "as_left", "as_left_verdict", "unit")
                        .map(late::get)
                        .toList());
        RunStore store = SERVER.context().getBean(RunStore.class);
        List<Event> events = new ArrayList<>(
                store.events(UUID.fromString(tavel.get(OLD).at("/record/run").asString()), -1));
        RunEvents.Opened opened = (RunEvents.Opened) events.get(0).data();
        AssetFacts asset = opened.asset();
        RunEvents.Opened hostile = new RunEvents.Opened(
                opened.job(),
                opened.reason(),
                opened.procedureHash(),
                opened.procedure(),
                new AssetFacts(
                        asset.asset(),
                        asset.position(),
                        asset.site(),
                        "=HYPERLINK(\"x\")",
                        asset.assetClass(),
                        "+1",
                        "-2",
                        "@x\r\ny",
                        asset.nameplate(),
                        asset.curve(),
                        asset.siteRange()),
                opened.gear(),
                opened.priors(),
                opened.envelope(),
                opened.limits(),
                opened.software(),
                opened.zone());
        Event zero = events.get(0);
        events.set(
                0,
                new Event(zero.id(), zero.run(), zero.n(), zero.prev(), zero.at(), zero.by(), zero.origin(), hostile));
        StringBuilder out = new StringBuilder(RecordLines.header());
        RecordLines.of(RunState.of(events)).write("a,\"b\"\nc", "pass", "signed", out);
        CSVRecord first = CSVFormat.RFC4180
                .builder()
                .setHeader()
                .setSkipHeaderRecord(true)
                .get()
                .parse(new StringReader(out.toString()))
                .iterator()
                .next();
        assertEquals(
                List.of("'=HYPERLINK(\"x\")", "'+1", "-2", "'@x\r\ny", "a,\"b\"\nc"),
                Stream.of("site", "maker", "model", "serial", "by")
                        .map(first::get)
                        .toList());
    }

    /** Answers of inspections come with the words people gave them, line ends, commas and quotes included. */
    @Test
    void rowsEndWhereTheirLinesEndAndNotWhereACellHasALineEnd() {
        StringBuilder out = new StringBuilder();
        new RecordLines("n,\"a\r\nb\"", "\"one \"\"x\"\"\r\ntwo\",1\r\nthree,2\r\n").write("w", "fail", "signed", out);
        assertEquals(
                "n,\"a\r\nb\",w,fail,signed,\"one \"\"x\"\"\r\ntwo\",1\r\n" + "n,\"a\r\nb\",w,fail,signed,three,2\r\n",
                out.toString());
    }

    @Test
    void aTableOfManyIsTheTablesOfEachAndNeedsNoEvents() {
        String filter = "/api/records/export/csv?position=MFR-CBK-07";
        String many = text(tavel.bytes(filter));
        StringBuilder each = new StringBuilder(RecordLines.header());
        tavel.get("/api/records?position=MFR-CBK-07&limit=50")
                .path("records")
                .valueStream()
                .forEach(r -> {
                    String one =
                            text(tavel.bytes("/api/records/" + r.path("number").asString() + "/csv"));
                    each.append(one, RecordLines.header().length(), one.length());
                });
        assertEquals(each.toString(), many);
        var database = SERVER.database().template();
        UUID run = UUID.fromString(tavel.get(OLD).at("/record/run").asString());
        try {
            // What is kept is what is exported; what is missing is made of the events, and nothing is left out.
            database.update("UPDATE run_table SET rows = replace(rows, '41.6', '41.7') WHERE run = ?", run);
            assertEquals(many.replace("41.6", "41.7"), text(tavel.bytes(filter)));
            assertTrue(new Verifier(database)
                    .run(false).findings().stream().anyMatch(f -> f.what().contains("lines in a table")));
            database.update("DELETE FROM run_table WHERE run = ?", run);
            assertEquals(many, text(tavel.bytes(filter)));
        } finally {
            new Verifier(database).run(true);
        }
        assertEquals(1, database.queryForObject("SELECT count(*) FROM run_table WHERE run = ?", Integer.class, run));
        assertEquals(many, text(tavel.bytes(filter)));
    }

    private static String text(byte[] bytes) {
        return new String(bytes, StandardCharsets.UTF_8);
    }

    @Test
    void comparesWithLastWithBaselineAndSaysWhatDoesNotCompare() {
        String number = filed().substring("/api/records/".length());
        JsonNode view = tavel.get("/api/comparisons?of=" + number + "&with=baseline");
        assertEquals("MFR-CBK-07/2025/1", view.at("/with/0/number").asString());
        JsonNode cell = view.path("rows")
                .valueStream()
                .filter(r -> r.at("/now/key").asString().equals("insulation/r/A-E"))
                .findFirst()
                .orElseThrow()
                .at("/then/0");
        // 2000 then and 2400 now at the same 14 °C, a factor of 2^-0.6 to 20 °C.
        assertEquals(400 * Math.pow(2, -0.6), cell.path("changeValue").asDouble(), 1e-6);
        assertEquals(20, cell.path("percent").asDouble(), 1e-9);
        assertEquals("uncertaintyUnknown", cell.path("seen").asString());
        assertTrue(view.at("/onlyThen/0").toString().contains("Long-time trip, pole B"));
        problem(409, "nothing-earlier", () -> tavel.get("/api/comparisons?of=MFR-CBK-07/2025/1&with=last"));
        problem(409, "other-asset", () -> tavel.get("/api/comparisons?of=" + number + "&with=MFR-CBK-08/2025/1"));
        problem(404, "unknown-record", () -> tavel.get("/api/comparisons?of=" + number + "&with=MFR-CBK-07/1999/1"));
        JsonNode life = tavel.get("/api/assets/MFR-CBK-07");
        assertEquals(life, tavel.get("/api/assets/CBK-1"));
        JsonNode pole = life.path("series")
                .valueStream()
                .filter(s -> s.path("series").asString().equals("breaker.longTime@3Ir")
                        && s.path("lane").asString().equals("B"))
                .findFirst()
                .orElseThrow();
        assertEquals(41.6, pole.at("/points/0/asFound").asDouble());
        assertTrue(
                pole.at("/points/0/low").asDouble() > 14
                        && pole.at("/points/0/high").asDouble() < 38.1,
                pole.toString());
        assertEquals("greased", life.at("/repairs/0/what").asString());
        problem(404, "unknown-asset", () -> tavel.get("/api/assets/MFR-CBK-99"));
    }

    @Test
    void capturedTracesAreLaidOverEachOther() {
        JsonNode trace = tavel.get(OLD).at("/record/traces/0");
        assertEquals(
                List.of("pole A", "Injected current", "s", "A", "3"),
                Stream.of("lane", "name", "xUnit", "yUnit", "points")
                        .map(f -> trace.path(f).asString())
                        .toList());
        String blob = trace.path("blob").asString();
        JsonNode both = tavel.get("/api/traces?blob=" + blob + "&blob=" + blob);
        assertEquals("[301.2,300.1,300.0]", both.at("/lines/1/y").toString());
        assertEquals("[0.0,0.0,0.0]", both.at("/difference/y").toString());
        problem(404, "unknown-trace", () -> tavel.get("/api/traces?blob=" + "ab".repeat(32)));
        problem(
                409,
                "out-of-range",
                () -> tavel.get("/api/traces?blob=" + String.join("&blob=", java.util.Collections.nCopies(17, blob))));
    }

    @Test
    void filesAreNamedByASupervisorsPattern() {
        problem(403, "not-allowed", () -> tavel.put("/api/file-naming", Map.of("pattern", "{number}")));
        assertEquals(
                "pattern",
                problem(409, "pattern-invalid", () -> oster.put("/api/file-naming", Map.of("pattern", "{numbr}")))
                        .field());
        JsonNode preview = oster.get("/api/file-naming?pattern=%7Bserial%7D_%7Bnumber%7D");
        assertTrue(
                preview.path("preview").asString().matches("48-2291_MFR-CBK-07-\\d{4}-\\d+\\.pdf|\\d_MFR.*"),
                preview.toString());
        assertEquals(
                "{position}_{year}-{n}",
                oster.get("/api/file-naming").path("pattern").asString());
    }

    @Test
    void listsAreNarrowedAndPaged() {
        List<String> seen = new ArrayList<>();
        String next = "";
        do {
            JsonNode page = tavel.get("/api/records?to=2025-12-31&limit=2" + (next.isEmpty() ? "" : "&after=" + next));
            page.path("records").forEach(r -> seen.add(r.path("number").asString()));
            assertEquals(3, page.path("count").asLong());
            next = page.path("next").asString("");
        } while (!next.isEmpty());
        assertEquals(Set.of("MFR-CBK-07/2025/1", "MFR-CBK-08/2025/1", "MFR-CBK-09/2025/1"), new HashSet<>(seen));
        assertEquals(3, seen.size());
        assertEquals(
                1,
                tavel.get("/api/records?verdict=marginal&to=2025-12-31")
                        .path("count")
                        .asLong());
        assertEquals(0, tavel.get("/api/records?text=%25").path("count").asLong(), "a per cent sign is not a wildcard");
        assertEquals(
                "from",
                problem(422, "value-invalid", () -> tavel.get("/api/records?from=yesterday"))
                        .field());
        assertEquals(
                "limit",
                problem(422, "value-invalid", () -> tavel.get("/api/records?limit=many"))
                        .field());
        problem(409, "bad-cursor", () -> tavel.get("/api/records?after=x"));
        assertEquals(
                "to",
                problem(409, "dates-crossed", () -> tavel.get("/api/records?from=2026-02-02&to=2026-02-01"))
                        .field());
        problem(409, "unknown-verdict", () -> tavel.get("/api/records?verdict=fine"));
    }

    @Test
    void hundredsOfRecordsStreamWithoutBeingHeld() throws IOException {
        RunStore store = SERVER.context().getBean(RunStore.class);
        String path = filed();
        List<Event> events =
                store.events(UUID.fromString(tavel.get(path).at("/record/run").asString()), -1);
        for (int i = 0; i < 400; i++) {
            UUID run = UuidV7.now();
            Tail tail = new Tail(run, RunState.EMPTY, null, store.origin());
            for (Event event : events) {
                EventData data = event.data() instanceof RunEvents.Finished f
                        ? new RunEvents.Finished("MFR-CBK-09/1990/" + (i + 1), f.judgement(), f.software())
                        : event.data();
                tail.add(Actor.parse(event.by().toString()), data, event.at().minusSeconds(1_000_000_000));
            }
            store.insertWhole(run, null, "CBK-3", "MFR-CBK-09", tail);
        }
        Heap heap = new Heap();
        SERVER.context()
                .getBean(ExportController.class)
                .writeArray(new RecordFilter(null, "MFR-CBK-09", null, null, null, null, null, null, null, null), heap);
        assertTrue(heap.total > 12_000_000, heap.total + " bytes of 401 records");
        assertTrue(heap.growth < heap.total / 4, "held " + heap.growth + " of " + heap.total + " bytes");
        SERVER.database()
                .template()
                .update("DELETE FROM event WHERE run IN (SELECT id FROM run WHERE record LIKE 'MFR-CBK-09/1990/%')");
        for (String table : List.of("run_point", "reading")) {
            SERVER.database()
                    .template()
                    .update("DELETE FROM " + table
                            + " WHERE run IN (SELECT id FROM run WHERE record LIKE 'MFR-CBK-09/1990/%')");
        }
        SERVER.database()
                .template()
                .update("DELETE FROM last_value WHERE run IN (SELECT id FROM run WHERE record LIKE "
                        + "'MFR-CBK-09/1990/%')");
        SERVER.database().template().update("DELETE FROM run WHERE record LIKE 'MFR-CBK-09/1990/%'");
    }

    /** Throws away what is written, and looks now and then how much more is held than at the start. */
    private static final class Heap extends java.io.OutputStream {

        private static final long EVERY = 2_000_000;
        private final long before = used();
        private long total;
        private long growth;
        private long looked;

        private static long used() {
            System.gc();
            Runtime runtime = Runtime.getRuntime();
            return runtime.totalMemory() - runtime.freeMemory();
        }

        @Override
        public void write(int b) {
            total++;
        }

        @Override
        public void write(byte[] bytes, int offset, int length) {
            total += length;
            if (total - looked > EVERY) {
                looked = total;
                growth = Math.max(growth, used() - before);
            }
        }
    }
}
