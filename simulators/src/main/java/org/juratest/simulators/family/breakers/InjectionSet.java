package org.juratest.simulators.family.breakers;

import java.util.Locale;
import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;
import org.juratest.simulators.scpi.Watched;

/**
 * An injection set: three current ranges, a timer, a trip contact, a watchdog; a pole of a breaker or a phase of a
 * recloser between its leads. It holds a current until something trips, gives pulses, raises a current slowly, or gives
 * one unregulated and watches it come and go; what it digitised meanwhile can be fetched.
 */
final class InjectionSet extends Watched {

    /** Ranges: greatest current in A, and the voltage it can drive it with, V. */
    private static final double[][] RANGES = {{150, 12}, {1000, 6}, {5000, 8}};

    /** Own impedance of what drives an unregulated current, Ohm. */
    private static final double OWN_OHMS = 0.06;

    private static final double OPEN_AFTER = 0.1;
    /** What is still watched after a pulse, s. */
    private static final double TAIL = 0.06;

    /** What it does with its output. */
    private enum Mode {
        /** Holds the current until the contact says that something tripped. */
        TIMED,
        PULSE,
        RAMP,
        /** Gives the current unregulated, whatever opens and closes. */
        SUSTAINED,
        /** Holds a current that may be set anew while it flows. */
        ADJUSTABLE
    }

    private final Plant plant;
    private final SplittableRandom random = new SplittableRandom(52);
    private double set;
    private double range = RANGES[0][0];
    private double timeLimit = 10;
    private Mode mode = Mode.TIMED;
    private double pulse = 0.1;
    private double degrees;
    private double rampFrom;
    private double rampRate = 1;
    private @Nullable Load load;
    private @Nullable Digitiser digitiser;
    private Plant.@Nullable Pole pole;
    private double startedAt;
    private double adjustedAt;
    private double current;
    private double voltage;
    private double tripAfter;
    private double elapsed;

