package org.juratest.core.signal;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

class Fsk4AnalysisTest {

    private static DoubleUnaryOperator pulse(Fsk4Analysis.Shaping shaping) {
        return switch (shaping) {
            case RAISED_COSINE -> Made::raisedCosine;
            case C4FM -> Made.tabled(Made::c4fm, 10);
            case ROOT_RAISED_COSINE -> Made.tabled(Made::rootRaisedCosine, 10);
        };
    }

    private static Iq keyed(
            Fsk4Analysis.Shaping shaping,
            int bits,
            int phase,
            double level,
            double rate,
            double offset,
            double late,
            double pace) {
        return Made.keyed(Made.prbs(bits, phase), level, pulse(shaping), 10, rate, offset, late, pace);
    }

    @ParameterizedTest
    @EnumSource(Fsk4Analysis.Shaping.class)
    void eachShapingIsRecognisedAndReadWithoutErrors(Fsk4Analysis.Shaping shaping) {
        for (double rate : new double[] {24_000, 44_100, 48_000, 96_000}) {
            Fsk4Analysis found = Fsk4Analysis.of(keyed(shaping, 2000, 123, 648, rate, 310, 0.3, 1));
            String where = shaping + " at " + rate;
            assertEquals(0, found.errors().orElseThrow(), where);
            assertTrue(
                    found.bits().orElseThrow() >= 1990 && found.bits().orElseThrow() <= 2002,
                    where + ": " + found.bits());
            assertEquals(shaping, found.shaping(), where);
            assertEquals(1944, found.symbolDeviation().orElseThrow(), 12, where);
            assertEquals(310, found.frequencyError().orElseThrow(), 4, where);
            assertTrue(found.fidelity().orElseThrow() < 2, where + ": " + found.fidelity());
        }
    }

    @ParameterizedTest
    @ValueSource(ints = {0, 1, 2, 9, 255, 510})
    void itLocksFromAnyPhaseAndCountsExactlyTheErrorsPutIn(int phase) {
        boolean[] bits = Made.prbs(2400, phase);
        for (int n = 100; n < 2300; n += 157) {
            bits[n] = !bits[n];
        }
        Fsk4Analysis found = Fsk4Analysis.of(Made.keyed(bits, 600, Made::raisedCosine, 10, 48_000, 0, 0, 1));
        assertEquals(15, found.errors().orElseThrow()); // 100, 257 ... 2298
        assertEquals(15.0 / found.bits().orElseThrow(), found.ber().orElseThrow(), 1e-12);
        assertEquals(1800, found.symbolDeviation().orElseThrow(), 10);
    }

    @ParameterizedTest
    @CsvSource({"60", "-80", "200"})
    void symbolsThatComeTooFastAreFollowed(double ppm) {
        Fsk4Analysis found = Fsk4Analysis.of(
                keyed(Fsk4Analysis.Shaping.RAISED_COSINE, 8000, 7, 600, 48_000, -200, 0.45, 1 + ppm * 1e-6));
        assertEquals(0, found.errors().orElseThrow());
        assertEquals(ppm, found.symbolRateError().orElseThrow(), 10);
    }

    @Test
    void noiseMakesErrorsAndTheLevelsStayTrue() {
        Iq clean = keyed(Fsk4Analysis.Shaping.C4FM, 6000, 50, 600, 48_000, 0, 0.2, 1);
        double last = -1;
        for (double noise : new double[] {0.002, 0.06, 0.1}) {
            Fsk4Analysis found = Fsk4Analysis.of(Made.noisy(clean, noise, 8));
            assertTrue(found.ber().orElseThrow() > last, "noise " + noise + ": " + found.ber());
            assertEquals(1800, found.symbolDeviation().orElseThrow(), 60, "noise " + noise);
            last = found.ber().orElseThrow();
        }
        assertTrue(last > 0.005 && last < 0.2, "at the most noise: " + last);
    }

