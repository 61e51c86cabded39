package org.juratest.core.run;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.correction.Correction;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.Scale;
import org.juratest.core.procedure.CorrectionSpec;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.quantity.UnitMismatchException;

class ReadingBuilderTest {

    private static CorrectionSpec correction(
            Correction.Kind kind,
            @Nullable Double amount,
            @Nullable String formula,
            Map<String, String> inputs,
            @Nullable String of,
            List<CorrectionSpec.Row> table,
            @Nullable Double u,
            Map<String, Double> inputU) {
        return new CorrectionSpec("correction", kind, amount, formula, inputs, of, table, u, inputU);
    }

    private static CorrectionSpec byTable(@Nullable Double u, Map<String, Double> inputU) {
        return correction(
                Correction.Kind.FACTOR,
                null,
                null,
                Map.of(),
                "condition:ambientTemperature",
                List.of(new CorrectionSpec.Row(0, 1.2), new CorrectionSpec.Row(20, 1), new CorrectionSpec.Row(40, 0.9)),
                u,
                inputU);
    }

    /** A run with one step of one point. */
    private static RunFixture run(String unit, @Nullable LimitSpec limit, CorrectionSpec... corrections) {
        TestPoint point = new TestPoint(
                "v",
                "Value",
                unit,
                Scale.LINEAR,
                null,
                limit != null,
                limit,
                null,
                null,
                Map.of(),
                List.of(corrections));
        return new RunFixture(p -> with(
                p,
                Step.builder("m", StepKind.MEASUREMENT, "M")
                        .gear("mic")
                        .points(List.of(point))
                        .build()));
    }

    private static Procedure with(Procedure p, Step step) {
        return RunFixture.withSteps(p, new ArrayList<>(List.of(step)));
    }

    private static ReadingBuilder of(RunFixture run, double value, Unit unit) {
        return new ReadingBuilder(
                run.state(), new PointKey("m", "v", "-"), run.gear("mic"), Reading.Source.MEASURED, value, unit);
    }

    private static Reading made(ReadingBuilder builder) {
        return Objects.requireNonNull(builder.result().reading());
    }

    // ---- units

    @ParameterizedTest
    @CsvSource({"0.0002, Ohm, uOhm, 200", "3, min, s, 180", "2, %, 1, 0.02", "155, MHz, Hz, 155e6"})
    void aValueIsInTheUnitOfItsPoint(double measured, String unit, String of, double value) {
        Reading reading = made(of(run(of, null), measured, Unit.of(unit)).typeB(measured / 100, 1));
        assertEquals(value, reading.value(), value * 1e-12);
        assertEquals(2 * value / 100, reading.uncertainty(), value * 1e-12, "and so is its uncertainty");
        assertNull(reading.raw(), "a unit is no correction");
    }

    @Test
    void anotherDimensionIsNoReading() {
        assertThrows(UnitMismatchException.class, () -> of(run("s", null), 1, Unit.OHM)
                .result());
        assertThrows(
                IllegalArgumentException.class,
                () -> new ReadingBuilder(
                        run("s", null).state(),
                        new PointKey("m", "nothing", "-"),
                        null,
                        Reading.Source.MEASURED,
                        1,
                        Unit.SECOND));
    }

    // ---- uncertainty

    @Test
    void nothingSaidOfTheUncertaintyIsUnknownNotZero() {
        Reading reading = made(of(run("Ohm", null), 1, Unit.OHM));
        assertNull(reading.uncertainty());
        assertNull(reading.coverageFactor());
    }

    @Test
    void aDataSheetWithoutTheQuantityMakesItUnknownWhateverElseIsKnown() {
        assertNull(made(of(run("Ohm", null), 1, Unit.OHM).typeB(0.1, 1).accuracy("luminance"))
                .uncertainty());
        assertNull(
                made(of(run("Ohm", null), 1, Unit.OHM).typeB(0.1, 1).unknown()).uncertainty());
        assertEquals(
                0.01,
                made(of(run("Ohm", null), 1, Unit.OHM).accuracy("resistance")).uncertainty(),
                1e-12);
    }

