package org.juratest.core.family.breakers;

import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;

/** Makes readings with their uncertainty from what gear measured. */
final class Readings {

    private Readings() {}

    /**
     * A contact resistance.
     *
     * @param ohms as measured
     * @param current A, that flowed
     * @param range full scale of the range used, Ohm
     */
    static ReadingBuilder contact(ReadingOrigin from, String point, double ohms, double current, double range) {
        return from.value(point, ohms, Unit.OHM)
                .accuracy(Unit.OHM.dimension(), range)
                .with("current", Quantity.amperes(current));
    }

    /**
     * A trip time, its window at the measured current. Its uncertainty is the timer's, and that of the current carried
     * over by the slope of the curve, (dt/dI) u(I).
     *
     * @param seconds to the trip, or that passed without one ({@link Qualifier#MORE})
     * @param current A rms as measured over the injection
     * @param range full scale of the current range used, A
     */
    static ReadingBuilder tripTime(
            ReadingOrigin from, String point, double seconds, Qualifier qualifier, double current, double range) {
        return tripTime(
                from, point, seconds, qualifier, current, range, from.state().envelope());
    }

    /**
     * Likewise.
     *
     * @param envelope the part of the curve that it goes by; absent where it is not known
     */
    static ReadingBuilder tripTime(
            ReadingOrigin from,
            String point,
            double seconds,
            Qualifier qualifier,
            double current,
            double range,
            @Nullable Envelope envelope) {
        double slope = envelope == null ? 0 : envelope.slopeAt(current);
        return from.value(point, seconds, Unit.SECOND)
                .accuracy(Unit.SECOND.dimension())
                .accuracy(Unit.AMPERE.dimension(), current, range, slope)
                .qualifier(qualifier)
                .with("current", Quantity.amperes(current));
    }
}
