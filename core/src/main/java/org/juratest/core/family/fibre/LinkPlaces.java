package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.route.Route;
import org.juratest.core.route.RoutePoint;

/**
 * Where on the route of a link something on a trace is. Closures and patch points that the trace shows tie length of
 * fibre to route; between them the scale of {@link RouteScale} says where, and how surely.
 */
final class LinkPlaces {

    /** What ends a stretch of cable, and so may show on a trace. */
    private static final List<String> JOINTS = List.of("closure", "patch point");
    /** How far from where it should be an event may be and still be that closure: part of the length, and m. */
    private static final double OFF_SHARE = 0.012;

    private static final double OFF_METRES = 25;
    /** How well the position of an event on the trace is known, m. */
    private static final double EVENT_OFF = 5;

    private final Route route;
    private final RouteScale scale;

    private LinkPlaces(Route route, RouteScale scale) {
        this.route = route;
        this.scale = scale;
    }

    /**
     * The places of a link.
     *
     * @param reversed whether the trace was taken from the far end
     * @return null where its plate has no route, or the trace does not go with it
     */
    static @Nullable LinkPlaces of(Nameplate plate, OtdrAnalysis found, boolean reversed) {
        Route whole = LinkEnds.route(plate).orElse(null);
        if (whole == null) {
            return null;
        }
        Route route = reversed ? whole.reversed() : whole;
        List<RouteScale.Known> known = new ArrayList<>();
        double expected = 0;
        double before = 0;
        double routeBefore = 0;
        Double length = found.length();
        double total = fibre(route, route.points().size() - 1);
        double stretch = length == null || total <= 0 ? 1 : length / total;
        for (int i = 1; i < route.points().size(); i++) {
            RoutePoint p = route.points().get(i);
            expected = fibre(route, i) * stretch;
            boolean end = i == route.points().size() - 1;
            Double there = end ? length : JOINTS.contains(p.what()) ? nearest(found, expected) : null;
            if (there != null && there > before && p.km() * 1000 > routeBefore) {
                known.add(new RouteScale.Known(there, p.km() * 1000, EVENT_OFF));
                before = there;
                routeBefore = p.km() * 1000;
            }
        }
        return new LinkPlaces(route, new RouteScale(known));
    }

    /** Length of fibre that is to be expected to a place: stranded, and with all the slack before it. */
    private static double fibre(Route route, int place) {
        double slack = 0;
        for (int i = 0; i < place; i++) {
            slack += route.points().get(i).slack();
        }
        return route.points().get(place).km() * 1000 * (1 + RouteScale.STRANDING) + slack;
    }

    private static @Nullable Double nearest(OtdrAnalysis found, double expected) {
        Double nearest = null;
        for (OtdrEvent e : found.events()) {
            double off = Math.abs(e.position() - expected);
            boolean joint = e.type() == OtdrEvent.Type.NON_REFLECTIVE || e.type() == OtdrEvent.Type.REFLECTIVE;
            if (joint
                    && off <= OFF_METRES + OFF_SHARE * expected
                    && (nearest == null || off < Math.abs(nearest - expected))) {
                nearest = e.position();
            }
        }
        return nearest;
    }

    /** "Closure 2", or "40 m +- 10 m beyond Closure 2". */
    String words(double position) {
        RouteScale.Place place = scale.route(position);
        Route.Beside beside = route.beside(place.at() / 1000);
        double beyond = beside.beyond() * 1000;
        if (Math.abs(beyond) <= Math.max(EVENT_OFF, place.off()) + 1) {
            return beside.point().name();
        }
        return String.format(
                Locale.ROOT,
                "%.0f m \u00b1 %.0f m %s %s",
                Math.abs(beyond),
                Math.max(1, place.off()),
                beyond > 0 ? "beyond" : "before",
                beside.point().name());
    }
}
