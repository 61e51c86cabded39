package org.juratest.core.quantity;

import java.util.Map;

/**
 * How large a figure of each dimension can be before it must be a slip of the keyboard or of a file. Wide on purpose: a
 * bound here refuses what cannot be, and never what is unusual; that is what limits and schemas are for.
 */
public final class Plausible {

    private static final double OTHERWISE = 1e15;
    /** Lowest temperature there is, degrees Celsius (ISO 80000-5:2019, item 5-1). */
    private static final double ABSOLUTE_ZERO = -273.15;

    /** Greatest magnitude in the base unit of the dimension. */
    private static final Map<String, Double> GREATEST = Map.ofEntries(
            Map.entry("current", 1e8),
            Map.entry("voltage", 1e9),
            Map.entry("resistance", 1e18),
            Map.entry("time", 1e10),
            Map.entry("temperature", 1e4),
            Map.entry("frequency", 1e16),
            Map.entry("rotational speed", 1e7),
            Map.entry("level", 1e4),
            Map.entry("power level", 1e3),
            Map.entry("length", 1e9));

    private Plausible() {}

    /** Whether a figure is finite and within what its dimension can be. */
    public static boolean is(double value, Unit unit) {
        double base = value * unit.factor();
        boolean above = !unit.dimension().equals("temperature") || base >= ABSOLUTE_ZERO;
        return above && Math.abs(base) <= GREATEST.getOrDefault(unit.dimension(), OTHERWISE);
    }

    /** As {@link #is}, for a difference: of temperatures too it may be negative. */
    public static boolean difference(double value, Unit unit) {
        return Math.abs(value * unit.factor()) <= GREATEST.getOrDefault(unit.dimension(), OTHERWISE);
    }

    /** What is wrong with a figure that is not plausible, as the end of a sentence. */
    public static String words(double value, Unit unit) {
        return Math.abs(value) <= Double.MAX_VALUE
                ? "no " + unit.dimension() + " is " + value + (unit.symbol().isEmpty() ? "" : " " + unit.symbol())
                : "it is a number, not " + value;
    }
}
