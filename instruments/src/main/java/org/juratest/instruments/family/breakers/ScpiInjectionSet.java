package org.juratest.instruments.family.breakers;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.juratest.core.family.breakers.HandSource;
import org.juratest.core.family.breakers.WaveSource;
import org.juratest.core.port.GearException;
import org.juratest.instruments.scpi.ScpiConnection;
import org.juratest.instruments.scpi.ScpiOutput;

/** An injection set that speaks SCPI over TCP. */
public final class ScpiInjectionSet extends ScpiOutput implements WaveSource, HandSource {

    private List<Range> ranges = List.of();

    public ScpiInjectionSet(String host, int port) {
        super(host, port);
    }

    @Override
    public List<Range> ranges() {
        if (ranges.isEmpty()) {
            String answer = connection().query("SOUR:CURR:RANG:CAT?");
            String[] fields = answer.split(",", -1);
            if (fields.length < 2 || fields.length % 2 != 0) {
                throw ScpiConnection.garbled("SOUR:CURR:RANG:CAT?", answer);
            }
            List<Range> found = new ArrayList<>();
            for (int i = 0; i < fields.length; i += 2) {
                found.add(new Range(
                        ScpiConnection.number("SOUR:CURR:RANG:CAT?", fields[i]),
                        ScpiConnection.number("SOUR:CURR:RANG:CAT?", fields[i + 1])));
            }
            ranges = List.copyOf(found);
        }
        return ranges;
    }

    @Override
    public void prepare(double current, double range, double timeLimit) {
        connection().command("SOUR:MODE TIMED");
        amount(current, range, timeLimit);
    }

    private void amount(double current, double range, double timeLimit) {
        connection().command(String.format(Locale.ROOT, "SOUR:CURR:RANG %.6g", range));
        connection().command(String.format(Locale.ROOT, "SOUR:CURR %.6g", current));
        connection().command(String.format(Locale.ROOT, "SOUR:TIME:LIM %.6g", timeLimit));
    }

    @Override
    public void preparePulse(double current, double range, double seconds, double degrees) {
        connection().command("SOUR:MODE PULSE");
        amount(current, range, Math.max(0.01, seconds));
        connection().command(String.format(Locale.ROOT, "SOUR:PULS:TIME %.6g", seconds));
        connection().command(String.format(Locale.ROOT, "SOUR:PULS:ANGL %.6g", degrees));
    }

    @Override
    public void prepareRamp(double to, double range, double from, double perSecond, double timeLimit) {
        connection().command("SOUR:MODE RAMP");
        amount(to, range, timeLimit);
        connection().command(String.format(Locale.ROOT, "SOUR:RAMP:STAR %.6g", from));
        connection().command(String.format(Locale.ROOT, "SOUR:RAMP:RATE %.6g", perSecond));
    }

    @Override
    public void prepareSustained(double current, double range, double timeLimit) {
        connection().command("SOUR:MODE SUSTAINED");
        amount(current, range, timeLimit);
    }

    @Override
    public void prepareAdjustable(double current, double range, double timeLimit) {
        connection().command("SOUR:MODE ADJUSTABLE");
        amount(current, range, timeLimit);
    }

    @Override
    public void adjust(double current) {
        connection().command(String.format(Locale.ROOT, "SOUR:CURR %.6g", current));
    }

    @Override
    public Wave wave() {
        double rate = connection().numbers("SENS:DATA:RATE?", 1)[0];
        byte[] bytes = connection().block("SENS:DATA?");
        if (!(rate > 0 && rate <= 1e7) || bytes.length % Float.BYTES != 0) {
            throw new GearException(
                    GearException.Fault.GARBLED,
                    bytes.length + " bytes at " + rate + " samples a second are no digitised current");
        }
        float[] samples = new float[bytes.length / Float.BYTES];
        ByteBuffer.wrap(bytes).order(ByteOrder.BIG_ENDIAN).asFloatBuffer().get(samples);
        for (float sample : samples) {
            if (!(Math.abs(sample) <= Float.MAX_VALUE)) {
                throw new GearException(GearException.Fault.GARBLED, "its digitised current has a value of " + sample);
            }
        }
        return new Wave(rate, samples);
    }

    @Override
    public Injection read() {
        return Injections.read(connection());
    }
}
