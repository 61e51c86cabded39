package org.juratest.simulators.family.breakers;

/** How the protection relays of the valley behave. */
public final class Relays {

    /** IEC 60255-151, standard inverse. */
    private static final double K = 0.14;

    private static final double EXPONENT = 0.02;

    private Relays() {}

    /**
     * @param setting A at which its overcurrent element is set; {@code multiplier} of its time
     * @param angle degrees by which the current leads the voltage in the middle of its direction, as set
     * @param difference A at which its differential element is set; {@code slope} of its restraint
     * @param pickUp share of the setting at which it picks up; {@code ratio} to where it drops off
     * @param slowness 1 as set
     * @param turned degrees by which its direction is off
     * @param steeper 1 as set: of the slope
     */
    public record Relay(
            String position,
            double setting,
            double multiplier,
            double angle,
            double difference,
            double slope,
            double pickUp,
            double ratio,
            double slowness,
            double turned,
            double steeper) {

        Relay with(double otherPickUp, double otherSlowness, double otherTurned, double otherSteeper) {
            return new Relay(
                    position,
                    setting,
                    multiplier,
                    angle,
                    difference,
                    slope,
                    otherPickUp,
                    ratio,
                    otherSlowness,
                    otherTurned,
                    otherSteeper);
        }

        /** As set: {@code setting}, {@code multiplier}, {@code angle}, {@code difference} or {@code restraint}. */
        double set(String name) {
            return switch (name) {
                case "setting" -> setting;
                case "multiplier" -> multiplier;
                case "angle" -> angle;
                case "difference" -> difference;
                case "restraint" -> slope;
                default -> throw new IllegalArgumentException("a relay has no setting \"" + name + "\"");
            };
        }

        /** The same, set otherwise. */
        Relay setTo(String name, double to) {
            set(name);
            return new Relay(
                    position,
                    name.equals("setting") ? to : setting,
                    name.equals("multiplier") ? to : multiplier,
                    name.equals("angle") ? to : angle,
                    name.equals("difference") ? to : difference,
                    name.equals("restraint") ? to : slope,
                    pickUp,
                    ratio,
                    slowness,
                    turned,
                    steeper);
        }

        /** s to the trip; infinite where it does not pick up. */
        double timeAt(double amperes) {
            double multiple = amperes / (setting * pickUp);
            return multiple <= 1
                    ? Double.POSITIVE_INFINITY
                    : multiplier * K / (Math.pow(multiple, EXPONENT) - 1) * slowness + 0.004;
        }

        /** Whether its start contact closes. */
        boolean starts(double amperes, double degrees, double volts, double other, double otherDegrees) {
            if (other > 0) {
                double a = Math.toRadians(degrees);
                double b = Math.toRadians(otherDegrees);
                double differs = Math.hypot(
                        amperes * Math.cos(a) + other * Math.cos(b), amperes * Math.sin(a) + other * Math.sin(b));
                double through = (amperes + other) / 2;
                return differs > Math.max(difference, slope * steeper * through);
            }
            if (amperes <= setting * pickUp) {
                return false;
            }
            double off = Math.abs(Math.IEEEremainder(degrees - angle - turned, 360));
            return volts <= 0 || off < 88;
        }
    }
}
