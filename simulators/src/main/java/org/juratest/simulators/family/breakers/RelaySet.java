package org.juratest.simulators.family.breakers;

import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;
import org.juratest.simulators.scpi.Watched;

/**
 * A set for secondary injection: a voltage, a current and another one, each at its angle, held until a contact of the
 * relay closes; or a current that grows in steps until it does and falls until it opens.
 */
final class RelaySet extends Watched {

    private static final double MOST_AMPERES = 30;
    private static final double MOST_VOLTS = 150;
    private static final double OPEN_AFTER = 0.1;
    /** Until a start contact closes, s. */
    private static final double STARTS = 0.022;

    private enum Mode {
        HELD,
        RAMP
    }

    private enum Contact {
        START,
        TRIP
    }

    private final Plant plant;
    private final SplittableRandom random = new SplittableRandom(73);
    private Mode mode = Mode.HELD;
    private Contact contact = Contact.TRIP;
    private double current;
    private double degrees;
    private double volts;
    private double other;
    private double otherDegrees;
    private double timeLimit = 10;
    private double from = 0.1;
    private double step = 0.01;
    private double dwell = 0.1;
    private Relays.@Nullable Relay relay;
    private double startedAt;
    private double closesAfter;
    private double elapsed;
    private double pickedUp = Double.NaN;
    private double droppedOff = Double.NaN;

    RelaySet(String serial, Plant plant, StandInLog log) {
        super("relay-test-set", "Brennach,RT-6," + serial + ",3.0", log);
        this.plant = plant;
        commands()
                .command("SOURce:MODE", a -> mode = chosen(Mode.class, a))
                .command("SENSe:CONTact", a -> contact = chosen(Contact.class, a))
                .command("SOURce:CURRent", a -> current = ScpiCommands.number(a, 0, MOST_AMPERES))
                .command("SOURce:CURRent:ANGLe", a -> degrees = ScpiCommands.number(a, -360, 360))
                .command("SOURce:VOLTage", a -> volts = ScpiCommands.number(a, 0, MOST_VOLTS))
                .command("SOURce:CURRent2", a -> other = ScpiCommands.number(a, 0, MOST_AMPERES))
                .command("SOURce:CURRent2:ANGLe", a -> otherDegrees = ScpiCommands.number(a, -360, 360))
                .command("SOURce:TIME:LIMit", a -> timeLimit = ScpiCommands.number(a, 0.01, 3600))
                .command("SOURce:RAMP:STARt", a -> from = ScpiCommands.number(a, 0, MOST_AMPERES))
                .command("SOURce:RAMP:STEP", a -> step = ScpiCommands.number(a, 1e-4, MOST_AMPERES))
                .command("SOURce:RAMP:DWELl", a -> dwell = ScpiCommands.number(a, 0.01, 10))
                .query("SOURce:CURRent", () -> ScpiCommands.nr3(current))
                .query("SENSe:RAMP", () -> ScpiCommands.nr3(pickedUp) + "," + ScpiCommands.nr3(droppedOff))
                .query("FETCh", this::fetch);
    }

    private <E extends Enum<E>> E chosen(Class<E> of, String argument) {
        if (isOn()) {
            throw ScpiError.settingsConflict("the output is on");
        }
        for (E known : of.getEnumConstants()) {
            if (known.name().equalsIgnoreCase(argument.trim())) {
                return known;
            }
        }
        throw ScpiError.outOfRange(java.util.Arrays.toString(of.getEnumConstants()));
    }

    @Override
    protected void started() {
        relay = plant.relay(label());
        startedAt = time();
        elapsed = 0;
        pickedUp = Double.NaN;
        droppedOff = Double.NaN;
        closesAfter = Double.POSITIVE_INFINITY;
        if (relay != null && mode == Mode.HELD) {
            boolean starts = relay.starts(current, degrees, volts, other, otherDegrees);
            closesAfter = contact == Contact.START
                    ? starts ? STARTS : Double.POSITIVE_INFINITY
                    : relay.timeAt(current) * (1 + 0.004 * (random.nextDouble() - 0.5));
        } else if (relay != null) {
            ramped(relay);
        }
    }

    /** Where the contact closes on the way up and opens on the way down: the level of the step it is at then. */
    private void ramped(Relays.Relay by) {
        int up = 0;
        double level = from;
        while (level <= current + step / 2 && !by.starts(level, 0, 0, 0, 0)) {
            level = from + ++up * step;
        }
        if (level > current + step / 2) {
            return;
        }
        pickedUp = level;
        int down = 0;
        while (level > 0 && level > by.setting() * by.pickUp() * by.ratio()) {
            level = pickedUp - ++down * step;
        }
        droppedOff = Math.max(0, level);
        closesAfter = (up + down + 1) * dwell;
    }

    @Override
    protected void running() {
        double now = time() - startedAt;
        if (relay == null) {
            if (now >= OPEN_AFTER) {
                elapsed = now;
                off("OPEN");
            }
        } else if (now >= closesAfter && closesAfter <= timeLimit) {
            elapsed = closesAfter;
            off("TRIP");
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

    private double level(double after) {
        if (mode == Mode.HELD) {
            return current;
        }
        double grown = from + Math.floor(after / dwell) * step;
        return Double.isNaN(pickedUp) || grown <= pickedUp
                ? Math.min(grown, current)
                : Math.max(0, 2 * pickedUp - grown);
    }

    private String fetch() {
        double after = isOn() ? time() - startedAt : elapsed;
        return (isOn() ? "1," : "0,") + ScpiCommands.nr3(after) + ","
                + ScpiCommands.nr3(relay == null ? 0 : level(after)) + "," + ScpiCommands.nr3(volts) + ","
                + (isOn() ? "ON" : reason());
    }

    @Override
    protected String settings() {
        return " " + ScpiCommands.nr3(current) + " A";
    }
}
