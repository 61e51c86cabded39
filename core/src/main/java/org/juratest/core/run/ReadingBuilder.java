package org.juratest.core.run;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.OptionalDouble;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.Correction;
import org.juratest.core.formula.Formula;
import org.juratest.core.formula.FormulaException;
import org.juratest.core.limit.InputRef;
import org.juratest.core.limit.LimitResolver;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.CorrectionSpec;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.uncertainty.AccuracySpec;
import org.juratest.core.uncertainty.Uncertainty;
import org.juratest.core.uncertainty.UncertaintyBudget;

/**
 * Makes a reading of what was measured: converts it to the unit of its point, corrects it by what the method and the
 * procedure say, works out its uncertainty, and resolves its limit where that goes with the reading. Everything that is
 * added before {@link #result} is in the unit of the value as measured.
 *
 * <p>A value that is not finite becomes no value, with words, never an exception or a gap.
 */
public final class ReadingBuilder {

    private final RunState state;
    private final PointKey key;
    private final TestPoint point;
    private final @Nullable GearFacts gear;
    private final Reading.Source source;
    private final double measured;
    private final Unit unit;
    private final UncertaintyBudget budget = new UncertaintyBudget();
    private final Map<String, Quantity> with = new TreeMap<>();
    private final List<Made> own = new ArrayList<>();
    private final List<String> remarks = new ArrayList<>();
    private Qualifier qualifier = Qualifier.EQUAL;
    private boolean stated;
    private String none = "what was measured gives no figure";

    /** A correction with the uncertainty of its amount; null where unknown. */
    private record Made(String name, Correction by, @Nullable Double u, String words) {}

    /** A reading, or why there is none; one of the two. */
    public record Result(@Nullable Reading reading, AttemptEvents.@Nullable Blank blank, @Nullable String words) {}

    /**
     * Begins a reading.
     *
     * @param gear it was measured with, or read off; absent where it was derived
     * @param measured in {@code unit}; NaN or infinite for what could not be measured
     * @param unit of the dimension of the point
     */
    public ReadingBuilder(
            RunState state, PointKey key, @Nullable GearFacts gear, Reading.Source source, double measured, Unit unit) {
        this.state = state;
        this.key = key;
        this.point = state.procedure()
                .step(key.step())
                .flatMap(s -> s.point(key.point()))
                .orElseThrow(() -> new IllegalArgumentException("there is no point " + key));
        this.gear = gear;
        this.source = source;
        this.measured = measured;
        this.unit = unit;
        rowKey();
    }

    /** A row of a feature carries its key, by which it is found again in other records. */
    private void rowKey() {
        Rows.of(state, key).ifPresent(found -> with.put(found.feature(), found.at()));
    }

    /** The point it is of. */
    public PointKey key() {
        return key;
    }

    /** The gear's data sheet has a figure for a quantity: at the value, on a range of that value. */
    public ReadingBuilder accuracy(String quantity) {
        return accuracy(quantity, measured, measured, 1);
    }

    /** Likewise, on a range of the gear, in the unit of the value. */
    public ReadingBuilder accuracy(String quantity, double range) {
        return accuracy(quantity, measured, range, 1);
    }

    /**
     * The gear's accuracy for what the value depends on; where its data sheet has no figure, U is unknown.
     *
     * @param at what was measured, in the base unit of that quantity
     * @param range full scale, likewise
     * @param sensitivity derivative of the value by that quantity
     */
    public ReadingBuilder accuracy(String quantity, double at, double range, double sensitivity) {
        AccuracySpec spec = gear == null ? null : gear.accuracy().get(quantity);
        stated = true;
        if (spec == null || !isFinite(at) || !isFinite(range) || !isFinite(sensitivity)) {
            budget.unknown();
        } else {
            budget.typeB(spec.standardAt(at, range), sensitivity);
        }
        return this;
    }

    /** A standard uncertainty of type B; see {@link UncertaintyBudget#typeB}. */
    public ReadingBuilder typeB(double standard, double sensitivity) {
        stated = true;
        budget.typeB(standard, sensitivity);
        return this;
    }

    /** The value lies within a step of a search, or of a display. */
    public ReadingBuilder within(double step) {
        stated = true;
        budget.within(step);
        return this;
    }

    /** The value is the mean of repeats; fewer than two say nothing of their scatter. */
    public ReadingBuilder scatter(double deviation, int count) {
        if (count >= 2) {
            stated = true;
            budget.typeA(deviation, count);
        }
        return this;
    }

    /** A component with degrees of freedom of its own. */
    public ReadingBuilder component(double standard, double sensitivity, double freedom) {
        stated = true;
        budget.component(standard, sensitivity, freedom);
        return this;
    }

