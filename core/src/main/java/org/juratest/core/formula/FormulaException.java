package org.juratest.core.formula;

/** A formula that cannot be read or evaluated, with the place in its text. */
public final class FormulaException extends IllegalArgumentException {

    private final String formula;
    private final int position;

    /** @param position 1-based character position in the formula, or 0 where the fault has no single place */
    FormulaException(String formula, int position, String what) {
        super(
                position > 0
                        ? "formula \"" + formula + "\": " + what + " at character " + position
                        : "formula \"" + formula + "\": " + what);
        this.formula = formula;
        this.position = position;
    }

    public String formula() {
        return formula;
    }

    public int position() {
        return position;
    }
}
