package org.juratest.simulators.family.radios;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
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
 * A radio test set: generator, analyser, sound both ways, supply with a shunt. It gives samples as definite-length
 * blocks of 32-bit floating point, most significant byte first ({@code FORMat:BORDer NORMal}).
 */
final class RadioTestSet extends Watched {

    /** Samples a second of baseband and of sound. */
    private static final double BASEBAND = 96_000;

    private static final double SOUND = 48_000;
    private static final double LONGEST = 4;
    private static final double GREATEST_INPUT = 23;
    private static final double GREATEST_LEVEL = 7;
    /** What the lead and its attenuator really take off: dB at 100 MHz, and dB per root of 100 MHz. */
    private static final double ATTENUATOR = 29.97;

    private static final double LEAD = 0.19;

    private final RadioBench bench;
    private final ExecutorService making = Executors.newSingleThreadExecutor(task -> {
        Thread thread = new Thread(task, "radio-test-set-samples");
        thread.setDaemon(true);
        return thread;
    });
    private final Random random = new Random(4711);
    private double frequency = 155e6;
    private double level = -100;
    private double deviation = 1500;
    private double tone = 1000;
    private String modulation = "NONE";
    private double centre = 155e6;
    private double fullScale = 20;
    private double soundHertz = 1000;
    private double soundVolts;
    private double until;
    private int samples;
    private @Nullable Future<byte[]> taking;

    RadioTestSet(String serial, RadioBench bench, StandInLog log) {
        super("radio-test-set", "Orbessa,TS-1," + serial + ",3.2", log);
        this.bench = bench;
        commands()
                .command("SOURce:FREQuency", a -> {
                    frequency = ScpiCommands.number(a, 1e6, 1e9);
                    sent();
                })
                .query("SOURce:FREQuency", () -> ScpiCommands.nr3(frequency))
                .command("SOURce:POWer", a -> {
                    level = ScpiCommands.number(a, -150, GREATEST_LEVEL);
                    sent();
                })
                .query("SOURce:POWer", () -> ScpiCommands.nr3(level))
                .query("SOURce:POWer:MAXimum", () -> ScpiCommands.nr3(GREATEST_LEVEL))
                .command("SOURce:MODulation", this::modulation)
                .query("SOURce:MODulation", () -> modulation)
                .command("SOURce:DEViation", a -> {
                    deviation = ScpiCommands.number(a, 0, 50_000);
                    sent();
                })
                .command("SOURce:FM:INTernal:FREQuency", a -> {
                    tone = ScpiCommands.number(a, 10, 20_000);
                    sent();
                })
                .command("SOURce:AUDio:FREQuency", a -> soundHertz = ScpiCommands.number(a, 10, 20_000))
                .command("SOURce:AUDio:VOLTage", a -> soundVolts = ScpiCommands.number(a, 0, 5))
                .command("SENSe:FREQuency:CENTer", a -> centre = ScpiCommands.number(a, 1e6, 1e9))
                .command("SENSe:POWer:RANGe", a -> fullScale = ScpiCommands.number(a, -60, GREATEST_INPUT + 10))
                .query("SENSe:POWer:RANGe", () -> ScpiCommands.nr3(fullScale))
                .query("SENSe:POWer:MAXimum", () -> ScpiCommands.nr3(GREATEST_INPUT))
                .query("SENSe:IQ:RATE", () -> ScpiCommands.nr3(BASEBAND))
                .query("SENSe:AUDio:RATE", () -> ScpiCommands.nr3(SOUND))
                .command("INITiate:IQ", a -> begin(ScpiCommands.number(a, 1e-3, LONGEST), false))
                .command("INITiate:AUDio", a -> begin(ScpiCommands.number(a, 1e-3, LONGEST), true))
                .query("INITiate:DONE", () -> done() ? "1" : "0")
                .query("FETCh:DATA", this::data)
                .query("MEASure:CURRent", () -> ScpiCommands.nr3(current()));
    }