    /** A component that nobody knows: then U is unknown. */
    public ReadingBuilder unknown() {
        stated = true;
        budget.unknown();
        return this;
    }

    /**
     * A correction that the method makes, before those of the procedure.
     *
     * @param u standard uncertainty of its amount; null where unknown: then U is unknown
     */
    public ReadingBuilder corrected(String name, Correction by, @Nullable Double u, String words) {
        own.add(new Made(name, by, u, words));
        return this;
    }

    /** What else belongs to the value. */
    public ReadingBuilder with(String name, Quantity value) {
        with.put(name, value);
        return this;
    }

    /** Likewise. */
    public ReadingBuilder with(Map<String, Quantity> values) {
        with.putAll(values);
        return this;
    }

    public ReadingBuilder qualifier(Qualifier which) {
        qualifier = which;
        return this;
    }

    /** Words beside the figure; null for none. */
    public ReadingBuilder remark(@Nullable String words) {
        if (words != null) {
            remarks.add(words);
        }
        return this;
    }

    /** What is said where the value is not finite. */
    public ReadingBuilder ifNone(String words) {
        none = words;
        return this;
    }

    /** The reading, or why there is none. */
    public Result result() {
        if (Double.isNaN(measured)) {
            return new Result(null, AttemptEvents.Blank.NOTHING_THERE, none);
        }
        if (!isFinite(measured)) {
            return new Result(null, AttemptEvents.Blank.OVER_RANGE, "more than the gear can measure");
        }
        Unit to = Unit.of(String.valueOf(point.unit()));
        double value = unit.convert(measured, to);
        double raw = value;
        budget.carried(unit.factor() / to.factor());
        List<Reading.Correction> corrections = new ArrayList<>();
        for (Made made : own) {
            value = applied(made, value, to, budget, corrections);
        }
        for (CorrectionSpec spec : point.allCorrections()) {
            Made made = worked(spec);
            if (made != null) {
                value = applied(made, value, to, budget, corrections);
            }
        }
        if (!isFinite(value)) {
            return new Result(null, AttemptEvents.Blank.OVER_RANGE, "corrected, it is more than a figure holds");
        }
        Uncertainty u = stated && budget.isKnown() ? budget.expand() : null;
        return new Result(reading(value, raw, to, corrections, u), null, null);
    }

    private static double applied(
            Made made, double value, Unit unit, UncertaintyBudget budget, List<Reading.Correction> corrections) {
        if (made.u == null) {
            budget.unknown();
        }
        made.by.carry(budget, value, unit, made.u == null ? 0 : made.u);
        corrections.add(new Reading.Correction(made.name, made.by, made.u, made.words));
        return made.by.of(value, unit);
    }

    private Reading reading(
            double value, double raw, Unit to, List<Reading.Correction> corrections, @Nullable Uncertainty u) {
        return new Reading(
                key,
                value,
                to,
                qualifier,
                source,
                corrections.isEmpty() ? null : (Double) raw,
                corrections,
                u == null ? null : (Double) u.expanded(),
                u == null ? null : (Double) u.coverageFactor(),
                limit(),
                with,
                gear == null ? null : gear.id(),
                remarks.isEmpty() ? null : String.join("; ", remarks),
                u == null || u.degreesOfFreedom() > 1e6 ? null : (Double) u.degreesOfFreedom());
    }

    private @Nullable ResolvedLimit limit() {
        LimitSpec spec = state.limitSpec(key);
        return spec == null || spec.when() != LimitSpec.When.READING
                ? null
                : LimitResolver.resolve(spec, point.scale(), new RunValues(state, key, with));
    }

    /** A correction of the procedure, worked out; null where an input is missing, which is said beside the figure. */
    private @Nullable Made worked(CorrectionSpec spec) {
        RunValues values = new RunValues(state, key, with);
        try {
            if (spec.amount() != null) {
                return made(spec, spec.amount(), spec.u(), figure(spec.amount()));
            }
            return spec.formula() != null ? byFormula(spec, spec.formula(), values) : byTable(spec, values);
        } catch (MissingInput e) {
            remarks.add("not corrected: " + e.getMessage());
            return null;
        } catch (FormulaException e) {
            remarks.add("not corrected: the formula of the " + spec.name() + " gives no value, " + e.getMessage());
            return null;
        }
    }

    private static final class MissingInput extends Exception {
        private static final long serialVersionUID = 1;

        MissingInput(String message) {
            super(message);
        }
    }

