package org.juratest.core.quantity;

import java.util.LinkedHashMap;
import java.util.Map;

/**
 * A unit of measure, named by its case-sensitive UCUM code (The Unified Code for Units of Measure, version 2.1).
 * Units UCUM has no code for are declared extensions. Two units of one dimension convert by a factor; degrees
 * Celsius stand alone, because an offset unit must never be scaled.
 *
 * @param code      UCUM code, such as {@code uOhm}
 * @param symbol    what is shown to people, such as {@code µΩ}
 * @param dimension name of the dimension; only units of one dimension convert
 * @param factor    multiplies a value in this unit to give the dimension's base unit; positive
 */
public record Unit(String code, String symbol, String dimension, double factor) {

  private static final Map<String, Unit> KNOWN = new LinkedHashMap<>();

  public static final Unit ONE = define("1", "", "number", 1);
  public static final Unit PERCENT = define("%", "%", "number", 0.01);
  public static final Unit AMPERE = define("A", "A", "current", 1);
  public static final Unit KILOAMPERE = define("kA", "kA", "current", 1e3);
  public static final Unit MILLIAMPERE = define("mA", "mA", "current", 1e-3);
  public static final Unit VOLT = define("V", "V", "voltage", 1);
  public static final Unit KILOVOLT = define("kV", "kV", "voltage", 1e3);
  public static final Unit MILLIVOLT = define("mV", "mV", "voltage", 1e-3);
  public static final Unit OHM = define("Ohm", "Ω", "resistance", 1);
  public static final Unit MICROHM = define("uOhm", "µΩ", "resistance", 1e-6);
  public static final Unit MILLIOHM = define("mOhm", "mΩ", "resistance", 1e-3);
  public static final Unit KILOHM = define("kOhm", "kΩ", "resistance", 1e3);
  public static final Unit MEGOHM = define("MOhm", "MΩ", "resistance", 1e6);
  public static final Unit GIGOHM = define("GOhm", "GΩ", "resistance", 1e9);
  public static final Unit SECOND = define("s", "s", "time", 1);
  public static final Unit MILLISECOND = define("ms", "ms", "time", 1e-3);
  public static final Unit MINUTE = define("min", "min", "time", 60);
  public static final Unit HOUR = define("h", "h", "time", 3600);
  public static final Unit CELSIUS = define("Cel", "°C", "temperature", 1);
  public static final Unit HERTZ = define("Hz", "Hz", "frequency", 1);
  public static final Unit METRE = define("m", "m", "length", 1);
  public static final Unit KILOMETRE = define("km", "km", "length", 1e3);
  public static final Unit DECIBEL = define("dB", "dB", "level", 1);

  private static Unit define(String code, String symbol, String dimension, double factor) {
    Unit unit = new Unit(code, symbol, dimension, factor);
    KNOWN.put(code, unit);
    return unit;
  }

  /**
   * The unit of a UCUM code.
   *
   * @throws IllegalArgumentException if the code is not one of those known here, naming it
   */
  public static Unit of(String code) {
    Unit unit = KNOWN.get(code);
    if (unit == null) {
      throw new IllegalArgumentException("unknown unit code \"" + code + "\"");
    }
    return unit;
  }

  /**
   * Converts a value in this unit to another of the same dimension. NaN and infinities stay what they are.
   *
   * @throws UnitMismatchException if the dimensions differ
   */
  public double convert(double value, Unit to) {
    if (!dimension.equals(to.dimension)) {
      throw new UnitMismatchException(this, to);
    }
    return this.equals(to) ? value : value * (factor / to.factor);
  }

  @Override
  public String toString() {
    return code;
  }
}
