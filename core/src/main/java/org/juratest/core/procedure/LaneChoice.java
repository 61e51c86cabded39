package org.juratest.core.procedure;

import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Which lanes of those that a rule makes a device has, by what its nameplate says in words. Where the words, joined by
 * a slash, are found among the rows, the row says so; where the last of them are numbers themselves, such as
 * {@code 1-4,9-12}, they do; else it has all.
 *
 * @param of nameplate keys of texts
 * @param rows numbers by the words, such as {@code 1x12/inner dark}
 */
public record LaneChoice(List<String> of, Map<String, String> rows) {

    private static final Pattern PART = Pattern.compile("\\s*(\\d{1,4})\\s*(?:-\\s*(\\d{1,4})\\s*)?");

    public LaneChoice {
        of = List.copyOf(of);
        rows = Map.copyOf(rows);
    }

    /** Whether a text is numbers and ranges of numbers between commas. */
    static boolean isNumbers(String text) {
        return !text.isBlank()
                && List.of(text.split(",", -1)).stream()
                        .allMatch(p -> PART.matcher(p).matches());
    }

    /**
     * The numbers that a device has.
     *
     * @param count of lanes, from 1
     * @throws UnfitDeviceException if its nameplate names one that is not there, or says nothing that is known
     */
    BitSet chosen(Nameplate plate, int count) {
        String words = of.stream()
                .map(key -> plate.texts().getOrDefault(key, "").strip())
                .collect(Collectors.joining("/"));
        String last = words.substring(words.lastIndexOf('/') + 1);
        BitSet all = new BitSet();
        all.set(1, count + 1);
        String numbers = rows.getOrDefault(words, last);
        if (numbers.isEmpty() || numbers.equals("all")) {
            return all;
        }
        BitSet chosen = new BitSet();
        if (isNumbers(numbers)) {
            for (String part : numbers.split(",")) {
                Matcher m = PART.matcher(part);
                int from = m.matches() ? Integer.parseInt(m.group(1)) : 0;
                int to = m.group(2) == null ? from : Integer.parseInt(m.group(2));
                if (from < 1 || to < from || to > count) {
                    throw new UnfitDeviceException("The nameplate says \"" + last + "\" (" + of.get(of.size() - 1)
                            + "); there are 1 to " + count + ".");
                }
                chosen.set(from, to + 1);
            }
            return chosen;
        }
        throw new UnfitDeviceException("The nameplate says \"" + last + "\" (" + of.get(of.size() - 1)
                + "), and nobody knows which of " + count + " that are; tell it by numbers such as 1-4,9-12.");
    }
}
