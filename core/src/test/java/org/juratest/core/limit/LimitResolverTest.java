package org.juratest.core.limit;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.curve.BandElement;
import org.juratest.core.curve.LogLogTable;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.quantity.Unit;
import org.juratest.core.standard.StandardTable;

class LimitResolverTest {

    private final Map<String, Double> inputs = new HashMap<>(Map.of("nameplate:ue", 400.0, "reading:a/b", 5.0));
    private Map<String, Double> lanes = Map.of("A", 198.0, "B", 203.0, "C", 287.0);
    private final Map<LimitKind.Against, Double> priors = new HashMap<>();
    private @Nullable TimeCurrentBand band;
    private double current = Double.NaN;
    private final Map<String, String> words = new HashMap<>();
    private @Nullable Unit unit;
    private @Nullable StandardTable table;

    private ResolvedLimit resolve(LimitKind kind, LimitSpec.When when) {
        return LimitResolver.resolve(LimitSpec.of(kind, when, "house rule"), Scale.LINEAR, new LimitContext() {
            @Override
            public OptionalDouble input(InputRef ref) {
                Double value = inputs.get(ref.toString());
                return value == null ? OptionalDouble.empty() : OptionalDouble.of(value);
            }

            @Override
            public Map<String, Double> lanes() {
                return lanes;
            }

            @Override
            public OptionalDouble prior(LimitKind.Against against) {
                return priors.containsKey(against) ? OptionalDouble.of(priors.get(against)) : OptionalDouble.empty();
            }

            @Override
            public @Nullable String words(InputRef ref) {
                return words.get(ref.toString());
            }

            @Override
            public @Nullable Envelope envelope() {
                return band;
            }

            @Override
            public @Nullable StandardTable table(String group) {
                return table != null && table.group().equals(group) ? table : null;
            }

            @Override
            public double with(String name) {
                return name.equals("current") ? current : Double.NaN;
            }

            @Override
            public @Nullable Unit unit() {
                return unit;
            }

            @Override
            public String laneWord() {
                return "pole";
            }
        });
    }

    private ResolvedLimit resolve(LimitKind kind) {
        return resolve(kind, LimitSpec.When.START);
    }

    @ParameterizedTest
    @CsvSource({"UNIT, 95, 110", "PERCENT, 95, 110", "PPM, 99.9995, 100.001", "DB, 56.2341325, 316.227766"})
    void nominalWithTolerance(LimitKind.ToleranceIn in, double low, double high) {
        ResolvedLimit limit = resolve(new LimitKind.Nominal(100, 5, 10, in));
        assertEquals(low, limit.low(), 1e-6);
        assertEquals(high, limit.high(), 1e-6);
        assertEquals(100, limit.ideal());
    }

    @Test
    void aPercentageOfANegativeNominalStillOpensUpwards() {
        ResolvedLimit limit = resolve(new LimitKind.Nominal(-100, 5, 5, LimitKind.ToleranceIn.PERCENT));
        assertEquals(-105, limit.low());
        assertEquals(-95, limit.high());
    }

    @Test
    void aTableTakesTheFirstRowThatHoldsAndSaysWhenNoneDoes() {
        LimitKind.Table table = new LimitKind.Table(
                "nameplate:ue",
                List.of(LimitKind.Row.upTo(250, 25.0, null, null), LimitKind.Row.upTo(600, 100.0, null, null)));
        assertEquals(100, resolve(table).low());
        inputs.put("nameplate:ue", 250.0);
        assertEquals(25, resolve(table).low());
        inputs.put("nameplate:ue", 690.0);
        assertTrue(String.valueOf(resolve(table).unresolved()).contains("above the last row"));
        inputs.remove("nameplate:ue");
        assertEquals("the nameplate has no ue", resolve(table).unresolved());
    }

    /** From the library: with its edition and the place in words, and with the reason where it gives none. */
    @Test
    void aTableOfTheLibraryTellsItsEditionAndWhereInItItWasRead() {
        LimitKind.Standard limit = new LimitKind.Standard(
                "meters", Map.of("class", "nameplate:class", "load", "one phase", "times In below", "param:m"));
        assertTrue(String.valueOf(resolve(limit).unresolved()).contains("no table of standards is meant"));
        table = new StandardTable(
                "meters",
                "m-1",
                "meters",
                "IEC 62053-22:2020",
                Map.of(),
                List.of("class", "load", "times In below", "lowest", "highest"),
                List.of(List.of("0.2 S", "one phase", "0.05", "-0.4", "0.4"), List.of("0.2 S", "", "", "", "0.3")));
        assertEquals("the nameplate has no class", resolve(limit).unresolved());
        words.put("nameplate:class", "0.2 S");
        assertEquals("the step has no parameter m", resolve(limit).unresolved());
        inputs.put("param:m", 0.049);
        ResolvedLimit low = resolve(limit);
        assertEquals(-0.4, low.low());
        assertEquals(0, low.ideal());
        assertEquals("IEC 62053-22:2020, class 0.2 S, load one phase, times In 0.049; house rule", low.source());
        inputs.put("param:m", 0.05);
        assertNull(resolve(limit).low());
        assertNull(resolve(limit).ideal(), "only where both sides are as far from nothing");
        assertEquals(0.3, resolve(limit).high());
        words.put("nameplate:class", "0.5");
        assertTrue(
                String.valueOf(resolve(limit).unresolved()).startsWith("IEC 62053-22:2020 has no row for class 0.5"));
        LimitKind.Standard other = new LimitKind.Standard("meters", Map.of("weather", "fair"));
        assertTrue(String.valueOf(resolve(other).unresolved()).contains("does not go by \"weather\""));
        LimitKind.Standard lane = new LimitKind.Standard("meters", Map.of("class", "lane:phases"));
        assertEquals("nothing is said of lane:phases", resolve(lane).unresolved());
    }

