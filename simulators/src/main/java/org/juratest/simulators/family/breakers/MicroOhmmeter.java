package org.juratest.simulators.family.breakers;

import java.util.SplittableRandom;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;
import org.juratest.simulators.scpi.Watched;

/** A micro-ohmmeter: up to 10 A direct current, four wires, ranges by decade. */
final class MicroOhmmeter extends Watched {

    private static final double[] RANGES = {1e-3, 10e-3, 100e-3, 1};
    private static final double LONGEST = 60;

    private final Plant plant;
    private final SplittableRandom random = new SplittableRandom(77);
    private double set = 1;
    private double startedAt;
    private double resistance = Double.NaN;
    private double current;
    private double range = RANGES[0];

    MicroOhmmeter(String serial, Plant plant, StandInLog log) {
        super("micro-ohmmeter", "Brennach,MO-10," + serial + ",1.9", log);
        this.plant = plant;
        commands()
                .command("SOURce:CURRent", a -> set = ScpiCommands.number(a, 0.1, 10))
                .query("SOURce:CURRent", () -> ScpiCommands.nr3(set))
                .command("INITiate", a -> measure())
                .query(
                        "FETCh:RESistance",
                        () -> ScpiCommands.nr3(resistance) + "," + ScpiCommands.nr3(current) + ","
                                + ScpiCommands.nr3(range))
                .query("MEASure:CURRent", () -> ScpiCommands.nr3(isOn() ? set : 0));
    }

    private void measure() {
        if (!isOn()) {
            throw ScpiError.settingsConflict("the output is off");
        }
        Double microhms = plant.microhms(label());
        if (microhms == null) {
            resistance = Double.POSITIVE_INFINITY;
            current = 0;
            return;
        }
        current = set * (1 + 0.0006 * (random.nextDouble() - 0.5));
        resistance = microhms * 1e-6 * (1 + 0.002 * (random.nextDouble() - 0.5));
        for (double candidate : RANGES) {
            range = candidate;
            if (resistance <= candidate) {
                return;
            }
        }
    }

    @Override
    protected void started() {
        startedAt = time();
        resistance = Double.NaN;
    }

    @Override
    protected void ended() {
        current = 0;
    }

    @Override
    protected void running() {
        if (time() - startedAt > LONGEST * Math.max(1, factor())) {
            off("LIMIT");
        }
    }
}
