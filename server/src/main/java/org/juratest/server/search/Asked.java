package org.juratest.server.search;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * What a text asks for: words that things are called by, and words that tell how they stand.
 *
 * @param words that must be found, at most six
 * @param over whether it asks for jobs past their day
 * @param open whether it asks for open jobs
 * @param verdict of the records it asks for, as it is stored; absent for none
 * @param year of the records it asks for; absent for any
 * @param barred whether it asks for what must not be used
 * @param stands the standing of the devices it asks for; absent for any
 */
record Asked(
        List<String> words,
        boolean over,
        boolean open,
        @Nullable String verdict,
        @Nullable Integer year,
        boolean barred,
        @Nullable String stands) {

    private static final int MOST_WORDS = 6;
    /** Said between words, and part of no name. */
    private static final Set<String> BETWEEN = Set.of("the", "of", "at", "in", "on", "a", "an", "and", "for", "with");

    private static final Set<String> OVER = Set.of("overdue", "over", "late");
    private static final Set<String> OPEN = Set.of("due", "open", "jobs", "job");
    private static final Set<String> BARRED = Set.of("barred", "quarantined");
    private static final Map<String, String> STANDS = Map.of("act", "act", "watch", "watch", "watched", "watch");
    private static final Map<String, String> VERDICTS = Map.of(
            "failed",
            "fail",
            "fail",
            "fail",
            "fails",
            "fail",
            "passed",
            "pass",
            "pass",
            "pass",
            "marginal",
            "marginal");

    /** Reads a text in small letters. Words that tell how things stand are names as well where nothing else is said. */
    static Asked of(String text) {
        List<String> words = new ArrayList<>();
        boolean over = false;
        boolean open = false;
        boolean barred = false;
        String verdict = null;
        String stands = null;
        Integer year = null;
        List<String> all =
                Arrays.stream(text.split("\\s+")).filter(w -> !w.isEmpty()).toList();
        for (String word : new LinkedHashSet<>(all)) {
            if (OVER.contains(word)) {
                over = true;
            } else if (OPEN.contains(word)) {
                open = true;
            } else if (BARRED.contains(word)) {
                barred = true;
            } else if (STANDS.containsKey(word)) {
                stands = STANDS.get(word);
            } else if (VERDICTS.containsKey(word)) {
                verdict = VERDICTS.get(word);
            } else if (word.matches("(19|20)\\d\\d") && all.size() > 1) {
                year = Integer.valueOf(word);
            } else if (words.size() < MOST_WORDS && (all.size() == 1 || !BETWEEN.contains(word))) {
                words.add(word);
            }
        }
        if (year != null && verdict == null) {
            // A number of four digits may be part of a name.
            words.add(String.valueOf(year));
            year = null;
        }
        return new Asked(List.copyOf(words), over, open, verdict, year, barred, stands);
    }

    /** Whether it tells how things stand. */
    boolean standing() {
        return over || open || verdict != null || barred || stands != null;
    }

    IntStream each() {
        return IntStream.range(0, words.size());
    }
}
