package org.juratest.simulators.family.breakers;

/**
 * What makes a pole trip in time: a heat that builds up with the square of the current and leaks away. A bimetal leaks
 * all the time (first-order heating); an electronic unit only adds up, and forgets slowly once the current is gone.
 *
 * <p>Times are seconds of the stand-in's own time.
 */
final class ThermalElement {

    /** How the element works. */
    enum Kind {
        BIMETAL,
        ELECTRONIC
    }

    private final Kind kind;
    private final double setting;
    private final double constant;
    private final double trippingHeat;
    private final double coolingConstant;
    private double heat;
    private double heatAt;

    /**
     * @param setting long-time setting, A
     * @param constant heating time constant of a bimetal, or seconds at 1 x setting an electronic unit needs, s
     */
    ThermalElement(Kind kind, double setting, double constant) {
        this.kind = kind;
        this.setting = setting;
        this.constant = constant;
        this.trippingHeat = kind == Kind.BIMETAL ? 1.15 * 1.15 : 1;
        this.coolingConstant = kind == Kind.BIMETAL ? 60 : 30;
    }

    /** Seconds from now until it trips at a current, or infinity. */
    double timeToTrip(double current, double now) {
        cool(now);
        double square = Math.pow(current / setting, 2);
        if (kind == Kind.ELECTRONIC) {
            return current < 1.12 * setting ? Double.POSITIVE_INFINITY : Math.max(0, (1 - heat) * constant / square);
        }
        return square <= trippingHeat
                ? Double.POSITIVE_INFINITY
                : heat >= trippingHeat ? 0 : constant * Math.log((square - heat) / (square - trippingHeat));
    }

    /** A current flowed for a while and ended now. */
    void heated(double current, double seconds, double now) {
        double square = Math.pow(current / setting, 2);
        heat = kind == Kind.ELECTRONIC
                ? Math.min(1, heat + square * seconds / constant)
                : square + (heat - square) * Math.exp(-seconds / constant);
        heatAt = now;
    }

    private void cool(double now) {
        heat *= Math.exp(-Math.max(0, now - heatAt) / coolingConstant);
        heatAt = now;
    }
}
