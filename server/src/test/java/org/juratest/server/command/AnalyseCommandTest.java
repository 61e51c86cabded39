package org.juratest.server.command;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.IntToDoubleFunction;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.wav.Wav;
import picocli.CommandLine;
import tools.jackson.databind.JsonNode;

class AnalyseCommandTest {

    @TempDir
    private Path folder;

    private final StringWriter out = new StringWriter();

    private int analyse(String... arguments) {
        return new CommandLine(new AnalyseCommand())
                .setOut(new PrintWriter(out, true))
                .setErr(new PrintWriter(new StringWriter()))
                .execute(arguments);
    }

    private String table(String name, String... rows) throws IOException {
        return Files.writeString(folder.resolve(name), "curve,timeSetting,multiple\n" + String.join("\n", rows) + "\n")
                .toString();
    }

    private List<JsonNode> printed() {
        return out.toString()
                .lines()
                .map(line -> CoreJson.mapper().readTree(line))
                .toList();
    }

    @Test
    void printsOneObjectWithNullWhereThereIsNoTime() throws IOException {
        assertEquals(0, analyse("curve", table("a.csv", "iec-vi,1,10", "ieee-vi,2,0.5", "iec-si,1,1")));
        JsonNode result = printed().get(0);
        assertEquals(List.of("points", "warnings"), List.copyOf(result.propertyNames()));
        JsonNode points = result.path("points");
        points.forEach(p -> assertEquals(List.of("trip_s", "reset_s"), List.copyOf(p.propertyNames())));
        assertEquals(1.5, points.get(0).path("trip_s").asDouble(), 1e-12);
        assertEquals(57.6, points.get(1).path("reset_s").asDouble(), 1e-12); // 2 * 21.6 / (1 - 0.25)
        assertTrue(points.get(0).path("reset_s").isNull()
                && points.get(1).path("trip_s").isNull());
        assertTrue(points.get(2).path("trip_s").isNull()
                && points.get(2).path("reset_s").isNull());
        assertEquals(0, result.path("warnings").size());
    }

    @Test
    void warnsOfACurveThatIsInNoStandard() throws IOException {
        assertEquals(0, analyse("curve", table("a.csv", "lti,1,2")));
        assertTrue(printed().get(0).path("warnings").get(0).asString().contains("not in the table"));
    }

    @Test
    void aRefusalExitsTwoWithItsReason() throws IOException {
        assertEquals(2, analyse("curve", folder.resolve("none.csv").toString()));
        assertEquals(2, analyse("curve", table("b.csv", "iec-vi,1,ten")));
        assertEquals(2, analyse("horoscope", table("c.csv", "iec-vi,1,10")));
        assertEquals(2, analyse("curve", "a", "b"));
        List<JsonNode> errors = printed();
        assertEquals(4, errors.size());
        assertTrue(errors.get(0).path("error").path("reason").asString().contains("no such file"));
        assertTrue(errors.get(1).path("error").path("reason").asString().contains("row 1, column multiple"));
        assertEquals("unknown-kind", errors.get(2).path("error").path("code").asString());
        assertEquals("one-input", errors.get(3).path("error").path("code").asString());
    }

    private String wave(String name, double[]... channels) throws IOException {
        return Files.write(folder.resolve(name), new Wav(48_000, channels).float32())
                .toString();
    }

    private static double[] made(int count, IntToDoubleFunction of) {
        return IntStream.range(0, count).mapToDouble(of).toArray();
    }

