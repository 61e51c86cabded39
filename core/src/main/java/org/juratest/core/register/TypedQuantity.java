package org.juratest.core.register;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/**
 * Numbers as people type them: a point or a comma, blanks between thousands, a unit behind if it is another than usual.
 */
public final class TypedQuantity {

    private static final String BLANKS = "[ \\u00a0\\u2006\\u2009\\u202f]";
    private static final Pattern NUMBER = Pattern.compile(
            "([+\\-\\u2212]?)((?:\\d{1,3}(?:" + BLANKS + "\\d{3})+|\\d+)?)(?:([.,])(\\d+))?([eE][+-]?\\d{1,3})?(?:"
                    + BLANKS + "*(\\D.*))?",
            Pattern.DOTALL);

    private TypedQuantity() {}

    /**
     * Reads a number with or without its unit.
     *
     * @param unit the unit where none is typed; a typed one must be of its dimension and is kept
     * @throws IllegalArgumentException if it cannot be read, or can be read in two ways, saying what to type
     */
    public static Quantity parse(String text, Unit unit) {
        Matcher m = NUMBER.matcher(text.strip());
        String unitHint = unit.code().equals("1") ? "" : " in " + unit.code();
        if (!m.matches() || m.group(2).isEmpty() && m.group(4) == null) {
            throw new IllegalArgumentException(
                    "\"" + shortened(text) + "\" is not a number; type one" + unitHint + ", such as 12.5");
        }
        if (",".equals(m.group(3))
                && m.group(2).length() <= 3
                && !m.group(2).equals("0")
                && m.group(4).length() == 3
                && m.group(5) == null) {
            throw new IllegalArgumentException("\"" + shortened(text) + "\" can be read as " + m.group(2) + m.group(4)
                    + " or as " + m.group(2) + "." + m.group(4) + "; type it without a comma");
        }
        String digits = m.group(2).replaceAll(BLANKS, "");
        double value = Double.parseDouble((m.group(1).isEmpty() || m.group(1).equals("+") ? "" : "-")
                + (digits.isEmpty() ? "0" : digits)
                + (m.group(4) == null ? "" : "." + m.group(4))
                + (m.group(5) == null ? "" : m.group(5)));
        if (Double.isInfinite(value)) {
            throw new IllegalArgumentException("\"" + shortened(text) + "\" is too large for a number");
        }
        return new Quantity(value, m.group(6) == null ? unit : typed(m.group(6).strip(), unit));
    }

    private static Unit typed(String text, Unit usual) {
        Unit unit = Unit.known(text);
        if (unit == null) {
            throw new IllegalArgumentException(
                    "\"" + shortened(text) + "\" is not a unit known here; type the number alone"
                            + (usual.code().equals("1") ? "" : ", in " + usual.code()));
        }
        if (!unit.dimension().equals(usual.dimension())) {
            throw new IllegalArgumentException(unit.code() + " is a " + unit.dimension() + "; a " + usual.dimension()
                    + (usual.code().equals("1") ? "" : " in " + usual.code()) + " is wanted");
        }
        return unit;
    }

    /** Prints what {@link #parse} reads as the same quantity: the number alone where the unit is the usual one. */
    public static String print(Quantity quantity, Unit usual) {
        double value = quantity.value();
        String number = value == Math.rint(value) && Math.abs(value) < 1e15
                ? String.valueOf((long) value)
                : String.valueOf(value);
        return quantity.unit().equals(usual)
                ? number
                : number + " " + quantity.unit().code();
    }

    static String shortened(String text) {
        return text.length() <= 40 ? text : text.substring(0, 39) + "\u2026";
    }
}
