package org.juratest.formats.family.breakers;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.comtrade.Comtrade;
import org.juratest.formats.comtrade.ComtradeWriter;
import tools.jackson.databind.JsonNode;

class BreakerAnalysesTest {

    private static final double RATE = 6000;
    private static final double LINE = 50;

    @TempDir
    private Path folder;

    private static double sine(double t, double rms) {
        return rms * Math.sqrt(2) * Math.sin(2 * Math.PI * LINE * t);
    }

    private static double[] samples(double seconds, DoubleUnaryOperator current) {
        double[] all = new double[(int) (seconds * RATE)];
        Arrays.setAll(all, i -> current.applyAsDouble(i / RATE));
        return all;
    }

    private Path record(String name, Comtrade.Form form, List<Comtrade.Analog> channels, double[]... values)
            throws IOException {
        double[] time = new double[values[0].length];
        Arrays.setAll(time, i -> i / RATE);
        LocalDateTime at = LocalDateTime.of(2026, 3, 4, 5, 6);
        Comtrade record = new Comtrade(
                "PRA",
                "injection set",
                2013,
                channels,
                List.of(),
                LINE,
                List.of(new Comtrade.Rate(RATE, time.length)),
                at,
                at,
                form,
                1,
                new Comtrade.Clock("0", "0", "0", 0),
                time,
                values,
                new ArrayList<>());
        ComtradeWriter.Files files = ComtradeWriter.write(record, 2013, form);
        Path cfg = folder.resolve(name + ".cfg");
        Files.write(cfg, files.configuration());
        Files.write(folder.resolve(name.toUpperCase(java.util.Locale.ROOT) + ".DAT"), files.data());
        return cfg;
    }

    private static JsonNode analysed(String kind, Path file, Map<String, String> options) throws IOException {
        return Analyses.byKind(kind).orElseThrow().of(List.of(file), options);
    }

    /** Two fast operations, two delayed ones, then open for good. */
    private static double sequence(double t) {
        double[][] on = {{0.2, 0.26}, {0.76, 0.82}, {1.32, 1.72}, {3.72, 4.12}};
        for (double[] op : on) {
            if (t >= op[0] && t < op[1]) {
                return sine(t - op[0], 800 - 200 * (t - op[0]));
            }
        }
        return 0;
    }

    @ParameterizedTest
    @EnumSource(Comtrade.Form.class)
    void aSequenceIsTold(Comtrade.Form form) throws IOException {
        Path file = record(
                "seq",
                form,
                List.of(Comtrade.Analog.plain(1, "IA", "A", "kA"), Comtrade.Analog.plain(2, "UA", "A", "kV")),
                samples(8, t -> sequence(t) / 1000),
                samples(8, t -> sine(t, 12)));
        JsonNode found = analysed("recloser", file, Map.of());
        assertEquals(
                List.of("operations", "lockout", "warnings"),
                found.propertyNames().stream().toList());
        assertEquals(4, found.path("operations").size());
        assertEquals(
                List.of("index", "tripTime_s", "openTime_s", "rms_A", "start_s"),
                found.path("operations").get(0).propertyNames().stream().toList());
        double[] trips = {0.06, 0.06, 0.4, 0.4};
        double[] opens = {0.5, 0.5, 2.0};
        for (int i = 0; i < 4; i++) {
            JsonNode op = found.path("operations").get(i);
            assertEquals(i + 1, op.path("index").asInt());
            assertEquals(trips[i], op.path("tripTime_s").asDouble(), 0.0006);
            assertEquals(i == 3, op.path("openTime_s").isNull());
            if (i < 3) {
                assertEquals(opens[i], op.path("openTime_s").asDouble(), 0.0006);
            }
            assertEquals(800 - 100 * trips[i], op.path("rms_A").asDouble(), 5);
        }
        assertTrue(found.path("lockout").asBoolean());
        assertTrue(found.path("warnings").isEmpty());
    }

