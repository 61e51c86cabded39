package org.juratest.core.series;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;

/**
 * The numbers of a series of devices: a pattern such as <code>{order}-{box}-{place}</code>, and what its fields hold
 * for the next one. Fields that run go up from right to left as the wheels of a counter do: one that is past its last
 * goes back to its first, and the next to its left goes up.
 *
 * @param pattern with the names of fields in braces
 * @param fields in the order of the pattern
 */
public record RunningNumber(String pattern, List<Field> fields) {

    /** Characters of a number at most, as on a label. */
    public static final int LONGEST = 40;

    private static final int MOST_FIELDS = 8;
    private static final int MOST_DIGITS = 9;
    private static final Pattern NAME = Pattern.compile("\\{([^{}]*)}");
    private static final Pattern WORD = Pattern.compile("[a-z][a-z0-9]{0,19}");
    private static final Pattern PLAIN = Pattern.compile("[\\p{L}\\p{N} ._/-]*");
    private static final Pattern DIGITS = Pattern.compile("[0-9]{1," + MOST_DIGITS + "}");
    private static final Pattern LETTER = Pattern.compile("[A-Z]");

    /**
     * A field.
     *
     * @param value for the next device; of one that runs digits, whose noughts in front are kept, or one capital letter
     * @param runs whether it goes up
     * @param first where it begins anew once it is past its last; absent: 1, or 001 where the value is written so, or A
     * @param last after which it begins anew; absent where it has none
     */
    public record Field(String name, String value, boolean runs, @Nullable String first, @Nullable String last) {

        /** One that stays as it is until somebody changes it. */
        public static Field fixed(String name, String value) {
            return new Field(name, value, false, null, null);
        }

        /** One that runs without end. */
        public static Field running(String name, String value) {
            return new Field(name, value, true, null, null);
        }

        private boolean isLetter() {
            return LETTER.matcher(value).matches();
        }

        /** As its value is written: with noughts in front where that has some. */
        private String begin() {
            return first != null ? first : isLetter() ? "A" : value.startsWith("0") ? padded(1, value.length()) : "1";
        }

        /** The value after this one; empty where this is the last. */
        private Optional<String> after() {
            if (value.equals(last) || !isLetter() && last != null && number(value) == number(last)) {
                return Optional.empty();
            }
            if (isLetter()) {
                return value.equals("Z") ? Optional.empty() : Optional.of(String.valueOf((char) (value.charAt(0) + 1)));
            }
            long next = number(value) + 1;
            String text = padded(next, value.length());
            return text.length() > MOST_DIGITS ? Optional.empty() : Optional.of(text);
        }

        /** From here on it is said where it begins anew: at 12 nobody sees any more whether it went 09, 10. */
        private Field with(String next) {
            return new Field(name, next, runs, last == null ? first : begin(), last);
        }
    }

    public RunningNumber {
        fields = List.copyOf(fields);
    }

    private static long number(String digits) {
        return Long.parseLong(digits);
    }

    private static String padded(long number, int width) {
        String text = Long.toString(number);
        return "0".repeat(Math.max(0, width - text.length())) + text;
    }

    /** Names of the fields in a pattern, in their order, each once. */
    public static List<String> names(String pattern) {
        List<String> names = new ArrayList<>();
        Matcher matcher = NAME.matcher(pattern);
        while (matcher.find()) {
            if (!names.contains(matcher.group(1))) {
                names.add(matcher.group(1));
            }
        }
        return names;
    }

