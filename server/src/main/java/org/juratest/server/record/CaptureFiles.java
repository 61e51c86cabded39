package org.juratest.server.record;

import java.io.IOException;
import java.io.OutputStream;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.formats.capture.CaptureFormat;
import org.juratest.formats.capture.CaptureFormats;
import org.juratest.server.blob.Blobs;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;

/**
 * What a record captured, as files that other programs of the trade read: those that were brought in as they came, the
 * others written anew.
 */
@Component
class CaptureFiles {

    private static final Pattern PLACE = Pattern.compile("\\{([A-Za-z]+)\\}");
    private static final int LONGEST = 120;
    private static final int LONGEST_NAME = 180;

    private static final int MOST_SHOWN = 12;

    private final Blobs blobs;
    private final JdbcClient jdbc;

    CaptureFiles(Blobs blobs, JdbcClient jdbc) {
        this.blobs = blobs;
        this.jdbc = jdbc;
    }

    /** One file: its bytes, and what it can be named by. */
    private record One(String suffix, String usual, byte[] bytes, Map<String, String> facts) {}

    /** Whether a run captured anything that there is a format for. */
    static boolean any(RunState run) {
        return run.captures().stream()
                .anyMatch(c -> c.kind() == AttemptEvents.CaptureKind.FILE
                        || CaptureFormats.all().stream().anyMatch(f -> f.writes(c)));
    }

    /** A file under its name. */
    private record Named(String name, One file) {}

