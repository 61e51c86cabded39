package org.juratest.core.curve;

import java.util.OptionalDouble;

/** How long a device takes at a current. */
@FunctionalInterface
public interface TimeOverCurrent {

    /**
     * @param current A
     * @return s, above 0; empty where it takes no notice of such a current
     */
    OptionalDouble at(double current);
}