    /** What is wrong with it, each with the field it is about; none where it can be used. */
    public List<FieldProblem> problems() {
        List<FieldProblem> problems = new ArrayList<>();
        List<String> names = names(pattern);
        if (pattern.isBlank() || pattern.length() > 2 * LONGEST) {
            problems.add(new FieldProblem(
                    "pattern",
                    "It has 1 to " + 2 * LONGEST + " characters, with the names of its fields in braces, such as "
                            + "{order}-{n}."));
            return problems;
        }
        String rest = NAME.matcher(pattern).replaceAll("");
        if (rest.indexOf('{') >= 0 || rest.indexOf('}') >= 0) {
            problems.add(new FieldProblem("pattern", "A brace has no partner; write {n}."));
        } else if (!PLAIN.matcher(rest).matches()) {
            problems.add(new FieldProblem(
                    "pattern", "Between the fields there are letters, digits, blanks and . _ / - only."));
        }
        for (String name : names) {
            if (!WORD.matcher(name).matches()) {
                problems.add(new FieldProblem(
                        "pattern",
                        "{" + name + "} does not do: a field is called by 1 to 20 small letters and digits, a letter "
                                + "first."));
            }
        }
        if (names.size() > MOST_FIELDS) {
            problems.add(new FieldProblem("pattern", "It has at most " + MOST_FIELDS + " fields."));
        }
        Set<String> given = new HashSet<>();
        fields.forEach(f -> given.add(f.name));
        names.stream()
                .filter(n -> !given.contains(n))
                .findFirst()
                .ifPresent(n -> problems.add(new FieldProblem("fields." + n, "Say what {" + n + "} is.")));
        fields.forEach(f -> problem(f, names).ifPresent(problems::add));
        if (problems.isEmpty() && fields.stream().noneMatch(f -> f.runs && names.contains(f.name))) {
            problems.add(
                    new FieldProblem("pattern", "One field has to run, or every device would have the same number."));
        }
        if (problems.isEmpty() && text().length() > LONGEST) {
            problems.add(new FieldProblem(
                    "pattern",
                    "\"" + text() + "\" is too long for a number: it has at most " + LONGEST + " characters."));
        }
        return problems;
    }

    private static Optional<FieldProblem> problem(Field f, List<String> names) {
        if (!names.contains(f.name)) {
            return Optional.of(new FieldProblem("fields." + f.name, "The pattern has no {" + f.name + "}."));
        }
        String what = null;
        if (!f.runs) {
            what = f.value.isBlank() || !PLAIN.matcher(f.value).matches()
                    ? "It has letters, digits, blanks and . _ / - only, and is not empty."
                    : null;
        } else if (!runs(f.value)) {
            what = "What runs is a number of at most " + MOST_DIGITS + " digits, or one capital letter.";
        } else if (f.first != null && !likes(f.value, f.first)) {
            what = "Its first is not of the kind of its value.";
        } else if (f.last != null && !likes(f.value, f.last)) {
            what = "Its last is not of the kind of its value.";
        } else if (f.last != null && isAfter(f.value, f.last)) {
            what = f.value + " is past its last, " + f.last + ".";
        } else if (f.last != null && isAfter(f.begin(), f.last)) {
            what = "Its first comes after its last.";
        }
        return what == null ? Optional.empty() : Optional.of(new FieldProblem("fields." + f.name, what));
    }

    private static boolean runs(String value) {
        return DIGITS.matcher(value).matches() || LETTER.matcher(value).matches();
    }

    private static boolean likes(String value, String other) {
        return runs(other)
                && LETTER.matcher(value).matches() == LETTER.matcher(other).matches();
    }

    private static boolean isAfter(String value, String last) {
        return LETTER.matcher(value).matches() ? value.compareTo(last) > 0 : number(value) > number(last);
    }

    /** The number of the next device. */
    public String text() {
        Map<String, String> values = new HashMap<>();
        fields.forEach(f -> values.put(f.name, f.value));
        return NAME.matcher(pattern)
                .replaceAll(m -> Matcher.quoteReplacement(values.getOrDefault(m.group(1), "")))
                .strip();
    }

    /** The same for the device after that; empty where the series is at its end. */
    public Optional<RunningNumber> next() {
        List<String> names = names(pattern);
        List<Field> next = new ArrayList<>(fields);
        for (int n = names.size() - 1; n >= 0; n--) {
            int at = indexOf(names.get(n));
            if (at < 0 || !next.get(at).runs) {
                continue;
            }
            Optional<String> after = next.get(at).after();
            next.set(at, next.get(at).with(after.orElse(next.get(at).begin())));
            if (after.isPresent()) {
                return Optional.of(new RunningNumber(pattern, next));
            }
        }
        return Optional.empty();
    }

    private int indexOf(String name) {
        for (int i = 0; i < fields.size(); i++) {
            if (fields.get(i).name.equals(name)) {
                return i;
            }
        }
        return -1;
    }

    /** Numbers of the next devices, the next one first. */
    public List<String> ahead(int most) {
        List<String> numbers = new ArrayList<>();
        Optional<RunningNumber> at = Optional.of(this);
        while (numbers.size() < most && at.isPresent()) {
            numbers.add(at.get().text());
            at = at.get().next();
        }
        return numbers;
    }
}
