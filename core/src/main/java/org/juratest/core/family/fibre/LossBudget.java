package org.juratest.core.family.fibre;

/**
 * What a link may lose: its fibre, its splices and its connectors, each as much as is planned with (ISO/IEC 14763-3,
 * link attenuation limit).
 *
 * @param perKm of the fibre, dB/km
 * @param perSplice dB
 * @param perConnector dB
 */
public record LossBudget(double perKm, double perSplice, double perConnector) {

    public LossBudget {
        within("fibre", perKm, 20);
        within("splice", perSplice, 5);
        within("connector", perConnector, 5);
    }

    private static void within(String what, double value, double most) {
        if (!(value >= 0 && value <= most)) {
            throw new IllegalArgumentException("a " + what + " of " + value + " dB, not 0 to " + most);
        }
    }

    /**
     * Of a link.
     *
     * @param kilometres of fibre, at least 0
     */
    public double of(double kilometres, int splices, int connectors) {
        if (!(kilometres >= 0 && kilometres < 1e5) || splices < 0 || connectors < 0) {
            throw new IllegalArgumentException(
                    "a link of " + kilometres + " km, " + splices + " splices, " + connectors + " connectors");
        }
        return kilometres * perKm + splices * perSplice + connectors * perConnector;
    }
}
