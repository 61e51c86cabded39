package org.juratest.instruments.family.meters;

import org.juratest.core.family.meters.Phasor;
import org.juratest.core.family.meters.TransformerAnalyser;
import org.juratest.core.port.GearException;

/** An analyser of instrument transformers that speaks SCPI over TCP. */
public final class ScpiTransformerAnalyser extends ScpiMeterGear implements TransformerAnalyser {

    public ScpiTransformerAnalyser(String host, int port) {
        super(host, port);
    }

    private void prepare(String mode, double volts, double amperes, double seconds) {
        connection().command("SOUR:MODE " + mode);
        set("SOUR:VOLT", volts);
        set("SOUR:CURR", amperes);
        set("SOUR:TIME:LIM", seconds);
    }

    @Override
    public void prepareWinding(double volts, double amperes, double seconds) {
        prepare("WINDING", volts, amperes, seconds);
    }

    @Override
    public void prepareDemagnetising(double volts, double amperes, double seconds) {
        prepare("DEMAGNETISE", volts, amperes, seconds);
    }

    @Override
    public void prepareExcitation(double volts, double amperes, int points, double seconds) {
        prepare("EXCITATION", volts, amperes, seconds);
        set("SOUR:POIN", points);
    }

    @Override
    public void prepareRatio(double volts, double amperes, double seconds) {
        prepare("RATIO", volts, amperes, seconds);
    }

    @Override
    public void prepareVoltageRatio(double volts, double amperes, double seconds) {
        prepare("VTRATIO", volts, amperes, seconds);
    }

    @Override
    public Given given() {
        return fetched();
    }

    /** The block has a current and a voltage for each point. */
    @Override
    public Curve curve() {
        double[] all = floats("FETC:CURV?");
        if (all.length % 2 != 0) {
            throw new GearException(GearException.Fault.GARBLED, "its curve has a current without a voltage");
        }
        double[] amperes = new double[all.length / 2];
        double[] volts = new double[amperes.length];
        for (int n = 0; n < amperes.length; n++) {
            amperes[n] = all[2 * n];
            volts[n] = all[2 * n + 1];
            if (n > 0 && !(amperes[n] > amperes[n - 1])) {
                throw new GearException(
                        GearException.Fault.GARBLED, "the current of its curve does not grow at point " + (n + 1));
            }
        }
        return new Curve(amperes, volts);
    }

    @Override
    public Phasor primary() {
        return other("FETC:PRIM?");
    }

    @Override
    public Phasor secondary() {
        return other("FETC:SEC?");
    }

    private Phasor other(String query) {
        double[] said = connection().numbers(query, 2);
        return Phasor.of(said[0], said[1]);
    }
}
