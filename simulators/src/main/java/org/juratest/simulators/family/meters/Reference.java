package org.juratest.simulators.family.meters;

import java.nio.ByteBuffer;
import java.util.SplittableRandom;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.meters.Installations.Installation;
import org.juratest.simulators.family.meters.Installations.Transformer;
import org.juratest.simulators.scpi.Harmless;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;

/** A reference standard beside a meter in service, with clamps and a head that sees pulses. */
final class Reference extends Harmless {

    private static final double RATE = 10_000;
    private static final double HERTZ = 49.98;
    /** How long hands take for a screw, s. */
    private static final double HANDS = 2;
    /** Share of a current that flows on beside a short. */
    private static final double LEFT = 0.0008;

    private final Site site;
    private final SplittableRandom random = new SplittableRandom(91);
    private final Pulses pulses = new Pulses(random);
    private double seconds = 0.2;
    private double integratedFrom;
    /** What the display told last: 1 to short, -1 to restore, 0 for nothing. */
    private int told;

    private double toldAt;

    Reference(String serial, Site site, StandInLog log) {
        super("reference-standard", "Brennach,RS-005," + serial + ",2.2", log);
        this.site = site;
        commands()
                .query("SENSe:WAVeform:RATE", () -> ScpiCommands.nr3(RATE))
                .command("SENSe:WAVeform:TIME", a -> seconds = ScpiCommands.number(a, 0.02, 1))
                .query("FETCh:WAVeform", this::waveform)
                .command("SENSe:PULSe:COUNt", pulses::wanted)
                .command("SENSe:PULSe:ENERgy", pulses::energy)
                .command("SENSe:PULSe:TIME", pulses::seconds)
                .command("INITiate:PULSe", a -> begin())
                .query("FETCh:PULSe", () -> pulses.stands(time()))
                .command("DISPlay:TEXT", a -> shown(ScpiCommands.string(a)))
                .query("MEASure:CLAMp", this::clamps)
                .query("MEASure:BURDen", this::burden)
                .query("MEASure:ENDS", this::ends)
                .command("INITiate:ENERgy", a -> integratedFrom = time())
                .query("FETCh:ENERgy", this::integrated);
    }

    private Installation here() {
        Installation at = site.installation(label());
        if (at == null) {
            throw ScpiError.settingsConflict("no voltage at its inputs");
        }
        return at;
    }

    private double near(double value, double share) {
        return value * (1 + share * (random.nextDouble() - 0.5));
    }

    private void begin() {
        Installation at = here();
        int energy = pulses.energy();
        double flows = Math.abs(energy == 0 ? at.watts() : energy == 1 ? at.vars() : at.voltAmperes());
        double watts = near(flows, 1e-4);
        double amperes = at.amperes().stream().mapToDouble(a -> a).average().orElse(0);
        double powerFactor = Math.cos(Math.toRadians(at.lag()));
        double error = at.meter().error(amperes / at.rated(), powerFactor) + 0.02 * (random.nextDouble() - 0.5);
        double all = energy == 0 ? error : at.meter().full() + at.meter().reactive();
        pulses.begin(time(), watts, flows * (1 + all / 100) * at.constant() / 3.6e6);
    }

    /** Since it was begun: s, Wh, varh, VAh. */
    private String integrated() {
        Installation at = here();
        double after = time() - integratedFrom;
        return ScpiCommands.nr3(after) + "," + ScpiCommands.nr3(near(Math.abs(at.watts()), 1e-4) * after / 3600) + ","
                + ScpiCommands.nr3(near(Math.abs(at.vars()), 1e-4) * after / 3600) + ","
                + ScpiCommands.nr3(near(at.voltAmperes(), 1e-4) * after / 3600);
    }

