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

/** Long lines as they are drawn, lines fitted between cursors, routes as they are typed and laid under a trace. */
class RouteFigureTest {

    private static final String ROUTE = "0;end;Depot;400;;TES-XYZ-01\\n1;closure;Closure 1;;20\\n2;end;Halt;600";

    private static Page page;

    @BeforeAll
    static void open() throws Exception {
        page = new Page();
    }

    @AfterAll
    static void close() {
        page.close();
    }

    private static List<Double> numbers(JsonNode list) {
        return list.valueStream().map(JsonNode::asDouble).toList();
    }

    /** Whatever is left out, the highest and the lowest of what is seen are drawn, in the order of their places. */
    @Test
    void aThinnedLineKeepsWhatStandsOut() {
        Random random = new Random(3);
        for (int n = 0; n < 20; n++) {
            int size = 200 + random.nextInt(4000);
            List<Double> x = new ArrayList<>();
            List<Double> y = new ArrayList<>();
            for (int i = 0; i < size; i++) {
                x.add(i * 0.5);
                y.add(Math.rint(random.nextGaussian() * 1000) / 1000);
            }
            int spike = random.nextInt(size);
            y.set(spike, 50.0);
            double from = random.nextInt(size) / 8.0;
            double to = from + 20 + random.nextInt(size) / 4.0;
            JsonNode drawn =
                    page.call("thinned", x.toString(), y.toString(), String.valueOf(from), String.valueOf(to), "40");
            List<Double> xs = numbers(drawn.path("x"));
            List<Double> ys = numbers(drawn.path("y"));
            assertTrue(xs.size() <= 4 * 40 + 3, size + " became " + xs.size());
            for (int i = 1; i < xs.size(); i++) {
                assertTrue(xs.get(i) > xs.get(i - 1), "out of order at " + i);
            }
            double at = x.get(spike);
            assertEquals(at > from && at < to, ys.contains(50.0) && at > from && at < to, "the spike at " + at);
            for (int i = 0; i < xs.size(); i++) {
                assertEquals(y.get(x.indexOf(xs.get(i))), ys.get(i));
            }
        }
    }

    @Test
    void aLineIsFittedByLeastSquares() {
        JsonNode line = page.call("fittedAt", "[0,1,2,3,4,5]", "[9,1,3,5,7,0]", "1", "5", "10");
        assertEquals(19, line.get(0).asDouble(), 1e-9);
        assertEquals(2, line.get(1).asDouble(), 1e-9);
        assertTrue(page.call("fittedAt", "[0,1,2]", "[0,1,2]", "0", "1.5", "0").isNull());
    }

    @Test
    void aRouteIsReadAsTypedOrPastedAndWrittenBack() {
        assertEquals(
                "[[\"0\",\"end\",\"A\",\"\",\"\",\"\"],[\"1,5\",\"end\",\"B\",\"7\",\"\",\"\"]]",
                page.call("routeCells", "\"km\\twhat\\tname\\n0\\tend\\tA\\r\\n1,5\\tend\\tB\\t7\\n\"")
                        .toString());
        assertEquals(
                "0;end;A B\n1;end;C;;3",
                page.call("routeText", "[[\"0\",\"end\",\"A;B\",\"\"],[\"1\",\"end\",\"C\",\"\",\"3\",\"\"]]")
                        .asString());
        assertEquals(List.of(400.0, 500.0, 600.0), numbers(page.call("routeHeights", '"' + ROUTE + '"')));
    }

    /** A closure stands where the trace shows it, with the worst of what is found there; else where it should be. */
    @Test
    void aClosureStandsWhereTheTraceShowsIt() {
        String events = "[{\"key\":\"a\",\"at\":1025,\"words\":\"\",\"verdict\":\"pass\"},"
                + "{\"key\":\"b\",\"at\":1031,\"words\":\"\",\"verdict\":\"fail\"},"
                + "{\"key\":\"c\",\"at\":1500,\"words\":\"\",\"verdict\":\"pass\"}]";
        JsonNode near = page.call("alongFibre", '"' + ROUTE + '"', events, "2060", "false");
        assertEquals(1025, near.get(1).path("at").asDouble());
        assertEquals("fail", near.get(1).path("verdict").asString());
        assertEquals(2060, near.get(2).path("at").asDouble(), 1e-6);
        JsonNode without = page.call("alongFibre", '"' + ROUTE + '"', "[]", "2060", "false");
        assertEquals(1030, without.get(1).path("at").asDouble(), 15);
        JsonNode far = page.call("alongFibre", '"' + ROUTE + '"', "[]", "2060", "true");
        assertEquals("Halt", far.get(0).path("name").asString());
        assertEquals(600, far.get(0).path("height").asDouble());
    }

