package org.juratest.simulators.scpi;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.regex.Pattern;

/**
 * The command table of a gear. Headers are written {@code SOURce:CURRent}: the capitals are the short form, the whole
 * is the long one, and case does not matter (SCPI-99, volume 1, 6.2.1).
 */
public final class ScpiCommands {

    private record Entry(Pattern pattern, boolean changes, java.util.function.Function<String, String> action) {}

    private final List<Entry> entries = new ArrayList<>();

    /** A query without parameter. */
    public ScpiCommands query(String header, Supplier<String> answer) {
        entries.add(new Entry(pattern(header + "?"), false, argument -> {
            if (!argument.isEmpty()) {
                throw ScpiError.outOfRange(header + "? takes no parameter");
            }
            return answer.get();
        }));
        return this;
    }

    /** A command; only the controller may give it. */
    public ScpiCommands command(String header, Consumer<String> action) {
        entries.add(new Entry(pattern(header), true, argument -> {
            action.accept(argument);
            return "";
        }));
        return this;
    }

    /**
     * Carries out one message unit.
     *
     * @return the answer; empty for a command
     * @throws ScpiError if there is no such header, or it is refused
     */
    String execute(String unit, boolean controller) {
        int space = unit.indexOf(' ');
        String header = space < 0 ? unit : unit.substring(0, space);
        String argument = space < 0 ? "" : unit.substring(space + 1).trim();
        for (Entry entry : entries) {
            if (entry.pattern.matcher(header).matches()) {
                if (entry.changes && !controller) {
                    throw ScpiError.settingsConflict("another controller holds this gear");
                }
                return entry.action.apply(argument);
            }
        }
        throw ScpiError.undefinedHeader(header);
    }

    private static Pattern pattern(String header) {
        StringBuilder regex = new StringBuilder(header.startsWith("*") ? "" : ":?");
        StringBuilder optional = new StringBuilder();
        for (char c : header.toCharArray()) {
            if (Character.isLowerCase(c)) {
                optional.append(c);
                continue;
            }
            flush(regex, optional);
            regex.append(Pattern.quote(String.valueOf(c)));
        }
        flush(regex, optional);
        return Pattern.compile(regex.toString(), Pattern.CASE_INSENSITIVE);
    }

    private static void flush(StringBuilder regex, StringBuilder optional) {
        if (!optional.isEmpty()) {
            regex.append("(?:").append(optional).append(")?");
            optional.setLength(0);
        }
    }

    /**
     * A number within a range.
     *
     * @throws ScpiError if it is not one
     */
    public static double number(String argument, double lowest, double highest) {
        double value;
        try {
            value = Double.parseDouble(argument);
        } catch (NumberFormatException e) {
            throw ScpiError.outOfRange("\"" + argument + "\" is not a number");
        }
        if (!(value >= lowest && value <= highest)) {
            throw ScpiError.outOfRange(argument + " is outside " + nr3(lowest) + " to " + nr3(highest));
        }
        return value;
    }

    /** A string parameter without its quotes. */
    public static String string(String argument) {
        if (argument.length() < 2 || argument.charAt(0) != '"' || argument.charAt(argument.length() - 1) != '"') {
            throw ScpiError.outOfRange("a string in quotes is needed");
        }
        return argument.substring(1, argument.length() - 1);
    }

    /** Definite-length block of bytes (IEEE 488.2, 8.7.9), each character a byte. */
    public static String block(byte[] bytes) {
        String length = String.valueOf(bytes.length);
        return "#" + length.length() + length + new String(bytes, java.nio.charset.StandardCharsets.ISO_8859_1);
    }

    /** A number as NR3 (IEEE 488.2, 8.7.4); infinity as 9.9E37, not-a-number as 9.91E37 (SCPI-99, 7.2.1.4, 7.2.1.5). */
    public static String nr3(double value) {
        if (Double.isNaN(value)) {
            return "9.91E+37";
        }
        return Double.isInfinite(value) ? "9.9E+37" : String.format(Locale.ROOT, "%.8E", value);
    }
}