    @Test
    void theLargestOfSeveralCurrentsIsAnalysedUnlessOneIsNamed() throws IOException {
        Path file = record(
                "three",
                Comtrade.Form.BINARY,
                List.of(
                        Comtrade.Analog.plain(1, "IA", "A", "A"),
                        Comtrade.Analog.plain(2, "IB", "B", "A"),
                        Comtrade.Analog.plain(3, "UB", "B", "V")),
                samples(3, t -> t > 0.5 && t < 0.8 ? sine(t - 0.5, 90) : 0),
                samples(3, t -> t > 1 && t < 1.2 ? sine(t - 1, 300) : 0),
                samples(3, t -> sine(t, 7000)));
        JsonNode found = analysed("recloser", file, Map.of());
        assertEquals(1, found.path("operations").get(0).path("start_s").asDouble(), 0.001);
        assertTrue(found.path("warnings").get(0).asString().contains("IB"));
        JsonNode named = analysed("recloser", file, Map.of("channel", "ia"));
        assertEquals(0.5, named.path("operations").get(0).path("start_s").asDouble(), 0.001);
        assertFalse(named.path("lockout").asBoolean());
        Refusal none = assertThrows(Refusal.class, () -> analysed("recloser", file, Map.of("channel", "UB")));
        assertTrue(none.getMessage().contains("IA, IB"), none.getMessage());
    }

    @Test
    void aPickUpIsToldWithHowItWasFound() throws IOException {
        List<Comtrade.Analog> one = List.of(Comtrade.Analog.plain(1, "I", "A", "A"));
        Path fall = record("fall", Comtrade.Form.FLOAT32, one, samples(5, t -> sine(t, t < 4 ? 50 + 30 * t : 8)));
        JsonNode found = analysed("pickup", fall, Map.of());
        assertEquals(
                List.of("pickup_A", "method", "warnings"),
                found.propertyNames().stream().toList());
        assertEquals(170, found.path("pickup_A").asDouble(), 1);
        assertEquals("fall", found.path("method").asString());
        Path level = record("level", Comtrade.Form.BINARY32, one, samples(6, t -> sine(t, t < 4 ? 50 + 30 * t : 170)));
        assertEquals(
                "levelling", analysed("pickup", level, Map.of()).path("method").asString());
        assertEquals(170, analysed("pickup", level, Map.of()).path("pickup_A").asDouble(), 2);
        assertTrue(
                analysed("pickup", level, Map.of("by", "fall")).path("pickup_A").isNull());
        assertThrows(Refusal.class, () -> analysed("pickup", level, Map.of("by", "ear")));
        Path none = record("none", Comtrade.Form.ASCII, one, samples(3, t -> sine(t, 50 + 30 * t)));
        JsonNode nothing = analysed("pickup", none, Map.of());
        assertTrue(nothing.path("pickup_A").isNull() && nothing.path("method").isNull());
        assertEquals(1, nothing.path("warnings").size());
    }

    @Test
    void whatIsNoRecordIsRefusedWithItsPlace() throws IOException {
        Path text = Files.writeString(folder.resolve("x.cfg"), "not a record\r\n");
        Refusal alone = assertThrows(Refusal.class, () -> analysed("recloser", text, Map.of()));
        assertTrue(alone.getMessage().contains("x.dat"), alone.getMessage());
        Files.writeString(folder.resolve("x.dat"), "1,0,0");
        RefusedInput bad = assertThrows(RefusedInput.class, () -> analysed("recloser", text, Map.of()));
        assertEquals("configuration", bad.place().get("file"));
        Path other = Files.writeString(folder.resolve("x.txt"), "");
        assertThrows(Refusal.class, () -> analysed("pickup", other, Map.of()));
        Path voltage = record(
                "u",
                Comtrade.Form.BINARY,
                List.of(Comtrade.Analog.plain(1, "U", "A", "V")),
                samples(1, t -> sine(t, 230)));
        assertThrows(Refusal.class, () -> analysed("recloser", voltage, Map.of()));
    }
}
