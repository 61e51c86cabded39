package org.juratest.core.family.fibre;

import java.util.Comparator;
import java.util.List;

/**
 * From length of fibre to length of route. Fibres are stranded and have slack in closures, so that a fibre is longer
 * than its route by some hundredths, and not everywhere alike: known places, closures found on the trace, tie the two
 * together, and between them the scale is straight.
 */
public final class RouteScale {

    /** How much longer a fibre is than its route where nothing is known. */
    public static final double STRANDING = 0.02;
    /** Half of what that differs between cables (1 to 3 %). */
    private static final double STRANDING_OFF = 0.01;

    private final List<Known> known;

    /**
     * A place that is known on both.
     *
     * @param fibre m along the fibre
     * @param route m along the route
     * @param off how well the two are known to be the same, m
     */
    public record Known(double fibre, double route, double off) {
        public Known {
            if (!(Math.abs(fibre) < 1e7) || !(Math.abs(route) < 1e7) || !(off >= 0 && off < 1e6)) {
                throw new IllegalArgumentException("a known place at " + fibre + " m, " + route + " m +- " + off);
            }
        }
    }

    /**
     * A place on the route.
     *
     * @param at m
     * @param off half of the range it is in with about 95 %, m
     */
    public record Place(double at, double off) {}

    /**
     * A scale by known places; both lengths have to rise from one to the next. The front of both is known without being
     * told.
     *
     * @throws IllegalArgumentException if a place lies behind another on one scale and before it on the other
     */
    public RouteScale(List<Known> places) {
        List<Known> sorted = new java.util.ArrayList<>(places);
        if (sorted.stream().noneMatch(k -> k.fibre == 0)) {
            sorted.add(new Known(0, 0, 0));
        }
        sorted.sort(Comparator.comparingDouble(Known::fibre));
        for (int i = 1; i < sorted.size(); i++) {
            if (!(sorted.get(i).fibre > sorted.get(i - 1).fibre && sorted.get(i).route > sorted.get(i - 1).route)) {
                throw new IllegalArgumentException("the places at " + sorted.get(i - 1) + " and " + sorted.get(i)
                        + " do not lie in the same order on fibre and route");
            }
        }
        this.known = List.copyOf(sorted);
    }

    /**
     * Where on the route a length of fibre is. Between two known places it is as sure as they are, and as far from them
     * as the slack of a coil between them could shift it; beyond the last, stranding is what is usual.
     */
    public Place route(double fibre) {
        Known last = known.get(known.size() - 1);
        if (fibre >= last.fibre || known.size() == 1) {
            double beyond = fibre - last.fibre;
            double factor = known.size() > 1 ? usual() : 1 / (1 + STRANDING);
            return new Place(last.route + beyond * factor, Math.hypot(last.off, beyond * STRANDING_OFF));
        }
        int i = 1;
        while (known.get(i).fibre < fibre) {
            i++;
        }
        Known a = known.get(i - 1);
        Known b = known.get(i);
        double share = (fibre - a.fibre) / (b.fibre - a.fibre);
        double at = a.route + share * (b.route - a.route);
        // Slack that lies anywhere between them bows the straight line most in the middle.
        double slack = Math.abs(b.fibre - a.fibre - (b.route - a.route) * (1 + STRANDING)) / 2;
        double bow = 4 * share * (1 - share) * Math.min(slack, (b.route - a.route) * STRANDING_OFF);
        return new Place(at, Math.hypot((1 - share) * a.off + share * b.off, bow));
    }

    /** Length of fibre at a place of the route. */
    public double fibre(double route) {
        Known last = known.get(known.size() - 1);
        if (route >= last.route || known.size() == 1) {
            return last.fibre + (route - last.route) / (known.size() > 1 ? usual() : 1 / (1 + STRANDING));
        }
        int i = 1;
        while (known.get(i).route < route) {
            i++;
        }
        Known a = known.get(i - 1);
        Known b = known.get(i);
        return a.fibre + (route - a.route) / (b.route - a.route) * (b.fibre - a.fibre);
    }

    /** Route over fibre from the front to the last known place. */
    private double usual() {
        Known last = known.get(known.size() - 1);
        Known first = known.get(0);
        return (last.route - first.route) / (last.fibre - first.fibre);
    }
}
