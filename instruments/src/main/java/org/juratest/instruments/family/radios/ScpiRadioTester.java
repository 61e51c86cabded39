package org.juratest.instruments.family.radios;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Locale;
import org.juratest.core.family.radios.RadioTester;
import org.juratest.core.port.GearException;
import org.juratest.core.signal.Iq;
import org.juratest.instruments.scpi.ScpiOutput;

/** A radio test set that speaks SCPI over TCP; samples come as definite-length blocks of 32-bit floating point. */
public final class ScpiRadioTester extends ScpiOutput implements RadioTester {

    private static final long POLL_MILLIS = 2;
    /** How much longer than the time asked for a capture may take, s, before the gear counts as silent. */
    private static final double PATIENCE = 2;

    private double fullScale;

    public ScpiRadioTester(String host, int port) {
        super(host, port);
    }

    @Override
    public double greatestInput() {
        return connection().numbers("SENS:POW:MAX?", 1)[0];
    }

    @Override
    public double greatestLevel() {
        return connection().numbers("SOUR:POW:MAX?", 1)[0];
    }

    private void set(String header, double value) {
        connection().command(String.format(Locale.ROOT, "%s %.10g", header, value));
    }

    @Override
    public void generate(Signal signal) {
        set("SOUR:FREQ", signal.hertz());
        set("SOUR:POW", signal.dbm());
        if (signal.modulation() != Modulation.NONE) {
            set("SOUR:DEV", signal.deviation());
        }
        if (signal.modulation() == Modulation.FM) {
            set("SOUR:FM:INT:FREQ", signal.tone());
        }
        connection().command("SOUR:MOD " + signal.modulation());
    }

    @Override
    public void level(double dbm) {
        set("SOUR:POW", dbm);
    }

    @Override
    public void speak(double hertz, double volts) {
        set("SOUR:AUD:FREQ", hertz);
        set("SOUR:AUD:VOLT", volts);
    }

    @Override
    public void tune(double hertz, double fullScaleDbm) {
        set("SENS:FREQ:CENT", hertz);
        set("SENS:POW:RANG", fullScaleDbm);
        fullScale = connection().numbers("SENS:POW:RANG?", 1)[0];
    }

    @Override
    public Capture capture(double seconds) {
        double rate = connection().numbers("SENS:IQ:RATE?", 1)[0];
        double[] samples = taken("INIT:IQ", seconds);
        if (samples.length % 2 != 0) {
            throw new GearException(GearException.Fault.GARBLED, "its samples are not in pairs of I and Q");
        }
        double[] i = new double[samples.length / 2];
        double[] q = new double[i.length];
        for (int n = 0; n < i.length; n++) {
            i[n] = samples[2 * n];
            q[n] = samples[2 * n + 1];
        }
        return new Capture(new Iq(i, q, rate), fullScale);
    }

    @Override
    public Sound hear(double seconds) {
        double rate = connection().numbers("SENS:AUD:RATE?", 1)[0];
        return new Sound(taken("INIT:AUD", seconds), rate);
    }

    private double[] taken(String header, double seconds) {
        set(header, seconds);
        long end = System.nanoTime() + (long) ((seconds + PATIENCE) * 1e9);
        while (connection().numbers("INIT:DONE?", 1)[0] != 1) {
            if (System.nanoTime() > end) {
                throw new GearException(GearException.Fault.SILENT, "it did not finish taking in " + seconds + " s");
            }
            waited();
        }
        byte[] block = connection().block("FETC:DATA?");
        if (block.length == 0 || block.length % 4 != 0) {
            throw new GearException(
                    GearException.Fault.GARBLED, "its block of " + block.length + " bytes does not hold whole samples");
        }
        ByteBuffer in = ByteBuffer.wrap(block).order(ByteOrder.BIG_ENDIAN);
        double[] samples = new double[block.length / 4];
        for (int n = 0; n < samples.length; n++) {
            samples[n] = in.getFloat();
            if (!(Math.abs(samples[n]) <= Float.MAX_VALUE)) {
                throw new GearException(GearException.Fault.GARBLED, "sample " + n + " of its block is not a number");
            }
        }
        return samples;
    }

    private static void waited() {
        try {
            Thread.sleep(POLL_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new GearException(GearException.Fault.LOST, "the program is stopping", e);
        }
    }

    @Override
    public double supplyCurrent() {
        return connection().numbers("MEAS:CURR?", 1)[0];
    }
}
