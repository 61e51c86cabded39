package org.juratest.core.limit;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.params.provider.Arguments.arguments;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.juratest.core.limit.LimitKind.Along;
import org.juratest.core.limit.LimitKind.Between;
import org.juratest.core.limit.LimitKind.Change;
import org.juratest.core.limit.LimitKind.Fixed;
import org.juratest.core.limit.LimitKind.Nominal;
import org.juratest.core.limit.LimitKind.Place;
import org.juratest.core.limit.LimitKind.Row;
import org.juratest.core.limit.LimitKind.Spread;
import org.juratest.core.limit.LimitKind.Table;
import org.juratest.core.limit.LimitKind.ToleranceIn;
import org.juratest.core.quantity.Plausible;
import org.juratest.core.quantity.Unit;
import org.mockito.Mockito;

class LimitCheckTest {

    private static LimitSpec of(LimitKind kind) {
        return LimitSpec.of(
                kind,
                kind instanceof LimitKind.DeviceCurve
                        ? LimitSpec.When.READING
                        : kind instanceof Spread ? LimitSpec.When.STEP_END : LimitSpec.When.START,
                "house rule");
    }

    static Stream<org.junit.jupiter.params.provider.Arguments> wrong() {
        double nan = Double.NaN;
        return Stream.of(
                arguments(new Fixed(5.0, 1.0, null), "high"),
                arguments(new Fixed(null, null, null), "high"),
                arguments(new Fixed(1.0, 5.0, 6.0), "ideal"),
                arguments(new Fixed(-1e308, 1.0, null), "low"),
                arguments(new LimitKind.AtMost(1e308, null), "high"),
                arguments(new LimitKind.AtMost(nan, null), "high"),
                arguments(new LimitKind.AtMost(Double.POSITIVE_INFINITY, null), "high"),
                arguments(new LimitKind.AtMost(1, 2.0), "ideal"),
                arguments(new LimitKind.AtLeast(1, 0.5), "ideal"),
                arguments(new LimitKind.AtLeast(-1e300, null), "low"),
                arguments(new Nominal(10, -1, 1, ToleranceIn.UNIT), "minus"),
                arguments(new Nominal(10, 1, nan, ToleranceIn.PERCENT), "plus"),
                arguments(new Nominal(1e200, 1, 1, ToleranceIn.PPM), "nominal"),
                arguments(new Nominal(1, 1, 1e5, ToleranceIn.DB), "plus"),
                arguments(new Table("nameplate:x", List.of()), "rows"),
                arguments(
                        new Table("nameplate:x", List.of(Row.upTo(1, null, 2.0, null), Row.upTo(1, null, 3.0, null))),
                        "rows[1].upTo"),
                arguments(
                        new Table("nameplate:x", List.of(new Row(null, null, null, null, null, 2.0, null))),
                        "rows[0].upTo"),
                arguments(
                        new Table("nameplate:x", List.of(new Row(1.0, "A", null, null, null, 2.0, null))),
                        "rows[0].is"),
                arguments(
                        new Table("nameplate:x", List.of(new Row(1.0, null, 2.0, null, null, 2.0, null))),
                        "rows[0].byUpTo"),
                arguments(new Table("nameplate:x", "param:y", List.of(Row.upTo(1, null, 2.0, null))), "rows[0].byUpTo"),
                arguments(new Along("param:y", Between.LINEAR, List.of(new Place(1, null, 2.0, null))), "places"),
                arguments(along(Between.LINEAR, 2, 1, 2, 3), "places[1].at"),
                arguments(along(Between.LINEAR, nan, 1, 2, 3), "places[0].at"),
                arguments(along(Between.LOG, 0, 1, 2, 3), "places[0].at"),
                arguments(along(Between.LOG, 1, -1, 2, 3), "places[0].at"),
                arguments(new Table("nameplate:x", List.of(Row.upTo(nan, null, 2.0, null))), "rows[0].upTo"),
                arguments(new Table("nameplate:x", List.of(Row.upTo(1, 3.0, 2.0, null))), "rows[0].high"),
                arguments(new Spread(LimitKind.From.LOWEST, null, null), "abovePercent"),
                arguments(new Spread(LimitKind.From.MEAN, -5.0, null), "abovePercent"),
                arguments(new Spread(LimitKind.From.MEAN, null, 1e9), "belowPercent"),
                arguments(new Change(LimitKind.Against.LAST, 5.0, -5.0, LimitKind.ChangeIn.PERCENT), "high"),
                arguments(new Change(LimitKind.Against.LAST, null, null, LimitKind.ChangeIn.UNIT), "high"),
                arguments(new Change(LimitKind.Against.BASELINE, null, 1e300, LimitKind.ChangeIn.UNIT), "high"));
    }

    @ParameterizedTest
    @MethodSource("wrong")
    void whatCannotBeALimitIsNamedByItsField(LimitKind kind, String field) {
        List<LimitCheck.Fault> faults = LimitCheck.of(of(kind), Unit.MICROHM);
        assertEquals(
                field, faults.isEmpty() ? "nothing was found" : faults.get(0).field(), faults.toString());
    }

