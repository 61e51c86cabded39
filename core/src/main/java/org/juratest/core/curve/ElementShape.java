package org.juratest.core.curve;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.DoubleUnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * How one element of a curve model is stated. Currents are multiples of the element's setting; times are in seconds, or
 * multiples of the element's time setting where it has one.
 */
public sealed interface ElementShape {

    /** Points of a drawn formula, from its first to its last multiple. */
    int DRAWN_POINTS = 60;

    /** The lowest (or highest) times as a table over multiples of the setting. */
    Edges edges(double rating, double timeScale);

    /** Stands for "no shortest time stated", s: no device can undercut it, and a log table needs a time above 0. */
    double NONE_STATED = 1e-6;

    /**
     * Both edges of a band over multiples of the setting.
     *
     * @param formula what they are drawn from, at a pick-up of 1; absent where they are points
     */
    record Edges(LogLogTable lowest, LogLogTable highest, BandElement.@Nullable Formula formula) {
        Edges(LogLogTable lowest, LogLogTable highest) {
            this(lowest, highest, null);
        }
    }

    /** Both edges by points, as read off a maker's sheet. */
    record Points(
            List<Double> lowestMultiples,
            List<Double> lowestTimes,
            List<Double> highestMultiples,
            List<Double> highestTimes)
            implements ElementShape {
        public Points {
            lowestMultiples = List.copyOf(lowestMultiples);
            lowestTimes = List.copyOf(lowestTimes);
            highestMultiples = List.copyOf(highestMultiples);
            highestTimes = List.copyOf(highestTimes);
        }

        @Override
        public Edges edges(double rating, double timeScale) {
            return new Edges(
                    table(lowestMultiples, lowestTimes).scaled(1, timeScale),
                    table(highestMultiples, highestTimes).scaled(1, timeScale));
        }

        private static LogLogTable table(List<Double> multiples, List<Double> times) {
            return LogLogTable.of(
                    multiples.stream().mapToDouble(Double::doubleValue).toArray(),
                    times.stream().mapToDouble(Double::doubleValue).toArray());
        }
    }

    /**
     * t = time setting * (reference / M)^exponent within per cent tolerances, as electronic units are stated ("at 6
     * x").
     *
     * @param upTo last multiple of the setting it is stated for
     */
    record Power(double reference, double exponent, double minusPercent, double plusPercent, double from, double upTo)
            implements ElementShape {
        @Override
        public Edges edges(double rating, double timeScale) {
            return drawn(from, upTo, minusPercent, plusPercent, m -> timeScale * Math.pow(reference / m, exponent));
        }
    }

    /** An inverse-time formula within per cent tolerances. */
    record Inverse(InverseTimeCurve curve, double minusPercent, double plusPercent, double from, double upTo)
            implements ElementShape {
        @Override
        public Edges edges(double rating, double timeScale) {
            Edges drawn = drawn(from, upTo, minusPercent, plusPercent, m -> curve.tripTime(timeScale, m)
                    .orElseThrow());
            return new Edges(
                    drawn.lowest,
                    drawn.highest,
                    new BandElement.Formula(curve, 1, timeScale, 1 - minusPercent / 100, 1 + plusPercent / 100));
        }
    }

    /**
     * Figures stated at one multiple only, by rating, such as "longest time at 300 %". They are taken to hold within
     * {@code withinPercent} of that multiple and nowhere else.
     */
    record Spots(double multiple, double withinPercent, List<Spot> byRating) implements ElementShape {
        public Spots {
            byRating = List.copyOf(byRating);
        }

        @Override
        public Edges edges(double rating, double timeScale) {
            for (Spot spot : byRating) {
                if (rating <= spot.ratingUpTo()) {
                    double[] x = {multiple * (1 - withinPercent / 100), multiple * (1 + withinPercent / 100)};
                    double lowest = spot.lowest() == null ? NONE_STATED : spot.lowest();
                    return new Edges(
                            LogLogTable.of(x, new double[] {lowest, lowest}),
                            LogLogTable.of(x, new double[] {spot.highest(), spot.highest()}));
                }
            }
            throw new IllegalArgumentException("the curve has no figure for a rating of " + rating + " A");
        }
    }

    /**
     * @param ratingUpTo highest rated current the row holds for, A
     * @param lowest s; absent where none is stated
     * @param highest s
     */
    record Spot(double ratingUpTo, @Nullable Double lowest, double highest) {}

    private static Edges drawn(
            double from, double upTo, double minusPercent, double plusPercent, DoubleUnaryOperator time) {
        List<Double> x = new ArrayList<>();
        for (int i = 0; i < DRAWN_POINTS; i++) {
            x.add(i == DRAWN_POINTS - 1 ? upTo : from * Math.pow(upTo / from, (double) i / (DRAWN_POINTS - 1)));
        }
        double[] multiples = x.stream().mapToDouble(Double::doubleValue).toArray();
        double[] times = Arrays.stream(multiples).map(time).toArray();
        LogLogTable nominal = LogLogTable.of(multiples, times);
        return new Edges(nominal.scaled(1, 1 - minusPercent / 100), nominal.scaled(1, 1 + plusPercent / 100));
    }
}
