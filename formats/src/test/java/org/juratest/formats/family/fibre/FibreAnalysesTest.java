package org.juratest.formats.family.fibre;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.sor.SorFile;
import org.juratest.formats.sor.SorWriter;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

class FibreAnalysesTest {

    private static final byte[] NONE = new byte[0];
    /** Units of spacing in a metre of fibre of group index 1.468: 10^-14 s one way. */
    private static final double METRE = 1.468 / SorFile.LIGHT * 1e14;

    @TempDir
    private Path folder;

    /** Level of a trace over distance, without noise: what is put in by hand comes out. */
    private interface Shape {
        double level(double metres);
    }

    private static SorFile file(int wavelength, String from, String to, String kind, int points, Shape shape) {
        Random random = new Random(wavelength);
        short[] codes = new short[points];
        for (int i = 0; i < points; i++) {
            double level = shape.level(i * 2.0);
            // Noise in power, as a receiver has it, 35 dB below the front.
            double power = Math.pow(10, level / 5) + 1e-7 * random.nextGaussian();
            codes[i] =
                    (short) Math.round(Math.min(65.5, Math.max(0, 25 - 5 * Math.log10(Math.max(1e-9, power)))) * 1000);
        }
        return new SorFile(
                2,
                200,
                List.of(
                        new SorFile.General(
                                200, "EN", "VAL-7", "4", 652, wavelength, from, to, "", "CC", 0, 0, "tavel", "", NONE),
                        new SorFile.Fixed(
                                200,
                                1_764_000_000L,
                                "km",
                                wavelength * 10,
                                0,
                                0,
                                List.of(new SorFile.Pulse(100, Math.round(2 * METRE), points)),
                                146_800,
                                800,
                                1000,
                                300,
                                1_000_000,
                                100,
                                0,
                                42_000,
                                1000,
                                0,
                                20,
                                40_000,
                                3000,
                                kind,
                                List.of(0, 0, 0, 0),
                                NONE),
                        new SorFile.Data(200, List.of(new SorFile.Trace(1000, codes)), NONE),
                        new SorFile.Checksum(200, 0, NONE)));
    }

    private Path written(String name, SorFile file) throws IOException {
        return Files.write(folder.resolve(name), SorWriter.write(file));
    }

    private static ObjectNode otdr(Map<String, String> options, Path... files) throws IOException {
        return Analyses.byKind("otdr").orElseThrow().of(List.of(files), options);
    }

    /** 0.3 dB/km, a splice of 0.2 dB at 3 km (0.02 at 1310 nm), a reflection with 0.3 dB at 6 km, the end at 9 km. */
    private static double link(double x, double bend) {
        double level = -0.3e-3 * x - (x >= 3000 ? bend : 0) - (x >= 6000 ? 0.3 : 0);
        boolean peak = x < 10 || x >= 6000 && x < 6010 || x >= 9000 && x < 9010;
        return x >= 9010 ? -60 : level + (peak ? 8 : 0);
    }

    @Test
    void oneFileGivesTheObjectOfThePage() throws IOException {
        ObjectNode found = otdr(Map.of(), written("a.sor", file(1550, "MFR", "PRA", "ST", 8000, x -> link(x, 0.2))));
        assertEquals(
                List.of("wavelength_nm", "pulse_ns", "length_m", "loss_dB", "orl_dB", "events", "warnings"),
                found.propertyStream().map(Map.Entry::getKey).toList());
        assertEquals(1550, found.path("wavelength_nm").asDouble());
        assertEquals(100, found.path("pulse_ns").asDouble());
        assertEquals(9000, found.path("length_m").asDouble(), 2);
        assertEquals(3.2, found.path("loss_dB").asDouble(), 0.02);
        List<JsonNode> events = found.path("events").valueStream().toList();
        assertEquals(
                List.of("launch", "nonReflective", "reflective", "end"),
                events.stream().map(e -> e.path("type").asString()).toList());
        assertEquals(
                List.of("position_m", "type", "loss_dB", "reflectance_dB", "cumulative_dB"),
                events.get(1).propertyStream().map(Map.Entry::getKey).toList());
        assertEquals(3000, events.get(1).path("position_m").asDouble(), 2);
        assertEquals(0.2, events.get(1).path("loss_dB").asDouble(), 0.01);
        assertTrue(events.get(1).path("reflectance_dB").isNull());
        assertEquals(0.9, events.get(1).path("cumulative_dB").asDouble(), 0.01);
        // The peak stands 8 dB over what is behind it: -80 + 20 + 10 lg(10^(7.7/5) - 1)
        assertEquals(-44.72, events.get(2).path("reflectance_dB").asDouble(), 0.3);
        assertTrue(events.get(3).path("loss_dB").isNull());
        assertEquals(List.of(), found.path("warnings").valueStream().toList());
    }

