package org.juratest.instruments.family.meters;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Locale;
import org.juratest.core.family.meters.MeterOutput;
import org.juratest.core.family.meters.Phasor;
import org.juratest.core.family.meters.PulseCounter;
import org.juratest.core.port.GearException;
import org.juratest.instruments.scpi.ScpiConnection;
import org.juratest.instruments.scpi.ScpiOutput;

/** What gear for meters and transformers that speaks SCPI over TCP has in common. */
abstract class ScpiMeterGear extends ScpiOutput {

    private static final String FETCH = "FETC?";
    private static final String COUNT = "FETC:PULS?";

    ScpiMeterGear(String host, int port) {
        super(host, port);
    }

    final void set(String header, double value) {
        connection().command(String.format(Locale.ROOT, "%s %.9g", header, value));
    }

    /** On, elapsed, voltage, current, degrees by which the current lags, why it is off. */
    final MeterOutput.Given fetched() {
        String answer = connection().query(FETCH);
        String[] fields = answer.split(",", -1);
        if (fields.length != 6 || !(fields[0].equals("0") || fields[0].equals("1"))) {
            throw ScpiConnection.garbled(FETCH, answer);
        }
        double[] values = new double[4];
        for (int k = 0; k < values.length; k++) {
            values[k] = ScpiConnection.number(FETCH, fields[k + 1]);
            if (!(Math.abs(values[k]) <= Double.MAX_VALUE)) {
                throw ScpiConnection.garbled(FETCH, answer);
            }
        }
        boolean on = fields[0].equals("1");
        try {
            return new MeterOutput.Given(
                    on,
                    values[0],
                    values[1],
                    values[2],
                    values[3],
                    on ? null : MeterOutput.Cause.valueOf(fields[5].trim()));
        } catch (IllegalArgumentException e) {
            throw ScpiConnection.garbled(FETCH, answer);
        }
    }

    final void begin(PulseCounter.Energy of, long pulses, double seconds) {
        connection()
                .command("SENS:PULS:ENER "
                        + switch (of) {
                            case ACTIVE -> "ACT";
                            case REACTIVE -> "REAC";
                            case APPARENT -> "APP";
                        });
        set("SENS:PULS:COUN", pulses);
        set("SENS:PULS:TIME", seconds);
        connection().command("INIT:PULS");
    }

    final PulseCounter.Count stands() {
        double[] said = connection().numbers(COUNT, 5);
        for (double v : said) {
            if (!(Math.abs(v) <= Double.MAX_VALUE)) {
                throw ScpiConnection.garbled(COUNT, String.valueOf(v));
            }
        }
        return new PulseCounter.Count(said[0] == 1, Math.round(said[1]), said[2] / 1000, said[3], said[4]);
    }

    /** Two phasors as rms and degrees each. */
    final Phasor[] phasors(String query) {
        double[] said = connection().numbers(query, 4);
        Phasor[] both = {Phasor.of(said[0], said[1]), Phasor.of(said[2], said[3])};
        if (!(both[0].rms() <= Double.MAX_VALUE) || !(both[1].rms() <= Double.MAX_VALUE)) {
            throw new GearException(GearException.Fault.GARBLED, "it gives no figures for \"" + query + "\"");
        }
        return both;
    }

    /** Numbers of 32 bits, most significant byte first. */
    final double[] floats(String query) {
        byte[] block = connection().block(query);
        if (block.length == 0 || block.length % 4 != 0) {
            throw new GearException(
                    GearException.Fault.GARBLED, "its block of " + block.length + " bytes does not hold whole numbers");
        }
        ByteBuffer in = ByteBuffer.wrap(block).order(ByteOrder.BIG_ENDIAN);
        double[] numbers = new double[block.length / 4];
        for (int n = 0; n < numbers.length; n++) {
            numbers[n] = in.getFloat();
            if (!(Math.abs(numbers[n]) <= Float.MAX_VALUE)) {
                throw new GearException(GearException.Fault.GARBLED, "number " + n + " of its block is none");
            }
        }
        return numbers;
    }
}
