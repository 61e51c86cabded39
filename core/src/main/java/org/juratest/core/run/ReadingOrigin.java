package org.juratest.core.run;

import org.juratest.core.quantity.Unit;

/** Where readings of one step and lane come from: gear that measures now, or what is known of a measurement before. */
public interface ReadingOrigin {

    RunState state();

    /**
     * Begins a reading of a point that the step has.
     *
     * @param value in {@code unit}; NaN or infinite where it could not be measured
     */
    ReadingBuilder value(String point, double value, Unit unit);
}
