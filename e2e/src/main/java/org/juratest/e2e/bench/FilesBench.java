package org.juratest.e2e.bench;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import org.juratest.core.family.fibre.ArrayLayout;
import org.juratest.core.family.fibre.EndFace;
import org.juratest.core.family.fibre.EndFaceTable;
import org.juratest.core.family.fibre.FaceArray;
import org.juratest.core.family.fibre.GreyPicture;
import org.juratest.core.family.fibre.Otdr;
import org.juratest.core.family.fibre.OtdrTrace;
import org.juratest.e2e.Installation;
import org.juratest.e2e.browser.Technician;
import org.juratest.formats.sor.SorFile;
import org.juratest.formats.sor.SorReader;
import org.juratest.formats.sor.SorWriter;
import org.juratest.server.command.ApiClient;
import tools.jackson.databind.JsonNode;

/** Files that other gear wrote: how fast traces are analysed, a thousand of them brought in, and a long one moved. */
final class FilesBench {

    private static final Path EXAMPLE = Path.of("docs/examples/traces");
    private static final String CABLE = "CBL-PRA-01";
    private static final int FILES = 1000;
    private static final int FIBRES = 24;
    private static final int SAMPLES = 32_768;
    private static final int LONG = 262_144;
    private static final int ROUNDS = 15;
    private static final int FACE_ROUNDS = 5;
    private static final double ALLOWED_FOR_FACES = 2000;
    private static final int FRAMES = 90;
    private static final long DAY = 86_400;

    private FilesBench() {}

    static void run() throws Exception {
        System.out.println("Files: traces analysed on one core, brought in over HTTP, moved in headless Chromium");
        double shorter = analysed(SAMPLES);
        double longer = analysed(LONG);
        Bench.line(
                "analysis of a trace of 32,768 and of 262,144 samples",
                figure("%.1f ms and %.1f ms; 8 x the samples take %.1f x as long", shorter, longer, longer / shorter));
        double faces = judged();
        Bench.line(
                "24 end faces in one picture, 0.5 um a pixel, judged on one core",
                figure("%.0f ms, %.2f x of the 2 s allowed", faces, faces / ALLOWED_FOR_FACES));
        Path folder = Files.createTempDirectory("juratest-files");
        try (Installation installation = new Installation(folder, Path.of(""))) {
            installation.startServer();
            ApiClient api = new ApiClient(installation.address());
            api.signIn("tavel", "rack-rail-16");
            broughtIn(api);
            moved(api, installation, folder);
        }
    }

    private static String figure(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }

    /** Median of some rounds, ms, of a fibre with splices and noise behind its end. */
    private static double analysed(int samples) {
        double spacing = 20_000.0 / samples;
        double[] level = new double[samples];
        Random random = new Random(samples);
        for (int i = 0; i < samples; i++) {
            double km = i * spacing / 1000;
            level[i] = km < 16
                    ? -20 - 0.19 * km - 0.08 * Math.floor(km / 1.5) + 0.005 * random.nextGaussian()
                    : -45 + 2 * random.nextGaussian();
        }
        OtdrTrace trace = new OtdrTrace(1550, 100, 0, spacing, 1.468, -81, level, 0);
        double[] each = new double[ROUNDS];
        for (int round = -ROUNDS; round < ROUNDS; round++) {
            long begin = System.nanoTime();
            Otdr.analyse(trace);
            if (round >= 0) {
                each[round] = (System.nanoTime() - begin) / 1e6;
            }
        }
        Arrays.sort(each);
        return each[ROUNDS / 2];
    }

    /** Median of some rounds, ms, of a ferrule of two rows with dirt on three of its faces. */
    private static double judged() {
        ArrayLayout layout = ArrayLayout.of("2x12", "all");
        double scale = 0.5;
        int width = (int) ((11 * 250 + 360) / scale);
        int height = (int) ((500 + 360) / scale);
        float[] level = new float[width * height];
        Random random = new Random(24);
        for (int i = 0; i < level.length; i++) {
            double across = (i % width + 0.5) * scale - 180;
            double down = (i / width + 0.5) * scale - 180;
            long column = Math.max(0, Math.min(11, Math.round(across / 250)));
            long row = Math.max(0, Math.min(1, Math.round(down / 500)));
            double x = across - 250 * column;
            double y = down - 500 * row;
            double r = Math.hypot(x, y);
            boolean dirt = (column + 12 * row) % 9 == 4 && Math.hypot(x - 28, y + 9) < 5;
            double of = dirt ? 0.2 : r < 4.5 ? 0.6 : r < 62.5 ? 0.5 : r < 65 ? 0.4 : 0.62;
            level[i] = (float) (of + 0.008 * random.nextGaussian());
        }
        GreyPicture picture = new GreyPicture(width, height, level);
        double[] each = new double[FACE_ROUNDS];
        for (int round = -2; round < FACE_ROUNDS; round++) {
            long begin = System.nanoTime();
            FaceArray found = FaceArray.of(picture, scale, layout, EndFaceTable.singleMode());
            if (found.verdict() != EndFace.Verdict.FAIL) {
                throw new IllegalStateException("the dirt was not found: " + found.verdict());
            }
            if (round >= 0) {
                each[round] = (System.nanoTime() - begin) / 1e6;
            }
        }
        Arrays.sort(each);
        return each[FACE_ROUNDS / 2];
    }

