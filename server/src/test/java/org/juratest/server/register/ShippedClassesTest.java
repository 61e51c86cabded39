package org.juratest.server.register;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.juratest.core.register.PlateField;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.family.Families;
import org.juratest.server.family.FamilyFiles;
import tools.jackson.databind.JsonNode;

class ShippedClassesTest {

    private static List<AssetClasses.ClassForm> shipped() {
        List<AssetClasses.ClassForm> forms = new ArrayList<>();
        for (FamilyFiles.FamilyFile document : FamilyFiles.all("classes/*.json")) {
            AssetClasses.ClassDocument read = AssetClasses.read(document.bytes());
            assertEquals("classes/" + read.code() + ".json", document.name());
            forms.add(AssetClasses.form(read));
        }
        return forms;
    }

    @Test
    void everyFamilyHasClassesAndNoTwoShareACodeOrAMark() {
        List<AssetClasses.ClassForm> forms = shipped();
        assertEquals(
                new HashSet<>(Families.ALL),
                new HashSet<>(forms.stream().map(AssetClasses.ClassForm::family).toList()));
        assertEquals(
                forms.size(),
                forms.stream().map(AssetClasses.ClassForm::code).distinct().count());
        assertEquals(
                forms.size(),
                forms.stream().map(AssetClasses.ClassForm::mark).distinct().count());
        forms.forEach(f -> assertTrue(
                f.fields().stream().anyMatch(PlateField::required), f.code() + " needs nothing of its plates"));
    }

    @Test
    void whatChangedIsToldInWords() {
        JsonNode before = CoreJson.mapper()
                .readTree(
                        """
        {"id": "CBK-1", "maker": "Orvex", "nameplate": {"ratings": {"ratedCurrent": {"value": 160, "unit": "A"},
          "delay": {"value": 0.5, "unit": "s"}}, "texts": {}}, "extra": {"key": "4"}, "search": "x"}""");
        JsonNode after = CoreJson.mapper()
                .readTree(
                        """
        {"id": "CBK-1", "maker": "Orvex", "nameplate": {"ratings": {"ratedCurrent": {"value": 1.25, "unit": "kA"},
          "delay": {"value": 0.5, "unit": "s"}}, "texts": {"note": "n"}}, "extra": {}, "search": "y"}""");
        Set<String> told = new HashSet<>();
        Differences.of("asset", "CBK-1", before, after)
                .forEach(c -> told.add(c.of() + ", " + c.field() + ": " + c.before() + " -> " + c.after()));
        assertEquals(
                Set.of(
                        "asset CBK-1, ratedCurrent: 160 A -> 1.25 kA",
                        "asset CBK-1, note: null -> n",
                        "asset CBK-1, key: 4 -> null"),
                told);
        JsonNode stood = CoreJson.mapper()
                .readTree("{\"id\": 7, \"asset\": \"CBK-1\", \"position\": \"MFR-1\", \"during\": "
                        + "\"[\\\"2026-01-05 08:00:00+00\\\",\\\"2026-11-01 09:30:00+00\\\")\"}");
        assertEquals(
                "from 2026-01-05 to 2026-11-01",
                Differences.of("installation", "7", tools.jackson.databind.node.NullNode.getInstance(), stood).stream()
                        .filter(c -> c.field().equals("from and to"))
                        .findFirst()
                        .orElseThrow()
                        .after());
    }
}
