package org.juratest.core.family.meters;

/**
 * What hangs on a current transformer, from the voltage across it at a current through it.
 *
 * @param va at that current, VA
 * @param degrees by which the current lags behind the voltage
 * @param powerFactor its cosine
 * @param ohms impedance of the loop, Ohm
 * @param vaNominal what it takes at the nominal current, VA: as the square of the current
 */
public record Burden(double va, double degrees, double powerFactor, double ohms, double vaNominal) {

    /** Of the rated burden: below it the class holds no longer (IEC 61869-2). */
    public static final double FLOOR = 0.25;

    /**
     * From what is measured at a part of the nominal current.
     *
     * @param voltage across the burden
     * @param current through it
     * @param nominal secondary current, A, 1 or 5
     * @throws IllegalArgumentException if no current flows, or the nominal one is not positive
     */
    public static Burden of(Phasor voltage, Phasor current, double nominal) {
        if (!(current.rms() > 0) || !(nominal > 0) || !(voltage.rms() <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException(
                    "a burden is found by a current through it, not " + current.rms() + " A of " + nominal + " A");
        }
        double va = voltage.rms() * current.rms();
        double ratio = nominal / current.rms();
        double degrees = voltage.rms() == 0 ? 0 : current.behind(voltage);
        return new Burden(
                va, degrees, Math.cos(Math.toRadians(degrees)), voltage.rms() / current.rms(), va * ratio * ratio);
    }

    /** How a burden stands to what the transformer is rated for. */
    public enum Standing {
        WITHIN,
        /** More than rated: the errors grow, and it saturates early. */
        ABOVE,
        /** Less than a quarter of it. */
        BELOW_FLOOR,
        /** Nothing says what it is rated for: no verdict. */
        NOT_JUDGED
    }

    /** @param rated VA; NaN where nobody knows */
    public Standing against(double rated) {
        if (!(rated > 0)) {
            return Standing.NOT_JUDGED;
        }
        return vaNominal > rated ? Standing.ABOVE : vaNominal < FLOOR * rated ? Standing.BELOW_FLOOR : Standing.WITHIN;
    }
}