    @Test
    void aFormulaOverNameplateAndReadings() {
        ResolvedLimit limit = resolve(
                new LimitKind.Formula(null, "ue / 4 + r", "r", Map.of("ue", "nameplate:ue", "r", "reading:a/b")));
        assertEquals(105, limit.high());
        assertEquals(5, limit.ideal());
        assertEquals(
                "there is no reading x/y",
                resolve(new LimitKind.Formula(null, "r", null, Map.of("r", "reading:x/y")))
                        .unresolved());
        assertTrue(String.valueOf(resolve(new LimitKind.Formula("1 / (r - 5)", null, null, Map.of("r", "reading:a/b")))
                        .unresolved())
                .contains("formula"));
        assertNotNull(resolve(new LimitKind.Formula("3", "2", null, Map.of())).unresolved()); // low above high
    }

    @Test
    void aSpreadCountsFromTheLowestLaneAndNeedsTwo() {
        ResolvedLimit limit = resolve(new LimitKind.Spread(LimitKind.From.LOWEST, 50.0, null), LimitSpec.When.STEP_END);
        assertEquals(297, limit.high(), 1e-9);
        assertEquals(198, limit.ideal());
        assertNull(limit.low());
        assertEquals("house rule: lowest pole 198 + 50 %", limit.source());
        assertEquals(
                258,
                resolve(new LimitKind.Spread(LimitKind.From.MEAN, 12.5, 50.0), LimitSpec.When.STEP_END)
                        .high(),
                0.01);
        lanes = Map.of("A", 198.0);
        assertTrue(
                String.valueOf(resolve(new LimitKind.Spread(LimitKind.From.LOWEST, 50.0, null), LimitSpec.When.STEP_END)
                                .unresolved())
                        .contains("at least two poles"));
    }

    @Test
    void aChangeCountsFromTheRecordItNames() {
        LimitKind change = new LimitKind.Change(LimitKind.Against.BASELINE, -10.0, 20.0, LimitKind.ChangeIn.PERCENT);
        assertEquals("there is no baseline to compare with", resolve(change).unresolved());
        priors.put(LimitKind.Against.BASELINE, 200.0);
        assertEquals(180, resolve(change).low(), 1e-9);
        assertEquals(240, resolve(change).high(), 1e-9);
        priors.put(LimitKind.Against.LAST, 50.0);
        assertEquals(
                53,
                resolve(new LimitKind.Change(LimitKind.Against.LAST, null, 3.0, LimitKind.ChangeIn.UNIT))
                        .high());
    }

    @Test
    void aBandIsReadAtTheMeasuredCurrent() {
        LimitKind kind = new LimitKind.DeviceCurve();
        assertEquals(
                "no curve is known for this device",
                resolve(kind, LimitSpec.When.READING).unresolved());
        LogLogTable low = LogLogTable.of(new double[] {100, 1000}, new double[] {100, 1});
        band = new TimeCurrentBand(
                "sheet 3", "cold", List.of(new BandElement("t", "long time", 100, 130.0, low, low.scaled(1, 4))));
        assertEquals(
                "the current was not measured",
                resolve(kind, LimitSpec.When.READING).unresolved());
        current = 1000;
        ResolvedLimit limit = resolve(kind, LimitSpec.When.READING);
        assertEquals(1, limit.low(), 1e-9);
        assertEquals(4, limit.high(), 1e-9);
        assertEquals(2, limit.ideal(), 1e-9);
        current = 50;
        assertTrue(String.valueOf(resolve(kind, LimitSpec.When.READING).unresolved())
                .contains("no element"));
    }

    @Test
    void aSpecificationThatCannotWorkIsRefused() {
        assertThrows(
                IllegalArgumentException.class,
                () -> LimitSpec.of(new LimitKind.DeviceCurve(), LimitSpec.When.START, "s"));
        assertThrows(
                IllegalArgumentException.class,
                () -> LimitSpec.of(new LimitKind.Spread(LimitKind.From.LOWEST, 5.0, null), LimitSpec.When.START, "s"));
        assertThrows(
                IllegalArgumentException.class,
                () -> LimitSpec.of(new LimitKind.AtMost(1, null), LimitSpec.When.START, " "));
        assertNotNull(resolve(new LimitKind.AtMost(Double.NaN, null)).unresolved());
        assertNotNull(resolve(new LimitKind.Fixed(null, null, 1.0)).unresolved());
    }

