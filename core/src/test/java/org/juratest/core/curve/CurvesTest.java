package org.juratest.core.curve;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.limit.Envelope;

class CurvesTest {

    /** By hand from the formulas of the standards: for example IEC SI, 0.14 / (10^0.02 - 1) = 0.14 / 0.0471285. */
    @ParameterizedTest
    @CsvSource({
        "iec-si, 1, 10, 2.97060",
        "iec-si, 0.1, 2, 1.00290",
        "iec-vi, 1, 10, 1.5",
        "iec-ei, 1, 10, 0.808081",
        "lti, 1, 5, 30",
        "ieee-mi, 1, 10, 1.20675",
        "ieee-vi, 1, 10, 0.689081",
        "ieee-ei, 2, 10, 0.813097"
    })
    void tripTimesAgreeWithTheStandards(String id, double setting, double multiple, double expected) {
        InverseTimeCurve curve = InverseTimeCurve.byId(id).orElseThrow();
        assertEquals(expected, curve.tripTime(setting, multiple).orElseThrow(), expected * 5e-6); // six figures by hand
    }

    @ParameterizedTest
    @CsvSource({"ieee-mi, 4.85", "ieee-vi, 21.6", "ieee-ei, 29.1"})
    void resetTimesAgreeWithC37112(String id, double tr) {
        InverseTimeCurve curve = InverseTimeCurve.byId(id).orElseThrow();
        assertEquals(tr, curve.resetTime(1, 0).orElseThrow(), 1e-12);
        assertEquals(tr * 3 / 0.75, curve.resetTime(3, 0.5).orElseThrow(), 1e-9);
        assertEquals(OptionalDouble.empty(), curve.resetTime(1, 1));
    }

    @ParameterizedTest
    @EnumSource
    void thereIsNoTripAtOrBelowPickUpAndNoIecReset(InverseTimeCurve curve) {
        assertEquals(OptionalDouble.empty(), curve.tripTime(1, 1));
        assertEquals(OptionalDouble.empty(), curve.tripTime(1, 0));
        assertEquals(curve.id().startsWith("ieee"), curve.resetTime(1, 0.5).isPresent());
        assertTrue(curve.tripTime(1, Math.nextUp(1.0)).orElse(Double.MAX_VALUE) > 1e6);
    }

    @ParameterizedTest
    @EnumSource
    void tripTimesFallWithCurrentAndScaleWithTheSetting(InverseTimeCurve curve) {
        SplittableRandom random = new SplittableRandom(3);
        for (int i = 0; i < 200; i++) {
            double m = 1.01 + 30 * random.nextDouble();
            double t = curve.tripTime(1, m).orElseThrow();
            assertTrue(curve.tripTime(1, m * 1.05).orElseThrow() < t, "seed 3, M " + m);
            assertEquals(0.3 * t, curve.tripTime(0.3, m).orElseThrow(), 1e-12 * t);
        }
    }

    @ParameterizedTest
    @ValueSource(doubles = {Double.NaN, Double.POSITIVE_INFINITY, -1})
    void refusesMeaninglessInput(double bad) {
        assertThrows(IllegalArgumentException.class, () -> InverseTimeCurve.IEC_SI.tripTime(bad, 2));
        assertThrows(IllegalArgumentException.class, () -> InverseTimeCurve.IEC_SI.tripTime(1, bad));
        assertThrows(IllegalArgumentException.class, () -> InverseTimeCurve.IEEE_MI.resetTime(bad, 0.5));
    }

    @Test
    void aTableFollowsAPowerLawExactlyAndEndsWhereItEnds() {
        LogLogTable table = LogLogTable.of(new double[] {1, 10, 100}, new double[] {1000, 10, 0.1});
        for (double x = 1; x <= 100; x *= 1.37) {
            assertEquals(1000 / (x * x), table.at(x).orElseThrow(), 1e-9 * 1000 / (x * x));
        }
        assertEquals(OptionalDouble.empty(), table.at(Math.nextDown(1.0)));
        assertEquals(OptionalDouble.empty(), table.at(Math.nextUp(100.0)));
        assertEquals(OptionalDouble.empty(), table.at(Double.NaN));
        assertEquals(7, LogLogTable.of(new double[] {3}, new double[] {7}).at(3).orElseThrow());
    }

