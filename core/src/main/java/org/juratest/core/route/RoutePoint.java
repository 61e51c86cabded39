package org.juratest.core.route;

import org.jspecify.annotations.Nullable;

/**
 * A place of a route.
 *
 * @param km from the near end along the route
 * @param what stands there, one of the kinds its class knows
 * @param name as people on site call it
 * @param height above sea, m; absent where nobody noted it
 * @param slack length that lies coiled there beside the route, m, 0 for none
 * @param position code of the position it belongs to; absent for none
 */
public record RoutePoint(
        double km, String what, String name, @Nullable Double height, double slack, @Nullable String position) {}