    /** At the terminals of a voltage transformer, at the meter behind its lead, and what it drives. */
    private String ends() {
        Installation at = here();
        int phase = Site.phase(label());
        if (phase < 0 || at.leads().isEmpty()) {
            throw ScpiError.settingsConflict("no voltage transformer at its inputs");
        }
        Installations.Lead lead = at.leads().get(phase);
        double volts = at.missing() == phase + 1 ? 0.004 * at.volts() : at.volts();
        double atTerminals = volts / (1 - lead.percent() / 100);
        double lags = Math.toDegrees(Math.acos(lead.powerFactor()));
        return ScpiCommands.nr3(near(atTerminals, 1e-4)) + ",0," + ScpiCommands.nr3(near(volts, 1e-4)) + ","
                + ScpiCommands.nr3(lead.minutes() / 60 + 2e-4 * (random.nextDouble() - 0.5)) + ","
                + ScpiCommands.nr3(near(lead.va() / at.volts() * (atTerminals / at.volts()), 2e-3)) + ","
                + ScpiCommands.nr3(-lags);
    }

    /** A few harmonics, as any supply has them. */
    private String waveform() {
        Installation at = here();
        int count = (int) Math.round(seconds * RATE);
        ByteBuffer out = ByteBuffer.allocate(24 * count);
        double start = 2 * Math.PI * random.nextDouble();
        double load = near(1, 0.02);
        for (int n = 0; n < count; n++) {
            double w = start + 2 * Math.PI * HERTZ * n / RATE;
            for (int k = 0; k < 3; k++) {
                // Without a neutral the leads lie between the wires and the second one.
                double u = voltage(at, k, w) - (at.wires() == 3 ? voltage(at, 1, w) : 0);
                out.putFloat((float) (u + at.volts() * 1e-4 * (random.nextDouble() - 0.5)));
            }
            for (int k = 0; k < 3; k++) {
                double a = w - k * 2 * Math.PI / 3 - Math.toRadians(at.lag());
                double i = at.clamped(k)
                        ? (at.reversed(k) ? -1 : 1) * load * at.amperes().get(k)
                        : 0;
                out.putFloat((float) (i * Math.sqrt(2) * (Math.cos(a) + 0.03 * Math.cos(7 * a))
                        + 2e-5 * at.rated() * (random.nextDouble() - 0.5)));
            }
        }
        return ScpiCommands.block(out.array());
    }

    private static double voltage(Installation at, int phase, double angle) {
        double a = angle - phase * 2 * Math.PI / 3;
        double u = !at.measures(phase) ? 0 : at.missing() == phase + 1 ? 0.004 : 1;
        return u * at.volts() * Math.sqrt(2) * (Math.cos(a) + 0.015 * Math.cos(5 * a));
    }

    /** Whoever stands at the test block does what the display says, a moment later. */
    private void shown(String words) {
        transformer();
        told = words.startsWith("short") ? 1 : words.startsWith("restore") ? -1 : 0;
        toldAt = time();
    }

    private void hands() {
        if (told != 0 && time() - toldAt >= HANDS) {
            site.shorted(label(), told > 0);
            told = 0;
        }
    }

    private Transformer transformer() {
        Transformer at = site.transformer(label());
        if (at == null) {
            throw ScpiError.settingsConflict("its clamps are around nothing");
        }
        return at;
    }

    private double secondary() {
        hands();
        int phase = Site.phase(label());
        return phase < 0 ? 0 : here().amperes().get(phase) * (site.isShorted(label()) ? LEFT : 1);
    }

    /** Both clamps: the primary one half a per cent, the secondary one three tenths. */
    private String clamps() {
        Transformer at = transformer();
        double amperes = secondary();
        double primary = amperes * at.ratio() / (1 + at.error() / 100);
        double degrees = (at.reversed() ? 180 : 0) + at.minutes() / 60 + 0.1 * (random.nextDouble() - 0.5);
        return ScpiCommands.nr3(near(primary, 0.005)) + ",0," + ScpiCommands.nr3(near(amperes, 0.003)) + ","
                + ScpiCommands.nr3(degrees);
    }

    private String burden() {
        Transformer at = transformer();
        double amperes = near(secondary(), 0.002);
        return ScpiCommands.nr3(near(amperes * at.loadOhms(), 0.002)) + ",0," + ScpiCommands.nr3(amperes) + ","
                + ScpiCommands.nr3(-at.loadDegrees());
    }
}