    @ParameterizedTest
    @CsvSource({"nameplate:ir", "param:current", "reading:a/b", "reading:a/b/C", "curve:latest"})
    void inputReferencesParseWhatTheyPrint(String text) {
        assertEquals(text, InputRef.parse(text).toString());
    }

    @ParameterizedTest
    @CsvSource({"ir", "plate:ir", "reading:a", "curve:middle", "nameplate:"})
    void otherInputReferencesAreRefused(String text) {
        assertTrue(assertThrows(IllegalArgumentException.class, () -> InputRef.parse(text))
                .getMessage()
                .contains(text));
    }

    // ---- along another value, and tables with two keys

    private static LimitKind.Along along(LimitKind.Between between, double... rows) {
        List<LimitKind.Place> places = new ArrayList<>();
        for (int i = 0; i < rows.length; i += 3) {
            places.add(new LimitKind.Place(rows[i], rows[i + 1], rows[i + 2], null));
        }
        return new LimitKind.Along("with:current", between, places);
    }

    @ParameterizedTest
    @CsvSource({
        // Halfway on linear axes, a third of the way on logarithmic ones: 10 -> 100 -> 1000 by hand.
        "LINEAR, 55, 15, 60",
        "LINEAR, 10, 10, 100",
        "LINEAR, 100, 20, 20",
        "LOG, 31.6227766, 14.1421356, 44.7213595",
    })
    void boundsAlongAnotherValueAreBetweenTheRowsAsStated(
            LimitKind.Between between, double at, double low, double high) {
        current = at;
        ResolvedLimit limit = resolve(along(between, 10, 10, 100, 100, 20, 20), LimitSpec.When.READING);
        assertEquals(low, limit.low(), 1e-6);
        assertEquals(high, limit.high(), 1e-6);
        assertTrue(limit.source().contains("house rule, at"), limit.source());
    }

    @ParameterizedTest
    @ValueSource(doubles = {9.999, 100.001, Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY})
    void beyondTheTableNothingIsJudged(double at) {
        current = at;
        ResolvedLimit limit =
                resolve(along(LimitKind.Between.LINEAR, 10, 10, 100, 100, 20, 20), LimitSpec.When.READING);
        assertNotNull(limit.unresolved());
        assertTrue(limit.unresolved().contains("current"), limit.unresolved());
    }

    @Test
    void aLimitAlongAnInputNeedsNoReading() {
        LimitKind.Along byRating = new LimitKind.Along(
                "nameplate:ue",
                LimitKind.Between.LINEAR,
                List.of(new LimitKind.Place(230, 1.0, null, null), new LimitKind.Place(690, 3.0, null, null)));
        assertEquals(1 + 2 * 170.0 / 460, resolve(byRating).low(), 1e-12);
        assertThrows(
                IllegalArgumentException.class,
                () -> LimitSpec.of(byRating, LimitSpec.When.READING, "x"),
                "it does not wait for a reading");
        assertThrows(
                IllegalArgumentException.class,
                () -> LimitSpec.of(along(LimitKind.Between.LINEAR, 1, 1, 2, 2, 1, 2), LimitSpec.When.START, "x"),
                "it waits for the reading");
    }

    @ParameterizedTest
    @CsvSource({"0.5, 0.04, 0.5", "0.5, 0.05, 0.5", "0.5, 1, 0.25", "1, 0.05, 1.5", "1, 1.0, 1"})
    void aTableOfTwoKeysFindsTheFirstRowThatBothFit(String grade, double load, double high) {
        words.put("nameplate:grade", grade);
        inputs.put("param:load", load);
        LimitKind.Table table = new LimitKind.Table(
                "nameplate:grade",
                "param:load",
                List.of(
                        new LimitKind.Row(null, "0.5", 0.05, null, null, 0.5, null),
                        new LimitKind.Row(null, "0.5", 1.2, null, null, 0.25, null),
                        new LimitKind.Row(null, "1", 0.05, null, null, 1.5, null),
                        new LimitKind.Row(null, "1", 1.2, null, null, 1.0, null)));
        assertEquals(high, resolve(table).high());
        inputs.put("param:load", 2.0);
        ResolvedLimit none = resolve(table);
        assertTrue(String.valueOf(none.unresolved()).contains("no row for"), String.valueOf(none.unresolved()));
        assertTrue(String.valueOf(none.unresolved()).contains("2"), String.valueOf(none.unresolved()));
    }

    @ParameterizedTest
    @CsvSource({
        // 3 dB below and 1 dB above 10: of a power, of a voltage, of a level.
        "W, 5.0118723, 12.5892541",
        "V, 7.0794578, 11.2201845",
        "dBm, 7, 11",
        "dB, 7, 11",
    })
    void aToleranceInDecibelsIsWhatItsQuantityMakesOfIt(String code, double low, double high) {
        unit = Unit.of(code);
        ResolvedLimit limit = resolve(new LimitKind.Nominal(10, 3, 1, LimitKind.ToleranceIn.DB));
        assertEquals(low, limit.low(), 1e-6);
        assertEquals(high, limit.high(), 1e-6);
    }
}
