package org.juratest.core.procedure;

import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A parameter of a step: a value, or a formula over the nameplate that becomes one when a run is opened.
 *
 * @param value   in {@code unit}; absent until a formula is resolved, and after it if it could not be
 * @param inputs  the formula's names, see {@link org.juratest.core.limit.InputRef}
 * @param unit    UCUM code
 * @param missing why a formula gave no value; absent where there is one
 * @param lanes   values by lane, where they differ; then {@code value} is absent
 */
public record Param(@Nullable Double value, @Nullable String formula, Map<String, String> inputs, String unit,
    @Nullable String missing, @Nullable Map<String, Double> lanes) {

  public Param(@Nullable Double value, @Nullable String formula, Map<String, String> inputs, String unit, @Nullable String missing) {
    this(value, formula, inputs, unit, missing, null);
  }

  public Param {
    inputs = Map.copyOf(inputs);
    lanes = lanes == null || lanes.isEmpty() ? null : java.util.Collections.unmodifiableMap(new java.util.TreeMap<>(lanes));
    if (value != null && !(Math.abs(value) <= Double.MAX_VALUE)) {
      throw new IllegalArgumentException("a parameter must be finite, not " + value);
    }
    if (lanes != null && lanes.values().stream().anyMatch(v -> !(Math.abs(v) <= Double.MAX_VALUE))) {
      throw new IllegalArgumentException("a parameter must be finite, not " + lanes);
    }
    if (value == null && formula == null && missing == null && lanes == null) {
      throw new IllegalArgumentException("a parameter needs a value or a formula");
    }
  }

  public static Param of(double value, String unit) {
    return new Param(value, null, Map.of(), unit, null);
  }

  /** The parameter as it is on one lane. */
  Param at(String lane) {
    if (lanes == null) {
      return this;
    }
    Double own = lanes.get(lane);
    return new Param(own, formula, inputs, unit, own == null ? String.valueOf(missing == null ? "it is not known on " + lane : missing) : null);
  }
}