    /**
     * Writes all of a run's files into one archive.
     *
     * @param pattern of their names, with {@code {step}}, {@code {lane}}, {@code {position}}, {@code {n}} and the names
     *     of what the files tell; absent for the one that is kept for the run's job, else what is usual for their
     *     format
     * @throws Refusal if the pattern cannot be, or nothing was captured that there is a format for
     */
    void write(RunState run, @Nullable String pattern, OutputStream out) throws IOException {
        String chosen = pattern != null ? pattern : kept(run).orElse(null);
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            for (Named named : named(run, chosen, Integer.MAX_VALUE)) {
                zip.putNextEntry(new ZipEntry(named.name));
                zip.write(named.file.bytes);
                zip.closeEntry();
            }
        }
    }

    /**
     * How a run's files would be named.
     *
     * @param pattern that they are named by: the one asked for, the one kept for the run's job, or what is usual for
     *     the format of the first
     * @param kept whether that is what is kept for its job
     * @param names the first few, in their order
     * @param words that may stand in braces
     */
    record CaptureNaming(String pattern, boolean kept, List<String> names, List<String> words) {}

    /** @throws Refusal if the pattern cannot be */
    CaptureNaming naming(RunState run, @Nullable String pattern) {
        String keeping = kept(run).orElse("");
        String asked = pattern == null ? keeping : pattern;
        List<Named> named = named(run, asked.isEmpty() ? null : asked, MOST_SHOWN);
        Set<String> words = new LinkedHashSet<>(List.of("n"));
        named.forEach(f -> words.addAll(f.file.facts.keySet()));
        return new CaptureNaming(
                asked.isEmpty()
                        ? named.stream().findFirst().map(f -> f.file.usual).orElse("")
                        : asked,
                !keeping.isEmpty() && keeping.equals(asked),
                named.stream().map(Named::name).toList(),
                List.copyOf(words));
    }

    /**
     * Keeps a pattern for the job of a run, whose other records are named by it as well.
     *
     * @throws Refusal if one of the run's files cannot be named by it
     */
    void keep(RunState run, String pattern, String by) {
        // Not only those that are shown: what is kept names every file, or is refused now.
        named(run, pattern, Integer.MAX_VALUE);
        jdbc.sql(
                        """
        INSERT INTO file_pattern (job, pattern, by) VALUES (:job, :pattern, :by)
        ON CONFLICT (job) DO UPDATE SET pattern = excluded.pattern, by = excluded.by, at = now()""")
                .param("job", Long.parseLong(run.opened().job()))
                .param("pattern", pattern)
                .param("by", by)
                .update();
    }

    private Optional<String> kept(RunState run) {
        return jdbc.sql("SELECT pattern FROM file_pattern WHERE job::text = :job")
                .param("job", run.opened().job())
                .query(String.class)
                .optional();
    }

    private List<Named> named(RunState run, @Nullable String pattern, int most) {
        List<Named> all = new ArrayList<>();
        Set<String> names = new LinkedHashSet<>();
        for (Attempt attempt : run.attempts()) {
            One one = attempt.counts() && all.size() < most ? file(run, attempt).orElse(null) : null;
            if (one != null) {
                int n = all.size() + 1;
                String name = name(pattern == null ? one.usual : pattern, one, n);
                // Two files of one name would be one in a folder.
                String unique = names.add(name.toLowerCase(Locale.ROOT)) ? name : name + "_" + n;
                names.add(unique.toLowerCase(Locale.ROOT));
                all.add(new Named(unique + one.suffix, one));
            }
        }
        return all;
    }

    /** Refuses a pattern that names nothing, or that no file can be called by. */
    static void check(@Nullable String pattern) {
        if (pattern == null) {
            return;
        }
        if (pattern.isBlank() || pattern.length() > LONGEST || pattern.chars().anyMatch(c -> c < ' ' || c == '/')) {
            throw new Refusal(
                    "pattern-invalid",
                    "A pattern has 1 to " + LONGEST + " characters and no slash, such as {position}_{lane}_{n}.",
                    "pattern");
        }
    }

    private Optional<One> file(RunState run, Attempt attempt) {
        List<AttemptEvents.Captured> captured = run.captures().stream()
                .filter(c -> c.attempt().equals(attempt.id()))
                .toList();
        Optional<AttemptEvents.Captured> brought = captured.stream()
                .filter(c -> c.kind() == AttemptEvents.CaptureKind.FILE)
                .findFirst();
        if (brought.isPresent()) {
            return blobs.byHash(brought.get().sha256())
                    .map(b -> one(run, attempt, brought.get().name(), b.bytes(), null));
        }
        return captured.stream()
                .flatMap(c -> CaptureFormats.all().stream()
                        .filter(f -> f.writes(c))
                        .flatMap(f -> blobs
                                .trace(c.sha256())
                                .flatMap(t -> f.write(run, c, t))
                                .map(bytes -> one(run, attempt, "", bytes, f))
                                .stream()))
                .findFirst();
    }

    private static One one(RunState run, Attempt attempt, String name, byte[] bytes, @Nullable CaptureFormat written) {
        CaptureFormat format =
                written != null ? written : CaptureFormats.of(name, bytes).orElse(null);
        Map<String, String> facts = new TreeMap<>(
                format == null ? Map.of() : format.read(name, bytes).facts());
        // "1310 nm" is a number in a name.
        facts.replaceAll((key, value) -> value.replaceAll("^([0-9.]+) \\S+$", "$1"));
        facts.put("step", run.procedure().step(attempt.step()).map(Step::id).orElse(attempt.step()));
        facts.put("lane", padded(attempt.lane()));
        facts.put("position", run.opened().asset().position());
        int dot = name.lastIndexOf('.');
        return new One(
                format != null ? format.suffix() : dot < 0 ? "" : name.substring(dot),
                format != null ? format.usualName() : "{position}_{lane}_{n}",
                bytes,
                facts);
    }

    /** Numbers of lanes stand in order in a list of files. */
    private static String padded(String lane) {
        return lane.matches("\\d{1,3}") ? String.format(Locale.ROOT, "%03d", Integer.parseInt(lane)) : lane;
    }

    private static String name(String pattern, One one, int n) {
        Matcher places = PLACE.matcher(pattern);
        StringBuilder name = new StringBuilder();
        while (places.find()) {
            String key = places.group(1);
            String value = key.equals("n") ? String.format(Locale.ROOT, "%03d", n) : one.facts.get(key);
            if (value == null) {
                throw new Refusal(
                        "pattern-invalid",
                        "Nothing is called {" + key + "} here; there are {n}, {"
                                + String.join("}, {", one.facts.keySet()) + "}.",
                        "pattern");
            }
            places.appendReplacement(name, Matcher.quoteReplacement(value));
        }
        places.appendTail(name);
        String plain = name.toString().replaceAll("[^\\p{L}\\p{N}._-]+", "-").replaceAll("^[.-]+", "");
        return plain.substring(0, Math.min(LONGEST_NAME, plain.length()));
    }
}
