package org.juratest.server.record;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.StringReader;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.Verdict;
import org.juratest.core.quantity.Unit;
import org.juratest.core.record.Chart;
import org.juratest.core.trace.Trace;
import org.juratest.server.run.PointViews;
import org.xml.sax.InputSource;

/** The report's drawings, by the places of what is drawn. */
class DrawingTest {

    private static final double WIDTH = 200;

    private static PointViews.Strip strip(Double low, Double high, Double value) {
        PointViews.Tick tick = new PointViews.Tick(15, "15.0", "P/2025/1", Instant.EPOCH, true);
        return new PointViews.Strip(
                10,
                30,
                Scale.LINEAR,
                low,
                high,
                null,
                high == null ? null : (Double) (high - 1),
                15.0,
                List.of(tick),
                value);
    }

    private static void isXml(String svg) throws Exception {
        assertEquals(
                "http://www.w3.org/2000/svg",
                DocumentBuilderFactory.newInstance()
                        .newDocumentBuilder()
                        .parse(new InputSource(new StringReader(svg)))
                        .getDocumentElement()
                        .getAttribute("xmlns"));
    }

    private static List<Double> numbers(String svg, String pattern) {
        List<Double> found = new ArrayList<>();
        Matcher matcher = Pattern.compile(pattern).matcher(svg);
        while (matcher.find()) {
            found.add(Double.parseDouble(matcher.group(1)));
        }
        return found;
    }

    @Test
    void aStripIsDrawnWhereItsNumbersAre() throws Exception {
        String svg = Drawing.strip(strip(12.0, 25.0, 20.0), Verdict.PASS, WIDTH);
        isXml(svg);
        // (12 - 10) / 20 and (25 - 10) / 20 of 200 pt; the mark is 8 wide around (20 - 10) / 20.
        assertTrue(svg.contains("<rect x=\"20.00\" y=\"5.5\" width=\"130.00\""), svg);
        assertEquals(List.of(96.0), numbers(svg, "translate\\(([\\d.]+) "));
        assertTrue(svg.contains("M50.00 5.2"), "the earlier value: " + svg);
        List<Double> hatch = numbers(svg, "<path d=\"M([\\d.]+) [\\d.]+ L[\\d.]+ [\\d.]+\" stroke=\"#b9a56a\"");
        assertFalse(hatch.isEmpty());
        assertTrue(
                hatch.stream().allMatch(x -> x >= 140 && x <= 150),
                "the hatching stays within the marginal zone: " + hatch);
    }

    @Test
    void whatWasFoundInAPictureIsDrawnOverIt() throws Exception {
        // 400 wide is drawn 200 pt wide: shares of the width are the same on both ways.
        Map<String, String> facts = Map.of(
                "width", "400",
                "height", "300",
                "#ring A", "0.5 0.375 0.1",
                "#box 1", "0.25 0.25 0.3 0.3 bad scratch & more",
                "#2", "0.5 0.5",
                "edition", "2015");
        String drawn = PictureDrawing.over(facts);
        String svg = drawn.substring(drawn.indexOf("<svg"), drawn.indexOf("</svg>") + 6);
        isXml(svg);
        assertTrue(svg.contains("cx=\"100.00\" cy=\"75.00\" r=\"20.00\""), svg);
        assertTrue(svg.contains("<rect x=\"49.00\" y=\"49.00\" width=\"12.00\" height=\"12.00\""), svg);
        assertTrue(svg.contains("cx=\"100.00\" cy=\"75.00\" r=\"8.33\""), "a row's place is of both sides: " + svg);
        assertTrue(drawn.contains("scratch &amp; more"), drawn);
    }

