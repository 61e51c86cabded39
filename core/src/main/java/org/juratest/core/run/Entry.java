package org.juratest.core.run;

import java.time.LocalDate;
import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.Scale;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Plausible;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.quantity.UnitMismatchException;

/**
 * A value read off stand-alone gear, as a person enters it.
 *
 * @param value in {@code unit}
 * @param unit UCUM code of the dimension of the point
 */
public record Entry(PointKey key, double value, String unit, Qualifier qualifier) {

    /**
     * The events of an accepted entry: an attempt of its own with the reading, corrected where the point asks for it.
     *
     * @param today day at the site, for the gear's calibration
     * @throws Refusal naming the field at fault
     */
    public List<EventData> accept(RunState state, UUID attempt, LocalDate today) {
        Rules.open(state);
        Rules.rightDevice(state);
        Step step = state.stepInScope(key.step());
        if (step.kind() != StepKind.ENTRY) {
            throw new Refusal("not-an-entry", "\"" + step.title() + "\" is not entered by hand.", "key");
        }
        TestPoint point = Rules.point(state, key);
        Rules.lane(state, step, key.lane());
        Rules.holdsReleased(state, step);
        if (state.skipped().containsKey(step.id())) {
            throw new Refusal(
                    "step-skipped",
                    "\"" + step.title() + "\" was skipped: " + state.skipped().get(step.id()) + ".",
                    "key");
        }
        GearFacts gear = step.gear() == null ? null : Rules.gear(state, step, today);
        Reading reading = reading(state, point, gear);
        return List.of(
                new AttemptEvents.AttemptBegun(attempt, key.step(), key.lane(), gear == null ? null : gear.id(), 1),
                new AttemptEvents.ReadingEntered(attempt, reading),
                new AttemptEvents.AttemptClosed(attempt, Attempt.Outcome.VALID, "entered"));
    }

    private Reading reading(RunState state, TestPoint point, @Nullable GearFacts gear) {
        Unit pointUnit = Unit.of(String.valueOf(point.unit()));
        ReadingBuilder made =
                new ReadingBuilder(state, key, gear, Reading.Source.ENTERED, converted(point, pointUnit), pointUnit);
        if (gear != null) {
            // Data sheets state it in the base unit.
            double base = converted(point, pointUnit) * pointUnit.factor();
            made.accuracy(pointUnit.dimension(), base, base, 1 / pointUnit.factor());
        }
        Quantity temperature = state.conditions().get(StepEvents.ConditionEntered.EQUIPMENT_TEMPERATURE);
        if (temperature != null && !point.allCorrections().isEmpty()) {
            made.with(StepEvents.ConditionEntered.EQUIPMENT_TEMPERATURE, temperature);
        }
        ReadingBuilder.Result result = made.qualifier(qualifier).result();
        if (result.reading() == null) {
            throw new Refusal(
                    "out-of-range", "\"" + point.label() + "\" cannot be so: " + result.words() + ".", "value");
        }
        return result.reading();
    }

    private double converted(TestPoint point, Unit pointUnit) {
        double raw;
        try {
            raw = Unit.of(unit).convert(value, pointUnit);
        } catch (UnitMismatchException e) {
            throw new Refusal(
                    "wrong-unit",
                    "\"" + point.label() + "\" is entered in a unit of " + pointUnit.dimension() + ", not in "
                            + e.first().symbol() + ".",
                    "unit");
        } catch (IllegalArgumentException e) {
            throw new Refusal("wrong-unit", "There is no unit \"" + unit + "\".", "unit");
        }
        if (!(Math.abs(raw) <= Double.MAX_VALUE)) {
            throw new Refusal("not-a-number", "Enter a number, not " + value + ".", "value");
        }
        if (!Plausible.is(raw, pointUnit)) {
            throw new Refusal(
                    "out-of-range",
                    "\"" + point.label() + "\" cannot be so: " + Plausible.words(raw, pointUnit)
                            + ". Look at the unit and the power of ten.",
                    "value");
        }
        if (point.scale() == Scale.LOGARITHMIC && !(raw > 0)) {
            throw new Refusal("out-of-range", "\"" + point.label() + "\" must be above 0.", "value");
        }
        return raw;
    }
}
