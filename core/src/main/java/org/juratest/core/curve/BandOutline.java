package org.juratest.core.curve;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import java.util.stream.DoubleStream;
import org.jspecify.annotations.Nullable;

/**
 * A band as it is drawn: earliest and latest allowed time over current, with a point on each side of every step.
 *
 * @param points ascending in current; at least one
 */
public record BandOutline(List<Point> points) {

    /** How close two points of a step stand, relative: nothing on a screen, and far above rounding. */
    private static final double STEP = 1e-6;

    private static final int BETWEEN = 96;

    public BandOutline {
        points = List.copyOf(points);
    }

    /**
     * @param current A rms
     * @param earliest s; absent where no trip is allowed, or nothing is known
     * @param latest s; absent where no trip is demanded, or nothing is known
     */
    public record Point(double current, @Nullable Double earliest, @Nullable Double latest) {}

    /** The outline of a band from its lowest pick-up to the last current any of its elements is known at. */
    public static BandOutline of(TimeCurrentBand band) {
        TreeSet<Double> currents = new TreeSet<>();
        for (BandElement element :
                band.elements().stream().filter(e -> !e.isApart()).toList()) {
            DoubleStream.concat(
                            DoubleStream.of(element.lowest().x()),
                            DoubleStream.of(element.highest().x()))
                    .forEach(x -> around(currents, x));
            around(currents, element.pickUpLow());
            if (element.pickUpHigh() != null) {
                around(currents, element.pickUpHigh());
            }
        }
        double first = currents.first();
        double last = currents.last();
        for (int i = 1; i < BETWEEN; i++) {
            currents.add(first * Math.pow(last / first, (double) i / BETWEEN));
        }
        List<Point> points = new ArrayList<>();
        for (double current : currents) {
            TimeWindow window = band.at(current);
            if (window.known() && (window.earliest() != null || window.latest() != null)) {
                points.add(new Point(current, window.earliest(), window.latest()));
            }
        }
        return new BandOutline(points);
    }

    private static void around(TreeSet<Double> currents, double at) {
        currents.add(at * (1 - STEP));
        currents.add(at);
        currents.add(at * (1 + STEP));
    }
}
