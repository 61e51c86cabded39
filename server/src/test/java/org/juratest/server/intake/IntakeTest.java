package org.juratest.server.intake;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.juratest.formats.comtrade.Comtrade;
import org.juratest.formats.comtrade.ComtradeBundle;
import org.juratest.formats.sor.SorFile;
import org.juratest.formats.sor.SorReader;
import org.juratest.formats.sor.SorWriter;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import tools.jackson.databind.JsonNode;

/** Files of other gear over HTTP, with the folder of examples: where they go, what becomes of them. */
class IntakeTest {

    private static final TestServer SERVER = TestServer.start();
    private static final Path FOLDER = Path.of("../docs/examples/traces");

    /** Files that the job's test keeps for itself. */
    private static final String JOBS = "CBL-VAU-01_003";

    private static ApiClient tavel;
    private static ApiClient oster;

    @BeforeAll
    static void links() {
        tavel = SERVER.client("tavel", "rack-rail-16");
        oster = SERVER.client("oster", "penstock-42");
        link("MFR-FIB-11", "L-PRA", "CBL-PRA-01", "2.46", "Pravelle halt", "Orsel tunnel, east portal");
        link("MFR-FIB-12", "L-MFR", "CBL-MFR-01", "2.55", "Montfrel substation", "Pravelle halt");
        link("MFR-FIB-13", "L-VAU", "CBL-VAU-01", "1.96", "Vaudrel clinic", "Col de Vaudrel summit");
    }

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    private static void placed(String position, String family, Map<String, Object> form) {
        tavel.post("/api/register/positions", Map.of("code", position, "site", "MFR", "family", family), null);
        tavel.post("/api/register/assets", form, null);
        tavel.post(
                "/api/register/exchanges",
                Map.of("position", position, "in", form.get("id"), "at", "2024-01-05T08:00:00Z"),
                null);
    }

    private static void link(String position, String asset, String cable, String km, String near, String far) {
        Map<String, Object> form = new TreeMap<>(Map.of(
                "id", asset, "assetClass", "fibre-link", "maker", "Ulmeric", "model", "SM-24", "serial", "S/" + asset));
        form.put(
                "plate",
                Map.of(
                        "fibres",
                        "24",
                        "length",
                        km,
                        "kind",
                        "single-mode",
                        "connectors",
                        "angled",
                        "lossBudget",
                        "3.5",
                        "cable",
                        cable,
                        "route",
                        "0;end;" + near + ";900\n" + km + ";end;" + far + ";1200"));
        placed(position, "fibre", form);
    }

    private static String begin(ApiClient who, Map<String, Object> where) {
        return who.post("/api/intakes", where, null).path("id").asString();
    }

    private static JsonNode take(ApiClient who, String intake, String name, byte[] bytes) {
        return who.post("/api/intakes/" + intake + "/files?name=" + name, bytes, null);
    }

