package org.juratest.simulators.family.fibre;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.List;
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

    private static final int MOST_POINTS = 32_768;
    private static final double FINEST = 0.25;

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
                .query("SENSe:INDex", () -> ScpiCommands.nr3(Shot.INDEX))
                .query("SENSe:BACKscatter", () -> ScpiCommands.nr3(Shot.SCATTER))
                .query("SENSe:FRONt", () -> ScpiCommands.nr3(-Shot.FRONT))
                .query("SENSe:LEAD", () -> ScpiCommands.nr3(Shot.LEAD))
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
        Shot shot = new Shot(
                end == null ? null : end.link(),
                end == null ? 0 : end.fibre(),
                end != null && end.far(),
                end != null && bench.isDirty(end),
                end != null && bench.isLoose(end),
                wavelength,
                pulse,
                spacing(),
                (int) (range / spacing()),
                seconds,
                ++shots);
        // Made beside the line, which goes on answering meanwhile.
        taking = making.submit(() -> bytes(shot.codes()));
    }

    private static byte[] bytes(short[] codes) {
        ByteBuffer out = ByteBuffer.allocate(2 * codes.length).order(ByteOrder.BIG_ENDIAN);
        out.asShortBuffer().put(codes);
        return out.array();
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
