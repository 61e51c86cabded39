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

/**
 * The value a derivation point has with the readings there are.
 *
 * @param value absent where the formula gives none
 * @param uncertainty expanded, carried through from the inputs; absent where no input has one
 * @param why why there is no value; absent where there is one
 */
record Derivation(@Nullable Double value, @Nullable Double uncertainty, @Nullable String why) {

    /** Relative step of the numerical derivative by an input. */
    private static final double STEP = 1e-6;

    /** Empty if the point is not derived, or waits for an input. */
    static Optional<Derivation> of(RunState state, PointKey key) {
        Step step = state.procedure().step(key.step()).orElseThrow();
        TestPoint point = step.point(key.point()).orElseThrow();
        if (step.kind() != StepKind.DERIVATION || point.formula() == null) {
            return Optional.empty();
        }
        RunValues context = new RunValues(state, key, Map.of());
        Map<String, Double> values = new HashMap<>();
        Map<String, Double> uncertainties = new HashMap<>();
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
                RunValues.latest(state, context.pointOf(ref))
                        .map(Reading::uncertainty)
                        .ifPresent(u -> uncertainties.put(input.getKey(), u));
            }
        }
        return Optional.of(evaluate(point.formula(), values, uncertainties));
    }

    private static Derivation evaluate(String text, Map<String, Double> values, Map<String, Double> uncertainties) {
        try {
            Formula formula = Formula.parse(text);
            double value = formula.evaluate(values);
            double squares = 0;
            for (Map.Entry<String, Double> u : uncertainties.entrySet()) {
                // JCGM 100:2008, 5.1.3 note 2: sensitivity by a small change of the input.
                double at = values.get(u.getKey());
                double step = Math.max(Math.abs(at), 1e-12) * STEP;
                Map<String, Double> moved = new HashMap<>(values);
                moved.put(u.getKey(), at + step);
                double contribution = (formula.evaluate(moved) - value) / step * u.getValue();
                squares += contribution * contribution;
            }
            return new Derivation(value, uncertainties.isEmpty() ? null : (Double) Math.sqrt(squares), null);
        } catch (FormulaException e) {
            return new Derivation(null, null, e.getMessage());
        }
    }
}
