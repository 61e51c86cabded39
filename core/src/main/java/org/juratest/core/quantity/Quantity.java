package org.juratest.core.quantity;

/**
 * A finite value with its unit.
 *
 * @param value finite; NaN and infinities are refused
 * @param unit UCUM unit
 */
public record Quantity(double value, Unit unit) {

    public Quantity {
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("a quantity needs a finite value, not " + value);
        }
    }

    public static Quantity of(double value, String unitCode) {
        return new Quantity(value, Unit.of(unitCode));
    }

    public static Quantity amperes(double value) {
        return new Quantity(value, Unit.AMPERE);
    }

    public static Quantity seconds(double value) {
        return new Quantity(value, Unit.SECOND);
    }

    /** The value in another unit of the same dimension. */
    public double in(Unit other) {
        return unit.convert(value, other);
    }

    /** Parses what {@link #toString()} prints: value, one space, UCUM code. */
    public static Quantity parse(String text) {
        int space = text.indexOf(' ');
        if (space <= 0) {
            throw new IllegalArgumentException("a quantity reads \"value unit\", not \"" + text + "\"");
        }
        return of(Double.parseDouble(text.substring(0, space)), text.substring(space + 1));
    }

    @Override
    public String toString() {
        return value + " " + unit.code();
    }
}