    @Test
    void aTableNamesThePointAtFault() {
        assertTrue(assertThrows(
                        IllegalArgumentException.class,
                        () -> LogLogTable.of(new double[] {1, 2, 2}, new double[] {3, 2, 1}))
                .getMessage()
                .startsWith("point 3"));
        assertTrue(assertThrows(
                        IllegalArgumentException.class,
                        () -> LogLogTable.of(new double[] {1, 2}, new double[] {3, Double.NaN}))
                .getMessage()
                .startsWith("point 2"));
        assertThrows(IllegalArgumentException.class, () -> LogLogTable.of(new double[] {}, new double[] {}));
        assertThrows(IllegalArgumentException.class, () -> LogLogTable.of(new double[] {1, 2}, new double[] {3}));
    }

    private static final LogLogTable HIGH = LogLogTable.of(new double[] {130, 1300}, new double[] {100, 1});
    private static final TimeCurrentBand BAND = new TimeCurrentBand(
            "sheet",
            "cold",
            List.of(
                    new BandElement(
                            "thermal",
                            "long time",
                            105,
                            130.0,
                            LogLogTable.of(new double[] {105, 1050}, new double[] {50, 0.5}),
                            HIGH),
                    new BandElement(
                            "magnetic",
                            "instantaneous",
                            760,
                            1010.0,
                            LogLogTable.of(new double[] {760, 2000}, new double[] {0.01, 0.01}),
                            LogLogTable.of(new double[] {760, 2000}, new double[] {0.03, 0.03}))));

    @Test
    void earliestCountsWhatMayOperateAndLatestWhatMust() {
        assertEquals(new TimeWindow(null, null, null), BAND.at(100)); // nothing may operate
        TimeWindow may = BAND.at(120); // may, but need not
        assertTrue(may.earliest() > 30);
        assertNull(may.latest());
        TimeWindow both = BAND.at(900); // the magnetic one may, only the thermal one must
        assertEquals(0.01, both.earliest(), 1e-12);
        assertEquals(HIGH.at(900).orElseThrow(), both.latest());
    }

    @Test
    void beyondAnElementsPointsNothingIsKnown() {
        TimeWindow window = BAND.at(1500); // past the thermal points, though the magnetic element covers it
        assertFalse(window.known());
        assertTrue(window.unknown().contains("long time"), window.unknown());
        assertFalse(BAND.at(Double.NaN).known());
        assertFalse(BAND.at(0).known());
        assertFalse(BAND.at(Double.POSITIVE_INFINITY).known());
    }

    @Test
    void theSlopeIsThatOfTheCurve() {
        TimeCurrentBand square = new TimeCurrentBand(
                "s",
                "c",
                List.of(new BandElement(
                        "a",
                        "a",
                        100,
                        100.0,
                        LogLogTable.of(new double[] {100, 1000}, new double[] {80, 0.8}),
                        LogLogTable.of(new double[] {100, 1000}, new double[] {125, 1.25}))));
        // Middle t = 1e6 / I^2, so dt/dI = -2 t / I; at 300 A that is -2 * 11.111 / 300.
        assertEquals(-2 * (1e6 / 9e4) / 300, square.slopeAt(300), 1e-6);
        assertEquals(0, BAND.slopeAt(120)); // open on one side
        assertEquals(0, BAND.slopeAt(Double.NaN));
    }

    private static CurveModel model(ElementShape shape, List<Double> ratings) {
        return new CurveModel(
                "m",
                "Maker",
                "M1",
                "thermal-magnetic",
                "sheet",
                "cold",
                ratings,
                List.of(new CurveModel.Setting("longTimeSetting", "Ir", 40, 160, "A")),
                Map.of("longTimeDelay", 8.0),
                List.of(new CurveModel.Element(
                        "long", "long time", "longTimeSetting", 1.05, 1.2, "longTimeDelay", shape)));
    }

    @Test
    void aModelGivesTheBandOfADevicesSettings() {
        CurveModel model = model(new ElementShape.Power(6, 2, 20, 5, 1.05, 30), List.of(100.0));
        TimeWindow window = model.bandFor(Map.of("ratedCurrent", 100.0, "longTimeSetting", 80.0))
                .at(240);
        // t = 8 s * (6 / 3)^2 = 32 s, -20 % and +5 %.
        assertEquals(25.6, window.earliest(), 1e-9);
        assertEquals(33.6, window.latest(), 1e-9);
    }

