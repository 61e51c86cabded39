package org.juratest.instruments.scpi;

import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.port.GearIdentity;
import org.juratest.core.run.ReadBack;
import org.juratest.instruments.line.Handover;

/** What all SCPI gear with an output shares: label, watchdog, output, safety. */
public abstract class ScpiOutput implements Energising {

    private final ScpiConnection connection;

    protected ScpiOutput(String host, int port) {
        this.connection = new ScpiConnection(host, port);
    }

    protected final ScpiConnection connection() {
        return connection;
    }

    @Override
    public GearIdentity identify() {
        connection.open();
        return GearIdentity.parse(connection.query("*IDN?"));
    }

    @Override
    public void connectTo(String label) {
        if (label.indexOf('"') >= 0 || label.indexOf('\n') >= 0) {
            throw new IllegalArgumentException("a label has no quotes and no line ends");
        }
        Handover.patiently(() -> connection.command("ROUT:LAB \"" + label + "\""));
    }

    @Override
    public void watchdog(double seconds) {
        connection.command("SYST:WDOG " + seconds);
    }

    @Override
    public void feedWatchdog() {
        connection.command("SYST:WDOG:FEED");
    }

    @Override
    public void outputOn() {
        connection.command("OUTP ON");
    }

    @Override
    public double timeFactor() {
        double factor = connection.numbers("SYST:TIME:FACT?", 1)[0];
        if (!(factor > 0 && factor <= Double.MAX_VALUE)) {
            throw ScpiConnection.garbled("SYST:TIME:FACT?", String.valueOf(factor));
        }
        return factor;
    }

    @Override
    public ReadBack makeSafe() {
        ReadBack first = offAndReadBack();
        // One more try over a fresh connection: the first may have failed because the old one was already dead.
        return first.off() ? first : offAndReadBack();
    }

    private ReadBack offAndReadBack() {
        try {
            connection.open();
            Handover.patiently(() -> connection.command("OUTP OFF"));
            String answer = connection.query("OUTP?");
            return new ReadBack(
                    true,
                    answer.trim().equals("0"),
                    answer.trim().equals("0") ? "output off" : "it says its output is \"" + answer + "\"");
        } catch (GearException e) {
            return ReadBack.silent(String.valueOf(e.getMessage()));
        }
    }

    @Override
    public void close() {
        connection.close();
    }
}