    InjectionSet(String serial, Plant plant, StandInLog log) {
        super("injection", "Brennach,PI-5000," + serial + ",2.4", log);
        this.plant = plant;
        commands()
                .command("SOURce:CURRent", this::amount)
                .query("SOURce:CURRent", () -> ScpiCommands.nr3(set))
                .command("SOURce:CURRent:RANGe", this::selectRange)
                .query("SOURce:CURRent:RANGe", () -> ScpiCommands.nr3(range))
                .query("SOURce:CURRent:RANGe:CATalog", InjectionSet::catalog)
                .command("SOURce:TIME:LIMit", a -> timeLimit = ScpiCommands.number(a, 0.01, 36000))
                .query("SOURce:TIME:LIMit", () -> ScpiCommands.nr3(timeLimit))
                .command("SOURce:MODE", a -> mode = mode(a))
                .query("SOURce:MODE", () -> mode.name())
                .command("SOURce:PULSe:TIME", a -> pulse = ScpiCommands.number(a, 0.005, 5))
                .command("SOURce:PULSe:ANGLe", a -> degrees = ScpiCommands.number(a, 0, 360))
                .command("SOURce:RAMP:STARt", a -> rampFrom = ScpiCommands.number(a, 0, RANGES[2][0]))
                .command("SOURce:RAMP:RATE", a -> rampRate = ScpiCommands.number(a, 0.001, 10_000))
                .query("SENSe:DATA:RATE", () -> ScpiCommands.nr3(Digitiser.RATE))
                .query("SENSe:DATA", () -> ScpiCommands.block(digitiser == null ? new byte[0] : digitiser.bytes()))
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

    private Mode mode(String argument) {
        if (isOn()) {
            throw ScpiError.settingsConflict("the output is on");
        }
        for (Mode known : Mode.values()) {
            if (known.name().equalsIgnoreCase(argument.trim())) {
                return known;
            }
        }
        throw ScpiError.outOfRange("TIMED, PULSE, RAMP, SUSTAINED or ADJUSTABLE");
    }

    private void amount(String argument) {
        double wanted = ScpiCommands.number(argument, 0.1, RANGES[2][0]);
        if (isOn() && (mode != Mode.ADJUSTABLE || wanted > range)) {
            throw ScpiError.settingsConflict("the output is on");
        }
        set = wanted;
        if (isOn()) {
            adjusting();
            flow();
        }
    }

    /** What flows of what is set, as the circuit lets it. */
    private void flow() {
        boolean open = load == null || pole != null && pole.open();
        double ohms = open || load == null ? 1e6 : load.ohms();
        current = Math.min(set * (1 + 0.0012 * (random.nextDouble() - 0.5)), compliance() / ohms);
        voltage = Math.min(compliance(), current * ohms);
    }

    /** What flowed since it was looked at last heats and moves what it flows through. */
    private void adjusting() {
        if (load == null || !load.isClosed()) {
            return;
        }
        double now = time();
        // In small steps, as what moves within one would be overlooked.
        while (adjustedAt < now && load.isClosed()) {
            double step = Math.min(0.005, now - adjustedAt);
            load.flows(current, step, adjustedAt);
            adjustedAt += step;
        }
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
        load = plant.load(label());
        digitiser = null;
        startedAt = time();
        elapsed = 0;
        if (mode == Mode.ADJUSTABLE) {
            if (load != null) {
                load.closedByHand(time());
            }
            adjustedAt = time();
            flow();
            return;
        }
        if (load != null && mode != Mode.TIMED) {
            load.closedByHand(time());
            digitised(load);
            return;
        }
        boolean open = load == null || pole != null && pole.open();
        double ohms = open || load == null ? 1e6 : load.ohms();
        double wanted = set * (1 + 0.0012 * (random.nextDouble() - 0.5));
        current = Math.min(wanted, compliance() / ohms);
        voltage = Math.min(compliance(), current * ohms);
        tripAfter =
                open || pole == null || mode != Mode.TIMED ? Double.POSITIVE_INFINITY : pole.tripAfter(current, time());
        // A pole's own scatter from one operation to the next.
        tripAfter *= 1 + 0.01 * (random.nextDouble() - 0.5);
    }

    private void digitised(Load on) {
        double most = compliance() / on.ohms();
        double to = set * (1 + 0.0012 * (random.nextDouble() - 0.5));
        voltage = Math.min(compliance(), to * on.ohms());
        Digitiser.Wanted wanted =
                switch (mode) {
                    case PULSE -> t -> t < pulse ? to : 0;
                    case RAMP -> t -> Math.min(to, rampFrom + rampRate * t);
                    // Not regulated: the gear's own impedance and the load share its voltage.
                    default -> t -> to * OWN_OHMS / (OWN_OHMS + on.ohms());
                };
        digitiser = new Digitiser(on, wanted, degrees, most, range, mode == Mode.SUSTAINED, time(), random.split());
    }

    /** Goes on with what is digitised; off when it is over. */
    private void digitising(Digitiser by) {
        double now = time() - startedAt;
        double end = mode == Mode.PULSE ? pulse + TAIL : timeLimit;
        by.to(Math.min(now, end));
        if (mode == Mode.PULSE && now >= end) {
            elapsed = pulse;
            off(load != null && load.isClosed() ? "LIMIT" : "TRIP");
        } else if (now >= end || by.isFull()) {
            elapsed = by.seconds();
            off("LIMIT");
        }
    }

    @Override
    protected String settings() {
        return String.format(Locale.ROOT, " %.6g A", set);
    }

    @Override
    protected void running() {
        if (digitiser != null) {
            digitising(digitiser);
            return;
        }
        double now = time() - startedAt;
        boolean open = load == null || pole != null && pole.open();
        if (mode == Mode.ADJUSTABLE) {
            adjusting();
            if (load != null && !open && !load.isClosed()) {
                elapsed = adjustedAt - startedAt;
                off("TRIP");
                return;
            }
            tripAfter = Double.POSITIVE_INFINITY;
        }
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
        if (digitiser != null) {
            digitiser.to(Math.min(elapsed, timeLimit));
        } else if (mode != Mode.ADJUSTABLE && pole != null && !pole.open()) {
            pole.element().heated(current, elapsed, time());
        }
    }

    private double elapsedNow() {
        return isOn() ? time() - startedAt : elapsed;
    }

    private double measuredCurrent() {
        if (digitiser != null) {
            return isOn() ? digitiser.rms() : 0;
        }
        return isOn() ? current * (1 + 0.0004 * (random.nextDouble() - 0.5)) : 0;
    }

    /** Output, elapsed, rms current (of the whole injection once off), voltage, reason. */
    private String fetch() {
        return (isOn() ? "1," : "0,") + ScpiCommands.nr3(elapsedNow()) + ","
                + ScpiCommands.nr3(isOn() ? measuredCurrent() : digitiser == null ? current : digitiser.mean()) + ","
                + ScpiCommands.nr3(voltage) + ","
                + (isOn() ? "ON" : reason());
    }
}