    @Test
    void slottedBurstsAreGatedAndAddedUp() {
        int slot = 1440; // 30 ms
        double[] i = new double[slot * 6];
        double[] q = new double[slot * 6];
        for (int burst = 0; burst < 3; burst++) {
            Iq on = keyed(Fsk4Analysis.Shaping.RAISED_COSINE, 264, 97 * burst, 648, 48_000, 150, 0, 1);
            System.arraycopy(on.i(), 0, i, 2 * burst * slot + 60, on.length());
            System.arraycopy(on.q(), 0, q, 2 * burst * slot + 60, on.length());
        }
        Fsk4Analysis found = Fsk4Analysis.of(Made.noisy(new Iq(i, q, 48_000), 1e-5, 4));
        assertEquals(0, found.errors().orElseThrow());
        assertTrue(found.bits().orElseThrow() > 3 * 240, found.bits().toString());
        assertEquals(1944, found.symbolDeviation().orElseThrow(), 20);
        assertTrue(found.warnings().get(0).contains("3 bursts"));
    }

    @Test
    void whatIsNotTheSequenceHasNoErrorRatio() {
        boolean[] other = new boolean[2000];
        java.util.Random random = new java.util.Random(3);
        for (int n = 0; n < other.length; n++) {
            other[n] = random.nextBoolean();
        }
        Fsk4Analysis found = Fsk4Analysis.of(Made.keyed(other, 600, Made::raisedCosine, 10, 48_000, 0, 0, 1));
        assertTrue(found.ber().isEmpty()
                && found.bits().isEmpty()
                && found.errors().isEmpty());
        assertEquals(1800, found.symbolDeviation().orElseThrow(), 10);
        assertTrue(found.warnings().get(0).contains("O.153"));
    }

    @Test
    void exchangedChannelsAreTold() {
        Iq iq = keyed(Fsk4Analysis.Shaping.RAISED_COSINE, 2000, 0, 600, 48_000, 0, 0, 1);
        Fsk4Analysis found = Fsk4Analysis.of(new Iq(iq.q(), iq.i(), 48_000));
        assertTrue(found.ber().isEmpty());
        assertTrue(
                found.warnings().stream().anyMatch(w -> w.contains("I and Q are exchanged")),
                found.warnings().toString());
    }

    @Test
    void silenceNoiseAndBadInputGiveNoFigures() {
        double[] none = new double[4800];
        assertTrue(Fsk4Analysis.of(new Iq(none, none, 48_000)).warnings().get(0).contains("silence"));
        Fsk4Analysis noise = Fsk4Analysis.of(Made.noisy(new Iq(new double[9600], new double[9600], 48_000), 0.1, 1));
        assertTrue(noise.symbolDeviation().isEmpty() && noise.warnings().get(0).contains("no carrier"));
        assertEquals(
                "rate-too-low",
                assertThrows(SignalException.class, () -> Fsk4Analysis.of(new Iq(none, none, 8000)))
                        .code());
        assertEquals(
                "too-short",
                assertThrows(
                                SignalException.class,
                                () -> Fsk4Analysis.of(new Iq(new double[900], new double[900], 48_000)))
                        .code());
        double[] bad = none.clone();
        bad[5] = Double.NaN;
        assertEquals(
                "not-finite",
                assertThrows(SignalException.class, () -> Fsk4Analysis.of(new Iq(bad, none, 48_000)))
                        .code());
    }

    @Test
    void theSequenceIsThatOfTheStandard() {
        boolean[] register = ShiftRegister.bits(3 * 511);
        int ones = 0;
        int zerosInARow = 0;
        int mostZeros = 0;
        for (int n = 0; n < register.length; n++) {
            assertEquals(register[n], Prbs9.bit(n), "bit " + n);
            ones += register[n] ? 1 : 0;
            zerosInARow = register[n] ? 0 : zerosInARow + 1;
            mostZeros = Math.max(mostZeros, zerosInARow);
        }
        // O.153, 2.1: 511 bits, one 1 more than 0s, and no more than eight 0s in a row.
        assertEquals(3 * 256, ones);
        assertEquals(8, mostZeros);
        assertEquals(register[502], Prbs9.bit(-9), "also before the first");
    }
}
