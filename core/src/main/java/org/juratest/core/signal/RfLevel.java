package org.juratest.core.signal;

/** Levels in a 50-ohm line. */
public final class RfLevel {

    private static final double OHMS = 50;

    private RfLevel() {}

    /** Power of a level: W from dBm. */
    public static double watts(double dbm) {
        return 1e-3 * Math.pow(10, dbm / 10);
    }

    /**
     * Level of a power: dBm from W.
     *
     * @param watts not negative; 0 gives negative infinity, what is negative NaN
     */
    public static double dbm(double watts) {
        return watts >= 0 ? 10 * Math.log10(watts / 1e-3) : Double.NaN;
    }

    /**
     * Potential difference across 50 ohm, uV rms; the electromotive force of the source is twice that. -119.03 dBm is
     * 0.25 uV.
     */
    public static double microvolts(double dbm) {
        return Math.sqrt(watts(dbm) * OHMS) * 1e6;
    }

    /** dBm of a potential difference across 50 ohm, uV rms. */
    public static double dbmOfMicrovolts(double microvolts) {
        return dbm(microvolts * microvolts * 1e-12 / OHMS);
    }
}
