package org.juratest.core.signal;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class ToneAnalysisTest {

    private static ToneAnalysis of(double[] samples) {
        return ToneAnalysis.of(samples, Made.RATE);
    }

    @ParameterizedTest
    @CsvSource({
        "1000, 1, 0.3",
        "1000.37, 1, 1.1",
        "997, 0.1, 0",
        "440.123, 0.5, 2",
        "3111.1, 1, 0.7",
        "83.3, 1, 0.4",
        "21000, 1, 0"
    })
    void aPureToneLeavesNothingAndItsFrequencyIsFound(double hertz, double seconds, double phase) {
        ToneAnalysis found = of(Made.samples(seconds, Made.RATE, Made.sine(hertz, 0.7, phase)));
        assertTrue(found.sinad().orElse(0) > 120, hertz + " Hz: " + found.sinad());
        assertEquals(hertz, found.tone().frequency(), 1e-4); // no noise: only rounding is left
        assertEquals(0.7, found.tone().amplitude(), 1e-6);
        assertTrue(found.warnings().isEmpty());
    }

    /** The transform the line is looked for in may have an odd number of places: its values stand elsewhere then. */
    @ParameterizedTest
    @ValueSource(ints = {50_625, 50_624, 48_001, 47_999, 10_125})
    void aToneIsFoundInRecordsOfAnyLength(int samples) {
        for (double hertz : new double[] {25.3, 1000.37, 9999.1}) {
            ToneAnalysis found = ToneAnalysis.of(
                    Made.samples(samples / Made.RATE, Made.RATE, Made.sine(hertz, 0.5, 0.3)), Made.RATE);
            assertEquals(hertz, found.tone().frequency(), 1e-3, samples + " samples");
            assertTrue(found.sinad().orElse(200) > 80, hertz + " Hz: " + found.sinad());
        }
    }

    @Test
    void sixteenBitsOfAPureToneReadMoreThanNinetyDecibels() {
        double[] samples = Made.samples(
                1, Made.RATE, t -> Math.round(Made.sine(1003.7, 0.9, 0).applyAsDouble(t) * 32768) / 32768.0);
        // 6.02 * 16 + 1.76 dB for full scale, less 0.9 dB for the amplitude
        assertEquals(97.2, of(samples).sinad().orElseThrow(), 0.3);
        assertTrue(of(samples).sinadVoice().orElseThrow() > 100);
    }

    @ParameterizedTest
    @CsvSource({"40, 1", "20, 1", "12, 1", "6, 1", "12, 0.25", "12, 0.1", "1, 1"})
    void aToneInNoiseReadsTheMixture(double sinad, double seconds) {
        for (long seed = 1; seed <= 5; seed++) {
            double[] tone = Made.samples(seconds, Made.RATE, Made.sine(1000, 0.3, 0.2));
            double power = 0.3 * 0.3 / 2;
            double noise = power / (Math.pow(10, sinad / 10) - 1);
            ToneAnalysis found = of(Made.plus(tone, Made.noise(tone.length, Math.sqrt(noise), seed)));
            assertEquals(sinad, found.sinad().orElseThrow(), 0.2, "seed " + seed);
            // White noise: the share of it that lies in the band, give or take its own spread over so short a time.
            double voice = 10 * Math.log10(1 + power / (noise * 3100 / 24_000));
            assertEquals(voice, found.sinadVoice().orElseThrow(), seconds < 1 ? 1 : 0.35, "seed " + seed);
        }
    }

    @Test
    void harmonicsAndHumCountInTheBandTheyLieIn() {
        double[] samples = Made.samples(
                1,
                Made.RATE,
                t -> Made.sine(1000, 1, 0).applyAsDouble(t) * 0.5
                        + Made.sine(2000, 0.01, 1).applyAsDouble(t)
                        + Made.sine(5000, 0.02, 2).applyAsDouble(t)
                        + Made.sine(100, 0.05, 0.5).applyAsDouble(t));
        ToneAnalysis found = of(samples);
        double rest = 0.01 * 0.01 + 0.02 * 0.02 + 0.05 * 0.05;
        assertEquals(10 * Math.log10((0.25 + rest) / rest), found.sinad().orElseThrow(), 0.01);
        assertEquals(
                10 * Math.log10((0.25 + 1e-4) / 1e-4),
                found.sinadVoice().orElseThrow(),
                0.01); // the second harmonic alone
        assertEquals(
                100 * Math.sqrt(rest / (0.25 + rest)),
                found.distortion(20, 24_000, Weighting.NONE).orElseThrow(),
                0.01);
        double weighted = 1e-4 * Weighting.PSOPHOMETRIC.power(2000);
        assertEquals(
                10
                        * Math.log10(1
                                + 0.25
                                        * Weighting.PSOPHOMETRIC.power(1000)
                                        / (weighted + 25e-4 * Weighting.PSOPHOMETRIC.power(100))),
                found.sinad(20, 4000, Weighting.PSOPHOMETRIC).orElseThrow(),
                0.02);
    }

    @Test
    void weightsAreThoseOfTheirStandards() {
        // ITU-T O.41, Table 1: 0 dB at 800 Hz, +1.0 at 1000, -10.6 at 300, -25.0 at 4500
        assertEquals(0, 10 * Math.log10(Weighting.PSOPHOMETRIC.power(800)), 1e-9);
        assertEquals(1.0, 10 * Math.log10(Weighting.PSOPHOMETRIC.power(1000)), 1e-9);
        assertEquals(-10.6, 10 * Math.log10(Weighting.PSOPHOMETRIC.power(300)), 1e-9);
        assertEquals(0, Weighting.PSOPHOMETRIC.power(7000));
        // 6 dB an octave well above the corner of 1/(2 pi 750 us) = 212.2 Hz
        assertEquals(
                -6.0,
                10 * Math.log10(Weighting.DE_EMPHASIS_750.power(3000) / Weighting.DE_EMPHASIS_750.power(1500)),
                0.08);
    }

    @Test
    void silenceAndNoiseHaveNoFigureAndSaySo() {
        for (double[] samples : new double[][] {new double[48_000], Made.samples(1, Made.RATE, t -> 0.25)}) {
            ToneAnalysis silence = of(samples);
            assertNull(silence.tone());
            assertTrue(silence.sinad().isEmpty()
                    && silence.sinadVoice().isEmpty()
                    && silence.distortion(20, 24_000, Weighting.NONE).isEmpty());
            assertTrue(silence.warnings().get(0).contains("digital silence"));
        }
        for (long seed = 0; seed < 20; seed++) {
            ToneAnalysis noise = of(Made.noise(24_000, 0.1, seed));
            assertNull(noise.tone(), "seed " + seed);
            assertTrue(noise.warnings().get(0).contains("no tone"));
        }
    }

    @Test
    void clippingIsToldAndItsDistortionMeasured() {
        double[] samples = Made.samples(
                1,
                Made.RATE,
                t -> Math.max(-1, Math.min(1, Made.sine(1000, 1.5, 0).applyAsDouble(t))));
        ToneAnalysis found = of(samples);
        assertTrue(found.warnings().get(0).startsWith("clipped"));
        // Fourier series of a sine of 1.5 cut off at 1: fundamental (2A/pi)(asin(1/A) + sqrt(1-1/A^2)/A), power 1 -
        // (stays from the cap) by integration
        double cut = Math.asin(1 / 1.5);
        double fundamental = 2 * 1.5 / Math.PI * (cut + Math.sqrt(1 - 1 / 2.25) / 1.5);
        double power = 2 / Math.PI * (2.25 * (cut / 2 - Math.sin(2 * cut) / 4) + (Math.PI / 2 - cut));
        double distortion = 100 * Math.sqrt(1 - fundamental * fundamental / 2 / power);
        assertEquals(distortion, found.distortion(20, 24_000, Weighting.NONE).orElseThrow(), 0.1);
    }

    @ParameterizedTest
    @ValueSource(doubles = {Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY})
    void aSampleThatIsNoNumberIsRefusedByItsPlace(double bad) {
        double[] samples = Made.samples(1, Made.RATE, Made.sine(1000, 0.5, 0));
        samples[777] = bad;
        SignalException refused = assertThrows(SignalException.class, () -> of(samples));
        assertEquals("not-finite", refused.code());
        assertTrue(refused.getMessage().contains("sample 777"));
        assertEquals(
                "bad-rate",
                assertThrows(SignalException.class, () -> ToneAnalysis.of(new double[9], bad))
                        .code());
    }

    @Test
    void tooFewSamplesAreRefusedWithHowManyAreNeeded() {
        for (int count : new int[] {0, 1, 2399}) {
            SignalException refused = assertThrows(SignalException.class, () -> of(new double[count]));
            assertEquals("too-short", refused.code());
            assertTrue(refused.getMessage().contains("0.05 s"));
        }
        assertTrue(of(Made.samples(0.05, Made.RATE, Made.sine(1000, 0.5, 0)))
                        .sinad()
                        .orElseThrow()
                > 80);
    }

    @Test
    void aToneOutsideSpeechHasNoFigureThere() {
        ToneAnalysis found = of(Made.samples(1, Made.RATE, Made.sine(5000, 0.5, 0)));
        assertTrue(found.sinad().isPresent() && found.sinadVoice().isEmpty());
    }

    @Test
    void theDrawnSpectrumShowsTheToneAndNotInWhatIsLeft() {
        double[] samples = Made.samples(
                1,
                Made.RATE,
                t -> Made.sine(1000, 0.5, 0).applyAsDouble(t)
                        + Made.sine(2000, 0.005, 1).applyAsDouble(t));
        double[][] drawn = of(samples).drawn(4000, 200);
        int tone = 50; // 20 Hz a column: 1000 to 1020
        assertEquals(0, drawn[1][tone], 1.5);
        assertTrue(drawn[2][tone] < -100);
        assertEquals(-40, drawn[2][100], 1.5);
    }
}
