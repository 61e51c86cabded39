package org.juratest.formats.family.meters;

import static org.junit.jupiter.api.Assertions.assertEquals;
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
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.comtrade.Comtrade;
import org.juratest.formats.comtrade.ComtradeWriter;
import tools.jackson.databind.JsonNode;

class MeterAnalysesTest {

    private static final double RATE = 6400;

    @TempDir
    private Path folder;

    private static double[] wave(double rms, double degrees) {
        double[] all = new double[1280];
        Arrays.setAll(all, k -> rms * Math.sqrt(2) * Math.cos(2 * Math.PI * 50 * k / RATE + Math.toRadians(degrees)));
        return all;
    }

    private Path record(Comtrade.Form form, List<String> units, double[]... values) throws IOException {
        double[] time = new double[values[0].length];
        Arrays.setAll(time, k -> k / RATE);
        List<Comtrade.Analog> channels = new ArrayList<>();
        for (int c = 0; c < values.length; c++) {
            channels.add(Comtrade.Analog.plain(c + 1, "c" + (c + 1), "ABC".substring(c % 3, c % 3 + 1), units.get(c)));
        }
        LocalDateTime at = LocalDateTime.of(2026, 3, 4, 5, 6);
        Comtrade record = new Comtrade(
                "PRA",
                "reference",
                2013,
                channels,
                List.of(),
                50,
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
        Path cfg = folder.resolve("r" + form + values.length + ".cfg");
        Files.write(cfg, files.configuration());
        Files.write(folder.resolve("r" + form + values.length + ".dat"), files.data());
        return cfg;
    }

    private static JsonNode analysed(String kind, Path file, Map<String, String> options) throws IOException {
        return Analyses.byKind(kind).orElseThrow().of(List.of(file), options);
    }

    private static final List<String> SIX = List.of("V", "V", "V", "A", "A", "A");

    /** A reversed current, in each form the file may have. */
    @ParameterizedTest
    @EnumSource(Comtrade.Form.class)
    void aReversedCurrentIsFound(Comtrade.Form form) throws IOException {
        Path file = record(
                form, SIX, wave(230, 0), wave(230, -120), wave(230, 120), wave(5, -20), wave(5, 40), wave(5, 100));
        JsonNode found = analysed("phasors", file, Map.of());
        assertEquals("positive", found.path("rotation").asString());
        JsonNode second = found.path("phases").path(1);
        assertEquals(230, second.path("u_V").asDouble(), 0.1);
        assertEquals(-120, second.path("uAngle_deg").asDouble(), 0.1);
        assertEquals(40, second.path("iAngle_deg").asDouble(), 0.1);
        assertEquals(-1150 * Math.cos(Math.toRadians(20)), second.path("p_W").asDouble(), 1);
        assertEquals(-1150 * Math.sin(Math.toRadians(20)), second.path("q_var").asDouble(), 1);
        assertEquals(1150, second.path("s_VA").asDouble(), 1);
        assertEquals(
                "current 2 reversed", found.path("wirings").path(0).path("name").asString());
        assertTrue(found.path("wirings").path(0).path("assumes").asString().contains("0.64 lagging"));
        assertEquals(List.of("phases", "rotation", "wirings", "warnings"), List.copyOf(found.propertyNames()));
    }

    @Test
    void whatIsAssumedIsSaidAndMayBeSaidOtherwise() throws IOException {
        Path file = record(
                Comtrade.Form.ASCII,
                SIX,
                wave(230, 0),
                wave(230, -120),
                wave(230, 120),
                wave(5, 150),
                wave(5, 30),
                wave(5, -90));
        JsonNode delivers = analysed("phasors", file, Map.of("direction", "export", "leads", "5", "lags", "45"));
        assertEquals(
                "as it should be", delivers.path("wirings").path(0).path("name").asString(), delivers.toString());
        JsonNode none = analysed("phasors", file, Map.of("leads", "0", "lags", "1"));
        assertEquals(0, none.path("wirings").size());
        assertTrue(none.path("warnings").path(0).asString().startsWith("no wiring fits"), none.toString());
        assertEquals(
                "leads",
                assertThrows(Refusal.class, () -> analysed("phasors", file, Map.of("leads", "much")))
                        .field());
        assertEquals(
                "direction",
                assertThrows(Refusal.class, () -> analysed("phasors", file, Map.of("direction", "up")))
                        .field());
    }

    @Test
    void aBurdenIsToldAtTheNominalCurrentToo() throws IOException {
        Path file = record(Comtrade.Form.FLOAT32, List.of("V", "A"), wave(0.4, 30), wave(2, 0));
        JsonNode burden = analysed("burden", file, Map.of());
        assertEquals(0.8, burden.path("va").asDouble(), 1e-3);
        assertEquals(30, burden.path("angle_deg").asDouble(), 0.05);
        assertEquals(0.866, burden.path("pf").asDouble(), 1e-3);
        assertEquals(5, burden.path("vaNominal").asDouble(), 5e-3);
        assertEquals(
                0.2,
                analysed("burden", file, Map.of("nominal", "1"))
                        .path("vaNominal")
                        .asDouble(),
                1e-3);
    }

    @Test
    void whatARecordLacksIsNamed() throws IOException {
        Path two = record(Comtrade.Form.ASCII, List.of("V", "V", "A"), wave(230, 0), wave(230, -120), wave(5, 0));
        Refusal refusal = assertThrows(Refusal.class, () -> analysed("phasors", two, Map.of()));
        assertEquals("no-voltage", refusal.code());
        assertTrue(String.valueOf(refusal.getMessage()).contains("the record has 2"), refusal.getMessage());
        Path current = record(Comtrade.Form.BINARY, List.of("A"), wave(5, 0));
        assertEquals(
                "no-voltage",
                assertThrows(Refusal.class, () -> analysed("burden", current, Map.of()))
                        .code());
    }
}