    private static SorFile example(boolean far, int wavelength) {
        String name = CABLE + "_001_" + (far ? "Orsel_Pravelle" : "Pravelle_Orsel") + "_" + wavelength + ".sor";
        try {
            return SorReader.read(Files.readAllBytes(EXAMPLE.resolve(name)));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The same trace of another fibre on another day, with as many samples as are asked for. */
    private static byte[] made(SorFile file, int fibre, long seconds, int samples) {
        List<SorFile.Block> blocks = new ArrayList<>();
        int there = (int) file.fixed().pulses().get(0).points();
        for (SorFile.Block block : file.blocks()) {
            if (block instanceof SorFile.General g) {
                blocks.add(new SorFile.General(
                        g.revision(),
                        g.language(),
                        g.cable(),
                        String.valueOf(fibre),
                        g.fibreType(),
                        g.wavelength(),
                        g.from(),
                        g.to(),
                        g.cableCode(),
                        g.condition(),
                        g.userOffset(),
                        g.userOffsetDistance(),
                        g.operator(),
                        g.comment(),
                        g.rest()));
            } else if (block instanceof SorFile.Fixed f) {
                SorFile.Pulse p = f.pulses().get(0);
                blocks.add(new SorFile.Fixed(
                        f.revision(),
                        f.at() + seconds,
                        f.units(),
                        f.wavelength(),
                        f.offset(),
                        f.offsetDistance(),
                        List.of(new SorFile.Pulse(
                                p.width(), Math.round((double) p.spacing() * there / samples), samples)),
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
                        f.rest()));
            } else if (block instanceof SorFile.Data d) {
                short[] codes = d.traces().get(0).codes();
                short[] more = new short[samples];
                Random random = new Random(fibre + seconds);
                for (int i = 0; i < samples; i++) {
                    // Noise of a few codes: samples between others are no copies of them.
                    int code = codes[(int) ((long) i * there / samples)] & 0xffff;
                    more[i] = (short) Math.min(0xffff, code + random.nextInt(5));
                }
                blocks.add(new SorFile.Data(
                        d.revision(),
                        List.of(new SorFile.Trace(d.traces().get(0).scale(), more)),
                        d.rest()));
            } else {
                blocks.add(block);
            }
        }
        return SorWriter.write(new SorFile(file.edition(), file.revision(), blocks));
    }

    private static void broughtIn(ApiClient api) {
        List<byte[]> files = new ArrayList<>();
        for (int day = 0; files.size() < FILES; day++) {
            for (int fibre = 1; fibre <= FIBRES; fibre++) {
                for (boolean far : new boolean[] {false, true}) {
                    for (int wavelength : new int[] {1310, 1550}) {
                        if (files.size() < FILES) {
                            files.add(made(example(far, wavelength), fibre, -DAY * (day + 1), SAMPLES));
                        }
                    }
                }
            }
        }
        long begin = System.nanoTime();
        JsonNode result = stored(api, files);
        Bench.line(
                FILES + " files of " + SAMPLES + " samples brought in and judged",
                figure(
                        "%.1f s, %d records",
                        (System.nanoTime() - begin) / 1e9, result.path("made").size()));
    }

    private static JsonNode stored(ApiClient api, List<byte[]> files) {
        String intake = api.post("/api/intakes", Map.of(), null).path("id").asString();
        for (int n = 0; n < files.size(); n++) {
            api.post("/api/intakes/" + intake + "/files?name=" + n + ".sor", files.get(n), null);
        }
        return api.told("/api/intakes/" + intake + "/store", p -> {});
    }

    /** One long trace on its record's page, moved along frame by frame. */
    private static void moved(ApiClient api, Installation installation, Path folder) throws Exception {
        JsonNode made = stored(api, List.of(made(example(false, 1550), 1, DAY, LONG)));
        String record = made.path("made").get(0).path("record").asString();
        try (Technician it = new Technician(installation.address(), Technician.Hands.MOUSE, 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/records/" + record);
            it.waitFor("the trace", t -> t.has("[data-marked-traces] canvas"));
            Object rate = it.browser()
                    .executeAsyncScript(
                            """
        const done = arguments[arguments.length - 1], frames = arguments[0];
        const field = document.querySelector('[data-marked-traces] [role=group][tabindex]');
        const key = k => field.dispatchEvent(new KeyboardEvent('keydown', {key: k, bubbles: true}));
        key('+'); key('+'); key('+');
        let n = 0, begin;
        const next = now => {
          if (n === 0) begin = now;
          if (n++ === frames) return done(1000 * frames / (now - begin));
          key(n % 20 < 10 ? 'ArrowRight' : 'ArrowLeft');
          requestAnimationFrame(next);
        };
        requestAnimationFrame(next);""",
                            FRAMES);
            Bench.line(
                    "a trace of " + LONG + " samples moved in its field",
                    figure("%.0f frames/s, %.1f x of the 30 aimed at", number(rate), number(rate) / 30));
        }
    }

    private static double number(Object value) {
        return ((Number) value).doubleValue();
    }
}
