package org.juratest.core.curve;

import org.jspecify.annotations.Nullable;

/**
 * One element of a device (long time, instantaneous, ...) as a band in amperes and seconds.
 *
 * @param id short name, unique in the band
 * @param label what people call it
 * @param pickUpLow A; below it the element may not operate
 * @param pickUpHigh A; at or above it the element must operate; absent for one that never must
 * @param lowest shortest allowed time over current
 * @param highest longest allowed time over current
 */
public record BandElement(
        String id,
        String label,
        double pickUpLow,
        @Nullable Double pickUpHigh,
        LogLogTable lowest,
        LogLogTable highest) {

    public BandElement {
        if (!(pickUpLow > 0 && pickUpLow <= (pickUpHigh == null ? Double.MAX_VALUE : pickUpHigh))) {
            throw new IllegalArgumentException(
                    "element " + id + ": pick-up must be above 0 and its lowest not over its highest");
        }
    }

    boolean mayOperateAt(double current) {
        return current >= pickUpLow;
    }

    boolean mustOperateAt(double current) {
        return pickUpHigh != null && current >= pickUpHigh;
    }
}
