package org.juratest.simulators.family.fibre;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import javax.imageio.ImageIO;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.Harmless;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;

/**
 * A camera for multi-fibre end faces. It takes wide ferrules in two pictures that overlap. Somebody turns its focus
 * after it was put on, and who takes it off a dirty connector and puts it on again some seconds later has wiped it.
 */
final class ArrayCamera extends Harmless {

    /** um a pixel. */
    private static final double SCALE = 0.8;

    private static final double PITCH = 250;
    private static final double ROW_PITCH = 500;
    private static final double MARGIN = 160;
    /** The widest that one picture shows, um. */
    private static final double WIDEST = 2300;
    /** How far its own word on where a picture lies may be off, um. */
    private static final double STAGE_OFF = 3;

    private static final int PREVIEW = 260;
    private static final double WIPING = 2;
    /** How long focusing takes, s of its time. */
    private static final double FOCUSING = 1.5;

    private static final int FINE = 2;

    private final CableBench bench;
    private final ExecutorService making = Executors.newSingleThreadExecutor(task -> {
        Thread thread = new Thread(task, "array-camera-pictures");
        thread.setDaemon(true);
        return thread;
    });
    private boolean far;
    private String putOn = "";
    private double putOnAt;
    private double sharpest = 0.4;
    private @Nullable String seenDirty;
    private double seenAt;
    private int chosen;
    private @Nullable Future<List<Piece>> taking;
    private @Nullable Future<byte[]> looking;

    /** A picture with where it lies, um. */
    private record Piece(byte[] png, double x) {}

    ArrayCamera(String serial, CableBench bench, StandInLog log) {
        super("array-camera", "Orbessa,AC-3," + serial + ",2.4", log);
        this.bench = bench;
        commands()
                .command("ROUTe:DIRection", a -> {
                    far = LinkBench.isFar(a);
                    if (!far) {
                        bench.looksAtNearEnd(label());
                    }
                    String end = CableBench.position(label()) + far;
                    if (!end.equals(putOn)) {
                        putOn = end;
                        putOnAt = time();
                    }
                })
                .query("SENSe:SCALe", () -> ScpiCommands.nr3(SCALE))
                .command("INITiate:PREView", a -> preview())
                .query("INITiate:PREView:DONE", () -> looking != null && looking.isDone() ? "1" : "0")
                .query("FETCh:PREView", () -> ScpiCommands.block(made(looking)))
                .command("INITiate", a -> look())
                .query("INITiate:DONE", () -> taking != null && taking.isDone() ? "1" : "0")
                .query("SENSe:PIECes", () -> String.valueOf(pieces().size()))
                .command("SENSe:PIECes:SELect", a -> chosen = (int) ScpiCommands.number(a, 1, 8) - 1)
                .query("SENSe:PIECes:PLACe", () -> ScpiCommands.nr3(piece().x) + ",0")
                .query("FETCh:IMAGe", () -> ScpiCommands.block(piece().png));
    }

    /** How far its focus can be turned at best, um of blur; a control command sets it. */
    synchronized void sharpest(double um) {
        sharpest = um;
    }

    private Cables.Cable cable() {
        Cables.Cable cable = bench.at(label());
        if (cable == null) {
            throw ScpiError.settingsConflict("there is no connector in front of it");
        }
        return cable;
    }

    private double blur() {
        return sharpest + Math.max(0, 3.2 * (1 - (time() - putOnAt) / FOCUSING));
    }

    private void preview() {
        Cables.Cable cable = cable();
        Face face = new Face(cable, 1, far, bench.isDirty(cable, 1, far));
        double blur = blur() / SCALE;
        // Made beside the line, which goes on answering meanwhile.
        looking = making.submit(() -> {
            float[] level = new float[PREVIEW * PREVIEW];
            java.util.Arrays.fill(level, 0.63f);
            draw(face, PREVIEW / 2.0, PREVIEW / 2.0, PREVIEW, PREVIEW, level);
            return png(blurred(level, PREVIEW, PREVIEW, blur), PREVIEW, PREVIEW, new Random(1));
        });
    }

    private void look() {
        Cables.Cable cable = cable();
        String end = cable.position() + far;
        if (end.equals(seenDirty) && time() - seenAt >= WIPING) {
            bench.clean(cable, far);
        }
        List<Face> faces = new ArrayList<>();
        for (int n = 1; n <= cable.fibres(); n++) {
            faces.add(new Face(cable, n, far, bench.isDirty(cable, n, far)));
        }
        if (faces.stream().anyMatch(Face::dirty)) {
            seenDirty = end;
            seenAt = time();
        }
        double blur = blur();
        taking = making.submit(() -> taken(cable, faces, blur));
    }

    private List<Piece> pieces() {
        return made(taking);
    }

    private static <T> T made(@Nullable Future<T> made) {
        if (made == null || !made.isDone()) {
            throw ScpiError.settingsConflict("nothing was taken yet");
        }
        try {
            return made.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw ScpiError.settingsConflict("interrupted");
        } catch (ExecutionException e) {
            throw new IllegalStateException(e.getCause());
        }
    }

    private Piece piece() {
        List<Piece> all = pieces();
        return all.get(Math.min(chosen, all.size() - 1));
    }

    /** What a fibre of a connector shows. */
    private record Face(Cables.Cable cable, int fibre, boolean far, boolean dirty) {}

