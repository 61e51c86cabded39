package org.juratest.simulators.family.meters;

import java.util.SplittableRandom;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;

/** The pulses of a meter, as a head sees them, and the energy of a reference between them. */
final class Pulses {

    private static final java.util.List<String> ENERGIES = java.util.List.of("ACT", "REAC", "APP");

    private final SplittableRandom random;
    private int energy;
    private long wanted = 10;
    private double seconds = 60;
    private double began = Double.NaN;
    private double phase;
    private double rate;
    private double watts;

    Pulses(SplittableRandom random) {
        this.random = random;
    }

    /** Which energy a head sees pulses for, 0 to 2. */
    void energy(String argument) {
        int index = ENERGIES.indexOf(argument.trim().toUpperCase(java.util.Locale.ROOT));
        if (index < 0) {
            throw ScpiError.outOfRange(ENERGIES.toString());
        }
        energy = index;
    }

    int energy() {
        return energy;
    }

    void wanted(String argument) {
        wanted = Math.round(ScpiCommands.number(argument, 1, 1e6));
    }

    void seconds(String argument) {
        seconds = ScpiCommands.number(argument, 0.1, 86_400);
    }

    /**
     * A count begins.
     *
     * @param now the gear's time, s
     * @param power W that flow, as the reference sees them
     * @param pulses a second that the meter gives
     */
    void begin(double now, double power, double pulses) {
        began = now;
        phase = random.nextDouble();
        watts = power;
        rate = pulses;
    }

    private long edges(double after) {
        return (long) Math.floor(rate * after + phase);
    }

    /** Over, pulses after the first, Wh between the first and the last, elapsed, W. */
    String stands(double now) {
        if (Double.isNaN(began)) {
            return "1,-1,0,0,0";
        }
        double whole = rate > 0 ? (wanted + 1 - phase) / rate : Double.POSITIVE_INFINITY;
        double after = Math.min(now - began, Math.min(whole, seconds));
        // The last edge of a count is just that edge, whatever the arithmetic makes of it.
        long pulses = after >= whole ? wanted : Math.min(wanted, edges(after) - 1);
        double wattHours = pulses < 1 ? 0 : pulses / rate * watts / 3600;
        boolean over = after >= whole || now - began >= seconds;
        return (over ? "1," : "0,") + pulses + "," + ScpiCommands.nr3(wattHours) + "," + ScpiCommands.nr3(after) + ","
                + ScpiCommands.nr3(watts);
    }
}
