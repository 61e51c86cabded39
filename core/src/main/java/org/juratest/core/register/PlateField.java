package org.juratest.core.register;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Plausible;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.route.Route;
import org.juratest.core.route.RouteException;

/**
 * One value of the nameplates of a class.
 *
 * @param key what procedures and files call it, such as {@code ratedCurrent}; never changes once used
 * @param label what people read
 * @param unit of a number; absent for others
 * @param min least value in {@code unit}; absent if there is none
 * @param max largest value in {@code unit}; absent if there is none
 * @param choices of a choice, in the order shown; of a route what may stand at its places, that of its ends first;
 *     empty for others
 */
public record PlateField(
        String key,
        String label,
        Kind kind,
        @Nullable Unit unit,
        @Nullable Double min,
        @Nullable Double max,
        boolean required,
        List<String> choices) {

    /** What is written in a field. */
    public enum Kind {
        NUMBER,
        TEXT,
        CHOICE,
        /** Places along a line, one in each line of the text: {@link Route}. */
        ROUTE;

        boolean chooses() {
            return this == CHOICE || this == ROUTE;
        }
    }

    /** Longest text of a plate. */
    public static final int LONGEST = 200;

    private static final int LONGEST_LABEL = 60;
    private static final Pattern KEY = Pattern.compile("[a-z][A-Za-z0-9]{0,39}");

    public PlateField {
        choices = List.copyOf(choices);
    }

    /** What is wrong with the field itself. */
    List<FieldProblem> problems(String path) {
        List<FieldProblem> problems = new ArrayList<>();
        if (!KEY.matcher(key).matches()) {
            problems.add(new FieldProblem(
                    path + ".key",
                    "A key begins with a small letter and has letters and digits only, at most 40, such as "
                            + "ratedCurrent; not \"" + TypedQuantity.shortened(key) + "\"."));
        }
        if (label.isBlank() || label.length() > LONGEST_LABEL) {
            problems.add(new FieldProblem(
                    path + ".label",
                    label.isBlank()
                            ? "It needs a label that people read."
                            : "A label has at most " + LONGEST_LABEL + " characters."));
        }
        if ((kind == Kind.NUMBER) != (unit != null)) {
            problems.add(new FieldProblem(
                    path + ".unit",
                    kind == Kind.NUMBER ? "A number needs its unit; 1 for a count." : "Only a number has a unit."));
        }
        if (kind != Kind.NUMBER && (min != null || max != null)) {
            problems.add(new FieldProblem(path + ".min", "Only a number has a range."));
        } else if (min != null && !possible(min)) {
            problems.add(new FieldProblem(
                    path + ".min",
                    "It cannot be the least value: " + Plausible.words(min, unit == null ? Unit.ONE : unit) + "."));
        } else if (max != null && !possible(max)) {
            problems.add(new FieldProblem(
                    path + ".max",
                    "It cannot be the largest value: " + Plausible.words(max, unit == null ? Unit.ONE : unit) + "."));
        } else if (min != null && max != null && min > max) {
            problems.add(new FieldProblem(
                    path + ".max",
                    "The largest value " + number(max) + " is less than the least, " + number(min) + "."));
        }
        if (kind.chooses()
                && (choices.isEmpty()
                        || new HashSet<>(choices).size() != choices.size()
                        || choices.stream().anyMatch(String::isBlank))) {
            problems.add(
                    new FieldProblem(path + ".choices", "A choice needs one or more different words to choose from."));
        } else if (!kind.chooses() && !choices.isEmpty()) {
            problems.add(new FieldProblem(path + ".choices", "Only a choice has words to choose from."));
        }
        return problems;
    }

    private boolean possible(double value) {
        return Plausible.is(value, unit == null ? Unit.ONE : unit);
    }

    /** What is wrong with a value of a number; null if nothing is. */
    @Nullable
    String wrong(Quantity value) {
        Unit usual = java.util.Objects.requireNonNull(unit);
        if (!value.unit().dimension().equals(usual.dimension())) {
            return label + " is a " + usual.dimension() + (usual.code().equals("1") ? "" : " in " + usual.code())
                    + ", not a " + value.unit().dimension() + ".";
        }
        double given = value.in(usual);
        if (min != null && given < min || max != null && given > max) {
            String range = min == null
                    ? "at most " + number(max)
                    : max == null ? "at least " + number(min) : number(min) + " to " + number(max);
            return label + " is " + range + (usual.symbol().isEmpty() ? "" : " " + usual.symbol()) + ", not "
                    + number(given) + ".";
        }
        if (!Plausible.is(value.value(), value.unit())) {
            return label + " cannot be so: " + Plausible.words(value.value(), value.unit()) + ".";
        }
        return null;
    }

    /** What is wrong with a word; null if nothing is. */
    @Nullable
    String wrong(String text) {
        if (kind == Kind.ROUTE) {
            try {
                Route.parse(text, choices);
                return null;
            } catch (RouteException e) {
                return label + ": " + e.getMessage();
            }
        }
        if (kind == Kind.CHOICE && !choices.contains(text)) {
            return label + " is one of " + String.join(", ", choices) + "; not \"" + TypedQuantity.shortened(text)
                    + "\".";
        }
        if (text.chars().anyMatch(c -> c < ' ')) {
            return label + " is one line without tabs; take the line breaks out.";
        }
        return text.length() > LONGEST
                ? label + " has at most " + LONGEST + " characters, not " + text.length() + "."
                : null;
    }

    /** A text in the form it is kept in; as it is where it is wrong. */
    String kept(String text) {
        try {
            return kind == Kind.ROUTE ? Route.parse(text, choices).print() : text.strip();
        } catch (RouteException e) {
            return text.strip();
        }
    }

    private static String number(@Nullable Double value) {
        return value == null
                ? ""
                : value == Math.rint(value) && Math.abs(value) < 1e15
                        ? String.valueOf(value.longValue())
                        : String.valueOf(value);
    }
}
