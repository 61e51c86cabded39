package org.juratest.simulators.family.breakers;

import java.util.List;

/** How the medium-voltage breakers of the valley behave. */
public final class MvBreakers {

    private MvBreakers() {}

    /**
     * @param opening when the slowest pole that is right parts, ms from the command; {@code closing} when it touches
     * @param friction of its latches: 1 as made, above later
     * @param damper 1 as made, below it rebounds further
     * @param lag of each pole, ms: how much later than the first it moves
     * @param microhms of each closed pole, µΩ
     * @param operations its counter
     */
    public record MvBreaker(
            String position,
            double opening,
            double closing,
            double friction,
            double damper,
            List<Double> lag,
            List<Double> microhms,
            long operations) {

        MvBreaker with(double otherFriction, double otherDamper, List<Double> otherLag) {
            return new MvBreaker(
                    position, opening, closing, otherFriction, otherDamper, otherLag, microhms, operations);
        }

        MvBreaker operated(int times) {
            return new MvBreaker(position, opening, closing, friction, damper, lag, microhms, operations + times);
        }
    }
}
