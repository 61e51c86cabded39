package org.juratest.formats.table;

import java.util.regex.Pattern;

/**
 * Texts in cells of a table that a spreadsheet may open. A text that it would take for a formula gets an apostrophe in
 * front, which is taken off again when the table comes back; a bound or a signed number is none.
 */
public final class CellText {

    private static final Pattern FORMULA = Pattern.compile("(?s)[=+@\\t\\r-].*");
    /** A number, with its unit behind a blank: what begins with a sign and is more than that may be a formula. */
    private static final Pattern NUMBER =
            Pattern.compile("-?\\d+(?:[.,]\\d+)?(?:[eE][+-]?\\d+)?(?: [\\p{L}%\u00b0/.\u00b2]+)?");

    private CellText() {}

    /** A text as it is safe in a cell. */
    public static String guarded(String text) {
        // A text that already has the guard in front needs one more, or its own would be taken off.
        String bare = text.replaceFirst("^'+", "");
        return FORMULA.matcher(bare).matches() && !NUMBER.matcher(bare).matches() ? "'" + text : text;
    }

    /** The text of a cell that was {@link #guarded}. Any other is returned as it is. */
    public static String plain(String cell) {
        return cell.startsWith("'") && guarded(cell.substring(1)).equals(cell) ? cell.substring(1) : cell;
    }
}
