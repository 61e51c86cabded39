package org.juratest.core.standard;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.method.Methods;

class StandardTableTest {

    private static StandardTable table(String id, Map<String, String> when) {
        return new StandardTable("g", id, id, "1", when, List.of("size"), List.of(List.of("1")));
    }

    @Test
    void thePlateMayNameOneElseTheMostFittingServes() {
        List<StandardTable> all = List.of(
                table("plain", Map.of()),
                table("b-wide", Map.of("kind", "Wide")),
                table("a-wide", Map.of("kind", "wide")),
                table("wide-slanted", Map.of("kind", "wide", "end", "slanted")));
        assertEquals("plain", chosen(all, Map.of()));
        assertEquals("a-wide", chosen(all, Map.of("kind", "very WIDE", "end", "flat")));
        assertEquals("wide-slanted", chosen(all, Map.of("kind", "wide", "end", "slanted 8 degrees")));
        assertEquals("plain", chosen(all, Map.of("kind", "wide", "g", "plain")));
        assertEquals("a-wide", chosen(all, Map.of("kind", "wide", "g", "one that is gone")));
        assertEquals(Optional.empty(), StandardTable.choose(all, "another", Map.of()));
    }

    private static String chosen(List<StandardTable> all, Map<String, String> plate) {
        return StandardTable.choose(all, "g", plate).orElseThrow().id();
    }

    @Test
    void aRowHasACellForEachColumn() {
        var fault = assertThrows(
                StandardTable.FaultException.class,
                () -> new StandardTable(
                        "g", "x", "x", "1", Map.of(), List.of("a", "b"), List.of(List.of("1", "2"), List.of("1"))));
        assertEquals("rows.1", fault.field());
    }

    @Test
    void everyTableThatShipsCanBeJudgedBy() {
        assertTrue(Methods.tables().size() >= 3);
        Methods.tables().forEach(Methods::check);
        assertEquals(
                Methods.tables().size(),
                Methods.tables().stream().map(StandardTable::id).distinct().count());
        assertThrows(StandardTable.FaultException.class, () -> Methods.check(table("x", Map.of())));
    }

    /** Each cell of each table that ships, spoilt: it is refused, and the refusal names that very cell. */
    @ParameterizedTest
    @CsvSource({
        "zone, ''",
        "from um, 3.5",
        "from um, x",
        "to um, -1",
        "mark, chip",
        "size um, -2",
        "size um, big",
        "bound, about",
        "most, 1.5",
        "most, many",
        "lowest, x",
        "highest, -999",
        "times In below, some"
    })
    void aSpoiltCellIsNamed(String column, String text) {
        List<StandardTable> having = Methods.tables().stream()
                .filter(t -> t.columns().contains(column))
                .toList();
        assertFalse(having.isEmpty(), column);
        for (StandardTable good : having) {
            for (int r = 0; r < good.rows().size(); r++) {
                List<List<String>> rows = new ArrayList<>(good.rows());
                List<String> row = new ArrayList<>(rows.get(r));
                row.set(good.columns().indexOf(column), text);
                rows.set(r, row);
                StandardTable bad = new StandardTable(
                        good.group(), good.id(), good.title(), good.edition(), good.when(), good.columns(), rows);
                var fault = assertThrows(StandardTable.FaultException.class, () -> Methods.check(bad));
                assertTrue(fault.field().startsWith("rows."), fault.field());
                assertTrue(fault.field().endsWith("." + column), r + " " + fault.getMessage());
            }
        }
    }
}
