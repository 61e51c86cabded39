package org.juratest.core.family.meters;

import org.juratest.core.quantity.Unit;

/** Counts the pulses of a meter against the energy of a reference, from one pulse to a later one. */
public interface PulseCounter {

    /**
     * Where a count stands.
     *
     * @param over whether it has ended: by pulses or by time, whichever came first
     * @param pulses from the first one on, that one not counted; -1 before the first
     * @param energy of the reference, between the first and the last of them; k(W, var, VA) h
     * @param elapsed s since it was begun
     * @param power that flows now; W, var, VA
     */
    record Count(boolean over, long pulses, double energy, double elapsed, double power) {}

    /** Which energy is counted. */
    enum Energy {
        ACTIVE(Unit.WATT, Unit.KILOWATT_HOUR, Unit.PER_KILOWATT_HOUR),
        REACTIVE(Unit.VAR, Unit.KILOVAR_HOUR, Unit.PER_KILOVAR_HOUR),
        APPARENT(Unit.VOLT_AMPERE, Unit.KILOVOLT_AMPERE_HOUR, Unit.PER_KILOVOLT_AMPERE_HOUR);

        private final Unit power;
        private final Unit unit;
        private final Unit constant;

        Energy(Unit power, Unit unit, Unit constant) {
            this.power = power;
            this.unit = unit;
            this.constant = constant;
        }

        public Unit power() {
            return power;
        }

        public Unit unit() {
            return unit;
        }

        /** Of a constant, pulses for each of {@link #unit()}. */
        public Unit constant() {
            return constant;
        }
    }

    /**
     * Begins to wait for a first pulse, and to count.
     *
     * @param of what the pulses are for
     * @param pulses after which it ends
     * @param seconds after which it ends
     */
    void count(Energy of, long pulses, double seconds);

    Count counted();
}
