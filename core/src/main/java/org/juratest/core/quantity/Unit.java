package org.juratest.core.quantity;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A unit of measure, named by its case-sensitive UCUM code (The Unified Code for Units of Measure, version 2.1). Units
 * UCUM has no code for are declared extensions. Two units of one dimension convert by a factor; degrees Celsius stand
 * alone, because an offset unit must never be scaled.
 *
 * @param code UCUM code, such as {@code uOhm}
 * @param symbol what is shown to people, such as {@code µΩ}
 * @param dimension name of the dimension; only units of one dimension convert
 * @param factor multiplies a value in this unit to give the dimension's base unit; positive
 */
public record Unit(String code, String symbol, String dimension, double factor) {

    private static final Map<String, Unit> KNOWN = new LinkedHashMap<>();

    public static final Unit ONE = define("1", "", "number", 1);
    public static final Unit PERCENT = define("%", "%", "number", 0.01);
    public static final Unit PPM = define("[ppm]", "ppm", "number", 1e-6);
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
    public static final Unit NANOSECOND = define("ns", "ns", "time", 1e-9);
    public static final Unit MINUTE = define("min", "min", "time", 60);
    public static final Unit HOUR = define("h", "h", "time", 3600);
    public static final Unit CELSIUS = define("Cel", "°C", "temperature", 1);
    public static final Unit HERTZ = define("Hz", "Hz", "frequency", 1);
    public static final Unit KILOHERTZ = define("kHz", "kHz", "frequency", 1e3);
    public static final Unit MEGAHERTZ = define("MHz", "MHz", "frequency", 1e6);
    public static final Unit GIGAHERTZ = define("GHz", "GHz", "frequency", 1e9);
    /** Revolutions; UCUM 2.1, "per minute". A dimension of its own: nobody wants a speed turned into hertz. */
    public static final Unit PER_MINUTE = define("/min", "min\u207b\u00b9", "rotational speed", 1);

    public static final Unit WATT = define("W", "W", "power", 1);
    public static final Unit MILLIWATT = define("mW", "mW", "power", 1e-3);
    public static final Unit KILOWATT = define("kW", "kW", "power", 1e3);
    public static final Unit MEGAWATT = define("MW", "MW", "power", 1e6);
    public static final Unit VOLT_AMPERE = define("V.A", "VA", "apparent power", 1);
    public static final Unit KILOVOLT_AMPERE = define("kV.A", "kVA", "apparent power", 1e3);
    public static final Unit JOULE = define("J", "J", "energy", 1);
    public static final Unit KILOWATT_HOUR = define("kW.h", "kWh", "energy", 3.6e6);
    public static final Unit AMPERE_HOUR = define("A.h", "Ah", "charge", 3600);
    /** Pulses of a meter's output for the energy it has counted. */
    public static final Unit PER_KILOWATT_HOUR = define("/(kW.h)", "/kWh", "meter constant", 1);
    /** The var of IEC 80000-6: reactive power is no active power, so it is a dimension of its own. Not in UCUM. */
    public static final Unit VAR = define("var", "var", "reactive power", 1);

    public static final Unit KILOVAR_HOUR = define("kvar.h", "kvarh", "reactive energy", 3.6e6);
    public static final Unit KILOVOLT_AMPERE_HOUR = define("kV.A.h", "kVAh", "apparent energy", 3.6e6);
    /** Of the output for reactive and apparent energy: whatever is counted, so many pulses for each unit of it. */
    public static final Unit PER_KILOVAR_HOUR = define("/(kvar.h)", "/kvarh", "meter constant", 1);

    public static final Unit PER_KILOVOLT_AMPERE_HOUR = define("/(kV.A.h)", "/kVAh", "meter constant", 1);

    public static final Unit BAR = define("bar", "bar", "pressure", 1e5);
    public static final Unit KILOPASCAL = define("kPa", "kPa", "pressure", 1e3);
    public static final Unit MILLILITRE_PER_HOUR = define("mL/h", "mL/h", "flow", 1);
    public static final Unit KILONEWTON = define("kN", "kN", "force", 1e3);
    public static final Unit NEWTON_METRE = define("N.m", "Nm", "torque", 1);
    public static final Unit METRE = define("m", "m", "length", 1);
    public static final Unit KILOMETRE = define("km", "km", "length", 1e3);
    public static final Unit MILLIMETRE = define("mm", "mm", "length", 1e-3);
    public static final Unit NANOMETRE = define("nm", "nm", "length", 1e-9);
    public static final Unit MICROMETRE = define("um", "\u00b5m", "length", 1e-6);
    public static final Unit METRE_PER_SECOND = define("m/s", "m/s", "speed", 1);
    public static final Unit SQUARE_MILLIMETRE = define("mm2", "mm\u00b2", "area", 1e-6);
    public static final Unit DAY = define("d", "d", "time", 86_400);
    public static final Unit CANDELA = define("cd", "cd", "luminous intensity", 1);
    public static final Unit LUX = define("lx", "lx", "illuminance", 1);
    public static final Unit DECIBEL = define("dB", "dB", "level", 1);
    public static final Unit DECIBEL_PER_KM = define("dB/km", "dB/km", "attenuation", 1);
    /** Level of power above 1 mW. UCUM has no code for it; a dimension of its own, because a level is never scaled. */
    public static final Unit DBM = define("dBm", "dBm", "power level", 1);

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

    /** The unit of a UCUM code, or of the symbol people write; null if none is known here. */
    public static @Nullable Unit known(String text) {
        Unit byCode = KNOWN.get(text);
        return byCode != null
                ? byCode
                : KNOWN.values().stream()
                        .filter(u -> u.symbol.equals(text) && !text.isEmpty()
                                || text.equals(u.symbol.replace('\u00b5', '\u03bc')) && !text.isEmpty())
                        .findFirst()
                        .orElse(null);
    }

    /** All units known here, in the order of their dimensions. */
    public static List<Unit> all() {
        return List.copyOf(KNOWN.values());
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

    /** Whether values in it are levels: they are compared by differences, never by ratios. */
    public boolean isLevel() {
        return dimension.equals(DECIBEL.dimension) || dimension.equals(DBM.dimension);
    }

    /** Whether it measures a power: a ratio of two is 10 lg in decibels. */
    public boolean isPower() {
        return dimension.equals(WATT.dimension) || dimension.equals(VOLT_AMPERE.dimension);
    }

    @Override
    public String toString() {
        return code;
    }
}