    @Test
    void whatTheValueDependsOnIsCarriedByItsSlope() {
        // 1 % of 300 A (k = 2) is u = 1.5 A; a slope of -0.2 s/A makes 0.3 s of it. The timer: 0.01 s at k = 2.
        Reading reading =
                made(of(run("s", null), 24, Unit.SECOND).accuracy("time").accuracy("current", 300, 1000, -0.2));
        assertEquals(2 * Math.hypot(0.3, 0.005), reading.uncertainty(), 1e-12);
    }

    @Test
    void scatterBringsItsDegreesOfFreedom() {
        Reading reading = made(of(run("Ohm", null), 5, Unit.OHM).typeB(0, 1).scatter(0.2, 4));
        assertEquals(3, reading.freedom(), 1e-9);
        // JCGM 100, table G.2: 3.31 at 3 degrees of freedom.
        assertEquals(3.31 * 0.1, reading.uncertainty(), 0.001);
        assertEquals(0.1, reading.standard(), 1e-9);
        assertNull(made(of(run("Ohm", null), 5, Unit.OHM).typeB(0.1, 1)).freedom(), "type B alone has none");
        assertNull(made(of(run("Ohm", null), 5, Unit.OHM).scatter(0.2, 1)).uncertainty(), "one says nothing");
    }

    // ---- corrections of the procedure

    @ParameterizedTest
    @CsvSource({"0, 12", "10, 11", "20, 10", "30, 9.5", "40, 9"})
    void aTableIsLinearBetweenItsRows(double celsius, double corrected) {
        RunFixture run = run("Ohm", null, byTable(0.0, Map.of()));
        run.act(new StepEvents.ConditionEntered("ambientTemperature", Quantity.of(celsius, "Cel")));
        Reading reading = made(of(run, 10, Unit.OHM).typeB(0.5, 1));
        assertEquals(corrected, reading.value(), 1e-12);
        assertEquals(10, reading.raw());
        assertEquals(0.1 * corrected, reading.uncertainty(), 1e-9, "a factor carries the uncertainty along");
    }

    @ParameterizedTest
    @CsvSource({"-1", "41"})
    void beyondItsRowsATableSaysNothing(double celsius) {
        RunFixture run = run(
                "Ohm",
                LimitSpec.of(new LimitKind.AtMost(100, null), LimitSpec.When.START, "default"),
                byTable(0.0, Map.of()));
        run.act(new StepEvents.ConditionEntered("ambientTemperature", Quantity.of(celsius, "Cel")));
        Reading reading = made(of(run, 10, Unit.OHM).typeB(0.5, 1));
        assertEquals(10, reading.value());
        assertTrue(reading.corrections().isEmpty());
        assertTrue(String.valueOf(reading.remark()).contains("does not go to"), reading.remark());
        run.add(new AttemptEvents.AttemptBegun(new java.util.UUID(6, 6), "m", "-", null, 1));
        run.add(new AttemptEvents.ReadingTaken(new java.util.UUID(6, 6), reading));
        run.add(new AttemptEvents.AttemptClosed(new java.util.UUID(6, 6), Attempt.Outcome.VALID, ""));
        assertEquals(
                org.juratest.core.limit.Verdict.NOT_JUDGED,
                run.point("m/v/-").verdict(),
                "what should be corrected and is not is not judged");
    }

    @Test
    void theUncertaintyOfATablesInputGoesByItsSlope() {
        RunFixture run = run("Ohm", null, byTable(0.002, Map.of("of", 1.5)));
        run.act(new StepEvents.ConditionEntered("ambientTemperature", Quantity.of(10, "Cel")));
        // Between 0 and 20 degC the factor falls by 0.01 a degree.
        assertEquals(
                2 * 10 * Math.hypot(0.002, 0.015),
                made(of(run, 10, Unit.OHM).typeB(0, 1)).uncertainty(),
                1e-9);
    }

    @Test
    void aMissingInputIsSaidBesideTheFigure() {
        Reading reading = made(of(run("Ohm", null, byTable(0.0, Map.of())), 10, Unit.OHM));
        assertTrue(
                String.valueOf(reading.remark()).startsWith("not corrected: the ambient temperature is missing"),
                reading.remark());
    }

