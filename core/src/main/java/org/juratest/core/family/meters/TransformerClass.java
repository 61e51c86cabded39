package org.juratest.core.family.meters;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * What an instrument transformer may be off, by its class (IEC 61869-2 for currents, IEC 61869-3 for voltages): ratio
 * error in % and phase displacement in minutes, straight between the currents the table has.
 *
 * @param name as on the plate, such as {@code 0.5S}
 * @param places % of the rated quantity, ascending; the last one holds up to {@code upTo}
 * @param ratio % either way, at each
 * @param minutes either way, at each
 * @param upTo % of the rated quantity
 */
public record TransformerClass(
        String name, List<Double> places, List<Double> ratio, List<Double> minutes, double upTo) {

    /** What is allowed at one place. */
    public record Allowed(double percent, double minutes) {}

    private static final Map<String, TransformerClass> CURRENT = Map.of(
            "0.2", of("0.2", new double[] {5, 20, 100}, new double[] {0.75, 0.35, 0.2}, new double[] {30, 15, 10}),
            "0.5", of("0.5", new double[] {5, 20, 100}, new double[] {1.5, 0.75, 0.5}, new double[] {90, 45, 30}),
            "1", of("1", new double[] {5, 20, 100}, new double[] {3, 1.5, 1}, new double[] {180, 90, 60}),
            "0.2S",
                    of("0.2S", new double[] {1, 5, 20, 100}, new double[] {0.75, 0.35, 0.2, 0.2}, new double[] {
                        30, 15, 10, 10
                    }),
            "0.5S",
                    of("0.5S", new double[] {1, 5, 20, 100}, new double[] {1.5, 0.75, 0.5, 0.5}, new double[] {
                        90, 45, 30, 30
                    }),
            "5P", of("5P", new double[] {100}, new double[] {1}, new double[] {60}),
            "10P", of("10P", new double[] {100}, new double[] {3}, new double[] {Double.POSITIVE_INFINITY}));

    private static final Map<String, TransformerClass> VOLTAGE = Map.of(
            "0.2", of("0.2", new double[] {80}, new double[] {0.2}, new double[] {10}),
            "0.5", of("0.5", new double[] {80}, new double[] {0.5}, new double[] {20}),
            "1", of("1", new double[] {80}, new double[] {1}, new double[] {40}));

    private static TransformerClass of(String name, double[] places, double[] ratio, double[] minutes) {
        return new TransformerClass(name, list(places), list(ratio), list(minutes), 120);
    }

    private static List<Double> list(double[] values) {
        return Arrays.stream(values).boxed().toList();
    }

    public TransformerClass {
        places = List.copyOf(places);
        ratio = List.copyOf(ratio);
        minutes = List.copyOf(minutes);
    }

    /** The class of a current transformer; empty where it is none of those known. */
    public static Optional<TransformerClass> ofCurrent(String name) {
        return Optional.ofNullable(CURRENT.get(name.strip().toUpperCase(Locale.ROOT)));
    }

    /** The class of a voltage transformer; empty where it is none of those known. */
    public static Optional<TransformerClass> ofVoltage(String name) {
        return Optional.ofNullable(VOLTAGE.get(name.strip().toUpperCase(Locale.ROOT)));
    }

    /**
     * What is allowed.
     *
     * @param percent of the rated current or voltage
     * @return empty where the class says nothing: below its first place, or above its last
     */
    public Optional<Allowed> at(double percent) {
        if (!(percent >= places.get(0)) || percent > upTo) {
            return Optional.empty();
        }
        int k = 0;
        while (k + 1 < places.size() && places.get(k + 1) <= percent) {
            k++;
        }
        if (k + 1 == places.size()) {
            return Optional.of(new Allowed(ratio.get(k), minutes.get(k)));
        }
        double share = (percent - places.get(k)) / (places.get(k + 1) - places.get(k));
        return Optional.of(new Allowed(
                ratio.get(k) + share * (ratio.get(k + 1) - ratio.get(k)),
                minutes.get(k) + share * (minutes.get(k + 1) - minutes.get(k))));
    }

    /**
     * Ratio error and phase displacement of a transformer under load, from both of its sides (IEC 61869-1).
     *
     * @param percent (k Is - Ip) / Ip, %
     * @param minutes by which the secondary leads the primary
     * @param ratio as measured, primary over secondary
     */
    public record Measured(double percent, double minutes, double ratio) {

        /**
         * @param primary as clamped, A
         * @param secondary as clamped, A
         * @param rated ratio on the plate; NaN where it is left to be measured, and with it the error
         */
        public static Measured of(Phasor primary, Phasor secondary, double rated) {
            if (!(primary.rms() > 0) || !(secondary.rms() > 0)) {
                throw new IllegalArgumentException("both sides need a current");
            }
            double ratio = primary.rms() / secondary.rms();
            return new Measured((rated / ratio - 1) * 100, primary.behind(secondary) * 60, ratio);
        }

        /**
         * Whether the plate's ratio can be right, with clamps of an accuracy far beside that of a class: never a
         * verdict on the class.
         *
         * @param clamps expanded uncertainty of both clamps together, %
         * @param allowed of the class, %
         */
        public boolean plausible(double clamps, double allowed) {
            return Math.abs(percent) <= clamps + allowed && Math.abs(Math.IEEEremainder(minutes / 60, 360)) < 90;
        }
    }
}