    @Test
    void aModelSaysWhatTheNameplateLacksOrContradicts() {
        CurveModel model = model(new ElementShape.Inverse(InverseTimeCurve.IEC_VI, 10, 10, 1.1, 20), List.of(100.0));
        assertEquals(
                "longTimeSetting",
                assertThrows(MissingSettingException.class, () -> model.bandFor(Map.of("ratedCurrent", 100.0)))
                        .key());
        assertThrows(
                IllegalArgumentException.class,
                () -> model.bandFor(Map.of("ratedCurrent", 125.0, "longTimeSetting", 80.0)));
        assertTrue(assertThrows(
                        IllegalArgumentException.class,
                        () -> model.bandFor(Map.of("ratedCurrent", 100.0, "longTimeSetting", 200.0)))
                .getMessage()
                .contains("Ir"));
        assertThrows(
                IllegalArgumentException.class,
                () -> model.bandFor(Map.of("ratedCurrent", 100.0, "longTimeSetting", Double.NaN)));
    }

    @Test
    void spotFiguresHoldAtTheirMultipleOnlyAndByRating() {
        CurveModel model = new CurveModel(
                "g",
                null,
                "generic",
                "t",
                "field limits",
                "cold",
                List.of(),
                List.of(),
                Map.of(),
                List.of(new CurveModel.Element(
                        "long",
                        "long time",
                        "ratedCurrent",
                        1.05,
                        1.3,
                        null,
                        new ElementShape.Spots(
                                3,
                                3,
                                List.of(new ElementShape.Spot(30, null, 70), new ElementShape.Spot(100, null, 160))))));
        TimeCurrentBand band = model.bandFor(Map.of("ratedCurrent", 63.0));
        assertEquals(160, band.at(3 * 63).latest(), 1e-9);
        assertFalse(band.at(2 * 63).known());
        assertThrows(IllegalArgumentException.class, () -> model.bandFor(Map.of("ratedCurrent", 250.0)));
        // No shortest time is stated: the bounds have none, and so there is no middle either.
        Envelope.Bounds bounds = band.bounds(3 * 63);
        assertEquals(null, bounds.low());
        assertEquals(160, bounds.high(), 1e-9);
        assertTrue(band.outline().stream().allMatch(p -> p.low() == null));
    }

    @ParameterizedTest
    @CsvSource({
        // IEC very inverse: 13.5 / (M - 1), TMS 0.2, pick-up 160 A, -10 and +20 %, by hand.
        "1.07, 34.7142857, 46.2857143",
        "1.071, 34.2253521, 45.6338028",
        "2, 2.43, 3.24",
        "10, 0.27, 0.36",
    })
    void aCurveByFormulaIsTheFormulaAlsoBetweenThePointsItIsDrawnBy(double multiple, double lowest, double highest) {
        CurveModel model = new CurveModel(
                "f",
                null,
                "formula",
                "t",
                "relay",
                "any",
                List.of(),
                List.of(),
                Map.of("tms", 0.2),
                List.of(new CurveModel.Element(
                        "inverse",
                        "inverse",
                        "ratedCurrent",
                        1.03,
                        1.05,
                        "tms",
                        new ElementShape.Inverse(InverseTimeCurve.IEC_VI, 10, 20, 1.05, 30))));
        TimeCurrentBand band = model.bandFor(Map.of("ratedCurrent", 160.0));
        assertEquals(lowest, band.at(multiple * 160).earliest(), lowest * 1e-8);
        assertEquals(highest, band.at(multiple * 160).latest(), highest * 1e-8);
        assertFalse(band.at(1.04 * 160).known(), "below what is stated nothing is known");
        assertFalse(band.at(30.1 * 160).known(), "nor above");
    }

    /** Two ways to set one function, and one that goes by another current than the rest. */
    @ParameterizedTest
    @CsvSource({
        // I²t out: 0.2 s whatever the current; in: longer with the square below twice the pick-up of 100 A.
        "0, 150, 0.16, 0.32",
        "1, 150, 0.2844444, 0.5688889",
        "1, 200, 0.16, 0.32",
        "1, 900, 0.16, 0.32",
    })
    void aSwitchOfTheUnitDecidesWhichElementItHas(double square, double current, double lowest, double highest) {
        CurveModel model = delayed();
        TimeCurrentBand band = model.bandFor(Map.of("ratedCurrent", 100.0, "square", square));
        assertEquals(1, band.elements().size());
        assertEquals(lowest, band.at(current).earliest(), 1e-6);
        assertEquals(highest, band.at(current).latest(), 1e-6);
        assertTrue(band.part("ground").isEmpty(), "it is not fitted unless its switch says so");
    }