    private static List<Piece> taken(Cables.Cable cable, List<Face> faces, double blur) {
        double wide = (cable.columns() - 1) * PITCH + 2 * MARGIN;
        double high = (cable.rows() - 1) * ROW_PITCH + 2 * MARGIN;
        int width = (int) (wide / SCALE);
        int height = (int) (high / SCALE);
        float[] level = new float[width * height];
        Random grain = new Random(cable.position().hashCode());
        for (int i = 0; i < level.length; i++) {
            level[i] = 0.63f + 0.012f * (float) grain.nextGaussian();
        }
        for (Face f : faces) {
            int n = f.fibre - 1;
            double x = (MARGIN + n % cable.columns() * PITCH) / SCALE;
            double y = (MARGIN + n / cable.columns() * ROW_PITCH) / SCALE;
            draw(f, x, y, width, height, level);
        }
        float[] seen = blurred(level, width, height, blur / SCALE);
        Random random = new Random();
        List<Piece> pieces = new ArrayList<>();
        int most = (int) (WIDEST / SCALE);
        int count = (width + most - 1) / most;
        for (int i = 0; i < count; i++) {
            int from = count == 1 ? 0 : i * (width - most) / (count - 1);
            int w = Math.min(most, width);
            float[] part = new float[w * height];
            for (int y = 0; y < height; y++) {
                System.arraycopy(seen, y * width + from, part, y * w, w);
            }
            double off = i == 0 ? 0 : STAGE_OFF * (2 * random.nextDouble() - 1);
            pieces.add(new Piece(png(part, w, height, random), from * SCALE + off));
        }
        return pieces;
    }

    private static void draw(Face f, double x, double y, int width, int height, float[] level) {
        Random own = new Random((f.cable.position() + f.fibre + f.far).hashCode());
        int count = f.dirty ? 7 : own.nextInt(2);
        double[][] spots = new double[count][];
        for (int i = 0; i < count; i++) {
            double angle = 2 * Math.PI * own.nextDouble();
            double r = f.dirty && i < 2 ? 11 * own.nextDouble() : 22 + 30 * own.nextDouble();
            double size = f.dirty ? 4 + 9 * own.nextDouble() : 1.2;
            spots[i] = new double[] {r * Math.cos(angle), r * Math.sin(angle), size / 2};
        }
        double atX = x + 4 * (own.nextDouble() - 0.5) / SCALE;
        double atY = y + 4 * (own.nextDouble() - 0.5) / SCALE;
        double core = f.cable.returnLoss().get(0) < 45 ? 25 : 4.5;
        int about = (int) (70 / SCALE);
        for (int py = Math.max(0, (int) atY - about); py < Math.min(height, atY + about); py++) {
            for (int px = Math.max(0, (int) atX - about); px < Math.min(width, atX + about); px++) {
                double sum = 0;
                for (int i = 0; i < FINE * FINE; i++) {
                    double ux = (px + (i % FINE + 0.5) / FINE - 0.5 - atX) * SCALE;
                    double uy = (py + (i / FINE + 0.5) / FINE - 0.5 - atY) * SCALE;
                    sum += shade(ux, uy, core, spots);
                }
                double shade = sum / FINE / FINE;
                if (shade > 0) {
                    level[py * width + px] = (float) shade;
                }
            }
        }
    }

    private static double shade(double ux, double uy, double core, double[][] spots) {
        double r2 = ux * ux + uy * uy;
        for (double[] s : spots) {
            double dx = ux - s[0];
            double dy = uy - s[1];
            if (dx * dx + dy * dy < s[2] * s[2]) {
                return 0.14;
            }
        }
        return r2 < core * core ? 0.58 : r2 < 62.5 * 62.5 ? 0.48 : r2 < 65 * 65 ? 0.36 : 0.63;
    }

    /** Three boxes one after the other are as good as a bell. */
    private static float[] blurred(float[] level, int width, int height, double sigma) {
        int reach = (int) Math.round(sigma);
        float[] now = level;
        for (int round = 0; round < (reach < 1 ? 0 : 3); round++) {
            now = boxed(boxed(now, width, height, reach, true), width, height, reach, false);
        }
        return now;
    }

    private static float[] boxed(float[] level, int width, int height, int reach, boolean across) {
        float[] out = new float[level.length];
        int lines = across ? height : width;
        int length = across ? width : height;
        int step = across ? 1 : width;
        for (int line = 0; line < lines; line++) {
            int start = across ? line * width : line;
            double sum = 0;
            for (int i = -reach; i <= reach; i++) {
                sum += level[start + Math.max(0, Math.min(length - 1, i)) * step];
            }
            for (int i = 0; i < length; i++) {
                out[start + i * step] = (float) (sum / (2 * reach + 1));
                sum += level[start + Math.min(length - 1, i + reach + 1) * step]
                        - level[start + Math.max(0, i - reach) * step];
            }
        }
        return out;
    }

    private static byte[] png(float[] level, int width, int height, Random noise) {
        BufferedImage image = new BufferedImage(width, height, BufferedImage.TYPE_BYTE_GRAY);
        int[] row = new int[width];
        for (int y = 0; y < height; y++) {
            for (int x = 0; x < width; x++) {
                double seen = level[y * width + x] + 0.007 * (noise.nextDouble() + noise.nextDouble() - 1);
                row[x] = (int) Math.round(255 * Math.max(0, Math.min(1, seen)));
            }
            image.getRaster().setSamples(0, y, width, 1, 0, row);
        }
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            ImageIO.write(image, "png", out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }
}
