package org.juratest.simulators.family.meters;

import java.util.List;

/** How the measuring installations and transformers of the valley behave. */
public final class Installations {

    /** By this name the fleet keeps them. */
    static final String FAMILY = "meters";

    private Installations() {}

    /**
     * How a meter errs.
     *
     * @param full error at its rated current, %
     * @param light what is added where a hundredth of that flows, %; it grows below a fifth of the rated current
     * @param inductive what is added at a power factor of 0.5, %
     * @param creep pulses an hour without any current
     * @param starts share of the rated current at which it begins to count
     * @param reactive error of what it counts of reactive and apparent energy, %
     * @param dial by how much more its register goes on than its output says, %
     */
    public record MeterTruth(
            double full, double light, double inductive, double creep, double starts, double reactive, double dial) {

        /** % at a share of the rated current and a power factor. */
        double error(double share, double powerFactor) {
            double low = share >= 0.2 ? 0 : light * Math.log(0.2 / Math.max(0.005, share)) / Math.log(20);
            return full + low + inductive * (1 - Math.abs(powerFactor)) / 0.5;
        }

        MeterTruth with(String name, double to) {
            return new MeterTruth(
                    name.equals("full") ? to : full,
                    name.equals("light") ? to : light,
                    name.equals("inductive") ? to : inductive,
                    name.equals("creep") ? to : creep,
                    name.equals("starts") ? to : starts,
                    name.equals("reactive") ? to : reactive,
                    name.equals("dial") ? to : dial);
        }

        /** Part of the way to another. */
        MeterTruth towards(MeterTruth other, double share) {
            return new MeterTruth(
                    full + share * (other.full - full),
                    light + share * (other.light - light),
                    inductive + share * (other.inductive - inductive),
                    creep + share * (other.creep - creep),
                    starts + share * (other.starts - starts),
                    reactive + share * (other.reactive - reactive),
                    dial + share * (other.dial - dial));
        }
    }

    /**
     * A current transformer.
     *
     * @param ratio true rated ratio of the tap that is connected
     * @param nominal secondary current, A
     * @param error of its ratio, %; {@code minutes} by which its secondary leads
     * @param resistance of its secondary at 20 degC, Ohm
     * @param loadOhms of what hangs on it; {@code loadDegrees} by which the current lags there
     * @param kneeVolts where 10 % more voltage takes half as much current again; {@code kneeAmperes} there
     * @param reversed whether S1 and S2 are the other way round
     * @param magnetised whether a direct current has left its core magnetised
     */
    public record Transformer(
            String label,
            double ratio,
            double nominal,
            double error,
            double minutes,
            double resistance,
            double loadOhms,
            double loadDegrees,
            double kneeVolts,
            double kneeAmperes,
            boolean reversed,
            boolean magnetised) {

        Transformer with(String name, double to) {
            return new Transformer(
                    label,
                    name.equals("ratio") ? to : ratio,
                    nominal,
                    name.equals("error") ? to : error,
                    minutes,
                    name.equals("resistance") ? to : resistance,
                    name.equals("load") ? to : loadOhms,
                    loadDegrees,
                    name.equals("knee") ? to : kneeVolts,
                    kneeAmperes,
                    name.equals("reversed") ? to > 0 : reversed,
                    name.equals("magnetised") ? to > 0 : magnetised);
        }

        /** Current that magnetises its core at a voltage, A: nearly straight below the knee, steep above it. */
        double magnetising(double volts) {
            double v = volts / kneeVolts;
            double below = magnetised ? 0.75 * Math.pow(v, 0.55) : 0.5 * Math.pow(v, 0.85);
            return kneeAmperes * (below + 0.5 * Math.pow(v, 9));
        }
    }

    /**
     * The lead from a voltage transformer to its meter, and what hangs on it.
     *
     * @param percent that the voltage is less at the meter; {@code minutes} by which it leads there
     * @param va burden of the transformer at its nominal voltage; {@code powerFactor} of that
     */
    public record Lead(double percent, double minutes, double va, double powerFactor) {

