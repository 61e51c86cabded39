package org.juratest.server.register;

import java.util.List;
import java.util.regex.Pattern;
import org.juratest.core.register.FieldProblem;

/**
 * What codes and words of the register may look like. Records are numbered {@code POSITION/YEAR/N} and addresses hold
 * codes, so neither has a slash or a blank.
 */
public final class Codes {

    /** A kind of code. */
    public record Shape(Pattern pattern, String words) {}

    public static final Shape SITE =
            new Shape(Pattern.compile("[A-Z0-9]{2,12}"), "2 to 12 capital letters and digits, such as MFR");
    public static final Shape POSITION = new Shape(
            Pattern.compile("[A-Z0-9][A-Z0-9._-]{1,39}"),
            "2 to 40 capital letters, digits, dots and dashes, such as MFR-CBK-07");
    public static final Shape ASSET = new Shape(
            Pattern.compile("[A-Za-z0-9][A-Za-z0-9._-]{1,39}"),
            "2 to 40 letters, digits, dots and dashes, such as CBK-1007");
    public static final Shape CLASS = new Shape(
            Pattern.compile("[a-z0-9][a-z0-9-]{1,39}"), "2 to 40 small letters, digits and dashes, such as lv-breaker");
    public static final Shape MARK =
            new Shape(Pattern.compile("[A-Z0-9]{1,6}"), "1 to 6 capital letters and digits, such as CBK");

    private static final int LONGEST = 120;

    private Codes() {}

    public static void check(String field, String code, Shape shape, List<FieldProblem> problems) {
        if (!shape.pattern.matcher(code).matches()) {
            problems.add(new FieldProblem(
                    field,
                    code.isBlank()
                            ? "It is missing: " + shape.words + "."
                            : "\"" + shortened(code) + "\" does not do: it has " + shape.words + "."));
        }
    }

    /** Words that have to be there. */
    public static void words(String field, String what, String text, List<FieldProblem> problems) {
        if (text.isBlank()) {
            problems.add(new FieldProblem(field, "It needs " + what + "."));
        } else {
            length(field, text, problems);
        }
    }

    /** Words that may be left out. */
    public static void length(String field, String text, List<FieldProblem> problems) {
        if (text.length() > LONGEST) {
            problems.add(new FieldProblem(
                    field, "It has at most " + LONGEST + " characters, not " + text.length() + "; shorten it."));
        } else if (text.chars().anyMatch(c -> c < ' ')) {
            problems.add(new FieldProblem(field, "It is one line without tabs; take the line breaks out."));
        }
    }

    static String shortened(String text) {
        return text.length() <= 40 ? text : text.substring(0, 39) + "\u2026";
    }
}
