package org.juratest.web;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** The drift map as figures: views, places, names, regions, and its words. */
class DriftMapTest {

    private static final String WHOLE = "{\"left\":0,\"right\":1.25,\"bottom\":-0.05,\"top\":0.3}";

    private static Page page;

    @BeforeAll
    static void open() throws Exception {
        page = new Page();
    }

    @AfterAll
    static void close() {
        page.close();
    }

    private static String quoted(String text) {
        return "'" + text + "'";
    }

    private static List<Double> doubles(JsonNode list) {
        return list.valueStream()
                .map(v -> v.isNull() ? Double.NaN : v.asDouble())
                .toList();
    }

    @Test
    void whatLiesFarOutStandsAtTheEdgeAndSqueezesNobody() {
        StringBuilder points = new StringBuilder("[[40,0.02],[0.5,9]");
        for (int i = 0; i < 200; i++) {
            points.append(",[").append(0.004 * i).append(',').append(0.0005 * i).append(']');
        }
        JsonNode map = page.call("mapped", points + "]", "null");
        assertTrue(map.at("/whole/top").asDouble() <= 0.2, map.path("whole").toString());
        assertEquals(1000, map.at("/x/0").asDouble());
        assertEquals(0, map.at("/y/1").asDouble());
        assertEquals(1, map.at("/beyond/0").asInt() & map.at("/beyond/1").asInt());
        assertEquals(0, map.at("/beyond/2").asInt());
        // Of a part, what lies elsewhere is not drawn at all.
        JsonNode part = page.call("mapped", points + "]", "{\"left\":0.2,\"right\":0.4,\"bottom\":0,\"top\":0.1}");
        assertTrue(part.at("/x/0").isNull() && part.at("/x/2").isNull());
        assertEquals(0, part.path("beyond").get(60).asInt(), "0.232 lies within");
    }

    @Test
    void everyMarkIsFoundWhereItStandsAndArrowsGoTheWayTheyPoint() {
        JsonNode map = page.call("mapped", "[[0.2,0.05],[0.6,0.05],[0.2,0.09],[0.9,0.01]]", "null");
        assertEquals(List.of(0.0, 1.0, 2.0, 3.0), doubles(map.path("nearest")));
        assertEquals(1, map.at("/right/0").asInt());
        assertEquals(2, map.at("/up/0").asInt());
        assertEquals(-1, map.at("/right/3").asInt(), "nothing lies farther right");
        assertEquals(-1, map.at("/up/2").asInt());
    }

    /** Whatever the marks: names stay in the field, and cover neither each other nor a mark that is named. */
    @Test
    void namesCoverNothing() {
        Random random = new Random(8);
        for (int round = 0; round < 20; round++) {
            StringBuilder points = new StringBuilder("[");
            for (int i = 0; i < 40; i++) {
                points.append(i == 0 ? "" : ",")
                        .append('[')
                        .append(random.nextDouble() * 1.2)
                        .append(',')
                        .append(random.nextDouble() * 0.1)
                        .append(']');
            }
            JsonNode map = page.call("mapped", points + "]", "null");
            List<double[]> boxes = new ArrayList<>();
            map.path("labels").forEach(l -> {
                double wide = ("POS-" + l.path("mark").asInt()).length() * 7.2;
                double left = l.path("side").asString().equals("right")
                        ? l.path("x").asDouble()
                        : l.path("x").asDouble() - wide;
                boxes.add(new double[] {left, left + wide, l.path("y").asDouble()});
            });
            for (int a = 0; a < boxes.size(); a++) {
                assertTrue(boxes.get(a)[0] >= 0 && boxes.get(a)[1] <= 1000);
                for (int b = a + 1; b < boxes.size(); b++) {
                    double[] one = boxes.get(a);
                    double[] other = boxes.get(b);
                    assertTrue(
                            one[1] <= other[0] || other[1] <= one[0] || Math.abs(one[2] - other[2]) >= 17,
                            "two names over each other");
                }
            }
        }
    }

    @Test
    void zoomingKeepsThePlaceUnderThePointerAndEndsAtTheWhole() {
        JsonNode near = page.call("zoomed", WHOLE, "0.5", "1", "0.1", WHOLE);
        assertEquals(0.5, near.path("left").asDouble(), 1e-12);
        assertEquals(1.125, near.path("right").asDouble(), 1e-12);
        JsonNode far = page.call("zoomed", near.toString(), "4", "1", "0.1", WHOLE);
        assertEquals(0, far.path("left").asDouble());
        assertEquals(1.25, far.path("right").asDouble());
        JsonNode moved = page.call("shifted", near.toString(), "9", "0", WHOLE);
        assertEquals(1.25, moved.path("right").asDouble(), 1e-12, "no farther than the whole");
        assertEquals(0.625, moved.path("right").asDouble() - moved.path("left").asDouble(), 1e-12);
    }

    @Test
    void marksOnTheEdgeOfARegionAreInIt() {
        assertEquals(
                List.of(0.0, 2.0),
                doubles(page.call(
                        "within", "[[0.5,0.1],[0.51,0.1],[0.4,0.05],[0.5,0.2]]", quoted("0.4,0.5,0.05,0.1"))));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {"0.5,1,-0.1,0.2|0.5,1,-0.1,0.2", "1,0.5,0,1|", "0.5,1,0|", "a,1,0,1|", "0,1,,1|", "0,1e999,0,1|"})
    void anAddressIsARegionOrNone(String text, String read) {
        assertEquals(read, page.call("region", quoted(text)).asString(null));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "at its limit between spring 2027 and autumn 2027|spring to autumn 2027",
                "at its limit between winter 2026/27 and spring 2027|winter 2026/27 to spring 2027",
                "at its limit in spring 2027|spring 2027",
                "at its limit now|now",
                "at its limit not before 2031|after 2031"
            })
    void aRangeIsToldBriefly(String meets, String brief) {
        assertEquals(brief, page.call("briefly", quoted(meets)).asString());
    }

    @Test
    void theMapSaysWhatToDoInASentence() {
        assertEquals(
                "8 to act on now, 6 meet a limit before their next test",
                page.call("headline", "{\"act\":14,\"watch\":2,\"sound\":9,\"unknown\":1,\"meetNext\":6}")
                        .asString());
        assertEquals(
                "One device meets a limit before its next test",
                page.call("headline", "{\"act\":1,\"watch\":2,\"sound\":9,\"unknown\":1,\"meetNext\":1}")
                        .asString());
        assertEquals(
                "All 9 that are known are sound",
                page.call("headline", "{\"act\":0,\"watch\":0,\"sound\":9,\"unknown\":1,\"meetNext\":0}")
                        .asString());
    }

    /** What a spreadsheet would take for a formula stays text; what has commas is one cell. */
    @Test
    void cellsAreCells() {
        assertEquals("'=1+1", page.call("cell", quoted("=1+1")).asString());
        assertEquals("\"a,b\"", page.call("cell", quoted("a,b")).asString());
        assertEquals("-3.5", page.call("cell", "-3.5").asString());
    }
}
