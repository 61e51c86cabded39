package org.juratest.core.record;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.juratest.core.run.Refusal;

/**
 * How files made of records are named: a text with words in braces, such as <code>{position}_{year}-{n}_{verdict}
 * </code>. Prints as that text and parses back.
 *
 * @param text as it was typed
 */
public record FileNamePattern(String text) {

    /** Words that may stand in braces. */
    public static final List<String> WORDS = List.of(
            "number",
            "position",
            "year",
            "n",
            "date",
            "site",
            "maker",
            "model",
            "serial",
            "procedure",
            "verdict",
            "person",
            "job");

    private static final Pattern WORD = Pattern.compile("\\{([^{}]*)}");
    private static final int LONGEST = 120;
    /** Names that some systems keep for devices. */
    private static final Pattern RESERVED = Pattern.compile("(?i)(con|prn|aux|nul|com\\d|lpt\\d)(\\..*)?");

    /** Used where nobody has chosen another. */
    public static final FileNamePattern USUAL = new FileNamePattern("{position}_{year}-{n}");

    /**
     * Checks a pattern.
     *
     * @throws Refusal with the field {@code pattern}, naming the word or the character at fault
     */
    public FileNamePattern {
        if (text.isBlank() || text.length() > LONGEST) {
            throw refused("A pattern has 1 to " + LONGEST + " characters.");
        }
        Set<String> used = new TreeSet<>();
        Matcher word = WORD.matcher(text);
        while (word.find()) {
            if (!WORDS.contains(word.group(1))) {
                throw refused("At character " + (word.start() + 1) + ": there is no word {" + word.group(1)
                        + "}. There are "
                        + String.join(
                                ", ", WORDS.stream().map(w -> "{" + w + "}").toList()) + ".");
            }
            used.add(word.group(1));
        }
        String rest = WORD.matcher(text).replaceAll("");
        int brace = rest.indexOf('{') >= 0 ? rest.indexOf('{') : rest.indexOf('}');
        if (brace >= 0) {
            throw refused("A brace has no partner.");
        }
        if (!used.contains("number") && !used.containsAll(Set.of("position", "year", "n"))) {
            throw refused(
                    "With this pattern two records could have one name. Use {number}, or {position}, {year} and {n}.");
        }
    }

    private static Refusal refused(String words) {
        return new Refusal("pattern-invalid", words, "pattern");
    }

    /**
     * The name for a record, without its ending: letters, digits and {@code . _ -} of any script, every other character
     * a dash; at most {@value #LONGEST} characters; never empty.
     *
     * @param facts values of the words; a missing one is left out
     */
    public String name(Map<String, String> facts) {
        String filled =
                WORD.matcher(text).replaceAll(m -> Matcher.quoteReplacement(facts.getOrDefault(m.group(1), "")));
        String plain = filled.replaceAll("[^\\p{L}\\p{N}._-]+", "-").replaceAll("^[.-]+|[.-]+$", "");
        String cut = plain.length() > LONGEST ? plain.substring(0, LONGEST) : plain;
        if (cut.isEmpty()) {
            return "record";
        }
        return RESERVED.matcher(cut.toLowerCase(Locale.ROOT)).matches() ? "record-" + cut : cut;
    }

    @Override
    public String toString() {
        return text;
    }
}
