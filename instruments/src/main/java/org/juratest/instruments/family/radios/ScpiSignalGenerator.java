package org.juratest.instruments.family.radios;

import java.util.Locale;
import org.juratest.core.family.radios.SignalGenerator;
import org.juratest.instruments.scpi.ScpiOutput;

/** A signal generator that speaks SCPI over TCP. */
public final class ScpiSignalGenerator extends ScpiOutput implements SignalGenerator {

    public ScpiSignalGenerator(String host, int port) {
        super(host, port);
    }

    @Override
    public double greatestLevel() {
        return connection().numbers("SOUR:POW:MAX?", 1)[0];
    }

    @Override
    public void generate(double hertz, double dbm, double deviation, double tone) {
        connection().command(String.format(Locale.ROOT, "SOUR:FREQ %.10g", hertz));
        connection().command(String.format(Locale.ROOT, "SOUR:POW %.6g", dbm));
        connection().command(String.format(Locale.ROOT, "SOUR:DEV %.6g", deviation));
        connection().command(String.format(Locale.ROOT, "SOUR:FM:INT:FREQ %.6g", tone));
    }
}
