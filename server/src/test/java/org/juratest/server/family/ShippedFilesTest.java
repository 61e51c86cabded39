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
import org.juratest.formats.procedure.ProcedureJson;

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
}