    /** Of many places alike each has its number, and those that are not in order a ring; nothing smaller is drawn. */
    @Test
    void ofManyPlacesThoseThatAreNotInOrderAreRinged() throws Exception {
        String drawn = PictureDrawing.over(Map.of(
                "width", "1000",
                "height", "200",
                "#spot 1", "0.1 0.1 0.02 pass ",
                "#spot 12", "0.5 0.1 0.02 fail zone A has marks",
                "#spot 7", "0.3 0.1 0.02 not-judged no fibre",
                "#spot 8", "NaN 0.1 x fail odd",
                "#ring 12 A", "0.5 0.1 0.004",
                "#box 1", "0.49 0.09 0.51 0.11 bad defect"));
        String svg = drawn.substring(drawn.indexOf("<svg"), drawn.indexOf("</svg>") + 6);
        isXml(svg);
        assertEquals(
                List.of(60.0, 100.0),
                numbers(svg, "<circle cx=\"([\\d.]+)\"").stream().sorted().toList());
        assertFalse(svg.contains("<rect") || drawn.contains("NaN") || drawn.contains("defect"), drawn);
        for (String number : List.of(">1<", ">7<", ">12<")) {
            assertTrue(drawn.contains(number), drawn);
        }
    }

    @Test
    void aPictureOfWhichNothingIsSaidHasNothingOverIt() {
        assertEquals("", PictureDrawing.over(Map.of("width", "400", "height", "300", "edition", "2015")));
        assertEquals("", PictureDrawing.over(Map.of("#ring A", "0.5 0.5 0.1")));
        String odd = PictureDrawing.over(
                Map.of("width", "400", "height", "300", "#ring A", "x y z", "#box 1", "1 2", "#1", "NaN 0"));
        assertFalse(odd.contains("<circle") || odd.contains("<rect") || odd.contains("NaN"), odd);
    }

    /** Rows stand on the line where they were found; the noise behind the last of them is not drawn. */
    @Test
    void rowsAreMarkedAlongATraceAndBadOnesNamed() throws Exception {
        double[] x = new double[2001];
        double[] y = new double[2001];
        for (int i = 0; i < x.length; i++) {
            x[i] = i;
            y[i] = i <= 1000 ? -20 - i / 1000.0 : -60;
        }
        Trace trace = new Trace("level", Unit.of("m"), Unit.of("dB"), x, y);
        String html = new TraceDrawing(
                        Map.of("fibre 1", trace),
                        List.of(
                                new RecordView.TraceMark(500, "Splice 1 at 500 m, 0.1 dB", Verdict.PASS),
                                new RecordView.TraceMark(1000, "Splice 2 at 1000 m, 0.4 dB", Verdict.FAIL)))
                .html();
        assertFalse(html.contains("Splice 1"), "what is good needs no words");
        assertTrue(html.contains("Splice 2 at 1000 m, 0.4 dB"), html);
        List<Double> marks = numbers(html, "translate\\(([\\d.]+) ");
        assertEquals(2, marks.size());
        // The axis ends at 1.12 times the last of them.
        double share = (marks.get(0) + 3 - 44) / (500 - 44 - 70);
        assertEquals(500 / 1120.0, share, 0.002);
        assertFalse(html.contains(">2000"), "what lies behind is not on the axis");
    }

    @Test
    void aOneSidedSpanRunsToTheEdgeAndAValueOutsideStandsThereWithAnArrow() {
        String low = Drawing.strip(strip(null, 25.0, -400.0), Verdict.FAIL, WIDTH);
        assertTrue(low.contains("<rect x=\"0.00\" y=\"5.5\" width=\"150.00\""), low);
        assertEquals(List.of(5.0), numbers(low, "translate\\(([\\d.]+) "));
        assertTrue(low.contains("M4 6 L1 8.5 L4 11"), low);
        String high = Drawing.strip(strip(12.0, null, 1e9), Verdict.PASS, WIDTH);
        assertEquals(List.of(WIDTH - 8 - 5), numbers(high, "translate\\(([\\d.]+) "));
        assertTrue(high.contains("L199.00 8.5"), high);
        assertFalse(
                Drawing.strip(strip(12.0, 25.0, Double.NaN), Verdict.PASS, WIDTH)
                        .contains("translate"),
                "what has no place is not drawn");
        assertFalse(Drawing.strip(strip(12.0, 25.0, null), Verdict.PASS, WIDTH).contains("translate"));
    }

