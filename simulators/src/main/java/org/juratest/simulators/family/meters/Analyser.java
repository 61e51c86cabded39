package org.juratest.simulators.family.meters;

import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.meters.Installations.Transformer;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;
import org.juratest.simulators.scpi.Watched;

/** Winding, core and ratio of a current transformer by itself. A direct current leaves its core magnetised. */
final class Analyser extends Watched {

    private static final double OPEN_AFTER = 0.3;
    private static final double MOST_VOLTS = 2000;
    private static final double MOST_AMPERES = 10;
    /** What a demagnetising that reaches less far than this part of the knee leaves as it was. */
    private static final double FAR_ENOUGH = 0.8;

    private enum Mode {
        /** How long each takes, s. */
        WINDING(4),
        DEMAGNETISE(8),
        EXCITATION(12),
        RATIO(2),
        /** Of a voltage transformer, fed at its primary. */
        VTRATIO(2);

        private final double seconds;

        Mode(double seconds) {
            this.seconds = seconds;
        }
    }

    private final Site site;
    private final Runnable changed;
    private final SplittableRandom random = new SplittableRandom(103);
    private Mode mode = Mode.WINDING;
    private double volts = 1;
    private double amperes = 0.1;
    private int points = 20;
    private double timeLimit = 30;
    private double startedAt;
    private double elapsed;
    private @Nullable Transformer on;
    private List<double[]> curve = List.of();

    Analyser(String serial, Site site, StandInLog log, Runnable changed) {
        super("transformer-analyser", "Brennach,TA-2," + serial + ",3.3", log);
        this.site = site;
        this.changed = changed;
        commands()
                .command("SOURce:MODE", a -> mode = chosen(a))
                .command("SOURce:VOLTage", a -> volts = ScpiCommands.number(a, 0, MOST_VOLTS))
                .command("SOURce:CURRent", a -> amperes = ScpiCommands.number(a, 0, MOST_AMPERES))
                .command("SOURce:POINts", a -> points = (int) ScpiCommands.number(a, 5, 200))
                .command("SOURce:TIME:LIMit", a -> timeLimit = ScpiCommands.number(a, 1, 3600))
                .query("FETCh:CURVe", this::taken)
                .query("FETCh:PRIMary", this::other)
                .query("FETCh:SECondary", this::other)
                .query("FETCh", this::fetch);
    }

    private Mode chosen(String argument) {
        if (isOn()) {
            throw ScpiError.settingsConflict("the output is on");
        }
        for (Mode known : Mode.values()) {
            if (known.name().equalsIgnoreCase(argument.trim())) {
                return known;
            }
        }
        throw ScpiError.outOfRange(java.util.Arrays.toString(Mode.values()));
    }

    @Override
    protected void started() {
        on = site.transformer(label());
        startedAt = time();
        elapsed = 0;
        curve = List.of();
    }

    @Override
    protected void running() {
        double now = time() - startedAt;
        Transformer at = on;
        if (at == null) {
            if (now >= OPEN_AFTER) {
                elapsed = now;
                off("OPEN");
            }
        } else if (now >= mode.seconds && mode.seconds <= timeLimit) {
            elapsed = mode.seconds;
            done(at);
            off("DONE");
        } else if (now >= timeLimit) {
            elapsed = timeLimit;
            off("LIMIT");
        }
    }

    private void done(Transformer at) {
        switch (mode) {
            case WINDING -> site.change(label(), at.with("magnetised", 1));
            case DEMAGNETISE -> {
                if (volts >= FAR_ENOUGH * at.kneeVolts()) {
                    site.change(label(), at.with("magnetised", 0));
                }
            }
            case EXCITATION -> curve = taken(at);
            case RATIO, VTRATIO -> {
                // Its voltages are asked for afterwards.
            }
        }
        changed.run();
    }

    private List<double[]> taken(Transformer at) {
        List<double[]> taken = new ArrayList<>();
        for (int n = 0; n < points; n++) {
            double v = volts * Math.pow(0.01, 1 - n / (points - 1.0));
            double i = at.magnetising(v) * (1 + 0.002 * (random.nextDouble() - 0.5));
            if (i > amperes) {
                break;
            }
            taken.add(new double[] {i, v});
        }
        return taken;
    }

    private String taken() {
        ByteBuffer out = ByteBuffer.allocate(8 * curve.size());
        curve.forEach(p -> out.putFloat((float) p[0]).putFloat((float) p[1]));
        return ScpiCommands.block(out.array());
    }

    /** The voltage on the side that is not fed, and its angle: by the same turns from either side. */
    private String other() {
        Transformer at = on;
        if (at == null) {
            return "0,0";
        }
        double measured = volts / at.ratio() * (1 + at.error() / 100) * (1 + 4e-4 * (random.nextDouble() - 0.5));
        double degrees = mode == Mode.VTRATIO ? at.minutes() / 60 : 0.2;
        return ScpiCommands.nr3(measured) + "," + ScpiCommands.nr3((at.reversed() ? 180 : 0) + degrees);
    }

    @Override
    protected void ended() {
        if (elapsed == 0) {
            elapsed = time() - startedAt;
        }
    }

    private String fetch() {
        Transformer at = on;
        double after = isOn() ? time() - startedAt : elapsed;
        double u = mode == Mode.WINDING ? at == null ? 0 : amperes * at.resistance() : volts;
        double i = at == null
                ? 0
                : mode == Mode.WINDING ? amperes : Math.min(amperes > 0 ? amperes : 1, at.magnetising(u));
        return (isOn() ? "1," : "0,") + ScpiCommands.nr3(after) + "," + ScpiCommands.nr3(u) + "," + ScpiCommands.nr3(i)
                + ",0," + (isOn() ? "ON" : reason());
    }

    @Override
    protected String settings() {
        return " " + mode;
    }
}
