package org.juratest.simulators.family.fibre;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
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
 * A camera for end faces: it gives pictures as PNG in definite-length blocks. Who takes it off a dirty end face and
 * puts it on again some seconds later has wiped the end face meanwhile.
 */
final class FaceCamera extends Harmless {

    private static final int WIDTH = 640;
    private static final int HEIGHT = 520;
    /** um a pixel. */
    private static final double SCALE = 0.5;

    private static final int FINE = 3;
    /** How long wiping takes, s of its time. */
    private static final double WIPING = 2;

    private final LinkBench bench;
    private final ExecutorService making = Executors.newSingleThreadExecutor(task -> {
        Thread thread = new Thread(task, "fibre-camera-pictures");
        thread.setDaemon(true);
        return thread;
    });
    private LinkBench.@Nullable End seenDirty;
    private double seenAt;
    private long looks;
    private boolean far;
    private @Nullable Future<byte[]> taking;

    FaceCamera(String serial, LinkBench bench, StandInLog log) {
        super("fibre-camera", "Orbessa,IC-2," + serial + ",2.0", log);
        this.bench = bench;
        commands()
                .command("ROUTe:DIRection", a -> far = LinkBench.isFar(a))
                .query("ROUTe:DIRection", () -> far ? "FAR" : "NEAR")
                .query("SENSe:SCALe", () -> ScpiCommands.nr3(SCALE))
                .command("INITiate", a -> look())
                .query("INITiate:DONE", () -> taking != null && taking.isDone() ? "1" : "0")
                .query("FETCh:IMAGe", this::data);
    }

    private void look() {
        LinkBench.End end = bench.at(label(), far);
        if (end == null) {
            throw ScpiError.settingsConflict("there is no end face in front of it");
        }
        LinkBench.End dirty = seenDirty;
        if (dirty != null && dirty.equals(end) && time() - seenAt >= WIPING) {
            bench.clean(end);
        }
        boolean now = bench.isDirty(end);
        if (now) {
            seenDirty = end;
            seenAt = time();
        }
        int seed = (end.link().position() + ":" + end.name()).hashCode();
        long number = ++looks;
        // Made beside the line, which goes on answering meanwhile.
        taking = making.submit(() -> picture(seed, now, number));
    }

    private String data() {
        Future<byte[]> made = taking;
        if (made == null || !made.isDone()) {
            throw ScpiError.settingsConflict("nothing was taken yet");
        }
        try {
            return ScpiCommands.block(made.get());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw ScpiError.settingsConflict("interrupted");
        } catch (ExecutionException e) {
            throw new IllegalStateException(e.getCause());
        }
    }

    private static byte[] picture(int seed, boolean dirty, long look) {
        Random own = new Random(seed);
        double x = WIDTH / 2.0 + 8 * (own.nextDouble() - 0.5);
        double y = HEIGHT / 2.0 + 8 * (own.nextDouble() - 0.5);
        int count = dirty ? 9 : own.nextInt(3);
        double[][] spots = new double[count][];
        for (int i = 0; i < count; i++) {
            double angle = 2 * Math.PI * own.nextDouble();
            double r = dirty && i < 2 ? 14 * own.nextDouble() : 20 + 70 * own.nextDouble();
            double size = dirty ? 2.5 + 6 * own.nextDouble() : 1 + own.nextDouble();
            spots[i] = new double[] {r * Math.cos(angle), r * Math.sin(angle), size / 2, 0.1 + 0.12 * own.nextDouble()};
        }
        Random noise = new Random(seed * 31L + look);
        BufferedImage image = new BufferedImage(WIDTH, HEIGHT, BufferedImage.TYPE_BYTE_GRAY);
        for (int py = 0; py < HEIGHT; py++) {
            for (int px = 0; px < WIDTH; px++) {
                double sum = 0;
                for (int i = 0; i < FINE * FINE; i++) {
                    double ux = (px + (i % FINE + 0.5) / FINE - 0.5 - x) * SCALE;
                    double uy = (py + (i / FINE + 0.5) / FINE - 0.5 - y) * SCALE;
                    sum += shade(ux, uy, spots);
                }
                double level = sum / FINE / FINE + 0.008 * noise.nextGaussian();
                image.getRaster().setSample(px, py, 0, (int) Math.round(255 * Math.max(0, Math.min(1, level))));
            }
        }
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            ImageIO.write(image, "png", out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    private static double shade(double ux, double uy, double[][] spots) {
        double r = Math.hypot(ux, uy);
        double level = r < 4.5 ? 0.62 : r < 62.5 ? 0.5 : r < 64.5 ? 0.33 : 0.74;
        for (double[] s : spots) {
            level = Math.hypot(ux - s[0], uy - s[1]) < s[2] ? s[3] : level;
        }
        return level + 0.0004 * ux;
    }
}
