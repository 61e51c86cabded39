package org.juratest.core.family.meters;

/**
 * The error of a meter from its pulses against a reference.
 *
 * @param percent (E_meter - E_reference) / E_reference, %
 * @param uncertainty expanded, k = 2, %: of the reference, and of where between two pulses the count began and ended
 * @param registration percent registration, 100 + error
 */
public record MeterError(double percent, double uncertainty, double registration) {

    /** When a test ends: whichever comes first. */
    public record Ending(long pulses, double seconds) {

        public Ending {
            if (pulses < 1 || !(seconds > 0)) {
                throw new IllegalArgumentException(
                        "a test ends after at least one pulse or a time, not " + pulses + " and " + seconds + " s");
            }
        }

        /** What came first: pulses, time, or neither so far. */
        public enum Reached {
            PULSES,
            TIME,
            NOT_YET
        }

        public Reached at(long counted, double elapsed) {
            return counted >= pulses ? Reached.PULSES : elapsed >= seconds ? Reached.TIME : Reached.NOT_YET;
        }
    }

    /**
     * From pulses counted between two of them: the reference runs from the first to the last.
     *
     * @param pulses from the first one on, that one not counted; at least 1
     * @param perKilowattHour the meter's constant
     * @param reference energy of the reference between those pulses, kWh
     * @param referenceU expanded uncertainty of the reference, k = 2, %
     * @param edge by how much of a pulse an edge may be seen late; 0 where it is timed by the reference itself
     */
    public static MeterError byPulses(
            long pulses, double perKilowattHour, double reference, double referenceU, double edge) {
        if (pulses < 1
                || !(perKilowattHour > 0)
                || !(reference > 0)
                || !(referenceU >= 0)
                || !(edge >= 0 && edge <= 1)) {
            throw new IllegalArgumentException("an error needs a pulse, a constant and energy of the reference: "
                    + pulses + ", " + perKilowattHour + ", " + reference + " kWh");
        }
        return of(pulses / perKilowattHour, reference, referenceU, edge / pulses);
    }

    /**
     * From pulses counted over a time that begins and ends anywhere between two: the count is off by less than one
     * either way, triangular.
     */
    public static MeterError byTime(long pulses, double perKilowattHour, double reference, double referenceU) {
        if (pulses < 1 || !(perKilowattHour > 0) || !(reference > 0) || !(referenceU >= 0)) {
            throw new IllegalArgumentException("an error needs a pulse, a constant and energy of the reference");
        }
        double u = 1.0 / pulses / Math.sqrt(6);
        return combined(pulses / perKilowattHour, reference, referenceU, u);
    }

    /** From a register read before and after: each reading is as fine as its last digit. */
    public static MeterError byRegister(
            double before, double after, double digit, double reference, double referenceU) {
        if (!(after > before) || !(digit > 0) || !(reference > 0) || !(referenceU >= 0)) {
            throw new IllegalArgumentException("a register advances, from " + before + " not to " + after);
        }
        return combined(after - before, reference, referenceU, digit / Math.sqrt(6) / (after - before));
    }

    private static MeterError of(double meter, double reference, double referenceU, double width) {
        return combined(meter, reference, referenceU, width / Math.sqrt(6));
    }

    /** @param u standard uncertainty of the meter's energy, as a share */
    private static MeterError combined(double meter, double reference, double referenceU, double u) {
        double percent = (meter - reference) / reference * 100;
        return new MeterError(percent, Math.hypot(referenceU, 2 * 100 * u), 100 + percent);
    }

    /** Links what a test is told by: the other two follow from one. */
    public record Amount(double pulses, double energy, double seconds) {

        /**
         * @param pulses wanted
         * @param perKilowattHour constant
         * @param watts that flow; more than 0
         */
        public static Amount ofPulses(double pulses, double perKilowattHour, double watts) {
            positive(pulses, perKilowattHour, watts);
            double energy = pulses / perKilowattHour;
            return new Amount(pulses, energy, energy / (watts / 1000) * 3600);
        }

        /** @param energy kWh */
        public static Amount ofEnergy(double energy, double perKilowattHour, double watts) {
            return ofPulses(energy * perKilowattHour, perKilowattHour, watts);
        }

        public static Amount ofTime(double seconds, double perKilowattHour, double watts) {
            positive(seconds, perKilowattHour, watts);
            return ofPulses(watts / 1000 * seconds / 3600 * perKilowattHour, perKilowattHour, watts);
        }

        private static void positive(double... values) {
            for (double v : values) {
                if (!(v > 0) || !(v <= Double.MAX_VALUE)) {
                    throw new IllegalArgumentException("an amount, a constant and a power are above 0, not " + v);
                }
            }
        }
    }

    /**
     * How long a meter without current is watched for creep, min: X 10^6 / (k m U I), IEC 62053-21 and -22; it gives at
     * most one pulse.
     *
     * @param x 600 for class 1, 480 for class 2, 900 for class 0.2S, 600 for class 0.5S
     * @param perKilowattHour constant of its output
     * @param elements measuring elements
     * @param volts nominal, V
     * @param most greatest current, A
     */
    public static double creepMinutes(double x, double perKilowattHour, int elements, double volts, double most) {
        if (!(x > 0 && perKilowattHour > 0 && elements > 0 && volts > 0 && most > 0)) {
            throw new IllegalArgumentException("creep: X, constant, elements, voltage and current are above 0");
        }
        return x * 1e6 / (perKilowattHour * elements * volts * most);
    }

    /** Demand over an interval, W: its energy over its time. */
    public static double demand(double wattHours, double intervalSeconds) {
        if (!(intervalSeconds > 0)) {
            throw new IllegalArgumentException("an interval takes time");
        }
        return wattHours / intervalSeconds * 3600;
    }
}