    @Test
    void filesOfOneFibreAreMatchedByWavelengthAndDirection() throws IOException {
        Path one = written("1310.sor", file(1310, "MFR", "PRA", "ST", 8000, x -> link(x, 0.02)));
        Path other = written("1550.sor", file(1550, "MFR", "PRA", "ST", 8000, x -> link(x, 0.2)));
        ObjectNode both = otdr(Map.of(), one, other);
        assertEquals(
                List.of("traces", "matched"),
                both.propertyStream().map(Map.Entry::getKey).toList());
        assertEquals(2, both.path("traces").size());
        List<JsonNode> matched = both.path("matched").valueStream().toList();
        assertEquals(
                List.of("bend", "connector", "end"),
                matched.stream().map(m -> m.path("kind").asString()).toList());
        assertEquals(0.02, matched.get(0).at("/losses/1310").asDouble(), 0.01);
        assertEquals(0.2, matched.get(0).at("/losses/1550").asDouble(), 0.01);
        // From the far end, by its locations or by its word: the mean of both, at the place from the near end.
        for (SorFile back : List.of(
                file(1550, "PRA", "MFR", "ST", 8000, x -> back(x, 0.4)),
                file(1550, "MFR", "PRA", "RT", 8000, x -> back(x, 0.4)))) {
            JsonNode splice = otdr(Map.of(), other, written("back.sor", back))
                    .path("matched")
                    .get(0);
            assertEquals(3000, splice.path("position_m").asDouble(), 4);
            assertEquals(0.3, splice.at("/losses/1550").asDouble(), 0.01);
        }
    }

    private static double back(double x, double splice) {
        double level = -0.3e-3 * x - (x >= 3000 ? 0.3 : 0) - (x >= 6000 ? splice : 0);
        boolean peak = x < 10 || x >= 3000 && x < 3010 || x >= 9000 && x < 9010;
        return x >= 9010 ? -60 : level + (peak ? 8 : 0);
    }

    @Test
    void positionsCountFromTheEndOfTheLead() throws IOException {
        Path file = written("a.sor", file(1550, "MFR", "PRA", "ST", 8000, x -> link(x, 0.2)));
        JsonNode events = otdr(Map.of("launch-m", "6000"), file).path("events");
        assertEquals(2, events.size());
        assertEquals("launch", events.get(0).path("type").asString());
        assertEquals(0, events.get(0).path("position_m").asDouble(), 2);
        assertEquals(0.3, events.get(0).path("loss_dB").asDouble(), 0.01);
        assertEquals(3000, events.get(1).path("position_m").asDouble(), 2);
    }

    /** No file takes more memory than its samples at the resolution that is analysed. */
    @Test
    void moreSamplesThanAreAnalysedAreTakenTogether() {
        SorTrace trace = SorTrace.of(file(1550, "MFR", "PRA", "ST", 1_300_001, x -> link(x, 0.2)));
        assertEquals(433_333, trace.trace().level().length);
        assertEquals(6, trace.trace().spacing(), 1e-3);
        assertTrue(trace.warnings().contains("of 1300001 samples 3 at a time are taken together"));
        SorTrace whole = SorTrace.of(file(1550, "MFR", "PRA", "ST", 600_000, x -> link(x, 0.2)));
        assertEquals(600_000, whole.trace().level().length);
        assertEquals(List.of(), whole.warnings());
    }

    @ParameterizedTest
    @ValueSource(strings = {"none", "0", "-5", "NaN", "1e9", ""})
    void aLeadHasALength(String text) throws IOException {
        Path file = written("a.sor", file(1550, "MFR", "PRA", "ST", 800, x -> link(x, 0.2)));
        Refusal refusal = assertThrows(Refusal.class, () -> otdr(Map.of("launch-m", text), file));
        assertEquals("launch-m", refusal.field());
    }

    @Test
    void whatCannotBeReadNamesBlockAndByte() throws IOException {
        byte[] bytes = SorWriter.write(file(1550, "MFR", "PRA", "ST", 800, x -> link(x, 0.2)));
        Path cut = Files.write(folder.resolve("cut.sor"), Arrays.copyOf(bytes, bytes.length - 40));
        RefusedInput alone = assertThrows(RefusedInput.class, () -> otdr(Map.of(), cut));
        assertEquals(List.of("block", "offset"), List.copyOf(alone.place().keySet()));
        assertEquals("DataPts", alone.place().get("block"));
        Path good = written("a.sor", file(1550, "MFR", "PRA", "ST", 800, x -> link(x, 0.2)));
        RefusedInput among = assertThrows(RefusedInput.class, () -> otdr(Map.of(), good, cut));
        assertEquals(cut.toString(), among.place().get("file"));
        RefusedInput few = assertThrows(
                RefusedInput.class,
                () -> otdr(Map.of(), written("few.sor", file(1550, "MFR", "PRA", "ST", 20, x -> -1))));
        assertEquals("DataPts", few.place().get("block"));
        assertTrue((long) few.place().get("offset") > 0, few.place().toString());
        SorFile nowhere = file(0, "MFR", "PRA", "ST", 800, x -> link(x, 0.2));
        RefusedInput dark = assertThrows(RefusedInput.class, () -> otdr(Map.of(), written("dark.sor", nowhere)));
        assertTrue(dark.getMessage().contains("wavelength"), dark.getMessage());
        assertEquals("FxdParams", dark.place().get("block"));
        Path huge = folder.resolve("huge.sor");
        try (var file = new java.io.RandomAccessFile(huge.toFile(), "rw")) {
            file.setLength(1L << 31);
        }
        assertTrue(assertThrows(RefusedInput.class, () -> otdr(Map.of(), huge))
                .getMessage()
                .contains("2147483648 bytes"));
    }
}
