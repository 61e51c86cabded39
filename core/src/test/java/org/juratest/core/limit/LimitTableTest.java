package org.juratest.core.limit;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.method.Methods;
import org.juratest.core.standard.StandardTable;

class LimitTableTest {

    private static final List<String> COLUMNS = List.of("class", "load below", "heat up to", "lowest", "highest");

    private static StandardTable table(List<String> columns, String... rows) {
        List<List<String>> cells = new ArrayList<>();
        for (String row : rows) {
            cells.add(Arrays.stream(row.split("\\|", -1)).map(String::strip).toList());
        }
        return new StandardTable("g", "t", "a table", "edition 1", Map.of(), columns, cells);
    }

    private static final StandardTable GOOD =
            table(COLUMNS, "fine|0.5|  |-1|1", "fine| |40|-0.5|0.5", "fine| | | |3", "coarse| | |-9| ");

    @ParameterizedTest
    @CsvSource({
        "fine, 0.49, 90, -1, 1",
        "fine, 0.5, 40, -0.5, 0.5",
        "fine, 0.5, 40.01, , 3",
        "coarse, 0.1, 1, -9,",
        "other, 0.1, 1, none, none"
    })
    void theFirstRowWhoseCellsAllFitDecides(String word, double load, double heat, String low, String high) {
        LimitTable.Bounds bounds =
                LimitTable.of(GOOD).at(Map.of("class", word), Map.of("load below", load, "heat up to", heat));
        if ("none".equals(low)) {
            assertNull(bounds);
            return;
        }
        assertEquals(
                low == null ? null : Double.valueOf(low),
                Objects.requireNonNull(bounds).low());
        assertEquals(high == null ? null : Double.valueOf(high), bounds.high());
    }

    /** Of what nothing is told, only the rows that ask nothing of it are meant. */
    @Test
    void whatIsNotToldFitsOnlyEmptyCells() {
        LimitTable.Bounds bounds = LimitTable.of(GOOD).at(Map.of("class", "fine"), Map.of());
        assertEquals(3.0, Objects.requireNonNull(bounds).high());
        assertNull(LimitTable.of(GOOD).at(Map.of(), Map.of("load below", 0.1, "heat up to", 1.0)));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "x|0.5| |1|-1; rows.0.highest; below the lowest",
                "x|much| |1|2; rows.0.load below; is no number",
                "x|0.5| | | ; rows.0.highest; both",
                "x|0.5| |none|2; rows.0.lowest; is no number"
            })
    void aCellAtFaultIsNamed(String row, String field, String words) {
        StandardTable.FaultException e =
                assertThrows(StandardTable.FaultException.class, () -> LimitTable.of(table(COLUMNS, row)));
        assertEquals(field, e.field());
        assertTrue(String.valueOf(e.getMessage()).contains(words), e.getMessage());
    }

    /** A row that an earlier one stands before is a slip of whoever edits it. */
    @Test
    void aRowThatIsNeverReachedIsRefused() {
        for (String[] rows : new String[][] {
            {"a| | | |1", "a|0.5| | |2"},
            {" | | | |1", "b|0.1|3| |2"},
            {"a|0.5| | |1", "a|0.5| | |2"},
            {"a|0.5| | |1", "a|0.4|7| |2"}
        }) {
            StandardTable.FaultException e =
                    assertThrows(StandardTable.FaultException.class, () -> LimitTable.of(table(COLUMNS, rows)));
            assertEquals("rows.1.class", e.field(), rows[1]);
        }
        LimitTable.of(table(COLUMNS, "a|0.4| | |1", "a|0.5| | |2"));
        LimitTable.of(table(COLUMNS, "a|0.5| | |1", "b|0.4| | |2"));
    }

    @Test
    void otherColumnsAndNoRowsAreRefused() {
        assertEquals(
                "columns",
                assertThrows(
                                StandardTable.FaultException.class,
                                () -> LimitTable.of(table(List.of("class", "highest", "lowest"), "a|1|2")))
                        .field());
        assertEquals(
                "rows",
                assertThrows(StandardTable.FaultException.class, () -> LimitTable.of(table(COLUMNS)))
                        .field());
    }

    /** Methods judge by columns that they know, in their order. */
    @Test
    void aTableOfAGroupHasTheColumnsOfThatGroup() {
        StandardTable shipped = Methods.tables().stream()
                .filter(t -> t.id().equals("iec-62053-22-2020"))
                .findFirst()
                .orElseThrow();
        StandardTable other = new StandardTable(
                shipped.group(),
                "x",
                "x",
                "x",
                Map.of(),
                List.of("class", "lowest", "highest"),
                List.of(List.of("1", "-1", "1")));
        assertEquals(
                "columns",
                assertThrows(StandardTable.FaultException.class, () -> Methods.check(other))
                        .field());
    }
}
