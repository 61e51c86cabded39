package org.juratest.instruments.family.breakers;

import java.util.Locale;
import org.juratest.core.family.breakers.CurrentSource;
import org.juratest.core.family.breakers.ResidualTester;
import org.juratest.instruments.scpi.ScpiOutput;

/** A tester of residual-current devices that speaks SCPI over TCP. */
public final class ScpiResidualTester extends ScpiOutput implements ResidualTester {

    public ScpiResidualTester(String host, int port) {
        super(host, port);
    }

    @Override
    public double touchVoltage(double current) {
        connection().command(String.format(Locale.ROOT, "SENS:TOUC:CURR %.6g", current));
        double volts = connection().numbers("MEAS:TOUC:VOLT?", 1)[0];
        // Over range is an open loop.
        return Double.isNaN(volts) || volts < 0 ? Double.POSITIVE_INFINITY : volts;
    }

    @Override
    public void prepareHeld(double current, double degrees, double timeLimit) {
        connection().command("SOUR:MODE HELD");
        amount(current, degrees);
        connection().command(String.format(Locale.ROOT, "SOUR:TIME:LIM %.6g", timeLimit));
    }

    private void amount(double current, double degrees) {
        connection().command(String.format(Locale.ROOT, "SOUR:CURR %.6g", current));
        connection().command(String.format(Locale.ROOT, "SOUR:ANGL %.6g", degrees));
    }

    @Override
    public void prepareSteps(double from, double to, int steps, double seconds, double degrees) {
        connection().command("SOUR:MODE STEPS");
        amount(to, degrees);
        connection().command(String.format(Locale.ROOT, "SOUR:STEP:STAR %.6g", from));
        connection().command(String.format(Locale.ROOT, "SOUR:STEP:COUN %d", steps));
        connection().command(String.format(Locale.ROOT, "SOUR:STEP:TIME %.6g", seconds / steps));
    }

    @Override
    public CurrentSource.Injection read() {
        return Injections.read(connection());
    }
}
