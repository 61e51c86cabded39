package org.juratest.core.procedure;

import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A parameter of a step: a value, or a formula over the nameplate that becomes one when a run is opened.
 *
 * @param value in {@code unit}; absent until a formula is resolved, and after it if it could not be
 * @param inputs the formula's names, see {@link org.juratest.core.limit.InputRef}
 * @param unit UCUM code
 * @param missing why a formula gave no value; absent where there is one
 * @param lanes values by lane, where they differ; then {@code value} is absent
 * @param range what it may be changed to in a run, in {@code unit}; absent where the greatest values of the step alone
 *     bound it
 * @param learned whether it only sets what drives the test, is learned from device to device, and may be changed after
 *     something was measured with it; absent: no
 * @param otherwise what it is where an input of its formula is not on the plate, in {@code unit}: for what a person may
 *     leave blank on purpose; absent: it has no value then, and what needs it is refused
 */
public record Param(
        @Nullable Double value,
        @Nullable String formula,
        Map<String, String> inputs,
        String unit,
        @Nullable String missing,
        @Nullable Map<String, Double> lanes,
        @Nullable Range range,
        @Nullable Boolean learned,
        @Nullable Double otherwise) {

    /** From a least to a greatest value, both included. */
    public record Range(double low, double high) {
        public Range {
            if (!(low <= high) || !(Math.abs(low) <= Double.MAX_VALUE) || !(Math.abs(high) <= Double.MAX_VALUE)) {
                throw new IllegalArgumentException(
                        "a range goes from a finite value up to another, not from " + low + " to " + high);
            }
        }

        /** Whether a value lies in it; NaN never does. */
        public boolean has(double value) {
            return value >= low && value <= high;
        }
    }

    public Param(
            @Nullable Double value,
            @Nullable String formula,
            Map<String, String> inputs,
            String unit,
            @Nullable String missing) {
        this(value, formula, inputs, unit, missing, null, null, null, null);
    }

    /** Likewise, with values by lane, and a range. */
    public Param(
            @Nullable Double value,
            @Nullable String formula,
            Map<String, String> inputs,
            String unit,
            @Nullable String missing,
            @Nullable Map<String, Double> lanes,
            @Nullable Range range) {
        this(value, formula, inputs, unit, missing, lanes, range, null, null);
    }

    /** One without anything to stand in for it. */
    public Param(
            @Nullable Double value,
            @Nullable String formula,
            Map<String, String> inputs,
            String unit,
            @Nullable String missing,
            @Nullable Map<String, Double> lanes,
            @Nullable Range range,
            @Nullable Boolean learned) {
        this(value, formula, inputs, unit, missing, lanes, range, learned, null);
    }

    public Param {
        inputs = Map.copyOf(inputs);
        lanes = lanes == null || lanes.isEmpty()
                ? null
                : java.util.Collections.unmodifiableMap(new java.util.TreeMap<>(lanes));
        if (value != null && !(Math.abs(value) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("a parameter must be finite, not " + value);
        }
        if (lanes != null && lanes.values().stream().anyMatch(v -> !(Math.abs(v) <= Double.MAX_VALUE))) {
            throw new IllegalArgumentException("a parameter must be finite, not " + lanes);
        }
        if (range != null && value != null && !range.has(value)) {
            throw new IllegalArgumentException(
                    "a parameter of " + value + " lies outside its own range, " + range.low + " to " + range.high);
        }
        if (otherwise != null && (formula == null || !(Math.abs(otherwise) <= Double.MAX_VALUE))) {
            throw new IllegalArgumentException("what stands in for a formula is finite, and there is a formula");
        }
        if (value == null && formula == null && missing == null && lanes == null) {
            throw new IllegalArgumentException("a parameter needs a value or a formula");
        }
    }

    public static Param of(double value, String unit) {
        return new Param(value, null, Map.of(), unit, null);
    }

    /** The same with a value in place of whatever made it. */
    Param set(double to) {
        return new Param(to, null, Map.of(), unit, null, null, range, learned, null);
    }

    /** The parameter as it is on one lane. */
    Param at(String lane) {
        if (lanes == null) {
            return this;
        }
        Double own = lanes.get(lane);
        return new Param(
                own,
                formula,
                inputs,
                unit,
                own == null ? String.valueOf(missing == null ? "it is not known on " + lane : missing) : null,
                null,
                range,
                learned,
                otherwise);
    }

    /** What a formula gave, or why it gave nothing. */
    Param resolved(@Nullable Double to, @Nullable String why) {
        return new Param(to, formula, inputs, unit, why, null, range, learned, otherwise);
    }
}
