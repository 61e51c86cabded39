package org.juratest.core.family.fibre;

import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.route.Route;
import org.juratest.core.route.RoutePoint;

/** Which end of a link is meant by a name. */
final class LinkEnds {

    /** Letters of a name that have to agree. */
    private static final int LEAST = 3;

    private LinkEnds() {}

    /** The route on a link's plate; empty where it has none. */
    static Optional<Route> route(Nameplate plate) {
        return Optional.ofNullable(plate.texts().get("route")).flatMap(Route::kept);
    }

    /**
     * Whether a trace was taken from the far end: what its file says, else whether it comes from what the route calls
     * its far end, or goes to what it calls the near one.
     */
    static boolean isReversed(Nameplate plate, FiledTrace trace) {
        if (Boolean.TRUE.equals(trace.reversed())) {
            return true;
        }
        Route route = route(plate).orElse(null);
        if (route == null) {
            return false;
        }
        RoutePoint near = route.points().get(0);
        RoutePoint far = route.points().get(route.points().size() - 1);
        return means(far, trace.from()) && !means(near, trace.from())
                || means(near, trace.to()) && !means(far, trace.to());
    }

    private static boolean means(RoutePoint end, String name) {
        String plain = plain(name);
        return plain.length() >= LEAST
                && Stream.of(plain(end.name()), plain(end.position()))
                        .anyMatch(n -> n.startsWith(plain) || n.length() >= LEAST && plain.startsWith(n));
    }

    private static String plain(@Nullable String name) {
        return name == null ? "" : name.strip().toLowerCase(Locale.ROOT);
    }
}