    @ParameterizedTest
    @EnumSource(Verdict.class)
    void everyVerdictHasAShapeOfItsOwn(Verdict verdict) throws Exception {
        isXml(Drawing.mark(verdict, 8));
        for (Verdict other : Verdict.values()) {
            boolean marginal =
                    verdict.name().startsWith("MARGINAL") && other.name().startsWith("MARGINAL");
            if (other != verdict && !marginal) {
                assertNotEquals(Drawing.mark(verdict, 8), Drawing.mark(other, 8));
            }
        }
    }

    @Test
    void theFieldSaysEachTripOnceAndHoldsThemApart() throws Exception {
        List<Envelope.Place> outline = List.of(
                new Envelope.Place(105, 115.1, null),
                new Envelope.Place(130, 70.0, 202.4),
                new Envelope.Place(1000, 1.2, 3.4));
        String html = new ChartDrawing(chart(
                        new Chart.Axis("current, rms", "A", true),
                        new Chart.Axis("time", "s", true),
                        300.0,
                        outline,
                        List.of(
                                spot("A", 300, 23.0, true, false),
                                spot("B", 300, 41.6, false, false),
                                spot("C", 300, 23.1, true, false),
                                spot("B", 300, 24.0, false, true))))
                .html();
        isXml(html.substring(html.indexOf("<svg"), html.indexOf("</svg>") + 6));
        for (String words : List.of(
                ">A 23.0 s<", ">B 41.6 s, as found<", ">C 23.1 s<", ">B 24.0 s, voided<", ">300 A<", ">1 min<")) {
            assertEquals(2, html.split(Pattern.quote(words), -1).length, words + " in " + html);
        }
        List<Double> labels = numbers(html, "class=\"w t\" style=\"left:[\\d.]+pt;top:([\\d.]+)pt");
        for (int i = 1; i < labels.size(); i++) {
            assertTrue(labels.get(i) - labels.get(i - 1) >= 9.9, labels.toString());
        }
    }

    private static Chart chart(
            Chart.Axis x, Chart.Axis y, Double at, List<Envelope.Place> allowed, List<Chart.Spot> spots) {
        return new Chart("s", "plain", "Trip", "sheet", "pole", at, x, y, allowed, spots);
    }

    private static Chart.Spot spot(String lane, double at, double value, boolean counts, boolean voided) {
        return new Chart.Spot(
                "s/p/" + lane,
                lane,
                at,
                value,
                String.valueOf(value),
                value > 38 ? Verdict.FAIL : Verdict.PASS,
                counts,
                voided);
    }

    @Test
    void aChartOnStraightAxesStandsWhereItsValuesDoAndWhatHasNoPlaceIsLeftOut() throws Exception {
        List<Envelope.Place> atLeast = List.of(new Envelope.Place(1, 3.0, null), new Envelope.Place(2, 4.0, null));
        String html = new ChartDrawing(chart(
                        new Chart.Axis("lamp", "", false),
                        new Chart.Axis("illuminance", "lx", false),
                        null,
                        atLeast,
                        List.of(
                                spot("1", 1, 5, true, false),
                                spot("2", 2, -1, true, false),
                                spot("3", Double.NaN, 3, true, false))))
                .html();
        String svg = html.substring(html.indexOf("<svg"), html.indexOf("</svg>") + 6);
        isXml(svg);
        assertFalse(html.contains("NaN") || html.contains("Infinity"), html);
        assertFalse(html.contains(">3 3.0 lx<"), "a value without a place is not drawn");
        assertTrue(html.contains(">1 5.0 lx<") && html.contains(">2 -1.0 lx<"), html);
        assertTrue(html.contains(">4 lx<"), "the axis has its unit: " + html);
        assertEquals(
                1,
                svg.split("stroke-width=\"0.8\"", -1).length - 1,
                "one edge: the bounds are open to the top: " + svg);
        List<Double> tops = numbers(html, "class=\"w t\" style=\"left:[\\d.]+pt;top:([\\d.]+)pt");
        assertTrue(tops.get(0) < tops.get(1), "more is higher: " + tops);
        String logarithmic = new ChartDrawing(chart(
                        new Chart.Axis("length", "m", true),
                        new Chart.Axis("loss", "dB", true),
                        null,
                        List.of(),
                        List.of(spot("1", 0, 5, true, false), spot("2", 2000, 5, true, false))))
                .html();
        assertFalse(logarithmic.contains("NaN") || logarithmic.contains("Infinity"), logarithmic);
        assertTrue(logarithmic.contains(">2 5.0 dB<") && !logarithmic.contains(">1 5.0 dB<"), logarithmic);
        assertTrue(logarithmic.contains(">2 km<"), logarithmic);
    }

