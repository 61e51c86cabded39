package org.juratest.simulators.family.fibre;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;
import org.juratest.simulators.scpi.Watched;

/**
 * A reflectometer: its output is its laser. A trace comes as a definite-length block of 16-bit numbers, most
 * significant byte first, 0.001 dB below the top of its scale.
 */
final class Reflectometer extends Watched {

    private static final double LIGHT = 299_792_458;
    private static final double INDEX = 1.468;
    /** Backscatter of 1 ns, dB. */
    private static final double SCATTER = -80;
    /** How far the backscatter at a good connection stands below the top of the scale, dB. */
    private static final double FRONT = 22;
    /** How far above the noise of one second the backscatter of 100 ns stands, dB on the trace. */
    private static final double REACH = 16;

    private static final int MOST_POINTS = 32_768;
    private static final double FINEST = 0.25;
    /** Length of the lead it is used with, m. */
    private static final double LEAD = 150;

    private final LinkBench bench;
    private final ExecutorService making = Executors.newSingleThreadExecutor(task -> {
        Thread thread = new Thread(task, "reflectometer-samples");
        thread.setDaemon(true);
        return thread;
    });
    private int wavelength = 1550;
    private double pulse = 100;
    private double range = 5000;
    private double seconds = 3;
    private double until;
    private long shots;
    private boolean far;
    private @Nullable Future<byte[]> taking;

    Reflectometer(String serial, LinkBench bench, StandInLog log) {
        super("reflectometer", "Orbessa,RF-4," + serial + ",1.7", log);
        this.bench = bench;
        commands()
                .command("ROUTe:DIRection", a -> far = LinkBench.isFar(a))
                .query("ROUTe:DIRection", () -> far ? "FAR" : "NEAR")
                .query("SOURce:WAVelength:CATalog", () -> "1310,1550,1625")
                .query("SOURce:WAVelength:FILTered", () -> "1625")
                .command("SOURce:WAVelength", this::wavelength)
                .query("SOURce:WAVelength", () -> String.valueOf(wavelength))
                .command("SOURce:PULSe", a -> pulse = ScpiCommands.number(a, 5, 20_000))
                .query("SOURce:PULSe", () -> ScpiCommands.nr3(pulse))
                .command("SENSe:RANGe", a -> range = ScpiCommands.number(a, 500, 260_000))
                .query("SENSe:RANGe", () -> ScpiCommands.nr3(range))
                .query("SENSe:SPACing", () -> ScpiCommands.nr3(spacing()))
                .query("SENSe:INDex", () -> ScpiCommands.nr3(INDEX))
                .query("SENSe:BACKscatter", () -> ScpiCommands.nr3(SCATTER))
                .query("SENSe:FRONt", () -> ScpiCommands.nr3(-FRONT))
                .query("SENSe:LEAD", () -> ScpiCommands.nr3(LEAD))
                .query("MEASure:LIGHt", () -> ScpiCommands.nr3(light()))
                .command("INITiate", this::begin)
                .query("INITiate:DONE", () -> done() ? "1" : "0")
                .query("FETCh:TRACe", this::data);
    }

    private void wavelength(String text) {
        if (isOn()) {
            throw ScpiError.settingsConflict("the laser is on");
        }
        int asked = (int) Math.round(ScpiCommands.number(text, 800, 1700));
        if (!List.of(1310, 1550, 1625).contains(asked)) {
            throw ScpiError.outOfRange("1310, 1550 or 1625");
        }
        wavelength = asked;
    }

    @Override
    protected String settings() {
        return " " + wavelength + " nm " + Math.round(pulse) + " ns";
    }

    private double spacing() {
        return Math.max(FINEST, range / MOST_POINTS);
    }

    /** Light that comes in, dBm; the laser is off, or it would be its own. */
    private double light() {
        LinkBench.End end = bench.at(label(), far);
        if (isOn()) {
            throw ScpiError.settingsConflict("the laser is on");
        }
        return end != null && bench.hasLight(end) ? -14.3 : -71.5;
    }

    private void begin(String text) {
        if (!isOn()) {
            throw ScpiError.settingsConflict("the laser is off");
        }
        seconds = ScpiCommands.number(text, 0.1, 600);
        until = time() + seconds;
        LinkBench.End end = bench.at(label(), far);
        Shot shot = new Shot(end, wavelength, pulse, spacing(), (int) (range / spacing()), seconds, ++shots);
        // Made beside the line, which goes on answering meanwhile.
        taking = making.submit(() -> taken(shot));
    }

    private boolean done() {
        return taking != null && time() >= until && taking.isDone();
    }