    private static Map<String, byte[]> folder(String prefix) {
        try (Stream<Path> all = Files.list(FOLDER)) {
            Map<String, byte[]> files = new TreeMap<>();
            for (Path file : all.filter(f -> f.getFileName().toString().startsWith(prefix))
                    .toList()) {
                files.put(file.getFileName().toString(), Files.readAllBytes(file));
            }
            return files;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Map<String, byte[]> unpacked(byte[] archive) {
        Map<String, byte[]> files = new TreeMap<>();
        try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(archive))) {
            for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
                files.put(entry.getName(), zip.readAllBytes());
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return files;
    }

    private static Map<String, Integer> standings(JsonNode view) {
        Map<String, Integer> counts = new TreeMap<>();
        view.path("files").forEach(f -> counts.merge(f.path("standing").asString(), 1, Integer::sum));
        return counts;
    }

    private static JsonNode file(JsonNode view, String standing) {
        return view.path("files")
                .valueStream()
                .filter(f -> f.path("standing").asString().equals(standing))
                .findFirst()
                .orElseThrow();
    }

    private static List<JsonNode> points(JsonNode made, String pattern) {
        return tavel.get("/api/records/" + made.path("record").asString()).findValues("point").stream()
                .filter(JsonNode::isObject)
                .filter(p -> p.path("key").asString(p.path("key").toString()).matches(pattern))
                .toList();
    }

    @Test
    void aFolderBecomesRecordsOnceAndWhatIsWrongWithItIsTold() {
        String intake = begin(tavel, Map.of());
        Map<String, byte[]> files = folder("");
        files.keySet().removeIf(name -> name.startsWith(JOBS));
        files.forEach((name, bytes) -> take(tavel, intake, name, bytes));
        JsonNode view = tavel.get("/api/intakes/" + intake);
        assertEquals(Map.of("ready", 54, "unmatched", 1, "unreadable", 2), standings(view));
        assertEquals(3, view.path("groups").size());
        String cut = file(view, "unreadable").path("why").asString();
        assertTrue(cut.matches("It cannot be read: block .*, offset \\d+: .*"), cut);
        String nobody = file(view, "unmatched").path("why").asString();
        assertTrue(nobody.contains("called \"OLD-07\""), nobody);

        // A person says what the odd one is of; then its fibre, wavelength and end tell the rest.
        int odd = file(view, "unmatched").path("n").asInt();
        String there = "/api/intakes/" + intake + "/files/" + odd;
        JsonNode put = tavel.patch(there, Map.of("asset", "L-VAU"));
        assertEquals(
                "trace1550 1",
                put.path("step").asString() + " " + put.path("lane").asString());
        assertEquals(
                "lane",
                problem(409, "unknown-lane", () -> tavel.patch(there, Map.of("step", "trace1550", "lane", "99")))
                        .field());
        put = tavel.patch(there, Map.of("step", "trace1625", "lane", "7"));
        assertEquals("trace1625, 7", put.path("where").asString());
        put = tavel.patch(there, Map.of("leftOut", true));
        assertEquals("leftOut", put.path("standing").asString());
        // It is nobody else's.
        problem(404, "unknown-intake", () -> oster.get("/api/intakes/" + intake));

        JsonNode result = tavel.told("/api/intakes/" + intake + "/store", p -> {});
        assertEquals(3, result.path("made").size(), result.toString());
        problem(409, "stored-already", () -> take(tavel, intake, "x.sor", new byte[0]));
        JsonNode pravelle = result.path("made")
                .valueStream()
                .filter(m -> m.path("position").asString().equals("MFR-FIB-11"))
                .findFirst()
                .orElseThrow();
        // The bend of fibre 4 is found, with both its losses, and a splice is judged by the mean of both ways.
        assertEquals(1, points(pravelle, "bends/bendLong#1/4").size());
        assertEquals(
                "fail",
                points(pravelle, "bends/bendLong#1/4").get(0).path("verdict").asString());
        assertFalse(points(pravelle, "mean1550/spliceMean#.*/1").isEmpty());
        points(pravelle, "mean1550/spliceMean#.*/1")
                .forEach(p -> assertEquals("pass", p.path("verdict").asString(), p.toString()));
        JsonNode record = tavel.get("/api/records/" + pravelle.path("record").asString());
        assertTrue(record.toString().contains("imported"), "nothing says that it was imported");

        // What came in goes out again, byte for byte, under names that say what it is.
        String address = "/api/records/" + pravelle.path("record").asString() + "/files";
        Map<String, byte[]> out = unpacked(tavel.bytes(address));
        assertEquals(20, out.size());
        String first = "CBL-PRA-01_001_Pravelle-halt_Orsel-tunnel-east-portal_1550_";
        byte[] same = out.entrySet().stream()
                .filter(e -> e.getKey().startsWith(first) && e.getKey().endsWith(".sor"))
                .findFirst()
                .orElseThrow(() -> new AssertionError(out.keySet()))
                .getValue();
        org.junit.jupiter.api.Assertions.assertArrayEquals(
                folder("CBL-PRA-01_001_Pravelle_Orsel_1550").values().iterator().next(), same);
        assertTrue(unpacked(tavel.bytes(address + "?pattern=%7Bposition%7D-%7Bn%7D"))
                .containsKey("MFR-FIB-11-007.sor"));
        assertEquals(
                "pattern",
                problem(409, "pattern-invalid", () -> tavel.bytes(address + "?pattern=%7Bnobody%7D"))
                        .field());

        // What no file is of is told by its first and last, not fibre by fibre.
        String notTested = record.path("record").path("notTested").toString();
        assertTrue(notTested.contains("Trace at 1310 nm, fibre 7 to fibre 24"), notTested);
        // Along each trace stand the rows that were found on it, with what they lose.
        JsonNode bent = record.path("record")
                .path("traces")
                .valueStream()
                .filter(t -> t.path("step").asString().equals("trace1550")
                        && t.path("laneId").asString().equals("4"))
                .findFirst()
                .orElseThrow();
        JsonNode bad = bent.path("marks")
                .valueStream()
                .filter(m -> m.path("verdict").asString().equals("fail"))
                .findFirst()
                .orElseThrow(() -> new AssertionError(bent.toString()));
        assertEquals(514, bad.path("at").asDouble(), 10);
        assertTrue(bad.path("words").asString().matches("Splice \\d at 51\\d m.*, 0\\.4\\d+ dB"), bad.toString());

        // How they are named is shown before, and kept for the work order once somebody says so.
        JsonNode usual = tavel.get(address + "/names");
        assertEquals(
                "{cable}_{lane}_{from}_{to}_{wavelength}_{n}",
                usual.path("pattern").asString());
        assertFalse(usual.path("kept").asBoolean());
        JsonNode tried = tavel.get(address + "/names?pattern=%7Bcable%7D-%7Blane%7D-%7Bn%7D");
        assertEquals("CBL-PRA-01-001-001.sor", tried.path("names").get(0).asString());
        assertEquals(12, tried.path("names").size());
        problem(409, "pattern-invalid", () -> tavel.put(address + "/names", Map.of("pattern", "{nobody}")));
        problem(409, "pattern-invalid", () -> tavel.put(address + "/names", Map.of("pattern", "a/b")));
        assertTrue(tavel.put(address + "/names", Map.of("pattern", "{cable}-{lane}-{n}"))
                .path("kept")
                .asBoolean());
        assertTrue(unpacked(tavel.bytes(address)).containsKey("CBL-PRA-01-001-001.sor"));

        // Dropped again, nothing is doubled.
        String again = begin(tavel, Map.of("asset", "L-PRA"));
        folder("CBL-PRA-01_001").forEach((name, bytes) -> take(tavel, again, name, bytes));
        JsonNode second = tavel.get("/api/intakes/" + again);
        assertEquals(Map.of("there", 4), standings(second), second.toString());
        assertEquals(
                pravelle.path("record").asString(),
                file(second, "there").path("record").asString());
        problem(409, "nothing-ready", () -> tavel.told("/api/intakes/" + again + "/store", p -> {}));
    }

    /**
     * Four operations of a recloser at 400 A on phase B, the fast ones slower than any fast curve, as other gear has
     * it.
     */
    private static byte[] sequence(String station, String device) {
        int rate = 2000;
        double[] lasts = {1.9, 1.9, 4.2, 4.2};
        double[] time = new double[28 * rate];
        double[] current = new double[time.length];
        double from = 0.5;
        int operation = 0;
        for (int i = 0; i < time.length; i++) {
            time[i] = i / (double) rate;
            if (operation < lasts.length && time[i] >= from + lasts[operation]) {
                from += lasts[operation++] + 2;
            }
            current[i] = operation < lasts.length && time[i] >= from
                    ? 400 * Math.sqrt(2) * Math.sin(2 * Math.PI * 50 * time[i])
                    : 0;
        }
        LocalDateTime taken = LocalDateTime.of(2026, 3, 4, 5, 6, 7);
        return ComtradeBundle.write(
                new Comtrade(
                        station,
                        device,
                        2013,
                        List.of(Comtrade.Analog.plain(1, "I", "B", "A")),
                        List.of(),
                        50,
                        List.of(),
                        taken,
                        taken,
                        Comtrade.Form.FLOAT32,
                        1,
                        null,
                        time,
                        new double[][] {current},
                        List.of()),
                Comtrade.Form.FLOAT32);
    }

    private static void recloser(String position, String asset, Map<String, String> plate) {
        Map<String, Object> form = new TreeMap<>(Map.of(
                "id", asset, "assetClass", "recloser", "maker", "Tarnivol", "model", "RH-15", "serial", "S/" + asset));
        form.put("plate", plate);
        placed(position, "breakers", form);
    }

    /** Other gear knows the phase, and nothing of our levels: the current tells them. */
    @Test
    void aSequenceOfOtherGearGoesWhereItsPhaseAndItsCurrentSay() {
        recloser(
                "MFR-REC-09",
                "R-9",
                Map.of("ratedVoltage", "15", "ratedCurrent", "200", "coil", "100", "pickUp", "200"));
        recloser("MFR-REC-10", "R-10", Map.of("ratedVoltage", "15", "ratedCurrent", "200"));
        String intake = begin(tavel, Map.of());
        JsonNode ready = take(tavel, intake, "feeder.cff", sequence("MFR-REC-09", "set 4"));
        assertEquals("ready", ready.path("standing").asString(), ready.toString());
        assertEquals(
                "sequence B.1",
                ready.path("step").asString() + " " + ready.path("lane").asString());
        JsonNode unknown = take(tavel, intake, "other.cff", sequence("MFR-REC-08", "set 4"));
        assertEquals("unmatched", unknown.path("standing").asString());
        JsonNode blank = take(tavel, intake, "blank.cff", sequence("MFR-REC-10", "set 4"));
        assertEquals("unmatched", blank.path("standing").asString(), "its plate does not tell the levels");
        assertTrue(blank.path("why").asString().contains("Choose step and lane"), blank.toString());
        JsonNode cut = take(tavel, intake, "cut.cff", Arrays.copyOf(sequence("MFR-REC-09", "B.2"), 20_000));
        assertEquals("unreadable", cut.path("standing").asString());
        assertTrue(cut.path("why").asString().contains("byte"), cut.toString());
        JsonNode made = tavel.told("/api/intakes/" + intake + "/store", p -> {})
                .path("made")
                .get(0);
        JsonNode operations = points(made, "sequence/operations/B.1").get(0);
        assertEquals("pass", operations.path("verdict").asString(), operations.toString());
        JsonNode fast = points(made, "sequence/fast/B.1").get(0);
        assertEquals("fail", fast.path("verdict").asString(), fast.toString());
        assertEquals(1.9, fast.at("/counting/value").asDouble(), 0.02, fast.toString());
    }

    @Test
    void filesOfAJobGoIntoItsRun() {
        JsonNode job = oster.post(
                "/api/jobs",
                Map.of(
                        "asset",
                        "L-VAU",
                        "procedure",
                        "FIB-ACCEPT",
                        "occasion",
                        "acceptance",
                        "due",
                        java.time.LocalDate.now().plusDays(3).toString(),
                        "why",
                        "new link"),
                null);
        String intake = begin(tavel, Map.of("job", job.path("id").asLong()));
        folder(JOBS).forEach((name, bytes) -> take(tavel, intake, name, bytes));
        JsonNode other = take(
                tavel,
                intake,
                "other.sor",
                folder("CBL-MFR-01_002").values().iterator().next());
        assertEquals("unmatched", other.path("standing").asString());
        assertTrue(
                other.path("why").asString().contains("L-MFR"),
                other.path("why").asString());
        JsonNode twice = take(
                tavel, intake, "again.sor", folder(JOBS).values().iterator().next());
        assertEquals("twice", twice.path("standing").asString());
        JsonNode result = tavel.told("/api/intakes/" + intake + "/store", p -> {});
        JsonNode made = result.path("made").get(0);
        assertTrue(made.path("record").isMissingNode() || made.path("record").isNull());
        JsonNode run = tavel.get("/api/runs/" + made.path("run").asString());
        assertEquals("open", run.path("status").asString());
        List<String> attempts = run.path("attempts")
                .valueStream()
                .map(a -> a.path("step").asString() + " " + a.path("outcome").asString())
                .toList();
        assertTrue(attempts.contains("trace1550far valid") && attempts.contains("mean1310 valid"), attempts.toString());
    }

    /** A year later the same splices are found where they were: each has a trend of its own. */
    @Test
    void whatIsFoundAlongAFibreIsFoundAgainTheYearAfter() {
        link("MFR-FIB-14", "L-TWO", "CBL-TWO-01", "2.55", "Montfrel substation", "Pravelle halt");
        for (int year = 0; year < 3; year++) {
            String intake = begin(tavel, Map.of("asset", "L-TWO"));
            long later = year * 365L * 86_400;
            folder("CBL-MFR-01_002")
                    .forEach((name, bytes) ->
                            take(tavel, intake, later + name, changed(bytes, b -> dated(b, "CBL-TWO-01", later))));
            JsonNode made = tavel.told("/api/intakes/" + intake + "/store", p -> {});
            assertEquals(1, made.path("made").size(), made.toString());
        }
        List<JsonNode> splices = tavel.get("/api/condition/trends/L-TWO")
                .path("points")
                .valueStream()
                .filter(p -> p.path("series").asString().equals("fib.spliceMean1550"))
                .toList();
        assertFalse(splices.isEmpty());
        splices.forEach(p -> {
            assertTrue(
                    p.path("lane").asString().matches("2@\\d+"), p.path("lane").asString());
            assertEquals(3, p.path("visits").size(), p.toString());
        });
        assertEquals(
                splices.size(),
                splices.stream().map(p -> p.path("lane").asString()).distinct().count());
    }

    /** A shot into nothing keeps no other file from its record, and says why it is not among them. */
    @Test
    void aTraceWithoutALinkStaysOutAndTheOthersAreStored() {
        link("MFR-FIB-15", "L-BLK", "CBL-BLK-01", "2.55", "Montfrel substation", "Pravelle halt");
        Map<String, byte[]> files = folder("CBL-MFR-01_002");
        String dark = files.keySet().stream().sorted().findFirst().orElseThrow();
        String intake = begin(tavel, Map.of("asset", "L-BLK"));
        files.forEach((name, bytes) -> take(
                tavel, intake, name, changed(bytes, b -> dated(name.equals(dark) ? dark(b) : b, "CBL-BLK-01", 1000))));
        JsonNode result = tavel.told("/api/intakes/" + intake + "/store", p -> {});
        assertEquals(files.size() - 1, result.path("made").get(0).path("files").asInt(), result.toString());
        JsonNode left = result.path("left").get(0);
        assertEquals(dark, left.path("name").asString());
        assertEquals(1, result.path("left").size());
        assertTrue(left.path("why").asString().length() > 10, left.toString());
        JsonNode after = file(tavel.get("/api/intakes/" + intake), "unreadable");
        assertEquals(dark, after.path("name").asString());
        assertEquals(
                "It can be read and says nothing: " + left.path("why").asString(),
                after.path("why").asString());

        // Alone it makes no record, and no job either.
        String alone = begin(tavel, Map.of("asset", "L-BLK"));
        take(tavel, alone, dark, changed(files.get(dark), b -> dated(dark(b), "CBL-BLK-01", 2000)));
        JsonNode nothing = tavel.told("/api/intakes/" + alone + "/store", p -> {});
        assertEquals(0, nothing.path("made").size(), nothing.toString());
        assertEquals(1, nothing.path("left").size());
        assertEquals(
                1,
                SERVER.database()
                        .template()
                        .queryForObject(
                                "SELECT count(*) FROM job WHERE asset = 'L-BLK' AND reason = 'files'", Integer.class));
    }

    private static byte[] changed(byte[] bytes, UnaryOperator<SorFile.Block> how) {
        SorFile file = SorReader.read(bytes);
        return SorWriter.write(new SorFile(
                file.edition(), file.revision(), file.blocks().stream().map(how).toList()));
    }

    /** The same as if it had been taken later, of another cable. */
    private static SorFile.Block dated(SorFile.Block block, String cable, long seconds) {
        if (block instanceof SorFile.Fixed f) {
            return later(f, seconds);
        }
        return block instanceof SorFile.General g ? of(g, cable) : block;
    }

    /** Nothing but noise. */
    private static SorFile.Block dark(SorFile.Block block) {
        if (!(block instanceof SorFile.Data d)) {
            return block;
        }
        SplittableRandom random = new SplittableRandom(20261128);
        return new SorFile.Data(
                d.revision(),
                d.traces().stream()
                        .map(t -> {
                            short[] codes = new short[t.codes().length];
                            for (int i = 0; i < codes.length; i++) {
                                codes[i] = (short) (58_000 + random.nextInt(6_000));
                            }
                            return new SorFile.Trace(t.scale(), codes);
                        })
                        .toList(),
                d.rest());
    }

    private static SorFile.Block later(SorFile.Fixed f, long seconds) {
        return new SorFile.Fixed(
                f.revision(),
                f.at() - 4 * 365L * 86_400 + seconds,
                f.units(),
                f.wavelength(),
                f.offset(),
                f.offsetDistance(),
                f.pulses(),
                f.groupIndex(),
                f.backscatter(),
                f.averages(),
                f.averagingTime(),
                f.range(),
                f.rangeDistance(),
                f.frontPanelOffset(),
                f.noiseFloor(),
                f.noiseScale(),
                f.firstPower(),
                f.lossThreshold(),
                f.reflectanceThreshold(),
                f.endThreshold(),
                f.traceType(),
                f.window(),
                f.rest());
    }

    private static SorFile.Block of(SorFile.General g, String cable) {
        return new SorFile.General(
                g.revision(),
                g.language(),
                cable,
                g.fibre(),
                g.fibreType(),
                g.wavelength(),
                g.from(),
                g.to(),
                "",
                g.condition(),
                g.userOffset(),
                g.userOffsetDistance(),
                g.operator(),
                g.comment(),
                g.rest());
    }
}
