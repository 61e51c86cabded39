package org.juratest.formats.trend;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import tools.jackson.databind.JsonNode;

/** What {@code analyse trend} prints of a table, and how it refuses one. */
class TrendAnalysesTest {

    private static final String HEAD = "date,value,limit,event\n";

    @TempDir
    private Path folder;

    private JsonNode analysed(String table) throws IOException {
        Path file = folder.resolve("t.csv");
        Files.writeString(file, table);
        return Analyses.byKind("trend").orElseThrow().of(List.of(file), Map.of());
    }

    @Test
    void aSeriesIsPrintedWithTheKeysOfThePageInTheirOrder() throws IOException {
        JsonNode found = analysed(HEAD
                + "2021-03-01,210,297,\n2022-03-01,226,297,\n2023-03-01,245,297,\n2024-03-01,262,297,\n"
                + "2025-03-01,281,297,\n");
        assertEquals(List.of("segments", "steps", "words"), List.copyOf(found.propertyNames()));
        JsonNode s = found.path("segments").get(0);
        assertEquals(
                List.of(
                        "from",
                        "to",
                        "n",
                        "theilSenPerYear",
                        "theilSenLow95",
                        "theilSenHigh95",
                        "olsPerYear",
                        "olsLow95",
                        "olsHigh95",
                        "mannKendallP",
                        "crossing",
                        "crossingFrom80",
                        "crossingTo80",
                        "method"),
                List.copyOf(s.propertyNames()));
        assertEquals("2021-03-01", s.path("from").asString());
        assertEquals("2025-03-01", s.path("to").asString());
        assertEquals(5, s.path("n").asInt());
        assertEquals(2 / 120.0, s.path("mannKendallP").asDouble(), 1e-12);
        // By hand: 178 of 10, on years of 365.25 days (1461 days are 4 of them); 52.2 from the mean are 2.93 years.
        assertEquals(17.8, s.path("olsPerYear").asDouble(), 0.01);
        assertTrue(s.path("olsLow95").asDouble() < 17.8 && s.path("olsHigh95").asDouble() > 17.8);
        assertEquals("2026-02", s.path("crossing").asString().substring(0, 7));
        assertTrue(
                s.path("crossingFrom80").asString().compareTo(s.path("crossing").asString()) < 0);
        assertTrue(
                s.path("crossingTo80").asString().compareTo(s.path("crossing").asString()) > 0);
        assertEquals("ordinary least squares, Fieller", s.path("method").asString());
        assertEquals(
                "at its limit between winter 2025/26 and spring 2026",
                found.path("words").asString());
    }

    @Test
    void anEventCutsBeforeItsRowAndALowerLimitIsMetFromAbove() throws IOException {
        JsonNode found = analysed(HEAD
                + "2018-01-01,60,40,\n2019-01-01,50,40,\n2020-01-01,100,40,repair\n2021-01-01,95,40,\n"
                + "2022-01-01,91,40,\n"
                + "2023-01-01,84.5,40,\n2024-01-01,80,40,\n");
        assertEquals(2, found.path("segments").size());
        JsonNode last = found.path("segments").get(1);
        assertEquals("2020-01-01", last.path("from").asString());
        assertTrue(last.path("olsPerYear").asDouble() < 0);
        assertEquals("2031", last.path("crossing").asString().substring(0, 4));
        assertTrue(found.path("segments").get(0).path("crossing").isNull(), "two are too few");
        assertTrue(found.path("words").asString().startsWith("at its limit between 20"));
    }

    @Test
    void oneRowAndNoLimitArePrintedToo() throws IOException {
        JsonNode one = analysed(HEAD + "2018-01-01,60,,\n");
        JsonNode s = one.path("segments").get(0);
        for (String key : List.of("theilSenPerYear", "olsPerYear", "olsLow95", "mannKendallP", "crossing", "method")) {
            assertTrue(s.path(key).isNull(), key);
        }
        assertEquals(
                "1 reading, too few for a forecast: it takes 4",
                one.path("words").asString());
        JsonNode step = analysed(HEAD
                + "2018-01-01,10,,\n2019-01-01,10.1,,\n2020-01-01,9.9,,\n2021-01-01,10,,\n2022-01-01,10.1,,\n"
                + "2023-01-01,15,,\n");
        assertEquals("[\"2023-01-01\"]", step.path("steps").toString());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "'' | there is no row below the header",
                "date;value | line 1: the columns must be date,value,limit,event, not date;value",
                "date,value,limit,event\\n2018-01-01,1,2 | line 2 has 3 columns, not 4",
                "date,value,limit,event\\n2018-01-01,1,2,\\n01.02.2019,1,2, | line 3, column 1 (date): \"01.02.2019\"",
                "date,value,limit,event\\n2018-01-01,NaN,2, | line 2, column 2 (value): \"NaN\" is not a finite number",
                "date,value,limit,event\\n2018-01-01,1,1e999, | line 2, column 3 (limit): \"1e999\"",
                "date,value,limit,event\\n2018-01-01,,2, | line 2, column 2 (value): \"\" is not a finite number",
                "date,value,limit,event\\n2018-01-01,1,2,moved | line 2, column 4 (event): \"moved\" is no event",
                "date,value,limit,event\\n2018-01-02,1,2,\\n\\n2018-01-01,1,2, | line 4, column 1 (date): 2018-01-01",
                "date,value,limit,event\\n\"2018 | the CSV cannot be read"
            })
    void aTableThatIsWrongIsRefusedWithLineAndColumn(String table, String words) {
        Refusal refused = assertThrows(Refusal.class, () -> analysed(table.replace("\\n", "\n")));
        assertEquals("bad-table", refused.code());
        assertTrue(String.valueOf(refused.getMessage()).contains(words), refused.getMessage());
    }
}
