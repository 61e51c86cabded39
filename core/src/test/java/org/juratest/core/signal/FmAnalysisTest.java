package org.juratest.core.signal;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class FmAnalysisTest {

    private static DoubleUnaryOperator offset(double hertz, DoubleUnaryOperator turns) {
        return t -> hertz * t + turns.applyAsDouble(t);
    }

    @ParameterizedTest
    @CsvSource({
        "48000, 1000, 3000, 120, 0.5",
        "96000, 1000, 3000, -740, 0.5",
        "48000, 1003.3, 1500, 0, 0.5",
        "44100, 400, 5000, 2000, 0.5",
        "96000, 2500, 2500, -15.5, 0.5",
        "48000, 1000, 3000, 37.25, 0.2"
    })
    void aToneAtFortyDecibelsReadsWithinWhatThePageAsks(
            double rate, double hertz, double deviation, double error, double seconds) {
        for (long seed = 1; seed <= 3; seed++) {
            Iq iq = Made.noisy(
                    Made.carrier(seconds, rate, 0.5, offset(error, Made.tone(hertz, deviation, 0.7))), 0.25e-4, seed);
            FmAnalysis found = FmAnalysis.of(iq);
            assertEquals(error, found.frequencyError().orElseThrow(), 0.5, "seed " + seed);
            assertEquals(deviation, found.deviationPositive().orElseThrow(), 0.002 * deviation, "seed " + seed);
            assertEquals(deviation, found.deviationNegative().orElseThrow(), 0.002 * deviation, "seed " + seed);
            assertEquals(hertz, found.tone().orElseThrow().frequency(), 0.1);
            assertTrue(found.subTone().isEmpty());
            assertTrue(found.warnings().isEmpty(), found.warnings().toString());
        }
    }

    @Test
    void noiseOfTheDemodulatorIsTheResidual() {
        double noise = 0.25e-4;
        Iq iq = Made.noisy(Made.carrier(1, 96_000, 0.5, offset(0, Made.tone(1000, 3000, 0))), noise, 5);
        // Phase noise has the density noise/(carrier * rate) in rad^2/Hz; frequency is its derivative: integral of f^2
        // of it, 0 to 15 kHz.
        double expected = Math.sqrt(Math.pow(15_000, 3) / 3 * noise / 0.25 / 96_000);
        assertEquals(expected, FmAnalysis.of(iq).residualFm().orElseThrow(), 0.03 * expected);
    }

    @Test
    void asymmetryAndHarmonicsShowInThePeaks() {
        DoubleUnaryOperator turns = t -> Made.tone(1000, 2500, 0).applyAsDouble(t)
                + Made.tone(2000, 500, 0).applyAsDouble(t);
        FmAnalysis found = FmAnalysis.of(Made.carrier(0.5, 48_000, 0.5, turns));
        // 2500 cos x + 500 cos 2x: 3000 at x = 0, -2000 at x = pi, and least where cos x = -1.25: beyond reach, so at
        // pi
        assertEquals(3000, found.deviationPositive().orElseThrow(), 3);
        assertEquals(2000, found.deviationNegative().orElseThrow(), 3);
        assertEquals(0, found.frequencyError().orElseThrow(), 0.1);
        assertTrue(found.residualFm().orElseThrow() < 1);
    }

    @Test
    void aSubToneIsToldApartFromToneAndHum() {
        DoubleUnaryOperator turns = t -> Made.tone(1000, 1500, 0.4).applyAsDouble(t)
                + Made.tone(123, 350, 1).applyAsDouble(t)
                + Made.tone(50, 60, 0).applyAsDouble(t);
        FmAnalysis found = FmAnalysis.of(Made.noisy(Made.carrier(1, 48_000, 0.5, turns), 0.25e-4, 3));
        assertEquals(123, found.subTone().orElseThrow().frequency(), 0.05);
        assertEquals(350, found.subTone().orElseThrow().amplitude(), 3.5);
        assertEquals(1000, found.tone().orElseThrow().frequency(), 0.05);
        assertEquals(1500, found.tone().orElseThrow().amplitude(), 3);
        assertTrue(found.deviationPositive().orElseThrow() > 1800
                && found.deviationPositive().orElseThrow() <= 1912);
        assertTrue(found.warnings().contains("the peak deviation includes the sub-tone"));
        // The hum stays in the residual: 60/sqrt(2) Hz among the noise.
        double hum = found.residual(20, 80, Weighting.NONE).orElseThrow();
        assertEquals(60 / Math.sqrt(2), hum, 2);
    }

    @Test
    void aWhineOnAnUnmodulatedCarrierCountsAsNoise() {
        FmAnalysis found =
                FmAnalysis.of(Made.noisy(Made.carrier(0.5, 48_000, 0.5, offset(0, Made.tone(700, 15, 0))), 0.25e-6, 3));
        assertEquals(
                15 / Math.sqrt(2), found.unmodulated(300, 3000, Weighting.NONE).orElseThrow(), 0.3);
        assertTrue(found.residual(300, 3000, Weighting.NONE).orElseThrow() < 1, "there it is the tone");
    }

    @Test
    void aPeriodBegunAndNotEndedDoesNotShiftTheCarrier() {
        for (double seconds : new double[] {0.1, 0.2503, 0.5007}) {
            FmAnalysis found =
                    FmAnalysis.of(Made.carrier(seconds, 48_000, 0.5, offset(250, Made.tone(300, 3000, 1.3))));
            assertEquals(250, found.frequencyError().orElseThrow(), 0.05, seconds + " s");
        }
    }

    @Test
    void anUnmodulatedCarrierHasItsErrorAndNoTone() {
        FmAnalysis found = FmAnalysis.of(Made.noisy(Made.carrier(0.5, 48_000, 0.5, t -> -333.3 * t), 0.25e-4, 9));
        assertEquals(-333.3, found.frequencyError().orElseThrow(), 0.5);
        assertTrue(found.tone().isEmpty() && found.subTone().isEmpty());
        assertTrue(found.warnings().stream().anyMatch(w -> w.contains("no tone")));
    }

    @Test
    void aKeyPressedLateIsAnalysedWhereTheCarrierIsOn() {
        Iq on = Made.carrier(0.6, 48_000, 0.5, offset(100, Made.tone(1000, 2000, 0)));
        double[] i = new double[48_000];
        double[] q = new double[48_000];
        System.arraycopy(on.i(), 0, i, 12_000, on.length());
        System.arraycopy(on.q(), 0, q, 12_000, on.length());
        FmAnalysis found = FmAnalysis.of(Made.noisy(new Iq(i, q, 48_000), 0.25e-4, 2));
        assertEquals(100, found.frequencyError().orElseThrow(), 0.5);
        assertEquals(2000, found.deviationPositive().orElseThrow(), 4);
        assertTrue(found.warnings().get(0).startsWith("the carrier is on for a part only"));
    }

    @Test
    void silenceAndNoiseWithoutACarrierHaveNoFigures() {
        FmAnalysis silence = FmAnalysis.of(new Iq(new double[4800], new double[4800], 48_000));
        FmAnalysis noise = FmAnalysis.of(Made.noisy(new Iq(new double[24_000], new double[24_000], 48_000), 0.1, 4));
        for (FmAnalysis none : new FmAnalysis[] {silence, noise}) {
            assertTrue(none.frequencyError().isEmpty()
                    && none.deviationPositive().isEmpty()
                    && none.deviationNegative().isEmpty()
                    && none.tone().isEmpty()
                    && none.subTone().isEmpty()
                    && none.residualFm().isEmpty()
                    && none.audio().length == 0);
        }
        assertTrue(silence.warnings().get(0).contains("digital silence"));
        assertTrue(noise.warnings().get(0).contains("no carrier"));
    }

    @ParameterizedTest
    @ValueSource(doubles = {Double.NaN, Double.POSITIVE_INFINITY})
    void whatIsNoNumberOrTooShortIsRefused(double bad) {
        double[] q = new double[4800];
        q[12] = bad;
        assertEquals(
                "not-finite",
                assertThrows(SignalException.class, () -> FmAnalysis.of(new Iq(new double[4800], q, 48_000)))
                        .code());
        assertEquals(
                "too-short",
                assertThrows(
                                SignalException.class,
                                () -> FmAnalysis.of(new Iq(new double[2000], new double[2000], 48_000)))
                        .code());
        assertEquals(
                "channels-differ",
                assertThrows(SignalException.class, () -> new Iq(new double[3], new double[4], 48_000))
                        .code());
        assertEquals(
                "bad-rate",
                assertThrows(SignalException.class, () -> FmAnalysis.of(new Iq(q, q, bad)))
                        .code());
    }

    @Test
    void powerIsTheMeanOfTheSquares() {
        assertEquals(
                -6.0206, FmAnalysis.of(Made.carrier(0.1, 48_000, 0.5, t -> 0)).dbfs(), 1e-4);
        assertEquals(0, new Iq(new double[] {1, 0}, new double[] {0, 1}, 1000).dbfs(), 1e-12);
        assertEquals(Double.NEGATIVE_INFINITY, new Iq(new double[4], new double[4], 1000).dbfs());
    }
}
