package org.juratest.simulators.family.breakers;

import java.util.Locale;
import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;
import org.juratest.simulators.scpi.Watched;

/** An injection set: three current ranges, a timer, a trip contact, a watchdog; a breaker's pole between its leads. */
final class InjectionSet extends Watched {

    /** Ranges: greatest current in A, and the voltage it can drive it with, V. */
    private static final double[][] RANGES = {{150, 12}, {1000, 6}, {3000, 3}};

    private static final double OPEN_AFTER = 0.1;

    private final Plant plant;
    private final SplittableRandom random = new SplittableRandom(52);
    private double set;
    private double range = RANGES[0][0];
    private double timeLimit = 10;
    private Plant.@Nullable Pole pole;
    private double startedAt;
    private double current;
    private double voltage;
    private double tripAfter;
    private double elapsed;

    InjectionSet(String serial, Plant plant, StandInLog log) {
        super("injection", "Brennach,PI-3000," + serial + ",2.4", log);
        this.plant = plant;
        commands()
                .command("SOURce:CURRent", a -> set = ScpiCommands.number(a, 0.1, RANGES[2][0]))
                .query("SOURce:CURRent", () -> ScpiCommands.nr3(set))
                .command("SOURce:CURRent:RANGe", this::selectRange)
                .query("SOURce:CURRent:RANGe", () -> ScpiCommands.nr3(range))
                .query("SOURce:CURRent:RANGe:CATalog", InjectionSet::catalog)
                .command("SOURce:TIME:LIMit", a -> timeLimit = ScpiCommands.number(a, 0.01, 36000))
                .query("SOURce:TIME:LIMit", () -> ScpiCommands.nr3(timeLimit))
                .query("MEASure:CURRent", () -> ScpiCommands.nr3(measuredCurrent()))
                .query("MEASure:VOLTage", () -> ScpiCommands.nr3(isOn() ? voltage : 0))
                .query("SENSe:TIME", () -> ScpiCommands.nr3(elapsedNow()))
                .query(
                        "SENSe:TRIP",
                        () -> reason().equals("TRIP") && !isOn()
                                ? ScpiCommands.nr3(elapsed)
                                : ScpiCommands.nr3(Double.NaN))
                .query("FETCh", this::fetch);
    }

    private static String catalog() {
        StringBuilder text = new StringBuilder();
        for (double[] row : RANGES) {
            text.append(text.isEmpty() ? "" : ",").append(String.format(Locale.ROOT, "%.8E,%.8E", row[0], row[1]));
        }
        return text.toString();
    }

    private void selectRange(String argument) {
        double wanted = ScpiCommands.number(argument, 0.1, RANGES[2][0]);
        if (isOn()) {
            throw ScpiError.settingsConflict("the output is on");
        }
        for (double[] row : RANGES) {
            if (wanted <= row[0]) {
                range = row[0];
                return;
            }
        }
    }

    private double compliance() {
        for (double[] row : RANGES) {
            if (row[0] == range) {
                return row[1];
            }
        }
        throw new IllegalStateException("no range of " + range);
    }

    @Override
    protected void started() {
        if (set > range) {
            throw ScpiError.settingsConflict("the current is above the range");
        }
        pole = plant.at(label());
        startedAt = time();
        elapsed = 0;
        boolean open = pole == null || pole.open();
        double ohms = open || pole == null ? 1e6 : pole.loop();
        double wanted = set * (1 + 0.0012 * (random.nextDouble() - 0.5));
        current = Math.min(wanted, compliance() / ohms);
        voltage = Math.min(compliance(), current * ohms);
        tripAfter = open || pole == null
                ? Double.POSITIVE_INFINITY
                : current >= pole.magnetic() ? 0.018 : pole.element().timeToTrip(current, time());
        // A pole's own scatter from one operation to the next.
        tripAfter *= 1 + 0.01 * (random.nextDouble() - 0.5);
    }

    @Override
    protected String settings() {
        return String.format(Locale.ROOT, " %.6g A", set);
    }

    @Override
    protected void running() {
        double now = time() - startedAt;
        boolean open = pole == null || pole.open();
        if (now >= tripAfter && tripAfter <= timeLimit) {
            elapsed = tripAfter;
            off("TRIP");
        } else if (now >= timeLimit) {
            elapsed = timeLimit;
            off("LIMIT");
        } else if (open && now >= OPEN_AFTER * Math.max(1, factor())) {
            elapsed = now;
            off("OPEN");
        }
    }

    @Override
    protected void ended() {
        if (elapsed == 0) {
            elapsed = time() - startedAt;
        }
        if (pole != null && !pole.open()) {
            pole.element().heated(current, elapsed, time());
        }
    }

    private double elapsedNow() {
        return isOn() ? time() - startedAt : elapsed;
    }

    private double measuredCurrent() {
        return isOn() ? current * (1 + 0.0004 * (random.nextDouble() - 0.5)) : 0;
    }

    /** Output, elapsed, rms current (of the whole injection once off), voltage, reason. */
    private String fetch() {
        return (isOn() ? "1," : "0,") + ScpiCommands.nr3(elapsedNow()) + ","
                + ScpiCommands.nr3(isOn() ? measuredCurrent() : current) + "," + ScpiCommands.nr3(voltage) + ","
                + (isOn() ? "ON" : reason());
    }
}
