package org.juratest.web;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** What of an operation is shown, where poles were closed, and how operations of a sequence are named. */
class OperationFigureTest {

    private static Page page;

    @BeforeAll
    static void open() throws Exception {
        page = new Page();
    }

    @AfterAll
    static void close() {
        page.close();
    }

    private static String line(double command, double begins, double lasts, double until) {
        List<Double> x = new ArrayList<>();
        List<Double> y = new ArrayList<>();
        for (int i = 0; i <= (until + command) * 2000; i++) {
            double t = i / 2000.0 - command;
            x.add(t);
            y.add(t < begins ? 14 : t > begins + lasts ? 0 : 14 * (1 - (t - begins) / lasts));
        }
        return "{\"x\":" + x + ",\"y\":" + y + "}";
    }

    @Test
    void anOperationIsShownUntilAllHasComeToRest() {
        String travel = line(0.01, 0.03, 0.014, 0.3);
        String coil = line(0.01, 0.02, 0.04, 0.3);
        JsonNode span = page.call("operationSpan", "[" + travel + "," + coil + "]");
        assertEquals(-10, span.get(0).asDouble(), 0.6);
        assertEquals(0.06 * 1000 + 15, span.get(1).asDouble(), 3, "the coil rests last");
        // What never rests is shown to its end, and what never moves for as long as can be seen.
        JsonNode cut = page.call("operationSpan", "[" + line(0.01, 0.03, 0.2, 0.1) + "]");
        assertEquals(100, cut.get(1).asDouble(), 1);
        assertTrue(page.call("operationSpan", "[" + line(0.01, 9, 1, 0.3) + "]")
                        .get(1)
                        .asDouble()
                >= 20);
    }

    @ParameterizedTest
    @CsvSource({
        "open, 35.5, -10, 35.5",
        "open, 500, -10, 90",
        "open, null, -10, 90",
        "close, 56, 56, 90",
        "closeOpen, 60, 20, 80"
    })
    void aPoleIsClosedFromItsTouchOrUntilItParts(String moves, String at, double from, double to) {
        JsonNode bar = "null".equals(at)
                ? page.call("poleBar", "\"" + moves + "\"", "[-10, 90]")
                : page.call("poleBar", "\"" + moves + "\"", "[-10, 90]", at, "20");
        assertEquals(from, bar.path("from").asDouble(), 1e-9);
        assertEquals(to, bar.path("to").asDouble(), 1e-9);
    }

    @Test
    void aPoleThatDidNotCloseHasNoBar() {
        assertTrue(page.call("poleBar", "\"close\"", "[-10, 90]").isNull());
    }

    /** Current that comes and goes is told as flows; names that would touch stand one row lower. */
    @Test
    void flowsAndTheRowsOfTheirNames() {
        JsonNode flows = page.call("flowsOf", "[0,1,2,3,4,5,6,7]", "[0,100,90,5,0,80,70,60]");
        assertEquals("[{\"from\":1,\"to\":2},{\"from\":5,\"to\":7}]", flows.toString());
        assertEquals("[]", page.call("flowsOf", "[0,1]", "[0,0]").toString());
        assertEquals(
                "[0,1,0,1,2]", page.call("rowsOf", "[0,50,110,160,170]", "104").toString());
    }

    /** A current that leads stands above the voltage, one that lags beneath it. */
    @ParameterizedTest
    @CsvSource({"0, 280, 180", "90, 180, 80", "-90, 180, 280", "180, 80, 180"})
    void anglesStandOnTheWheelWhereTheyLead(double degrees, double x, double y) {
        JsonNode at = page.call("onWheel", String.valueOf(degrees), "100", "180");
        assertEquals(x, at.path("x").asDouble(), 1e-6);
        assertEquals(y, at.path("y").asDouble(), 1e-6);
    }

    @Test
    void aRestraintIsLevelUpToItsKnee() {
        assertEquals(
                "[{\"at\":0,\"value\":0.2},{\"at\":0.5,\"value\":0.2},{\"at\":4,\"value\":1.6}]",
                page.call("restraint", "0.2", "0.4", "4").toString());
        assertEquals(
                "[{\"at\":0,\"value\":0.2},{\"at\":0.3,\"value\":0.2}]",
                page.call("restraint", "0.2", "0.4", "0.3").toString());
        assertTrue(page.call("sector", "-45", "135.5", "100", "180").asString().contains(" 0 1 0 "), "a large sector");
        assertTrue(page.call("sector", "0", "90", "100", "180").asString().contains(" 0 0 0 "), "a small one");
    }

    @Test
    void aRampFellWhereItStoodHighLast() {
        assertEquals(
                3, page.call("fallOf", "[0,1,2,3,4,5]", "[60,70,80,90,9,8]").asDouble());
        assertTrue(page.call("fallOf", "[0,1,2]", "[60,70,80]").isNull(), "it still grows");
        assertTrue(page.call("fallOf", "[0,1]", "[0,0]").isNull());
        // A dip on the way is no fall.
        assertEquals(2, page.call("fallOf", "[0,1,2,3]", "[60,20,80,5]").asDouble());
    }
}
