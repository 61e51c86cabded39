package org.juratest.simulators.family.breakers;

import java.util.List;
import java.util.Map;
import org.juratest.simulators.fleet.Fleet;
import tools.jackson.core.type.TypeReference;

/** How the breakers of the valley behave. */
public final class Breakers {

    /** By this name the fleet keeps them. */
    static final String FAMILY = "breakers";

    private Breakers() {}

    /**
     * A low-voltage breaker.
     *
     * @param ratings nameplate values in A, V, s by key
     * @param heatingSeconds heating time constant (bimetal), or seconds at 1 x setting (electronic), of a pole that is
     *     right
     * @param poles as they are today
     */
    public record Breaker(
            String position,
            String technology,
            Map<String, Double> ratings,
            double heatingSeconds,
            Map<String, Pole> poles) {}

    /**
     * @param slowness multiplies the heating seconds: 1 trips as designed, above 1 late
     * @param microhms contact resistance, µΩ
     * @param megohms insulation at 20 degC of the paths that touch it, MΩ
     */
    public record Pole(double slowness, double microhms, double megohms) {}

    /** The breakers of a fleet. */
    public static List<Breaker> of(Fleet fleet) {
        return fleet.truth(FAMILY, new TypeReference<>() {});
    }
}