    @Test
    void correctionsAreAppliedInOrderEachVisible() {
        RunFixture run = run(
                "V",
                null,
                correction(Correction.Kind.OFFSET, -1.0, null, Map.of(), null, List.of(), 0.0, Map.of()),
                correction(Correction.Kind.FACTOR, 3.0, null, Map.of(), null, List.of(), 0.0, Map.of()));
        Reading reading = made(of(run, 5, Unit.VOLT)
                .typeB(0.1, 1)
                .corrected("lead", new Correction(Correction.Kind.DECIBEL, 20), 0.0, "20 dB"));
        assertEquals((5 * 10 - 1) * 3, reading.value(), 1e-9);
        assertEquals(
                List.of(20.0, -1.0, 3.0),
                reading.corrections().stream().map(Reading.Correction::amount).toList(),
                "the method's own before the procedure's");
        assertEquals(2 * 0.1 * 10 * 3, reading.uncertainty(), 1e-9);
    }

    /** Whatever the correction, U is what a small change of value and amount makes of it (JCGM 100, 5.1.3). */
    @Test
    void aFormulasUncertaintyIsItsDerivative() {
        Random random = new Random(3);
        for (int n = 0; n < 40; n++) {
            double celsius = 40 * random.nextDouble();
            double u = 0.1 + random.nextDouble();
            CorrectionSpec spec = correction(
                    Correction.Kind.FACTOR,
                    null,
                    "1 / (1 + 0.004 * (t - 20))",
                    Map.of("t", "condition:ambientTemperature"),
                    null,
                    List.of(),
                    0.0,
                    Map.of("t", u));
            RunFixture run = run("Ohm", null, spec);
            run.act(new StepEvents.ConditionEntered("ambientTemperature", Quantity.of(celsius, "Cel")));
            double base = 1 + 0.004 * (celsius - 20);
            double expected = 2 * 50 * 0.004 / (base * base) * u;
            assertEquals(
                    expected, made(of(run, 50, Unit.OHM).typeB(0, 1)).uncertainty(), expected * 1e-5, "at " + celsius);
        }
    }

    @Test
    void aFormulaThatGivesNoNumberCorrectsNothing() {
        RunFixture run = run(
                "Ohm",
                null,
                correction(
                        Correction.Kind.FACTOR,
                        null,
                        "1 / (t - 20)",
                        Map.of("t", "condition:ambientTemperature"),
                        null,
                        List.of(),
                        0.0,
                        Map.of()));
        run.act(new StepEvents.ConditionEntered("ambientTemperature", Quantity.of(20, "Cel")));
        Reading reading = made(of(run, 10, Unit.OHM));
        assertEquals(10, reading.value());
        assertTrue(String.valueOf(reading.remark()).contains("gives no value"), reading.remark());
    }

    // ---- limits that go with the reading

    @Test
    void aLimitAlongAnotherValueIsResolvedWithIt() {
        LimitSpec limit = LimitSpec.of(
                new LimitKind.Along(
                        "with:load",
                        LimitKind.Between.LINEAR,
                        List.of(new LimitKind.Place(0, null, 1.0, null), new LimitKind.Place(100, null, 3.0, null))),
                LimitSpec.When.READING,
                "house rule");
        RunFixture run = run("Ohm", limit);
        Reading reading = made(of(run, 1.9, Unit.OHM).with("load", new Quantity(50, Unit.ONE)));
        assertEquals(2.0, Objects.requireNonNull(reading.limit()).high(), 1e-12);
        Reading without = made(of(run, 1.9, Unit.OHM));
        assertNotNull(Objects.requireNonNull(without.limit()).unresolved());
    }

    @Test
    void wordsBesideTheFigureAreKeptTogether() {
        Reading reading = made(of(run("Ohm", null), 1, Unit.OHM)
                .qualifier(Qualifier.MORE)
                .remark("first")
                .remark(null)
                .remark("second"));
        assertEquals("first; second", reading.remark());
        assertEquals(Qualifier.MORE, reading.qualifier());
        assertEquals("mic-1", reading.gear());
    }
}
