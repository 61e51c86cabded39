package org.juratest.formats.table;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.StringWriter;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.formats.table.TableText.Encoding;

class TableTest {

    private static List<TableText.Row> rows(TableText table) {
        List<TableText.Row> rows = new ArrayList<>();
        table.rows(rows::add);
        return rows;
    }

    @Test
    void whatIsWrittenIsReadInEveryEncodingWithEverySeparator() throws IOException {
        Random random = new Random(11);
        String alphabet = "ab,;|\t\"\n=+-@' 1\u00e4\u20ac";
        for (int i = 0; i < 300; i++) {
            Encoding encoding = Encoding.values()[random.nextInt(4)];
            char separator = TableText.SEPARATORS.charAt(random.nextInt(4));
            List<List<String>> written = new ArrayList<>();
            StringWriter out = new StringWriter();
            try (CSVPrinter printer = new CSVPrinter(
                    out, CSVFormat.RFC4180.builder().setDelimiter(separator).get())) {
                for (int r = 0; r < 6; r++) {
                    List<String> cells = new ArrayList<>();
                    // The first cell is never blank, so that no row is left out.
                    cells.add("r" + r);
                    for (int c = 0; c < 3; c++) {
                        cells.add(random.ints(random.nextInt(6), 0, alphabet.length())
                                .mapToObj(k -> alphabet.substring(k, k + 1))
                                .reduce("", String::concat));
                    }
                    written.add(cells);
                    printer.printRecord(cells.stream().map(CellText::guarded).toList());
                }
            }
            TableText table =
                    TableText.of(out.toString().getBytes(Charset.forName(encoding.label())), encoding, separator);
            assertEquals(written, rows(table).stream().map(TableText.Row::cells).toList());
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"=1+1", "@x", "+cmd", "+3", "-1+cmd|' /C calc'!A0", "\t=1", "'=1", "''@"})
    void aFormulaIsGuardedAndComesBack(String text) {
        String guarded = CellText.guarded(text);
        assertTrue(guarded.startsWith("'") && !guarded.equals(text), guarded);
        assertEquals(text, CellText.plain(guarded));
    }

    @ParameterizedTest
    @ValueSource(strings = {"-12.5", "-5 M\u03a9", "1-2", "'quoted'", "plain", ""})
    void numbersAndWordsAreLeftAsTheyAre(String text) {
        assertEquals(text, CellText.guarded(text));
        assertEquals(text, CellText.plain(text));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '~',
            value = {"a,b;c,d\\n1,2,3~,", "a;b;c\\n1,5;2;3~;", "\"a;b\",c\\n1,2~,", "one\\ntwo~,", "a|b\\n1|2~|"})
    void theSeparatorIsTheOneThatRowsAgreeOn(String table, char separator) {
        assertEquals(
                separator,
                TableText.of(table.replace("\\n", "\n").getBytes(StandardCharsets.UTF_8), null, null)
                        .separator());
    }

    @Test
    void linesAreCountedAsAnEditorDoesAndBlankRowsAreLeftOut() {
        List<TableText.Row> rows =
                rows(TableText.of("a,b\n\"x\ny\",1\n,\n\nz,2\n".getBytes(StandardCharsets.UTF_8), null, null));
        assertEquals(List.of(1L, 2L, 6L), rows.stream().map(TableText.Row::line).toList());
        assertEquals("x\ny", rows.get(1).cells().get(0));
    }

    @Test
    void faultsNameTheirByteOrLine() {
        byte[] latin = "a\n\u00e9".getBytes(StandardCharsets.ISO_8859_1);
        assertTrue(assertThrows(TableException.class, () -> TableText.of(latin, Encoding.UTF_8, null))
                .getMessage()
                .startsWith("byte 3 (line 2)"));
        TableText open = TableText.of("a,b\n1,2\n\"open,3\n".getBytes(StandardCharsets.UTF_8), null, null);
        assertTrue(assertThrows(TableException.class, () -> rows(open))
                .getMessage()
                .contains("line 3"));
        assertThrows(TableException.class, () -> TableText.of(new byte[] {'a', 0, 'b'}, null, null));
        assertEquals(
                "encoding",
                assertThrows(TableException.class, () -> Encoding.of("ebcdic")).field());
        assertFalse(rows(TableText.of("\uFEFFa,b".getBytes(StandardCharsets.UTF_8), null, null))
                .get(0)
                .cells()
                .get(0)
                .startsWith("\uFEFF"));
    }
}
