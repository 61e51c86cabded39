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
     * @param magnet multiplies the current at which it trips at once
     * @param delay multiplies the delays of an electronic unit: short time, ground fault
     */
    public record Pole(double slowness, double microhms, double megohms, double magnet, double delay) {

        /** One whose magnet and delays are as they were made. */
        public Pole(double slowness, double microhms, double megohms) {
            this(slowness, microhms, megohms, 1, 1);
        }

        Pole slow(double factor) {
            return new Pole(factor, microhms, megohms, magnet, delay);
        }

        Pole worn(double factor) {
            return new Pole(slowness, microhms * factor, megohms, magnet, delay);
        }

        Pole magnet(double factor) {
            return new Pole(slowness, microhms, megohms, factor, delay);
        }

        Pole delay(double factor) {
            return new Pole(slowness, microhms, megohms, magnet, factor);
        }
    }

    /** All that this family keeps of the valley. */
    record Truth(
            List<Breaker> breakers,
            List<Reclosers.Recloser> reclosers,
            List<MvBreakers.MvBreaker> switching,
            List<ResidualDevices.ResidualDevice> residual,
            List<Relays.Relay> relays) {}

    static Truth truth(Fleet fleet) {
        return fleet.truth(FAMILY, new TypeReference<>() {});
    }

    /** The breakers of a fleet. */
    public static List<Breaker> of(Fleet fleet) {
        return truth(fleet).breakers();
    }
}