    @Test
    void whatStandsApartBoundsOnlyWhereItIsAskedFor() {
        TimeCurrentBand band =
                delayed().bandFor(Map.of("ratedCurrent", 100.0, "square", 0.0, "ground", 1.0, "groundPickUp", 20.0));
        assertEquals(null, band.at(50).latest(), "the earth's current is not that of the phases");
        assertEquals(0.32, band.at(150).latest(), 1e-9);
        assertTrue(band.outline().stream().allMatch(p -> p.at() > 85));
        assertTrue(band.marks().isEmpty());
        Envelope ground = band.part("ground").orElseThrow();
        assertEquals(0.1, ground.bounds(50).low(), 1e-9);
        assertEquals(0.3, ground.bounds(50).high(), 1e-9);
        assertEquals(18, band.side("ground/from", 1).orElseThrow(), 1e-9);
        assertEquals(22, band.side("ground/to", 1).orElseThrow(), 1e-9);
        assertFalse(ground.outline().isEmpty(), "by itself it is drawn");
    }

    private static CurveModel delayed() {
        ElementShape flat =
                new ElementShape.Points(List.of(0.9, 40.0), List.of(0.8, 0.8), List.of(0.9, 40.0), List.of(1.6, 1.6));
        ElementShape square = new ElementShape.Points(
                List.of(0.5, 2.0, 40.0),
                List.of(0.8 * 16, 0.8, 0.8),
                List.of(0.5, 2.0, 40.0),
                List.of(1.6 * 16, 1.6, 1.6));
        ElementShape earth =
                new ElementShape.Points(List.of(0.9, 40.0), List.of(0.1, 0.1), List.of(0.9, 40.0), List.of(0.3, 0.3));
        return new CurveModel(
                "d",
                "Maker",
                "D1",
                "electronic",
                "sheet",
                "any pole",
                List.of(),
                List.of(),
                Map.of("delay", 0.2, "ground", 0.0),
                List.of(
                        new CurveModel.Element(
                                "short", "short", "ratedCurrent", 0.9, 1.1, "delay", flat, Map.of("square", 0.0), null),
                        new CurveModel.Element(
                                "short",
                                "short",
                                "ratedCurrent",
                                0.9,
                                1.1,
                                "delay",
                                square,
                                Map.of("square", 1.0),
                                null),
                        new CurveModel.Element(
                                "ground",
                                "ground",
                                "groundPickUp",
                                0.9,
                                1.1,
                                null,
                                earth,
                                Map.of("ground", 1.0),
                                true)));
    }

    @Test
    void theOutlineOfABandFollowsItAndStandsOnBothSidesOfEachStep() {
        TimeCurrentBand band = new TimeCurrentBand(
                "sheet",
                "cold",
                List.of(
                        new BandElement(
                                "long",
                                "long time",
                                105,
                                130.0,
                                LogLogTable.of(new double[] {105, 2000}, new double[] {600, 2}),
                                LogLogTable.of(new double[] {130, 2000}, new double[] {900, 6})),
                        new BandElement(
                                "inst",
                                "at once",
                                750,
                                1000.0,
                                LogLogTable.of(new double[] {750, 3000}, new double[] {0.01, 0.01}),
                                LogLogTable.of(new double[] {1000, 3000}, new double[] {0.03, 0.02}))));
        List<BandOutline.Point> points = BandOutline.of(band).points();
        for (int i = 0; i < points.size(); i++) {
            BandOutline.Point p = points.get(i);
            assertEquals(band.at(p.current()).earliest(), p.earliest());
            assertEquals(band.at(p.current()).latest(), p.latest());
            assertTrue(i == 0 || p.current() > points.get(i - 1).current());
        }
        for (double step : new double[] {750, 1000}) {
            BandOutline.Point before = points.stream()
                    .filter(p -> p.current() < step)
                    .reduce((a, b) -> b)
                    .orElseThrow();
            assertEquals(step, before.current(), step * 2e-6, "the fall at " + step + " A is drawn as a fall");
        }
        assertEquals(null, points.get(0).latest(), "between lowest and highest pick-up no trip is demanded");
    }
}
