package org.juratest.simulators.family.meters;

import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.meters.Installations.Installation;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.Watched;

/** A three-phase source with a reference in it, and the meter of an installation on it. */
final class Source extends Watched {

    private static final double OPEN_AFTER = 0.2;

    private final Site site;
    private final SplittableRandom random = new SplittableRandom(97);
    private final Pulses pulses = new Pulses(random);
    private double volts = 230;
    private double amperes;
    private double degrees;
    private int phase;
    private double hertz = 50;
    private double fifth;
    private double timeLimit = 10;
    private double startedAt;
    private double elapsed;
    private boolean contact;
    private @Nullable Installation meter;

    Source(String serial, Site site, StandInLog log) {
        super("load-source", "Brennach,TS-3," + serial + ",5.1", log);
        this.site = site;
        commands()
                .command("SOURce:VOLTage", a -> volts = ScpiCommands.number(a, 0, 480))
                .command("SOURce:CURRent", a -> amperes = ScpiCommands.number(a, 0, 120))
                .command("SOURce:CURRent:ANGLe", a -> degrees = ScpiCommands.number(a, -180, 180))
                .command("SOURce:CURRent:FIFTh", a -> fifth = ScpiCommands.number(a, 0, 0.5))
                .command("SOURce:PHASe", a -> phase = (int) ScpiCommands.number(a, 0, 3))
                .command("SOURce:FREQuency", a -> hertz = ScpiCommands.number(a, 45, 65))
                .command("SOURce:TIME:LIMit", a -> timeLimit = ScpiCommands.number(a, 1, 36_000))
                .query("SOURce:VOLTage", () -> ScpiCommands.nr3(volts))
                .query("SOURce:CURRent", () -> ScpiCommands.nr3(amperes))
                .query("SOURce:FREQuency", () -> ScpiCommands.nr3(hertz))
                .query("SENSe:CONTact", () -> contact ? "1" : "0")
                .command("SENSe:PULSe:COUNt", pulses::wanted)
                .command("SENSe:PULSe:ENERgy", pulses::energy)
                .command("SENSe:PULSe:TIME", pulses::seconds)
                .command("INITiate:PULSe", a -> begin())
                .query("FETCh:PULSe", () -> pulses.stands(time()))
                .query("FETCh", this::fetch);
    }

    /** Somebody closes or opens the contact at its input. */
    synchronized void contact(boolean closed) {
        contact = closed;
    }

    private double power() {
        double powerFactor = Math.cos(Math.toRadians(degrees));
        return (phase == 0 ? 3 : 1) * volts * amperes * powerFactor;
    }

    private void begin() {
        Installation at = meter;
        if (at == null || !isOn()) {
            pulses.begin(time(), 0, 0);
            return;
        }
        double share = amperes / at.rated();
        double rate = at.meter().creep() / 3600;
        double watts = power();
        if (share >= at.meter().starts()) {
            double error = at.meter().error(share, Math.cos(Math.toRadians(degrees)))
                    + (phase == 0 ? 0 : 0.06 * (phase - 2))
                    + 0.2 * fifth
                    + 0.02 * (random.nextDouble() - 0.5);
            rate = watts * (1 + error / 100) * at.constant() / 3.6e6;
        }
        pulses.begin(time(), watts * (1 + 1e-4 * (random.nextDouble() - 0.5)), rate);
    }

    @Override
    protected void started() {
        meter = site.installation(label());
        startedAt = time();
        elapsed = 0;
    }

    @Override
    protected void running() {
        double now = time() - startedAt;
        if (meter == null && amperes > 0 && now >= OPEN_AFTER) {
            elapsed = now;
            off("OPEN");
        } else if (now >= timeLimit) {
            elapsed = timeLimit;
            off("LIMIT");
        }
    }

    @Override
    protected void ended() {
        if (elapsed == 0) {
            elapsed = time() - startedAt;
        }
    }

    private String fetch() {
        double after = isOn() ? time() - startedAt : elapsed;
        return (isOn() ? "1," : "0,") + ScpiCommands.nr3(after) + "," + ScpiCommands.nr3(volts) + ","
                + ScpiCommands.nr3(meter == null ? 0 : amperes) + "," + ScpiCommands.nr3(degrees) + ","
                + (isOn() ? "ON" : reason());
    }

    @Override
    protected String settings() {
        return " " + ScpiCommands.nr3(volts) + " V " + ScpiCommands.nr3(amperes) + " A";
    }
}