    @Test
    void tracesAreDrawnToTheirEndsAlsoFlatOnesAndSinglePoints() throws Exception {
        Map<String, Trace> lanes = new LinkedHashMap<>();
        lanes.put(
                "pole A",
                new Trace("I", Unit.SECOND, Unit.AMPERE, new double[] {0, 10, 20}, new double[] {300, 300, 300}));
        lanes.put("pole B", new Trace("I", Unit.SECOND, Unit.AMPERE, new double[] {5}, new double[] {300}));
        String html = new TraceDrawing(lanes).html();
        isXml(html.substring(html.indexOf("<svg"), html.indexOf("</svg>") + 6));
        assertFalse(html.contains("NaN") || html.contains("Infinity"), html);
        assertTrue(html.contains("L430.00"), "the longest trace ends at the right edge: " + html);
        List<Double> names = numbers(html, "left:451.0pt;top:([\\d.]+)pt");
        assertEquals(2, names.size());
        assertTrue(Math.abs(names.get(0) - names.get(1)) >= 9, names.toString());
    }

    @Test
    void manyValuesCountedOneByOneHaveNoLineBetweenThemAndASpectrumHasTicksOnBothSides() throws Exception {
        double[] places = new double[100];
        double[] symbols = new double[100];
        for (int n = 0; n < places.length; n++) {
            places[n] = n;
            symbols[n] = n % 2 == 0 ? -1800 : 1800;
        }
        Map<String, Trace> lanes = new LinkedHashMap<>();
        lanes.put("band VHF", new Trace("Symbols", Unit.ONE, Unit.HERTZ, places, symbols));
        lanes.put("band UHF", new Trace("Symbols", Unit.ONE, Unit.HERTZ, places, symbols));
        String cloud = new TraceDrawing(lanes).html();
        isXml(cloud.substring(cloud.indexOf("<svg"), cloud.indexOf("</svg>") + 6));
        assertEquals(
                103,
                numbers(cloud, "M([\\d.]+) [\\d.]+ v1.6").size(),
                "the first lane's values stand, and three of them name it");
        assertEquals(103, numbers(cloud, "M([\\d.]+) [\\d.]+ h1.6").size(), "the second's lie");
        String spectrum = new TraceDrawing(Map.of(
                        "band VHF",
                        new Trace("Channel", Unit.HERTZ, Unit.DECIBEL, new double[] {-25_000, 0, 25_000}, new double[] {
                            -90, 0, -90
                        })))
                .html();
        assertTrue(
                spectrum.contains(">\u221220000\u00a0Hz<")
                        && spectrum.contains(">20000\u00a0Hz<")
                        && spectrum.contains("\u2212100\u00a0dB"),
                spectrum);
    }

    @Test
    void whatPeopleTypeCannotBreakThePage() {
        assertEquals(
                "&lt;b&gt; &amp; &quot;x&quot; \uD83D\uDD27",
                RecordPaper.text("<b>\u0000\u0001 & \"x\" \uD83D\uDD27\uFFFE"));
        assertEquals("", RecordPaper.text(null));
        assertEquals("lone ", RecordPaper.text("lone \uD83D"), "half a character has no place in XML");
    }

    @Test
    void anAddressTooLongForACodeIsRefused() {
        assertTrue(Drawing.qr("http://localhost/records/P/2026/1", 84).contains("h1v1h-1z"));
        assertThrows(IllegalArgumentException.class, () -> Drawing.qr("x".repeat(5000), 84));
    }
}
