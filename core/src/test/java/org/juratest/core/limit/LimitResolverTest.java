package org.juratest.core.limit;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.curve.BandElement;
import org.juratest.core.curve.LogLogTable;
import org.juratest.core.curve.TimeCurrentBand;

class LimitResolverTest {

    private final Map<String, Double> inputs = new HashMap<>(Map.of("nameplate:ue", 400.0, "reading:a/b", 5.0));
    private Map<String, Double> lanes = Map.of("A", 198.0, "B", 203.0, "C", 287.0);
    private final Map<LimitKind.Against, Double> priors = new HashMap<>();
    private @Nullable TimeCurrentBand band;
    private double current = Double.NaN;

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
            public @Nullable TimeCurrentBand band() {
                return band;
            }

            @Override
            public double measuredCurrent() {
                return current;
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
                List.of(new LimitKind.Row(250, 25.0, null, null), new LimitKind.Row(600, 100.0, null, null)));
        assertEquals(100, resolve(table).low());
        inputs.put("nameplate:ue", 250.0);
        assertEquals(25, resolve(table).low());
        inputs.put("nameplate:ue", 690.0);
        assertTrue(String.valueOf(resolve(table).unresolved()).contains("above the last row"));
        inputs.remove("nameplate:ue");
        assertEquals("the nameplate has no ue", resolve(table).unresolved());
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
        LimitKind kind = new LimitKind.Band();
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
                IllegalArgumentException.class, () -> LimitSpec.of(new LimitKind.Band(), LimitSpec.When.START, "s"));
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
}
