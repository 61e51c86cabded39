package org.juratest.instruments.family.meters;

import org.juratest.core.family.meters.Phasor;
import org.juratest.core.family.meters.ReferenceStandard;
import org.juratest.core.port.GearException;
import org.juratest.instruments.scpi.ScpiConnection;

/** A three-phase reference standard that speaks SCPI over TCP. */
public final class ScpiReferenceStandard extends ScpiMeterGear implements ReferenceStandard {

    public ScpiReferenceStandard(String host, int port) {
        super(host, port);
    }

    /** The block has a voltage and a current of each phase for each moment. */
    @Override
    public Samples samples(double seconds) {
        double rate = connection().numbers("SENS:WAV:RATE?", 1)[0];
        if (!(rate > 0 && rate <= 1e6)) {
            throw new GearException(GearException.Fault.GARBLED, "it says that it samples at " + rate + " Hz");
        }
        set("SENS:WAV:TIME", seconds);
        double[] all = floats("FETC:WAV?");
        if (all.length % 6 != 0) {
            throw new GearException(GearException.Fault.GARBLED, "its samples are not six for each moment");
        }
        int count = all.length / 6;
        double[][] voltage = new double[3][count];
        double[][] current = new double[3][count];
        for (int n = 0; n < count; n++) {
            for (int k = 0; k < 3; k++) {
                voltage[k][n] = all[6 * n + k];
                current[k][n] = all[6 * n + 3 + k];
            }
        }
        return new Samples(rate, voltage, current);
    }

    @Override
    public void count(Energy of, long pulses, double seconds) {
        begin(of, pulses, seconds);
    }

    @Override
    public Count counted() {
        return stands();
    }

    @Override
    public void show(String words) {
        connection().command("DISP:TEXT \"" + words.replace('"', '\'') + "\"");
    }

    @Override
    public Clamped clamped() {
        Phasor[] both = phasors("MEAS:CLAM?");
        return new Clamped(both[0], both[1]);
    }

    @Override
    public Across across() {
        Phasor[] both = phasors("MEAS:BURD?");
        return new Across(both[0], both[1]);
    }

    @Override
    public Ends ends() {
        double[] said = finite("MEAS:ENDS?", 6);
        return new Ends(Phasor.of(said[0], said[1]), Phasor.of(said[2], said[3]), Phasor.of(said[4], said[5]));
    }

    @Override
    public void integrate() {
        connection().command("INIT:ENER");
    }

    @Override
    public Integrated integrated() {
        double[] said = finite("FETC:ENER?", 4);
        return new Integrated(said[0], said[1] / 1000, said[2] / 1000, said[3] / 1000);
    }

    private double[] finite(String query, int count) {
        double[] said = connection().numbers(query, count);
        for (double v : said) {
            if (!(Math.abs(v) <= Double.MAX_VALUE)) {
                throw ScpiConnection.garbled(query, String.valueOf(v));
            }
        }
        return said;
    }
}
