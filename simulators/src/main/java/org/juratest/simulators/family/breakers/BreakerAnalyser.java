package org.juratest.simulators.family.breakers;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;
import org.juratest.simulators.scpi.Watched;

/**
 * An analyser of breakers: gives a voltage to the coil of a command, and records three contacts, the travel and the
 * current of the coil. Whoever puts its leads on makes the breaker ready for the command: closed for opening, open and
 * charged for closing.
 */
final class BreakerAnalyser extends Watched {

    private static final double GREATEST = 300;
    private static final double COIL = 52;

    /** A command it can give. */
    private enum Command {
        OPEN,
        CLOSE,
        CLOSEOPEN
    }

    private final Plant plant;
    private final SplittableRandom random = new SplittableRandom(91);
    private Command command = Command.OPEN;
    private double voltage;
    private double seconds = 0.3;
    private double startedAt;
    private Mechanism.@Nullable Run run;
    private byte[] data = new byte[0];

    BreakerAnalyser(String serial, Plant plant, StandInLog log) {
        super("breaker-analyser", "Brennach,BA-3," + serial + ",1.2", log);
        this.plant = plant;
        commands()
                .command("SOURce:VOLTage", a -> voltage = ScpiCommands.number(a, 6, GREATEST))
                .query("SOURce:VOLTage", () -> ScpiCommands.nr3(voltage))
                .command("SOURce:COMMand", a -> command = command(a))
                .query("SOURce:COMMand", () -> command.name())
                .command("SOURce:TIME", a -> seconds = ScpiCommands.number(a, 0.05, 2))
                .query("SOURce:TIME", () -> ScpiCommands.nr3(seconds))
                .query(
                        "MEASure:COIL:RESistance",
                        () -> ScpiCommands.nr3(plant.switching(label()) == null ? Double.POSITIVE_INFINITY : COIL))
                .query("SENSe:DATA:RATE", () -> ScpiCommands.nr3(Mechanism.RATE))
                .query("SENSe:DATA:CHANnels", () -> run == null ? "0" : String.valueOf(run.contacts().length))
                .query("SENSe:DATA", () -> ScpiCommands.block(data))
                .query("FETCh", () -> (isOn() ? "1," : "0,") + (isOn() ? "ON" : reason()));
    }

    private Command command(String argument) {
        if (isOn()) {
            throw ScpiError.settingsConflict("the output is on");
        }
        for (Command known : Command.values()) {
            if (known.name().equalsIgnoreCase(argument.trim())) {
                return known;
            }
        }
        throw ScpiError.outOfRange("OPEN, CLOSE or CLOSEOPEN");
    }

    @Override
    protected void started() {
        MvBreakers.MvBreaker breaker = plant.switching(label());
        startedAt = time();
        run = null;
        data = new byte[0];
        if (breaker != null) {
            run = new Mechanism(breaker, random.split())
                    .run(command != Command.OPEN, command != Command.CLOSE, true, voltage, seconds);
            plant.operated(breaker.position(), command == Command.CLOSEOPEN ? 2 : 1);
        }
    }

    @Override
    protected void running() {
        if (time() - startedAt >= seconds) {
            off("LIMIT");
        }
    }

    /** What it holds: travel, coil, then the contacts, channel by channel, 32-bit numbers, high byte first. */
    @Override
    protected void ended() {
        if (run == null) {
            return;
        }
        // What was stopped before its end was recorded until then.
        int n = (int) Math.min(
                run.travel().length, (Math.min(seconds, time() - startedAt) + Mechanism.BEFORE) * Mechanism.RATE);
        ByteBuffer buffer =
                ByteBuffer.allocate(4 * n * (2 + run.contacts().length)).order(ByteOrder.BIG_ENDIAN);
        put(buffer, run.travel(), n);
        put(buffer, run.coil(), n);
        for (float[] contact : run.contacts()) {
            put(buffer, contact, n);
        }
        data = buffer.array();
    }

    private static void put(ByteBuffer into, float[] channel, int n) {
        for (int i = 0; i < n; i++) {
            into.putFloat(channel[i]);
        }
    }

    @Override
    protected String settings() {
        return " " + command + " " + ScpiCommands.nr3(voltage) + " V";
    }
}