    static Stream<LimitKind> right() {
        return Stream.of(
                new Fixed(1.0, 1.0, 1.0),
                new Fixed(-5.0, null, null),
                new LimitKind.AtMost(0, null),
                new LimitKind.AtLeast(1e5, 2e5),
                new Nominal(230, 0, 10, ToleranceIn.PERCENT),
                new Table("nameplate:x", List.of(Row.upTo(1, null, 2.0, 1.0), Row.upTo(5, 0.0, 3.0, null))),
                new LimitKind.DeviceCurve(),
                new Spread(LimitKind.From.LOWEST, 50.0, null),
                new Change(LimitKind.Against.LAST, -20.0, null, LimitKind.ChangeIn.PERCENT));
    }

    @ParameterizedTest
    @MethodSource("right")
    void whatCanBeALimitIsLeftAlone(LimitKind kind) {
        assertEquals(List.of(), LimitCheck.of(of(kind), Unit.MICROHM));
    }

    @Test
    void marginalZonesLieInsideAndLeaveSomethingBetween() {
        LimitSpec crossed =
                new LimitSpec(new Fixed(0.0, 10.0, null), LimitSpec.When.START, "house rule", null, 8.0, 2.0);
        LimitSpec outside =
                new LimitSpec(new LimitKind.AtMost(10, null), LimitSpec.When.START, "house rule", null, null, 11.0);
        assertEquals("marginalHigh", LimitCheck.of(crossed, Unit.VOLT).get(0).field());
        assertEquals("marginalHigh", LimitCheck.of(outside, Unit.VOLT).get(0).field());
    }

    @Test
    void theSameFigureCanBeInOneUnitAndNotInAnother() {
        LimitSpec limit = of(new LimitKind.AtMost(2e15, null));
        assertEquals(List.of(), LimitCheck.of(limit, Unit.OHM));
        assertEquals(1, LimitCheck.of(limit, Unit.VOLT).size());
        assertEquals(
                1,
                LimitCheck.of(of(new LimitKind.AtLeast(-300, null)), Unit.CELSIUS)
                        .size(),
                "below absolute zero");
    }

    /** Whatever passes can be resolved, judged and drawn: the run can always be seen. */
    @Test
    void whateverPassesCanBeDrawn() {
        Random random = new Random(14);
        int passed = 0;
        for (int i = 0; i < 20_000; i++) {
            double[] v = random.doubles(3)
                    .map(d -> Math.signum(d - 0.5) * Math.pow(10, (d * 7 % 1) * 640 - 320))
                    .toArray();
            LimitKind kind =
                    switch (random.nextInt(4)) {
                        case 0 -> new Fixed(v[0], v[1], random.nextBoolean() ? v[2] : null);
                        case 1 -> new LimitKind.AtMost(v[0], random.nextBoolean() ? v[1] : null);
                        case 2 -> new LimitKind.AtLeast(v[0], null);
                        default -> new Nominal(v[0], v[1], v[2], ToleranceIn.values()[random.nextInt(4)]);
                    };
            for (Scale scale : Scale.values()) {
                if (LimitCheck.of(of(kind), Unit.VOLT).isEmpty()) {
                    passed++;
                    ResolvedLimit resolved = LimitResolver.resolve(of(kind), scale, Mockito.mock(LimitContext.class));
                    assertNull(resolved.unresolved(), kind.toString());
                    StripAxis axis = StripAxis.of(resolved, scale, List.of(v[2]));
                    if (axis != null) {
                        assertEquals(true, axis.from() < axis.to(), kind.toString());
                    }
                }
            }
        }
        assertEquals(true, passed > 1_000, "only " + passed + " passed: this tries nothing");
    }

    /** What older runs hold is never refused again: it is shown without its strip. */
    @Test
    void absurdValuesOfOldRunsAreShownWithoutAStrip() {
        ResolvedLimit absurd =
                ResolvedLimit.of(of(new LimitKind.AtMost(1e308, null)), Scale.LINEAR, null, 1e308, null, "old");
        List<StripAxis> axes = new ArrayList<>();
        for (double value : new double[] {1, -1e308, 1e308, Double.MIN_VALUE}) {
            axes.add(StripAxis.of(absurd, Scale.LINEAR, List.of(value)));
            axes.add(StripAxis.of(null, Scale.LOGARITHMIC, List.of(value)));
            axes.add(StripAxis.of(null, Scale.LINEAR, List.of(value, -value)));
        }
        assertNull(axes.get(3));
        assertNotNull(StripAxis.of(null, Scale.LINEAR, List.of(1.0, 2.0)));
    }

    @Test
    void whatIsPlausibleKeepsToItsDimension() {
        for (Unit unit : Unit.all()) {
            assertEquals(true, Plausible.is(1, unit), unit.code());
            for (double no : new double[] {
                Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY, 1e300, -Double.MAX_VALUE
            }) {
                assertEquals(false, Plausible.is(no, unit), no + " " + unit.code());
                assertEquals(false, Plausible.words(no, unit).isBlank());
            }
        }
    }

    private static Along along(Between between, double at, double low, double nextAt, double nextLow) {
        return new Along(
                "param:y", between, List.of(new Place(at, low, null, null), new Place(nextAt, nextLow, null, null)));
    }
}
