package org.juratest.core.limit;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class JudgeTest {

    private static ResolvedLimit limit(
            @Nullable Double low, @Nullable Double high, @Nullable Double ideal, Scale scale) {
        LimitSpec spec = LimitSpec.of(new LimitKind.Fixed(low, high, ideal), LimitSpec.When.START, "test");
        return ResolvedLimit.of(spec, scale, low, high, ideal, "test");
    }

    @ParameterizedTest
    @CsvSource(
            nullValues = "-",
            value = {
                // low, high, ideal, value, verdict: simple rule, linear
                "-, 10, 0, 8.9, PASS",
                "-, 10, 0, 9, PASS",
                "-, 10, 0, 9.1, MARGINAL_INSIDE",
                "-, 10, 0, 10, MARGINAL_INSIDE",
                "-, 10, 0, 10.1, FAIL",
                "-, 0.3, -, 0.30000000000000004, PASS",
                "-, 10, -, 9.99, PASS",
                "5, -, -, 5, PASS",
                "5, -, -, 4.99, FAIL",
                "5, 15, 10, 5.4, MARGINAL_INSIDE",
                "5, 15, 10, 14.6, MARGINAL_INSIDE",
                "5, 15, 10, 10, PASS",
                "5, 15, 10, 15.01, FAIL",
                "-, 10, 12, 9.9, PASS"
            })
    void simpleRule(
            @Nullable Double low, @Nullable Double high, @Nullable Double ideal, double value, Verdict expected) {
        assertEquals(
                expected,
                Judge.judge(
                                value,
                                Qualifier.EQUAL,
                                null,
                                limit(low, high, ideal, Scale.LINEAR),
                                DecisionRule.SIMPLE,
                                Scale.LINEAR)
                        .verdict());
    }

    @ParameterizedTest
    @CsvSource({
        "8, PASS",
        "8.01, MARGINAL_INSIDE",
        "10, MARGINAL_INSIDE",
        "10.01, MARGINAL_OUTSIDE",
        "12, MARGINAL_OUTSIDE",
        "12.01, FAIL"
    })
    void guardedRuleWithUOfTwo(double value, Verdict expected) {
        assertEquals(
                expected,
                Judge.judge(
                                value,
                                Qualifier.EQUAL,
                                2.0,
                                limit(null, 10.0, null, Scale.LINEAR),
                                DecisionRule.GUARDED,
                                Scale.LINEAR)
                        .verdict());
    }

    @Test
    void guardedRuleNeedsAnUncertaintyAndSaysWhenNoPassIsPossible() {
        ResolvedLimit narrow = limit(9.0, 11.0, null, Scale.LINEAR);
        assertEquals(
                Verdict.NOT_JUDGED,
                Judge.judge(10, Qualifier.EQUAL, null, narrow, DecisionRule.GUARDED, Scale.LINEAR)
                        .verdict());
        assertEquals(
                Verdict.NOT_JUDGED,
                Judge.judge(10, Qualifier.EQUAL, Double.NaN, narrow, DecisionRule.GUARDED, Scale.LINEAR)
                        .verdict());
        Judgement wide = Judge.judge(10, Qualifier.EQUAL, 1.5, narrow, DecisionRule.GUARDED, Scale.LINEAR);
        assertEquals(Verdict.MARGINAL_INSIDE, wide.verdict());
        assertTrue(String.valueOf(wide.why()).contains("no reading can pass"));
    }

    @ParameterizedTest
    @CsvSource(
            nullValues = "-",
            value = {
                "-, 38, >, 60, FAIL",
                "-, 80, >, 60, NOT_JUDGED",
                "-, 60, >, 60, FAIL",
                "-, 60, >=, 60, NOT_JUDGED",
                "-, 60, >=, 60.1, FAIL",
                "100, -, >, 1000, PASS",
                "100, -, >, 100, PASS",
                "100, -, >, 50, NOT_JUDGED",
                "100, -, <, 50, FAIL",
                "100, -, <, 200, NOT_JUDGED",
                "-, 10, <, 5, PASS",
                "-, 10, <=, 10, PASS",
                "-, 10, <, 11, NOT_JUDGED",
                "5, 15, >, 6, NOT_JUDGED",
                "5, 15, >, 15, FAIL",
                "5, 15, <, 5, FAIL"
            })
    void aBoundIsJudgedOnlyIfItDecides(
            @Nullable Double low, @Nullable Double high, String sign, double value, Verdict expected) {
        Judgement judgement = Judge.judge(
                value,
                Qualifier.ofSign(sign),
                null,
                limit(low, high, null, Scale.LINEAR),
                DecisionRule.SIMPLE,
                Scale.LINEAR);
        assertEquals(expected, judgement.verdict());
        assertEquals(expected == Verdict.NOT_JUDGED, judgement.why() != null);
    }

    @Test
    void whatIsNotANumberNeverPasses() {
        SplittableRandom random = new SplittableRandom(7);
        for (int i = 0; i < 2000; i++) {
            Double low = random.nextInt(3) == 0 ? null : (Double) (random.nextDouble() * 10);
            Double high = low == null || random.nextBoolean() ? (Double) (20 + random.nextDouble()) : null;
            Double ideal = random.nextBoolean() ? null : (Double) (random.nextDouble() * 30);
            Scale scale = random.nextBoolean() ? Scale.LINEAR : Scale.LOGARITHMIC;
            DecisionRule rule = random.nextBoolean() ? DecisionRule.SIMPLE : DecisionRule.GUARDED;
            Qualifier qualifier = Qualifier.values()[random.nextInt(5)];
            for (double bad : new double[] {Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY}) {
                assertEquals(
                        Verdict.NOT_JUDGED,
                        Judge.judge(bad, qualifier, 0.1, limit(low, high, ideal, scale), rule, scale)
                                .verdict(),
                        "seed 7, draw " + i);
            }
        }
    }

    @Test
    void theVerdictNeverImprovesOnTheWayFromIdealPastTheLimit() {
        SplittableRandom random = new SplittableRandom(19);
        for (int i = 0; i < 500; i++) {
            double ideal = random.nextDouble() * 100 + 1;
            double high = ideal * (1.1 + random.nextDouble());
            Scale scale = random.nextBoolean() ? Scale.LINEAR : Scale.LOGARITHMIC;
            DecisionRule rule = random.nextBoolean() ? DecisionRule.SIMPLE : DecisionRule.GUARDED;
            ResolvedLimit limit = limit(null, high, ideal, scale);
            Verdict before = Verdict.PASS;
            for (double v = ideal; v < 2 * high; v += high / 40) {
                Verdict now = Judge.judge(v, Qualifier.EQUAL, (high - ideal) / 5, limit, rule, scale)
                        .verdict();
                assertEquals(now, now.worse(before), "seed 19, draw " + i + ", value " + v);
                before = now;
            }
            assertEquals(Verdict.FAIL, before);
        }
    }

    /** The low side of a limit is the high side seen in a mirror; a bound's sign turns with it. */
    @Test
    void lowAndHighAreMirrorImages() {
        SplittableRandom random = new SplittableRandom(41);
        Qualifier[] turned = {Qualifier.EQUAL, Qualifier.MORE, Qualifier.AT_LEAST, Qualifier.LESS, Qualifier.AT_MOST};
        for (int i = 0; i < 3000; i++) {
            Double low = random.nextInt(3) == 0 ? null : (Double) (random.nextDouble() * 10 - 5);
            Double high = low == null || random.nextBoolean()
                    ? (Double) ((low == null ? -5 : low) + random.nextDouble() * 10)
                    : null;
            Double ideal = random.nextBoolean() ? null : (Double) (random.nextDouble() * 10 - 5);
            double value = random.nextDouble() * 20 - 10;
            double u = random.nextDouble();
            Qualifier qualifier = Qualifier.values()[random.nextInt(5)];
            DecisionRule rule = random.nextBoolean() ? DecisionRule.SIMPLE : DecisionRule.GUARDED;
            Judgement one = Judge.judge(value, qualifier, u, limit(low, high, ideal, Scale.LINEAR), rule, Scale.LINEAR);
            Judgement other = Judge.judge(
                    -value,
                    turned[qualifier.ordinal()],
                    u,
                    limit(
                            high == null ? null : (Double) (-high),
                            low == null ? null : (Double) (-low),
                            ideal == null ? null : (Double) (-ideal),
                            Scale.LINEAR),
                    rule,
                    Scale.LINEAR);
            assertEquals(one.verdict(), other.verdict(), "seed 41, draw " + i);
            assertEquals(one.tooCoarse(), other.tooCoarse(), "seed 41, draw " + i);
        }
    }

    /**
     * A bound never gets a better verdict than the worst value it allows, and none where those differ between in and
     * out.
     */
    @Test
    void aBoundIsJudgedLikeEveryValueItAllows() {
        SplittableRandom random = new SplittableRandom(43);
        for (int i = 0; i < 2000; i++) {
            Double low = random.nextBoolean() ? null : (Double) (random.nextDouble() * 10);
            Double high = low == null || random.nextBoolean() ? (Double) (12 + random.nextDouble() * 10) : null;
            ResolvedLimit limit = limit(low, high, null, Scale.LINEAR);
            double bound = random.nextDouble() * 30;
            Verdict verdict = Judge.judge(bound, Qualifier.MORE, null, limit, DecisionRule.SIMPLE, Scale.LINEAR)
                    .verdict();
            for (double above = bound + 1e-6; above < 60; above += 0.7) {
                Verdict allowed = Judge.judge(above, Qualifier.EQUAL, null, limit, DecisionRule.SIMPLE, Scale.LINEAR)
                        .verdict();
                if (verdict != Verdict.NOT_JUDGED) {
                    assertEquals(verdict, allowed, "seed 43, draw " + i + ": > " + bound + " but " + above);
                }
            }
        }
    }

    @Test
    void anUnresolvedLimitHandsItsReasonOn() {
        Judgement judgement = Judge.judge(
                1,
                Qualifier.EQUAL,
                null,
                ResolvedLimit.unresolved("s", "the nameplate has no ratedVoltage"),
                DecisionRule.SIMPLE,
                Scale.LINEAR);
        assertEquals(Verdict.NOT_JUDGED, judgement.verdict());
        assertEquals("the nameplate has no ratedVoltage", judgement.why());
    }

    @Test
    void gearIsTooCoarseWhenUIsOverAThirdOfTheWay() {
        ResolvedLimit limit = limit(null, 10.0, 1.0, Scale.LINEAR);
        assertFalse(Judge.judge(2, Qualifier.EQUAL, 3.0, limit, DecisionRule.SIMPLE, Scale.LINEAR)
                .tooCoarse());
        assertTrue(Judge.judge(2, Qualifier.EQUAL, 3.01, limit, DecisionRule.SIMPLE, Scale.LINEAR)
                .tooCoarse());
    }

    @Test
    void marginIsZeroAtTheIdealOrBetterAndOneAtTheLimit() {
        SplittableRandom random = new SplittableRandom(23);
        for (int i = 0; i < 500; i++) {
            Scale scale = random.nextBoolean() ? Scale.LINEAR : Scale.LOGARITHMIC;
            double ideal = 1 + random.nextDouble() * 100;
            double low = ideal * (0.1 + 0.8 * random.nextDouble());
            double high = ideal * (1.1 + 3 * random.nextDouble());
            assertEquals(
                    1,
                    Margin.used(high, limit(null, high, ideal, scale), scale).orElseThrow(),
                    1e-9,
                    "seed 23, draw " + i);
            assertEquals(
                    1, Margin.used(low, limit(low, high, ideal, scale), scale).orElseThrow(), 1e-9);
            assertEquals(
                    0,
                    Margin.used(ideal / 2, limit(null, high, ideal, scale), scale)
                            .orElseThrow());
            // A change of unit does not change how much margin is used.
            double v = ideal + random.nextDouble() * (high - ideal) * 1.5;
            assertEquals(
                    Margin.used(v, limit(null, high, ideal, scale), scale).orElseThrow(),
                    Margin.used(v * 1000, limit(null, high * 1000, ideal * 1000, scale), scale)
                            .orElseThrow(),
                    1e-9);
        }
    }

    @Test
    void marginIsUndefinedWithoutAnIdealThatLiesInside() {
        assertTrue(Margin.used(5, limit(null, 10.0, null, Scale.LINEAR), Scale.LINEAR)
                .isEmpty());
        assertTrue(Margin.used(5, limit(null, 10.0, 10.0, Scale.LINEAR), Scale.LINEAR)
                .isEmpty());
        assertTrue(Margin.used(5, limit(null, 10.0, 11.0, Scale.LINEAR), Scale.LINEAR)
                .isEmpty());
        assertTrue(Margin.used(5, limit(null, 10.0, 0.0, Scale.LOGARITHMIC), Scale.LOGARITHMIC)
                .isEmpty());
        assertTrue(Margin.used(Double.NaN, limit(null, 10.0, 0.0, Scale.LINEAR), Scale.LINEAR)
                .isEmpty());
    }

    @Test
    void onALogarithmicScaleTheMarginalZoneIsATenthOfTheDecades() {
        ResolvedLimit limit = limit(100.0, null, 1000.0, Scale.LOGARITHMIC);
        assertEquals(Math.pow(10, 2.1), limit.marginalLow(), 1e-9);
        assertNotEquals(
                Verdict.PASS,
                Judge.judge(120, Qualifier.EQUAL, null, limit, DecisionRule.SIMPLE, Scale.LOGARITHMIC)
                        .verdict());
        assertEquals(
                Verdict.PASS,
                Judge.judge(130, Qualifier.EQUAL, null, limit, DecisionRule.SIMPLE, Scale.LOGARITHMIC)
                        .verdict());
    }

    /** How far outside, and whether that is much: only where the limit tells the two apart. */
    @ParameterizedTest
    @CsvSource(
            nullValues = "-",
            value = {
                "20, EQUAL, 25, 22, 10.0\u2006% beyond its limit| a minor deviation",
                "20, EQUAL, 25, 25, 25.0\u2006% beyond its limit| a minor deviation",
                "20, EQUAL, 25, 26, 30.0\u2006% beyond its limit| a severe deviation",
                "20, EQUAL, 25, 7.5, 25.0\u2006% beyond its limit| a minor deviation",
                "20, EQUAL, 25, 5, 50.0\u2006% beyond its limit| a severe deviation",
                "20, EQUAL, 25, 311.3, 1460\u2006% beyond its limit| a severe deviation",
                "20, MORE, 25, 32, at least 60.0\u2006% beyond its limit| a severe deviation",
                "20, EQUAL, 25, 15, -",
                "20, EQUAL, -, 40, -",
                // Of a limit of nothing there is no share.
                "0, EQUAL, 25, 3, -",
            })
    void aDeviationIsMinorOrSevereByItsLimit(
            double high, Qualifier qualifier, @Nullable Double severe, double value, @Nullable String why) {
        Double low = high == 0 ? null : (Double) (high / 2);
        ResolvedLimit limit = new ResolvedLimit(low, high, null, null, null, "test", null, null, severe);
        assertEquals(
                why == null ? null : why.replace('|', ','),
                Judge.judge(value, qualifier, null, limit, DecisionRule.SIMPLE, Scale.LINEAR)
                        .why());
    }
}