    private Made byFormula(CorrectionSpec spec, String text, RunValues values) throws MissingInput {
        Map<String, Double> inputs = new HashMap<>();
        for (Map.Entry<String, String> input : spec.inputs().entrySet()) {
            inputs.put(input.getKey(), input(InputRef.parse(input.getValue()), values));
        }
        Formula formula = Formula.parse(text);
        double amount = formula.evaluate(inputs);
        double squares = spec.u() == null ? Double.NaN : spec.u() * spec.u();
        for (Map.Entry<String, Double> input : inputs.entrySet()) {
            double u = inputU(
                    spec,
                    input.getKey(),
                    InputRef.parse(Objects.requireNonNull(spec.inputs().get(input.getKey()))));
            double contribution = u == 0 ? 0 : slope(formula, inputs, input.getKey()) * u;
            squares += contribution * contribution;
        }
        String words = text + " with "
                + String.join(
                        ", ",
                        new TreeMap<>(inputs)
                                .entrySet().stream()
                                        .map(e -> e.getKey() + " = " + figure(e.getValue()))
                                        .toList());
        return made(spec, amount, Double.isNaN(squares) ? null : (Double) Math.sqrt(squares), words);
    }

    /** Derivative by an input, from a small change of it (JCGM 100:2008, 5.1.3 note 2). */
    static double slope(Formula formula, Map<String, Double> inputs, String name) throws FormulaException {
        double at = Objects.requireNonNull(inputs.get(name));
        double step = Math.max(Math.abs(at), 1e-6) * 1e-6;
        Map<String, Double> above = new HashMap<>(inputs);
        above.put(name, at + step);
        Map<String, Double> below = new HashMap<>(inputs);
        below.put(name, at - step);
        return (formula.evaluate(above) - formula.evaluate(below)) / (2 * step);
    }

    private Made byTable(CorrectionSpec spec, RunValues values) throws MissingInput {
        InputRef of = InputRef.parse(String.valueOf(spec.of()));
        double at = input(of, values);
        List<CorrectionSpec.Row> rows = spec.table();
        if (rows.isEmpty()
                || !(at >= rows.get(0).at() && at <= rows.get(rows.size() - 1).at())) {
            throw new MissingInput("the table of the " + spec.name() + " does not go to " + figure(at));
        }
        int n = 1;
        while (n < rows.size() - 1 && rows.get(n).at() < at) {
            n++;
        }
        CorrectionSpec.Row below = rows.get(Math.max(0, n - 1));
        CorrectionSpec.Row above = rows.get(Math.min(n, rows.size() - 1));
        double slope = above.at() > below.at() ? (above.amount() - below.amount()) / (above.at() - below.at()) : 0;
        double own = slope * inputU(spec, "of", of);
        Double u = spec.u() == null || Double.isNaN(own) ? null : (Double) Math.hypot(spec.u(), own);
        return made(spec, below.amount() + slope * (at - below.at()), u, "at " + figure(at));
    }

    /** Standard uncertainty of an input; NaN where it is a reading of unknown uncertainty. */
    private double inputU(CorrectionSpec spec, String name, InputRef ref) {
        Double given = spec.inputU().get(name);
        if (given != null) {
            return given;
        }
        if (ref.from() != InputRef.From.READING) {
            return 0;
        }
        Double u = new PointJudge(state).standard(new RunValues(state, key, with).pointOf(ref));
        return u == null ? Double.NaN : u;
    }

    private static double input(InputRef ref, RunValues values) throws MissingInput {
        OptionalDouble value = values.input(ref);
        if (value.isEmpty()) {
            throw new MissingInput(
                    ref.from() == InputRef.From.CONDITION
                            ? "the " + StepEvents.ConditionEntered.words(ref.name())
                                    + " is missing; enter it, void this attempt for temperature, and take the value "
                                    + "again"
                            : "there is no " + ref);
        }
        return value.getAsDouble();
    }

    private static Made made(CorrectionSpec spec, double amount, @Nullable Double u, String words) {
        String by =
                switch (spec.kind()) {
                    case FACTOR -> "\u00d7 " + figure(amount);
                    case DECIBEL -> signed(amount) + " dB";
                    case OFFSET -> signed(amount);
                };
        return new Made(
                spec.name(),
                new Correction(spec.kind(), amount),
                u,
                spec.name() + ": " + by + (words.equals(figure(amount)) ? "" : ", " + words));
    }

    private static String signed(double amount) {
        return (amount < 0 ? "\u2212" : "+") + figure(Math.abs(amount));
    }

    private static String figure(double value) {
        return isFinite(value)
                ? new java.math.BigDecimal(value)
                        .round(new java.math.MathContext(4))
                        .stripTrailingZeros()
                        .toPlainString()
                : String.format(Locale.ROOT, "%s", value);
    }

    private static boolean isFinite(double value) {
        return Math.abs(value) <= Double.MAX_VALUE;
    }
}
