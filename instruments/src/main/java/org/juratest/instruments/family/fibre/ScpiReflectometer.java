package org.juratest.instruments.family.fibre;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.juratest.core.family.fibre.OtdrTrace;
import org.juratest.core.family.fibre.Reflectometer;
import org.juratest.core.port.GearException;
import org.juratest.instruments.scpi.ScpiConnection;
import org.juratest.instruments.scpi.ScpiOutput;

/**
 * A reflectometer that speaks SCPI over TCP; a trace comes as a definite-length block of 16-bit numbers, most
 * significant byte first, 0.001 dB below the top of its scale.
 */
public final class ScpiReflectometer extends ScpiOutput implements Reflectometer {

    private double wavelength;
    private double pulse;

    public ScpiReflectometer(String host, int port) {
        super(host, port);
    }

    private double asked(String query) {
        double value = connection().numbers(query, 1)[0];
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            throw ScpiConnection.garbled(query, String.valueOf(value));
        }
        return value;
    }

    private void set(String header, double value) {
        connection().command(String.format(Locale.ROOT, "%s %.10g", header, value));
    }

    @Override
    public List<Double> wavelengths() {
        return list("SOUR:WAV:CAT?");
    }

    @Override
    public List<Double> besideTraffic() {
        return list("SOUR:WAV:FILT?");
    }

    /** Wavelengths in nm, separated by commas; {@code NONE} for none. */
    private List<Double> list(String query) {
        String answer = connection().query(query);
        List<Double> found = new ArrayList<>();
        for (String one : answer.equals("NONE") ? new String[0] : answer.split(",")) {
            found.add(ScpiConnection.number(query, one) / 1e9);
        }
        return found.stream().sorted().toList();
    }

    @Override
    public double frontLevel() {
        return asked("SENS:FRON?");
    }

    @Override
    public double lead() {
        return asked("SENS:LEAD?");
    }

    @Override
    public void direction(boolean fromFarEnd) {
        connection().command("ROUT:DIR " + (fromFarEnd ? "FAR" : "NEAR"));
    }

    @Override
    public double light() {
        return asked("MEAS:LIGH?");
    }

    @Override
    public void prepare(double metres, double seconds, double range) {
        set("SOUR:WAV", metres * 1e9);
        set("SOUR:PULS", seconds * 1e9);
        set("SENS:RANG", range);
        wavelength = metres;
        pulse = seconds;
    }

    @Override
    public void begin(double seconds) {
        set("INIT", seconds);
    }

    @Override
    public boolean isDone() {
        return asked("INIT:DONE?") == 1;
    }

    @Override
    public OtdrTrace trace() {
        double spacing = asked("SENS:SPAC?");
        double index = asked("SENS:IND?");
        double backscatter = asked("SENS:BACK?");
        byte[] block = connection().block("FETC:TRAC?");
        if (block.length % 2 != 0) {
            throw new GearException(
                    GearException.Fault.GARBLED, "its trace of " + block.length + " bytes does not hold whole samples");
        }
        ByteBuffer in = ByteBuffer.wrap(block).order(ByteOrder.BIG_ENDIAN);
        double[] level = new double[block.length / 2];
        for (int i = 0; i < level.length; i++) {
            level[i] = -Short.toUnsignedInt(in.getShort()) / 1000.0;
        }
        try {
            return new OtdrTrace(
                    Math.round(wavelength * 1e10) / 10.0,
                    Math.round(pulse * 1e10) / 10.0,
                    0,
                    spacing,
                    index,
                    backscatter,
                    level,
                    0);
        } catch (IllegalArgumentException e) {
            throw new GearException(GearException.Fault.GARBLED, "its trace makes no sense: " + e.getMessage(), e);
        }
    }
}
