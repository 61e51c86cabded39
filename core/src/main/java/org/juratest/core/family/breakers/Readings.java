package org.juratest.core.family.breakers;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.LimitResolver;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunState;
import org.juratest.core.run.RunValues;
import org.juratest.core.uncertainty.AccuracySpec;
import org.juratest.core.uncertainty.Uncertainty;
import org.juratest.core.uncertainty.UncertaintyBudget;

/** Makes readings with their uncertainty and limit from what gear measured. */
public final class Readings {

    private Readings() {}

    /**
     * A contact resistance.
     *
     * @param ohms as measured
     * @param range full scale of the range used, Ohm
     */
    public static Reading contact(
            RunState state, PointKey key, GearFacts gear, double ohms, double current, double range) {
        Unit unit = Unit.of(String.valueOf(point(state, key).unit()));
        AccuracySpec accuracy = gear.accuracy().get(Unit.OHM.dimension());
        Uncertainty u = accuracy == null
                ? null
                : new UncertaintyBudget()
                        .typeB(Unit.OHM.convert(accuracy.standardAt(ohms, range), unit), 1)
                        .expand();
        return reading(key, Unit.OHM.convert(ohms, unit), unit, Qualifier.EQUAL, u, null, current, gear);
    }

    /**
     * A trip time with its window at the measured current.
     *
     * @param seconds to the trip, or that passed without one ({@link Qualifier#MORE})
     * @param current A rms as measured over the injection
     * @param range full scale of the current range used, A
     */
    public static Reading tripTime(
            RunState state,
            PointKey key,
            GearFacts gear,
            double seconds,
            Qualifier qualifier,
            double current,
            double range) {
        LimitSpec spec = state.limitSpec(key);
        ResolvedLimit limit = spec != null && spec.when() == LimitSpec.When.READING
                ? LimitResolver.resolve(
                        spec,
                        point(state, key).scale(),
                        new RunValues(state, key, Map.of("current", Quantity.amperes(current))))
                : null;
        return reading(
                key,
                seconds,
                Unit.SECOND,
                qualifier,
                tripUncertainty(state, gear, seconds, current, range),
                limit,
                current,
                gear);
    }

    /** The timer's, and that of the current carried over by the slope of the curve, (dt/dI) u(I). */
    private static @Nullable Uncertainty tripUncertainty(
            RunState state, GearFacts gear, double seconds, double current, double range) {
        AccuracySpec timer = gear.accuracy().get(Unit.SECOND.dimension());
        AccuracySpec amperes = gear.accuracy().get(Unit.AMPERE.dimension());
        if (timer == null || amperes == null) {
            return null;
        }
        Envelope envelope = state.envelope();
        double slope = envelope == null ? 0 : envelope.slopeAt(current);
        return new UncertaintyBudget()
                .typeB(timer.standardAt(seconds, seconds), 1)
                .typeB(amperes.standardAt(current, range), slope)
                .expand();
    }

    private static TestPoint point(RunState state, PointKey key) {
        return state.procedure()
                .step(key.step())
                .flatMap(s -> s.point(key.point()))
                .orElseThrow();
    }

    private static Reading reading(
            PointKey key,
            double value,
            Unit unit,
            Qualifier qualifier,
            @Nullable Uncertainty u,
            @Nullable ResolvedLimit limit,
            double current,
            GearFacts gear) {
        return new Reading(
                key,
                value,
                unit,
                qualifier,
                Reading.Source.MEASURED,
                null,
                List.of(),
                u == null ? null : (Double) u.expanded(),
                u == null ? null : (Double) u.coverageFactor(),
                limit,
                Map.of("current", Quantity.amperes(current)),
                gear.id(),
                null);
    }
}
