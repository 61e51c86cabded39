package org.juratest.core.family.meters;

/**
 * The error of a whole metering installation at a load: e = e_m + e_ct + e_vt + 0.0291 (d_ct - d_vt) tan phi, in %,
 * displacements in minutes (0.0291 is a minute of arc in % of a radian).
 */
public final class InstallationError {

    private static final double MINUTE = 100 * Math.PI / 180 / 60;

    private InstallationError() {}

    /**
     * @param meter error of the meter, %
     * @param ct ratio error of the current transformers, %
     * @param vt likewise of the voltage transformers
     * @param ctMinutes by which the secondary current leads
     * @param vtMinutes by which the secondary voltage leads
     * @param powerFactor of the load, above 0, at most 1
     * @param lagging whether its current lags
     * @return %
     */
    public static double of(
            double meter,
            double ct,
            double vt,
            double ctMinutes,
            double vtMinutes,
            double powerFactor,
            boolean lagging) {
        return meter + ct + vt + MINUTE * (ctMinutes - vtMinutes) * tangent(powerFactor, lagging);
    }

    /** By how many % a minute of displacement moves the whole, either way, at a power factor above 0, at most 1. */
    static double ofAMinute(double powerFactor) {
        return MINUTE * tangent(powerFactor, true);
    }

    /** How the limits of the parts make that of the whole. */
    public enum Limit {
        /** All at their worst at once. */
        SUM,
        /** Of independent parts. */
        ROOT_SUM_SQUARE
    }

    /** What the whole may be off, %, from what its parts may be off; parameters as those of the error. */
    public static double limit(
            Limit how, double meter, double ct, double vt, double ctMinutes, double vtMinutes, double powerFactor) {
        double tan = tangent(powerFactor, true);
        double[] parts = {meter, ct, vt, MINUTE * ctMinutes * tan, MINUTE * vtMinutes * tan};
        double sum = 0;
        for (double p : parts) {
            sum += how == Limit.SUM ? Math.abs(p) : p * p;
        }
        return how == Limit.SUM ? sum : Math.sqrt(sum);
    }

    private static double tangent(double powerFactor, boolean lagging) {
        if (!(powerFactor > 0 && powerFactor <= 1)) {
            throw new IllegalArgumentException("a power factor lies above 0 and is at most 1, not " + powerFactor);
        }
        double tan = Math.sqrt(1 - powerFactor * powerFactor) / powerFactor;
        return lagging ? tan : -tan;
    }
}
