package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** The engine does not speak the language of any family: a word of one would be the first thing to know about it. */
class EngineWordsTest {

    private static final String CORE = "core/src/main/java/org/juratest/core/";
    private static final String SERVER = "server/src/main/java/org/juratest/server/";
    private static final List<String> ENGINE = List.of(
            CORE + "bench",
            CORE + "condition",
            CORE + "limit",
            CORE + "method",
            CORE + "plan",
            CORE + "port",
            CORE + "procedure",
            CORE + "record",
            CORE + "run",
            CORE + "trace",
            SERVER + "asset",
            SERVER + "blob",
            SERVER + "command",
            SERVER + "family",
            SERVER + "gear",
            SERVER + "job",
            SERVER + "paper",
            SERVER + "plan",
            SERVER + "procedure",
            SERVER + "record",
            SERVER + "round",
            SERVER + "run",
            SERVER + "variant",
            "instruments/src/main/java/org/juratest/instruments/line",
            "instruments/src/main/java/org/juratest/instruments/scpi",
            "simulators/src/main/java/org/juratest/simulators/scpi",
            "web/src/bench",
            "web/src/record",
            "web/src/state");

    /**
     * Words of families, in whatever part of a name or a comment. "Current" and "key" mean too much else to be told.
     */
    private static final Set<String> WORDS = Set.of(
            "band",
            "bands",
            "pole",
            "poles",
            "radio",
            "radios",
            "trip",
            "trips",
            "tripped",
            "tripping",
            "breaker",
            "breakers",
            "fibre",
            "fibres",
            "carrier",
            "carriers",
            "squelch",
            "antenna",
            "antennas",
            "transmitter",
            "receiver",
            "vhf",
            "uhf",
            "injection",
            "inject",
            "meter",
            "meters",
            "battery",
            "defibrillator",
            "amperes");

    /** Where one stays, and why. */
    private static final Map<String, Set<String>> STAY = Map.of(
            // Stored in events since the first version: how an output ended.
            CORE + "run/OutputEvents.java",
            Set.of("tripped"),
            "web/src/bench/kit/Sentence.tsx",
            Set.of("tripped"),
            // The standard's term for the distance that a decision rule keeps from a limit.
            CORE + "limit/DecisionRule.java",
            Set.of("band"),
            CORE + "limit/Judge.java",
            Set.of("band"),
            // Inputs of a form that exclude each other are called so in HTML.
            "web/src/bench/SaveVariantDialog.tsx",
            Set.of("radio"),
            "web/src/bench/Questions.tsx",
            Set.of("radio"),
            "web/src/record/ActDialog.tsx",
            Set.of("radio"));

    private static final Pattern LETTERS = Pattern.compile("[A-Za-z]+");
    private static final Pattern PARTS = Pattern.compile("[A-Z]?[a-z]+|[A-Z]+(?![a-z])");

    private static Set<String> wordsOf(String text) {
        Set<String> words = new TreeSet<>();
        Matcher letters = LETTERS.matcher(text);
        while (letters.find()) {
            Matcher part = PARTS.matcher(letters.group());
            while (part.find()) {
                words.add(part.group().toLowerCase(Locale.ROOT));
            }
        }
        return words;
    }

    @Test
    void noWordOfAFamilyIsInTheEngine() throws IOException {
        Map<String, Set<String>> found = new TreeMap<>();
        int files = 0;
        for (String folder : ENGINE) {
            List<Path> sources;
            try (Stream<Path> all = Files.walk(Path.of("..").resolve(folder))) {
                sources = all.filter(p -> p.toString().matches(".*\\.(java|ts|tsx)"))
                        .toList();
            }
            assertTrue(!sources.isEmpty(), folder + " holds something");
            for (Path source : sources) {
                files++;
                Set<String> words = wordsOf(Files.readString(source));
                words.retainAll(WORDS);
                String name = Path.of("..").relativize(source).toString().replace('\\', '/');
                words.removeAll(STAY.getOrDefault(name, Set.of()));
                if (!words.isEmpty()) {
                    found.put(name, words);
                }
            }
        }
        assertTrue(files > 150, "the engine was looked at: " + files + " files");
        assertEquals(Map.of(), found);
    }

    @Test
    void namesAreTakenApart() {
        assertEquals(
                new TreeSet<>(Set.of("time", "current", "band", "outer", "pole", "db")),
                wordsOf("TimeCurrentBand outerPole DB"));
    }
}
