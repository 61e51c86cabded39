package org.juratest.core.run;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.formula.Formula;
import org.juratest.core.formula.FormulaException;
import org.juratest.core.limit.InputRef;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.uncertainty.Uncertainty;
import org.juratest.core.uncertainty.UncertaintyBudget;

/**
 * The value a derivation point has with the readings there are.
 *
 * @param value in the unit of the point; absent where the formula gives none
 * @param u carried through from the inputs (JCGM 100:2008, 5.1.2); absent where one of them is not known
 * @param why why there is no value; absent where there is one
 */
record Derivation(@Nullable Double value, @Nullable Uncertainty u, @Nullable String why) {

    /** Empty if the point is not derived, or waits for an input. */
    static Optional<Derivation> of(RunState state, PointKey key) {
        Step step = state.procedure().step(key.step()).orElseThrow();
        TestPoint point = step.point(key.point()).orElseThrow();
        if (step.kind() != StepKind.DERIVATION || point.formula() == null) {
            return Optional.empty();
        }
        RunValues context = new RunValues(state, key, Map.of());
        Map<String, Double> values = new HashMap<>();
        Map<String, PointKey> readings = new HashMap<>();
        for (Map.Entry<String, String> input : point.inputs().entrySet()) {
            InputRef ref = InputRef.parse(input.getValue());
            OptionalDouble value = context.input(ref);
            if (value.isEmpty()) {
                return ref.from() == InputRef.From.READING
                        ? Optional.empty()
                        : Optional.of(new Derivation(null, null, "there is no " + ref));
            }
            values.put(input.getKey(), value.getAsDouble());
            if (ref.from() == InputRef.From.READING) {
                readings.put(input.getKey(), context.pointOf(ref));
            }
        }
        return Optional.of(evaluate(state, point.formula(), values, readings));
    }

    private static Derivation evaluate(
            RunState state, String text, Map<String, Double> values, Map<String, PointKey> readings) {
        try {
            Formula formula = Formula.parse(text);
            double value = formula.evaluate(values);
            PointJudge judge = new PointJudge(state);
            UncertaintyBudget budget = new UncertaintyBudget();
            for (Map.Entry<String, PointKey> input : readings.entrySet()) {
                Double standard = judge.standard(input.getValue());
                if (standard == null) {
                    budget.unknown();
                } else if (standard > 0) {
                    budget.component(
                            standard,
                            ReadingBuilder.slope(formula, values, input.getKey()),
                            judge.freedom(input.getValue()));
                }
            }
            return new Derivation(value, budget.isKnown() && !readings.isEmpty() ? budget.expand() : null, null);
        } catch (FormulaException e) {
            return new Derivation(null, null, e.getMessage());
        }
    }
}
