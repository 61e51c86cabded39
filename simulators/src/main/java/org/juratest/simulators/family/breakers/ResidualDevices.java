package org.juratest.simulators.family.breakers;

/** How the residual-current devices of the valley behave. */
public final class ResidualDevices {

    /** In the positive half a polarised release is a little slower. */
    private static final double POLARITY = 1.08;

    private ResidualDevices() {}

    /**
     * @param rated residual operating current, A
     * @param selective whether it waits for those behind it
     * @param share of the rated current at which it trips
     * @param slowness 1 as made
     * @param sticks how much longer its first operation after a long rest takes, s
     * @param earth of the protective conductor with the supply's earth, Ohm
     */
    public record ResidualDevice(
            String position,
            double rated,
            boolean selective,
            double share,
            double slowness,
            double sticks,
            double earth) {

        ResidualDevice with(double otherShare, double otherSlowness, double otherSticks) {
            return new ResidualDevice(position, rated, selective, otherShare, otherSlowness, otherSticks, earth);
        }

        ResidualDevice earthed(double ohms) {
            return new ResidualDevice(position, rated, selective, share, slowness, sticks, ohms);
        }

        /** s to the trip as made and aged, without what sticks; infinite where the current is too small. */
        double timeAt(double amperes, double degrees) {
            double multiple = amperes / rated;
            if (multiple < share) {
                return Double.POSITIVE_INFINITY;
            }
            double half = degrees < 90 ? POLARITY : 1;
            double made = selective ? 0.062 + 0.12 / multiple : 0.006 + 0.017 / multiple;
            return made * slowness * half;
        }
    }
}
