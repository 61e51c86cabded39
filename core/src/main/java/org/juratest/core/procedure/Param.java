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
 */
public record Param(@Nullable Double value, @Nullable String formula, Map<String, String> inputs, String unit,
    @Nullable String missing) {

  public Param {
    inputs = Map.copyOf(inputs);
    if (value != null && !(Math.abs(value) <= Double.MAX_VALUE)) {
      throw new IllegalArgumentException("a parameter must be finite, not " + value);
    }
    if (value == null && formula == null && missing == null) {
      throw new IllegalArgumentException("a parameter needs a value or a formula");
    }
  }

  public static Param of(double value, String unit) {
    return new Param(value, null, Map.of(), unit, null);
  }
}
