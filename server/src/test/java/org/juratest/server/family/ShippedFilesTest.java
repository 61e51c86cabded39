package org.juratest.server.family;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.juratest.core.procedure.Procedure;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.procedure.ProcedureJson;
import tools.jackson.databind.JsonNode;

/** What ships in the folders of families. */
class ShippedFilesTest {

    private static Map<String, String> published() throws IOException {
        try (InputStream in = ShippedFilesTest.class.getResourceAsStream("/published-procedures.txt")) {
            String text = new String(Objects.requireNonNull(in).readAllBytes(), StandardCharsets.UTF_8);
            return text.lines()
                    .collect(Collectors.toMap(l -> l.substring(0, l.length() - 65), l -> l.substring(l.length() - 64)));
        }
    }

    /** Runs name the version they followed: what was published once stays, word for word. */
    @Test
    void aPublishedProcedureNeitherDisappearsNorChanges() throws IOException {
        Map<String, String> shipped = new TreeMap<>();
        FamilyFiles.all("procedures/*.json").forEach(f -> {
            Procedure procedure = ProcedureJson.read(f.bytes());
            assertEquals(f.family(), procedure.family(), f.name());
            assertEquals(
                    "procedures/" + procedure.code().toLowerCase(java.util.Locale.ROOT) + "-" + procedure.version()
                            + ".json",
                    f.name());
            shipped.put(procedure.code() + " " + procedure.version(), ProcedureJson.hash(procedure));
        });
        Map<String, String> published = published();
        published.forEach((version, hash) -> assertEquals(hash, shipped.get(version), version));
        assertEquals(
                published.keySet(),
                shipped.keySet(),
                "a new version is added to published-procedures.txt, and stays there:\n"
                        + shipped.entrySet().stream()
                                .filter(e -> !published.containsKey(e.getKey()))
                                .map(e -> e.getKey() + " " + e.getValue())
                                .collect(Collectors.joining("\n")));
    }

    @Test
    void familiesAreFoundInTheirOrder() {
        assertEquals(
                List.of("meters", "cables", "fibre", "radios", "breakers"),
                Families.ids().subList(0, 5));
        assertEquals(Families.ids().size(), Families.ALL.stream().distinct().count());
        assertTrue(Families.ALL.contains("standby power"), "a name is not an id: " + Families.ALL);
        Map<String, Long> classes = FamilyFiles.all("classes/*.json").stream()
                .map(FamilyFiles.FamilyFile::family)
                .collect(Collectors.groupingBy(Function.identity(), TreeMap::new, Collectors.counting()));
        assertEquals(Families.ids().stream().sorted().toList(), List.copyOf(classes.keySet()));
    }

    /** A set of the demo is of procedures that ship, each at most once, and of variants of those. */
    @Test
    void aSetOfTheDemoNamesWhatShips() {
        List<String> procedures = FamilyFiles.all("procedures/*.json").stream()
                .map(f -> ProcedureJson.read(f.bytes()).code())
                .toList();
        Map<String, String> variants = FamilyFiles.all("variants/*.json").stream()
                .map(f -> CoreJson.mapper().readTree(f.bytes()))
                .collect(Collectors.toMap(
                        v -> v.path("code").asString(), v -> v.path("procedure").asString()));
        List<JsonNode> sets = FamilyFiles.all("demo/sets.json").stream()
                .flatMap(f -> CoreJson.mapper().readTree(f.bytes()).valueStream())
                .toList();
        assertTrue(sets.size() >= 2, sets.toString());
        for (JsonNode set : sets) {
            List<String> wanted = set.path("items")
                    .valueStream()
                    .map(i -> i.path("procedure").asString())
                    .toList();
            assertEquals(wanted.stream().distinct().toList(), wanted, set.toString());
            assertTrue(procedures.containsAll(wanted), set.toString());
            set.path("items")
                    .valueStream()
                    .filter(i -> i.has("variant"))
                    .forEach(i -> assertEquals(
                            i.path("procedure").asString(),
                            variants.get(i.path("variant").asString()),
                            i.toString()));
        }
    }
}
