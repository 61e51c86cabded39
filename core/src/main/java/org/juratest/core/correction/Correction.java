package org.juratest.core.correction;

import org.juratest.core.quantity.Unit;
import org.juratest.core.uncertainty.UncertaintyBudget;

/**
 * How a value is corrected.
 *
 * @param kind what is done with the amount
 * @param amount a factor, decibels, or an offset in the unit of the value; finite
 */
public record Correction(Kind kind, double amount) {

    /** What a correction does. */
    public enum Kind {
        /** The value is multiplied. */
        FACTOR,
        /** Decibels are added to a level, or multiply what is none: 10 lg of a power, 20 lg of anything else. */
        DECIBEL,
        /** Something is added. */
        OFFSET
    }

    public Correction {
        if (!(Math.abs(amount) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("a correction must be finite, not " + amount);
        }
    }

    /** The corrected value. */
    public double of(double value, Unit unit) {
        return switch (kind) {
            case FACTOR -> value * amount;
            case OFFSET -> value + amount;
            case DECIBEL -> unit.isLevel() ? value + amount : value * ratio(unit);
        };
    }

    private double ratio(Unit unit) {
        return Math.pow(10, amount / per(unit));
    }

    private static double per(Unit unit) {
        return unit.isPower() ? 10 : 20;
    }

    /**
     * Takes the uncertainty of a value along, and adds that of the amount (JCGM 100:2008, 5.1.2).
     *
     * @param value before this correction
     * @param u standard uncertainty of the amount, in what the amount is in
     */
    public void carry(UncertaintyBudget budget, double value, Unit unit, double u) {
        switch (kind) {
            case FACTOR -> budget.carried(amount).typeB(u, value);
            case OFFSET -> budget.typeB(u, 1);
            case DECIBEL -> {
                if (unit.isLevel()) {
                    budget.typeB(u, 1);
                } else {
                    budget.carried(ratio(unit)).typeB(u, of(value, unit) * Math.log(10) / per(unit));
                }
            }
        }
    }
}
