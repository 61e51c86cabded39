package org.juratest.simulators.family.breakers;

import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;
import org.juratest.simulators.scpi.Watched;

/**
 * A tester of residual-current devices at a live socket behind them: a residual current that is held or grows in steps,
 * a timer, and the voltage that the protective conductor would take. Whoever works with it switches the device on again
 * before the next test.
 */
final class EarthTester extends Watched {

    private static final double GREATEST = 5;
    private static final double OPEN_AFTER = 0.2;
    /** Loop that the current also runs through, Ohm. */
    private static final double LOOP = 0.4;

    private enum Mode {
        HELD,
        STEPS
    }

    private final Plant plant;
    private final SplittableRandom random = new SplittableRandom(61);
    private Mode mode = Mode.HELD;
    private double set = 0.03;
    private double degrees;
    private double timeLimit = 1;
    private double from = 0.006;
    private int steps = 10;
    private double each = 0.3;
    private double touched = 0.03;
    private double startedAt;
    private double tripAfter;
    private double elapsed;
    private ResidualDevices.@Nullable ResidualDevice device;

    EarthTester(String serial, Plant plant, StandInLog log) {
        super("residual-tester", "Brennach,RT-2," + serial + ",1.1", log);
        this.plant = plant;
        commands()
                .command("SOURce:MODE", a -> mode = mode(a))
                .query("SOURce:MODE", () -> mode.name())
                .command("SOURce:CURRent", a -> set = ScpiCommands.number(a, 0.001, GREATEST))
                .query("SOURce:CURRent", () -> ScpiCommands.nr3(set))
                .command("SOURce:ANGLe", a -> degrees = ScpiCommands.number(a, 0, 180))
                .command("SOURce:TIME:LIMit", a -> timeLimit = ScpiCommands.number(a, 0.01, 60))
                .command("SOURce:STEP:STARt", a -> from = ScpiCommands.number(a, 0.001, GREATEST))
                .command("SOURce:STEP:COUNt", a -> steps = (int) ScpiCommands.number(a, 2, 100))
                .command("SOURce:STEP:TIME", a -> each = ScpiCommands.number(a, 0.01, 10))
                .command("SENSe:TOUCh:CURRent", a -> touched = ScpiCommands.number(a, 0.001, GREATEST))
                .query("MEASure:TOUCh:VOLTage", () -> ScpiCommands.nr3(touch()))
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
        throw ScpiError.outOfRange("HELD or STEPS");
    }

    private double touch() {
        ResidualDevices.ResidualDevice at = plant.residual(label());
        return at == null ? Double.POSITIVE_INFINITY : touched * at.earth() * (1 + 0.01 * (random.nextDouble() - 0.5));
    }

    private double level(double after) {
        return mode == Mode.HELD
                ? set
                : from + (set - from) * Math.min(steps - 1, Math.floor(after / each)) / (steps - 1);
    }

    @Override
    protected void started() {
        device = plant.residual(label());
        startedAt = time();
        elapsed = 0;
        tripAfter = Double.POSITIVE_INFINITY;
        if (device == null) {
            return;
        }
        double stuck = plant.firstOperation(label()) ? device.sticks() : 0;
        double scatter = 1 + 0.04 * (random.nextDouble() - 0.5);
        int levels = mode == Mode.HELD ? 1 : steps;
        for (int k = 0; k < levels && tripAfter == Double.POSITIVE_INFINITY; k++) {
            double takes = device.timeAt(level(k * each + each / 2), degrees) * scatter + stuck;
            if (takes <= (mode == Mode.HELD ? timeLimit : each)) {
                tripAfter = k * each + takes;
            }
        }
    }

    private double limit() {
        return mode == Mode.HELD ? timeLimit : steps * each;
    }

    @Override
    protected void running() {
        double now = time() - startedAt;
        if (device == null) {
            if (now >= OPEN_AFTER) {
                elapsed = now;
                off("OPEN");
            }
        } else if (now >= tripAfter) {
            elapsed = tripAfter;
            plant.operatedResidual(label());
            off("TRIP");
        } else if (now >= limit()) {
            elapsed = limit();
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
        double current = device == null ? 0 : level(Math.max(0, after - 1e-6));
        return (isOn() ? "1," : "0,") + ScpiCommands.nr3(after) + "," + ScpiCommands.nr3(current) + ","
                + ScpiCommands.nr3(current * LOOP) + ","
                + (isOn() ? "ON" : reason());
    }

    @Override
    protected String settings() {
        return " " + ScpiCommands.nr3(set) + " A";
    }
}