    private String data() {
        Future<byte[]> made = taking;
        if (made == null || !done()) {
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

    /** What a trace is taken with. */
    private record Shot(
            LinkBench.@Nullable End end,
            int wavelength,
            double pulse,
            double spacing,
            int points,
            double seconds,
            long number) {}

    /** What is met on the way: where, what is lost there as seen from this end, what reflects. */
    private record Met(double at, double loss, @Nullable Double reflectance) {}

    private List<Met> met(LinkBench.End end, int nanometres) {
        Links.Link link = end.link();
        double share = nanometres <= 1310 ? 0 : Math.min(1.3, (nanometres - 1310) / 240.0);
        return link.joints().stream()
                .filter(j -> j.only() == 0 || j.only() == end.fibre())
                .map(j -> {
                    // Splices of one closure are not all alike; each fibre has its own.
                    double own = j.only() != 0 || j.reflectance() != null
                            ? 1
                            : 0.6 + 0.8 * new Random(Math.round(j.at() * 10) * 97 + end.fibre()).nextDouble();
                    double loss = (j.loss1310() + share * (j.loss1550() - j.loss1310())) * own
                            + (end.far() ? -1 : 1) * j.unlike();
                    return new Met(end.far() ? link.length() - j.at() : j.at(), loss, j.reflectance());
                })
                .sorted(Comparator.comparingDouble(Met::at))
                .toList();
    }

    private byte[] taken(Shot shot) {
        double perKm = shot.wavelength <= 1310 ? 0.338 : shot.wavelength <= 1550 ? 0.192 : 0.208;
        double[] scattered = new double[shot.points];
        double[] reflected = new double[shot.points];
        double lost = 0;
        reflected[0] = power(-46);
        double sampleNs = 2 * INDEX * shot.spacing / LIGHT * 1e9;
        int leadEnd = (int) Math.round(LEAD / shot.spacing);
        double end = LEAD + (shot.end == null ? 0 : shot.end.link().length());
        List<Met> met = shot.end == null ? List.of() : met(shot.end, shot.wavelength);
        int next = 0;
        for (int i = 0; i < shot.points; i++) {
            double x = i * shot.spacing;
            if (i == leadEnd && shot.end != null) {
                boolean loose = bench.isLoose(shot.end);
                boolean dirty = bench.isDirty(shot.end);
                reflected[i] += power((loose ? -24 : dirty ? -36 : -63) - 2 * lost);
                lost += loose ? 2.1 : dirty ? 0.9 : 0.24;
            }
            while (next < met.size() && LEAD + met.get(next).at <= x) {
                Met one = met.get(next++);
                reflected[i] += one.reflectance == null ? 0 : power(one.reflectance - 2 * lost);
                lost += one.loss;
            }
            if (x >= end) {
                reflected[i] += power((shot.end == null ? -14.5 : -47) - 2 * lost);
                break;
            }
            scattered[i] = power(SCATTER - 2 * lost) * sampleNs;
            lost += perKm * shot.spacing / 1000;
        }
        return codes(shot, scattered, reflected, sampleNs);
    }

    /** A pulse takes in what a stretch sends back; then noise, and the scale of the trace. */
    private static byte[] codes(Shot shot, double[] scattered, double[] reflected, double sampleNs) {
        int width = (int) Math.max(1, Math.round(shot.pulse / sampleNs));
        double front = power(SCATTER) * sampleNs * width;
        double noise = Math.pow(10, -(REACH + 5 * Math.log10(shot.pulse / 100) + 2.5 * Math.log10(shot.seconds)) / 5);
        Random random = new Random(4711 + shot.number);
        ByteBuffer out = ByteBuffer.allocate(2 * shot.points).order(ByteOrder.BIG_ENDIAN);
        double within = 0;
        for (int i = 0; i < shot.points; i++) {
            within += scattered[i] + reflected[i] - (i >= width ? scattered[i - width] + reflected[i - width] : 0);
            double shown = Math.max(0, within) / front + noise * random.nextGaussian();
            double below = FRONT - 5 * Math.log10(Math.max(1e-12, shown));
            out.putShort((short) Math.round(Math.max(0, Math.min(65.535, below)) * 1000));
        }
        return out.array();
    }

    private static double power(double decibels) {
        return Math.pow(10, decibels / 10);
    }

    @Override
    protected void started() {
        // Light goes out; a trace is begun by itself.
    }

    @Override
    protected void ended() {
        // A trace that is not done by now is none.
        if (!done()) {
            taking = null;
        }
    }

    @Override
    protected void running() {
        // Until somebody, or the watchdog, switches it off.
    }
}