    private void modulation(String name) {
        switch (name.toUpperCase(java.util.Locale.ROOT)) {
            case "NONE", "FM", "FSK4" -> modulation = name.toUpperCase(java.util.Locale.ROOT);
            default -> throw ScpiError.outOfRange("NONE, FM or FSK4");
        }
        sent();
    }

    private double loss(double hertz) {
        return ATTENUATOR + LEAD * Math.sqrt(hertz / 100e6) + (bench.isOpen(label()) ? 70 : 0);
    }

    /** What the radio gets of the generator. */
    private void sent() {
        bench.wanted(
                isOn()
                        ? new SimulatedRadio.Arriving(
                                frequency,
                                level - loss(frequency),
                                modulation.equals("FM") ? deviation : 0,
                                tone,
                                modulation.equals("FSK4"))
                        : null);
    }

    private void begin(double seconds, boolean audio) {
        samples = (int) Math.round(seconds * (audio ? SOUND : BASEBAND));
        until = time() + seconds;
        // Made beside the line, which goes on answering meanwhile.
        SimulatedRadio radio = bench.at(label());
        boolean loop = label().startsWith("LOOP");
        boolean on = isOn();
        taking = making.submit(() -> audio ? heard(radio) : taken(radio, loop && on));
    }

    private boolean done() {
        return time() >= until && (taking == null || taking.isDone());
    }

    private String data() {
        Future<byte[]> made = taking;
        if (made == null || !done()) {
            throw ScpiError.settingsConflict("nothing was taken in yet");
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

    private byte[] taken(@Nullable SimulatedRadio radio, boolean loop) {
        ByteBuffer out = ByteBuffer.allocate(8 * samples).order(ByteOrder.BIG_ENDIAN);
        double[][] iq = radio != null && radio.keyed()
                ? radio.transmitted(samples, BASEBAND, centre, soundHertz, soundVolts)
                : new double[2][samples];
        // 1 W is 30 dBm; full scale is amplitude 1.
        double scale = Math.pow(10, (30 - loss(centre) - fullScale) / 20);
        double own = loop && Math.abs(frequency - centre) < BASEBAND / 2
                ? Math.pow(10, (level - loss(centre) - fullScale) / 20)
                : 0;
        for (int n = 0; n < samples; n++) {
            double turn = 2 * Math.PI * (frequency - centre) * n / BASEBAND;
            double i = iq[0][n] * scale + own * Math.cos(turn) + 6e-5 * random.nextGaussian();
            double q = iq[1][n] * scale + own * Math.sin(turn) + 6e-5 * random.nextGaussian();
            out.putFloat((float) Math.max(-1, Math.min(1, i)));
            out.putFloat((float) Math.max(-1, Math.min(1, q)));
        }
        return out.array();
    }

    private byte[] heard(@Nullable SimulatedRadio radio) {
        ByteBuffer out = ByteBuffer.allocate(4 * samples).order(ByteOrder.BIG_ENDIAN);
        SimulatedRadio.Arriving arriving = bench.wanted();
        double[] volts = radio == null || !radio.squelchIsOpen(arriving)
                ? new double[samples]
                : radio.heard(samples, SOUND, arriving, bench.other());
        for (int n = 0; n < samples; n++) {
            out.putFloat((float) (volts[n] + 2e-5 * random.nextGaussian()));
        }
        return out.array();
    }

    private double current() {
        SimulatedRadio radio = bench.at(label());
        return radio == null ? 0 : radio.current(bench.wanted());
    }

    @Override
    protected void started() {
        bench.wanted(new SimulatedRadio.Arriving(
                frequency,
                level - loss(frequency),
                modulation.equals("FM") ? deviation : 0,
                tone,
                modulation.equals("FSK4")));
    }

    @Override
    protected void ended() {
        bench.wanted(null);
    }

    @Override
    protected void running() {
        // The generator goes on until somebody, or the watchdog, switches it off.
    }
}
