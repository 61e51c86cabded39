package org.juratest.simulators.family.radios;

import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.Watched;

/** A signal generator on a combiner beside the test set. */
final class SecondGenerator extends Watched {

    private static final double GREATEST = 13;
    private static final double PATH = 30;

    private final RadioBench bench;
    private double frequency = 155e6;
    private double level = -140;
    private double deviation = 1500;
    private double tone = 400;

    SecondGenerator(String serial, RadioBench bench, StandInLog log) {
        super("second-generator", "Orbessa,SG-2," + serial + ",1.4", log);
        this.bench = bench;
        commands()
                .command("SOURce:FREQuency", a -> set(() -> frequency = ScpiCommands.number(a, 1e6, 1e9)))
                .command("SOURce:POWer", a -> set(() -> level = ScpiCommands.number(a, -150, GREATEST)))
                .query("SOURce:POWer:MAXimum", () -> ScpiCommands.nr3(GREATEST))
                .command("SOURce:DEViation", a -> set(() -> deviation = ScpiCommands.number(a, 0, 50_000)))
                .command("SOURce:FM:INTernal:FREQuency", a -> set(() -> tone = ScpiCommands.number(a, 10, 20_000)));
    }

    private void set(Runnable change) {
        change.run();
        if (isOn()) {
            started();
        }
    }

    @Override
    protected void started() {
        bench.other(new SimulatedRadio.Arriving(frequency, level - PATH, deviation, tone, false));
    }

    @Override
    protected void ended() {
        bench.other(null);
    }

    @Override
    protected void running() {
        // Until it is switched off.
    }
}
