package org.juratest.instruments.family.breakers;

import java.util.Locale;
import org.juratest.core.family.breakers.CurrentSource;
import org.juratest.core.family.breakers.RelayTestSet;
import org.juratest.instruments.scpi.ScpiOutput;

/** A set for the secondary injection of relays that speaks SCPI over TCP. */
public final class ScpiRelayTestSet extends ScpiOutput implements RelayTestSet {

    public ScpiRelayTestSet(String host, int port) {
        super(host, port);
    }

    private void set(String header, double value) {
        connection().command(String.format(Locale.ROOT, "%s %.6g", header, value));
    }

    @Override
    public void prepareHeld(Injected what, Contact contact, double seconds) {
        connection().command("SOUR:MODE HELD");
        connection().command("SENS:CONT " + contact);
        set("SOUR:CURR", what.current());
        set("SOUR:CURR:ANGL", what.degrees());
        set("SOUR:VOLT", what.voltage());
        set("SOUR:CURR2", what.other());
        set("SOUR:CURR2:ANGL", what.otherDegrees());
        set("SOUR:TIME:LIM", seconds);
    }

    @Override
    public void prepareRamp(double from, double to, double voltage, double step, double dwell, double seconds) {
        connection().command("SOUR:MODE RAMP");
        connection().command("SENS:CONT START");
        set("SOUR:CURR", to);
        set("SOUR:CURR:ANGL", 0);
        set("SOUR:VOLT", voltage);
        set("SOUR:CURR2", 0);
        set("SOUR:RAMP:STAR", from);
        set("SOUR:RAMP:STEP", step);
        set("SOUR:RAMP:DWEL", dwell);
        set("SOUR:TIME:LIM", seconds);
    }

    @Override
    public CurrentSource.Injection read() {
        return Injections.read(connection());
    }

    @Override
    public Ramp ramp() {
        double[] found = connection().numbers("SENS:RAMP?", 2);
        return new Ramp(found[0], found[1]);
    }
}