        Lead with(String name, double to) {
            return new Lead(name.equals("drop") ? to : percent, minutes, name.equals("vtLoad") ? to : va, powerFactor);
        }
    }

    /**
     * A meter with what belongs to it.
     *
     * @param volts between phase and neutral at the meter
     * @param rated current of the meter, A
     * @param constant pulses a kWh
     * @param amperes that flow in the meter today, by phase
     * @param lag degrees by which they lag
     * @param missing phase without a voltage, 1 to 3; 0 for none
     * @param register energy taken so far, kWh
     * @param transformers three; empty where it is connected directly
     * @param wires of its supply: 2, 3 or 4
     * @param leads of its voltage transformers, by phase; empty where there are none
     */
    public record Installation(
            String position,
            double volts,
            double rated,
            double constant,
            List<Double> amperes,
            double lag,
            int missing,
            double register,
            MeterTruth meter,
            List<Transformer> transformers,
            int wires,
            List<Lead> leads) {

        Installation meter(MeterTruth now) {
            return new Installation(
                    position, volts, rated, constant, amperes, lag, missing, register, now, transformers, wires, leads);
        }

        Installation missing(int phase) {
            return new Installation(
                    position, volts, rated, constant, amperes, lag, phase, register, meter, transformers, wires, leads);
        }

        Installation load(List<Double> now, double lags) {
            return new Installation(
                    position, volts, rated, constant, now, lags, missing, register, meter, transformers, wires, leads);
        }

        Installation transformer(int index, Transformer now) {
            List<Transformer> other = new java.util.ArrayList<>(transformers);
            other.set(index, now);
            return new Installation(
                    position,
                    volts,
                    rated,
                    constant,
                    amperes,
                    lag,
                    missing,
                    register,
                    meter,
                    List.copyOf(other),
                    wires,
                    leads);
        }

        Installation lead(int index, Lead now) {
            List<Lead> other = new java.util.ArrayList<>(leads);
            other.set(index, now);
            return new Installation(
                    position,
                    volts,
                    rated,
                    constant,
                    amperes,
                    lag,
                    missing,
                    register,
                    meter,
                    transformers,
                    wires,
                    List.copyOf(other));
        }

        /** Whether the current of a phase is turned round. */
        boolean reversed(int phase) {
            return !transformers.isEmpty() && transformers.get(phase).reversed();
        }

        /** Whether a phase has a voltage, a current, or neither at the meter. */
        boolean measures(int phase) {
            return wires > 2 || phase == 0;
        }

        /** Whether there is a transformer, or an input of the meter, for the current of a phase. */
        boolean clamped(int phase) {
            return measures(phase) && (wires != 3 || phase != 1);
        }

        /** W at the meter, by how it is wired. */
        double watts() {
            return power()[0];
        }

        /** var at the meter, likewise. */
        double vars() {
            return power()[1];
        }

        /** VA at the meter. */
        double voltAmperes() {
            double sum = 0;
            for (int k = 0; k < 3; k++) {
                sum += measures(k) ? volts * amperes.get(k) : 0;
            }
            return sum;
        }

        /** With three wires by two elements against the second; else by an element for each phase. */
        private double[] power() {
            double[] sum = new double[2];
            for (int k = 0; k < 3; k++) {
                if (!clamped(k) || k + 1 == missing) {
                    continue;
                }
                double across = wires == 3 ? volts * Math.sqrt(3) : volts;
                // The voltage against the second wire leads that to the middle by 30 degrees, or lags as much.
                double angle = Math.toRadians(lag + (wires != 3 ? 0 : k == 0 ? 30 : -30));
                double sign = reversed(k) ? -1 : 1;
                sum[0] += sign * across * amperes.get(k) * Math.cos(angle);
                sum[1] += sign * across * amperes.get(k) * Math.sin(angle);
            }
            return sum;
        }
    }

    /** All that this family keeps of the valley. */
    record Truth(List<Installation> installations, List<Transformer> transformers) {}
}
