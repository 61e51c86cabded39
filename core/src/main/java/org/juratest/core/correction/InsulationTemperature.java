package org.juratest.core.correction;

/**
 * Brings insulation resistance to a reference temperature by halving for every {@code halvingInterval} degrees: R_ref =
 * R * 2^((T - T_ref) / h). With T_ref = 20 degC and h = 10 K this is the default for apparatus.
 *
 * @param reference reference temperature, degC
 * @param halvingInterval K for a factor of two, positive
 */
public record InsulationTemperature(double reference, double halvingInterval) {

    /** To 20 degC, a factor of two every 10 K. */
    public static final InsulationTemperature APPARATUS = new InsulationTemperature(20, 10);

    /** Lowest and highest equipment temperature that is taken for one, degC. */
    private static final double LOWEST = -60;

    private static final double HIGHEST = 200;

    public InsulationTemperature {
        if (!(reference >= LOWEST && reference <= HIGHEST) || !(halvingInterval > 0)) {
            throw new IllegalArgumentException(
                    "temperature correction needs a reference in degC and a positive interval");
        }
    }

    /**
     * The factor that a resistance measured at a temperature is multiplied by.
     *
     * @param temperature equipment temperature, -60 to 200 degC
     * @throws IllegalArgumentException outside that range, or NaN
     */
    public double factor(double temperature) {
        if (!(temperature >= LOWEST && temperature <= HIGHEST)) {
            throw new IllegalArgumentException("equipment temperature must be from -60 to 200 °C, not " + temperature);
        }
        return Math.pow(2, (temperature - reference) / halvingInterval);
    }
}
