package org.juratest.core.curve;

import java.util.OptionalDouble;
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
 * @param formula what both are drawn from, where they follow a formula; then that decides between their ends, and not
 *     the points of the tables
 * @param apart true for one that goes by another current than the others of the band; absent as false
 */
public record BandElement(
        String id,
        String label,
        double pickUpLow,
        @Nullable Double pickUpHigh,
        LogLogTable lowest,
        LogLogTable highest,
        @Nullable Formula formula,
        @Nullable Boolean apart) {

    /**
     * An inverse-time formula at the settings of a device.
     *
     * @param pickUp current that multiples count from, A
     * @param timeSetting time multiplier or time dial
     * @param lowestShare of the time by the formula that is the shortest allowed
     * @param highestShare likewise the longest
     */
    public record Formula(
            InverseTimeCurve curve, double pickUp, double timeSetting, double lowestShare, double highestShare) {

        /** The same formula from another pick-up current on, A. */
        Formula at(double from) {
            return new Formula(curve, from, timeSetting, lowestShare, highestShare);
        }

        OptionalDouble time(double current, double share) {
            OptionalDouble time = curve.tripTime(timeSetting, current / pickUp);
            return time.isEmpty() ? time : OptionalDouble.of(share * time.getAsDouble());
        }
    }

    public BandElement(
            String id,
            String label,
            double pickUpLow,
            @Nullable Double pickUpHigh,
            LogLogTable lowest,
            LogLogTable highest) {
        this(id, label, pickUpLow, pickUpHigh, lowest, highest, null, null);
    }

    public BandElement {
        apart = Boolean.TRUE.equals(apart) ? Boolean.TRUE : null;
        if (!(pickUpLow > 0 && pickUpLow <= (pickUpHigh == null ? Double.MAX_VALUE : pickUpHigh))) {
            throw new IllegalArgumentException(
                    "element " + id + ": pick-up must be above 0 and its lowest not over its highest");
        }
    }

    /** Shortest allowed time at a current, s; empty outside what is known. */
    OptionalDouble lowestAt(double current) {
        OptionalDouble drawn = lowest.at(current);
        return formula == null || drawn.isEmpty() ? drawn : formula.time(current, formula.lowestShare);
    }

    /** Longest allowed time at a current, s; empty outside what is known. */
    OptionalDouble highestAt(double current) {
        OptionalDouble drawn = highest.at(current);
        return formula == null || drawn.isEmpty() ? drawn : formula.time(current, formula.highestShare);
    }

    /** The same, as the only one of a band. */
    BandElement alone() {
        return new BandElement(id, label, pickUpLow, pickUpHigh, lowest, highest, formula, null);
    }

    boolean isApart() {
        return Boolean.TRUE.equals(apart);
    }

    boolean mayOperateAt(double current) {
        return current >= pickUpLow;
    }

    boolean mustOperateAt(double current) {
        return pickUpHigh != null && current >= pickUpHigh;
    }
}