    @Test
    void soundAndBasebandPrintTheirKeysAndNullForWhatIsUnknown() throws IOException {
        double turn = 2 * Math.PI / 48_000;
        String sound = wave(
                "tone.wav", made(48_000, n -> 0.5 * Math.sin(1000 * turn * n) + 0.005 * Math.sin(2000 * turn * n)));
        IntToDoubleFunction phase = n -> 120 * turn * n + 3 * Math.sin(1000 * turn * n);
        String carrier = wave(
                "fm.wav",
                made(24_000, n -> 0.5 * Math.cos(phase.applyAsDouble(n))),
                made(24_000, n -> 0.5 * Math.sin(phase.applyAsDouble(n))));
        String silent = wave("silent.wav", new double[24_000], new double[24_000]);
        assertEquals(0, analyse("audio", sound));
        assertEquals(0, analyse("fm", carrier));
        assertEquals(0, analyse("fsk4", silent));
        List<JsonNode> results = printed();
        assertEquals(
                List.of("sinad_dB", "sinadVoice_dB", "thd_pct", "thdn_pct", "tone_Hz", "warnings"),
                List.copyOf(results.get(0).propertyNames()));
        assertEquals(40, results.get(0).path("sinad_dB").asDouble(), 0.01);
        assertEquals(1, results.get(0).path("thd_pct").asDouble(), 0.01);
        assertEquals(1, results.get(0).path("thdn_pct").asDouble(), 0.01);
        assertEquals(
                List.of(
                        "frequencyError_Hz",
                        "deviationPos_Hz",
                        "deviationNeg_Hz",
                        "tone_Hz",
                        "subTone_Hz",
                        "subToneDeviation_Hz",
                        "residualFm_Hz",
                        "warnings"),
                List.copyOf(results.get(1).propertyNames()));
        assertEquals(120, results.get(1).path("frequencyError_Hz").asDouble(), 0.01);
        assertEquals(3000, results.get(1).path("deviationNeg_Hz").asDouble(), 3);
        assertTrue(results.get(1).path("subTone_Hz").isNull());
        assertEquals(
                List.of("ber", "bits", "errors", "symbolDeviation_Hz", "warnings"),
                List.copyOf(results.get(2).propertyNames()));
        assertTrue(results.get(2).path("ber").isNull()
                && results.get(2).path("bits").isNull());
        assertTrue(results.get(2).path("warnings").get(0).asString().contains("silence"));
    }

    @Test
    void filesThatAreNoSoundAreRefusedByTheirByte() throws IOException {
        assertEquals(
                2,
                analyse(
                        "audio",
                        Files.writeString(folder.resolve("text.wav"), "no sound at all")
                                .toString()));
        assertEquals(2, analyse("fm", wave("one.wav", new double[24_000])));
        assertEquals(2, analyse("audio", wave("short.wav", new double[100])));
        assertEquals(
                List.of("bad-wave", "two-channels", "too-short"),
                printed().stream()
                        .map(l -> l.path("error").path("code").asString())
                        .toList());
    }

    @Test
    void eachInputIsALineInOrderAndOneRefusalSetsTheExit() throws IOException {
        String good = table("a.csv", "iec-ei,1,3");
        assertEquals(
                2, analyse("--each", "curve", good, folder.resolve("none.csv").toString(), good));
        List<JsonNode> lines = printed();
        assertEquals(
                List.of(true, false, true),
                lines.stream().map(l -> l.has("points")).toList());
        assertEquals(10, lines.get(2).path("points").get(0).path("trip_s").asDouble(), 1e-12);
    }

    /** What a kind wants to be told comes with it: where it wants nothing, or has no such thing, that is said. */
    @Test
    void optionsAreThoseOfTheKind() throws IOException {
        String table = table("d.csv", "iec-vi,1,10");
        assertEquals(2, analyse("curve", table, "--launch-m", "5"));
        assertEquals(2, analyse("otdr", table, "--lauch-m", "5"));
        assertEquals(2, analyse("otdr", table, "--launch-m"));
        assertEquals(2, analyse("otdr", "--launch-m=none", table));
        assertEquals(2, analyse("otdr", "--launch-m", "500"));
        List<JsonNode> said = printed();
        assertEquals(
                List.of("unknown-option", "unknown-option", "missing", "bad-option", "one-input"),
                said.stream().map(s -> s.at("/error/code").asString()).toList());
        assertTrue(
                said.get(1).at("/error/reason").asString().contains("--launch-m"),
                said.get(1).toString());
        // A file that is none is refused as its format tells places.
        assertEquals(2, analyse("otdr", table, table, "--launch-m", "500"));
        JsonNode error = printed().get(5).path("error");
        assertEquals(
                List.of("file", "block", "offset", "reason"),
                error.propertyStream().map(java.util.Map.Entry::getKey).toList());
        assertEquals(table, error.path("file").asString());
    }
}
