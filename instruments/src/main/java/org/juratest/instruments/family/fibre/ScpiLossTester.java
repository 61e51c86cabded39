package org.juratest.instruments.family.fibre;

import java.util.ArrayList;
import java.util.List;
import org.juratest.core.family.fibre.LossTester;
import org.juratest.instruments.scpi.ScpiOutput;

/** A loss set that speaks SCPI over TCP. */
public final class ScpiLossTester extends ScpiOutput implements LossTester {

    public ScpiLossTester(String host, int port) {
        super(host, port);
    }

    @Override
    public List<Double> wavelengths() {
        List<Double> all = new ArrayList<>();
        for (String nm : connection().query("SOUR:WAV:CAT?").split(",")) {
            all.add(Double.parseDouble(nm.strip()) / 1e9);
        }
        return all;
    }

    @Override
    public String launch() {
        return connection().query("SOUR:LAUN?").replace("\"", "");
    }

    @Override
    public void direction(boolean fromFarEnd) {
        connection().command("ROUT:DIR " + (fromFarEnd ? "FAR" : "NEAR"));
    }

    @Override
    public void select(int channel, double wavelength, boolean reference) {
        connection().command("SENS:MODE " + (reference ? "REF" : "MEAS"));
        connection().command("SOUR:WAV " + Math.round(wavelength * 1e9));
        connection().command("ROUT:CHAN " + channel);
    }

    @Override
    public double power() {
        return connection().numbers("READ:POW?", 1)[0];
    }

    @Override
    public Echo echo() {
        double[] found = connection().numbers("READ:ECHO?", 2);
        return new Echo(found[0], found[1]);
    }

    @Override
    public double reflected(double distance) {
        connection().command("SENS:REFL:DIST " + distance);
        return connection().numbers("READ:REFL?", 1)[0];
    }
}