    private static final String ARRAY =
            """
            {"name": "End faces", "sha256": "aa", "facts": {"width": "1000", "height": "200",
             "#spot 10": "0.5 0.1 0.02 pass ", "#spot 2": "0.1 0.1 0.02 fail zone A has marks",
             "#spot 7": "0.3 0.1 0.02 not-judged no fibre", "#ring 2 A": "0.1 0.1 0.004", "#ring 10 A": "0.5 0.1 0.004",
             "#box 1": "0.099 0.099 0.102 0.102 bad defect 5 um", "#box 2": "0.5 0.1 0.501 0.101 free defect 1 um"}}
            """;

    /** Places of a picture in the order of their numbers, each with what is its own and no other's. */
    @Test
    void placesOfAPictureHaveWhatIsTheirs() {
        JsonNode spots = page.call("spotsOf", ARRAY.replace("\n", " "));
        assertEquals(
                List.of("2 fail zone A has marks", "7 notJudged no fibre", "10 pass "),
                spots.valueStream()
                        .map(s -> s.path("number").asString() + " "
                                + s.path("standing").asString() + " "
                                + s.path("why").asString())
                        .toList());
        assertEquals(100, spots.get(0).path("x").asDouble());
        JsonNode own = page.call("ownSpot", ARRAY.replace("\n", " "), "0").path("facts");
        assertEquals(
                List.of("#box 1", "#ring A", "height", "width"),
                own.propertyStream().map(java.util.Map.Entry::getKey).sorted().toList());
        assertEquals("0.1 0.1 0.004", own.path("#ring A").asString());
    }

    /** A measured map as threads: where each comes out, where it should, and whether that is right. */
    @Test
    void aMeasuredMapIsThreads() {
        String point = "{\"point\": \"%s#%d\", \"row\": %d, \"verdict\": \"%s\", \"label\": \"%s\", "
                + "\"counting\": {\"value\": %d}}";
        String points = String.join(
                ",",
                point.formatted("arrives", 1, 3, "notJudged", "", 4),
                point.formatted("off", 1, 3, "fail", "Fibre 3 (has to come out at 3), places off", 1),
                point.formatted("arrives", 2, 1, "notJudged", "", 1),
                point.formatted("off", 2, 1, "pass", "Fibre 1, places off", 0),
                point.formatted("arrives", 3, 2, "notJudged", "", 0),
                point.formatted("off", 3, 2, "fail", "Fibre 2 (no light comes out), places off", -2),
                point.formatted("arrives", 4, 5, "notJudged", "", 6),
                point.formatted("off", 4, 5, "fail", "Fibre 5, places off", 1),
                point.formatted("arrives", 5, 8, "notJudged", "", 7),
                point.formatted("off", 5, 8, "fail", "Fibre 8, places off", 12));
        JsonNode threads = page.call("threadsOf", "[" + points + "]");
        assertEquals(
                List.of(
                        "1 1 1 true ",
                        "2 0 2 false no light comes out",
                        "3 4 3 false has to come out at 3",
                        "5 6 5 false has to come out at 5",
                        "8 7 7 false twice, or where another does"),
                threads.valueStream()
                        .map(t -> t.path("fibre").asInt() + " "
                                + t.path("arrives").asInt() + " "
                                + t.path("should").asInt() + " "
                                + t.path("right").asBoolean() + " "
                                + t.path("words").asString())
                        .toList());
    }

    /** What is pasted goes down from a cell on: more rows come, nothing goes beyond the last column. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "0 | 0 | x\\ty         | [[x,y,c],[d,e,f]]",
                "1 | 1 | 1;2;3         | [[a,b,c],[d,1,2]]",
                "1 | 0 | 1\\t2\\r\\n3\\t4\\n  | [[a,b,c],[1,2,f],[3,4,\"\"]]",
                "0 | 2 | 5\\n6;7        | [[a,b,5],[d,e,6]]"
            })
    void aTableCanBePasted(int row, int column, String text, String rows) {
        String edit = "{\"id\":\"x\",\"when\":[],\"rows\":[[\"a\",\"b\",\"c\"],[\"d\",\"e\",\"f\"]]}";
        JsonNode got = page.call("pastedRows", edit, String.valueOf(row), String.valueOf(column), "\"" + text + "\"");
        assertEquals(rows.replaceAll("([a-z0-9])", "\"$1\""), got.toString());
        assertEquals(
                "[[\"new\",\"b\",\"c\"],[\"d\",\"e\",\"f\"]]",
                page.call("rowsLike", edit, "0").toString());
        assertEquals("End faces", page.call("inWords", "\"endFaces\"").asString());
        assertEquals("Size µm", page.call("inWords", "\"size um\"").asString());
    }
}
