package org.juratest.core.family.breakers;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.OptionalDouble;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.curve.InverseTimeCurve;
import org.juratest.core.signal.SignalException;

class OperationsTest {

    /** What was put in: start, trip time, open time, rms. */
    private record Made(double start, double trip, double open, double rms) {}

    @ParameterizedTest
    @CsvSource({
        // rate, line, noise of the largest, frequency told
        "10000, 50, 0, 50",
        "4800, 60, 0.003, 0",
        "25600, 50, 0.01, 0",
        "2000, 60, 0.002, 60"
    })
    void sequencesAreFoundWhateverTheirCurrents(double rate, double line, double noise, double told) {
        Random random = new Random((long) (rate + line));
        for (int n = 0; n < 25; n++) {
            double first = 100 + 700 * random.nextDouble();
            MadeCurrent made = new MadeCurrent(rate, line, n).noise(noise * first);
            made.pause(0.1 + random.nextDouble());
            List<Made> put = new ArrayList<>();
            int operations = 1 + random.nextInt(5);
            double longest = 0;
            for (int k = 0; k < operations; k++) {
                double start = made.now();
                double level = first * (0.6 + 0.4 * random.nextDouble());
                // Whole half-cycles from a zero on: contacts open, and the current stops at its next zero.
                double trip = (4 + random.nextInt(60)) / 2.0 / line;
                double sinks = 0.5 * random.nextDouble() / trip;
                made.sine(trip, 0, t -> level * (1 - sinks * t));
                double open = k == operations - 1 ? 0 : 0.04 + 0.6 * random.nextDouble();
                longest = Math.max(longest, open);
                put.add(new Made(start, trip, open, rms(trip, line, level, sinks)));
                made.pause(open);
            }
            boolean stays = random.nextBoolean();
            double quiet = operations == 1 ? stays ? 5.5 : 0.5 : stays ? longest * 1.5 + 0.06 : longest * 0.8;
            made.pause(quiet);
            Operations found = Operations.of(made.time(), made.value(), told);
            String where = "sequence " + n + ": " + put + " found " + found;
            assertEquals(put.size(), found.all().size(), where);
            double sample = 1.6 / rate + noise / line;
            for (int k = 0; k < put.size(); k++) {
                Operations.Operation op = found.all().get(k);
                assertEquals(put.get(k).start, op.start(), sample, where);
                assertEquals(put.get(k).trip, op.tripTime(), 2 * sample, where);
                assertEquals(put.get(k).rms, op.rms(), put.get(k).rms * (0.005 + noise + 3 / rate), where);
                assertEquals(put.get(k).open, op.openTime().orElse(0), 2 * sample, where);
            }
            assertEquals(stays, found.lockout(), where);
            assertFalse(found.flowsAtEnd() || found.flowsAtStart(), where);
        }
    }

    /** By a fine sum. */
    private static double rms(double trip, double line, double level, double sinks) {
        int n = 200_000;
        double sum = 0;
        for (int i = 0; i < n; i++) {
            double t = (i + 0.5) * trip / n;
            double v = level * (1 - sinks * t) * Math.sqrt(2) * Math.sin(2 * Math.PI * line * t);
            sum += v * v;
        }
        return Math.sqrt(sum / n);
    }

    @Test
    void aCurrentWithAnOffsetBeginsWhereItIsSwitchedOn() {
        MadeCurrent made = new MadeCurrent(10_000, 50, 1).noise(0.5);
        made.pause(0.2);
        double w = 2 * Math.PI * 50;
        // A fault current with its direct part, which dies away within 40 ms.
        made.piece(0.2, t -> 400 * (Math.sin(w * t - 1.4) + Math.sin(1.4) * Math.exp(-t / 0.04)));
        made.pause(0.5);
        Operations.Operation op =
                Operations.of(made.time(), made.value(), 50).all().get(0);
        assertEquals(0.2, op.start(), 0.0006);
        assertEquals(0.2, op.tripTime(), 0.0008);
    }

    @Test
    void whatStillFlowsIsNoOperation() {
        MadeCurrent made = new MadeCurrent(5000, 50, 2);
        made.sine(0.3, 0, t -> 200).pause(0.5).sine(0.2, 0, t -> 180).pause(0.4).sine(0.3, 0, t -> 170);
        Operations found = Operations.of(made.time(), made.value(), 50);
        assertEquals(2, found.all().size());
        assertTrue(found.flowsAtEnd() && found.flowsAtStart() && !found.lockout());
        assertEquals(0.4, found.all().get(1).openTime().orElseThrow(), 0.001);
        MadeCurrent always = new MadeCurrent(5000, 50, 2).sine(1, 0, t -> 50);
        Operations never = Operations.of(always.time(), always.value(), 50);
        assertTrue(never.all().isEmpty() && never.flowsAtEnd());
    }

    @Test
    void noiseAndNothingAreNoOperations() {
        MadeCurrent noise = new MadeCurrent(5000, 50, 3).noise(2).pause(3);
        assertTrue(Operations.of(noise.time(), noise.value(), 50).all().isEmpty());
        MadeCurrent nothing = new MadeCurrent(5000, 50, 3).pause(1);
        assertTrue(Operations.of(nothing.time(), nothing.value(), 50).all().isEmpty());
        assertThrows(SignalException.class, () -> Operations.of(nothing.time(), nothing.value(), 0));
        MadeCurrent coarse = new MadeCurrent(200, 50, 3).sine(1, 0, t -> 100);
        assertThrows(SignalException.class, () -> Operations.of(coarse.time(), coarse.value(), 50));
        assertThrows(
                SignalException.class, () -> Operations.of(new double[] {0, 0.1, 0.1}, new double[] {0, 1, 2}, 50));
        assertThrows(
                SignalException.class,
                () -> Operations.of(new double[] {0, 0.1, 0.2}, new double[] {0, Double.NaN, 2}, 50));
    }

    /** IEEE C37.112-2018, 4.3: a device that keeps its curve operates when the integral is 1, at any current. */
    @ParameterizedTest
    @CsvSource({"IEEE_VI, 2", "IEEE_EI, 1", "IEC_SI, 0.3", "IEEE_MI, 3"})
    void theIntegralIsOneWhereTheCurveIsKeptUnderAnyCurrent(InverseTimeCurve curve, double setting) {
        double pickUp = 100;
        Random random = new Random(curve.ordinal());
        for (int n = 0; n < 10; n++) {
            double level = pickUp * (2.5 + 5 * random.nextDouble());
            double dies = 1 + 4 * random.nextDouble();
            double share = 0;
            double trip = 0;
            while (share < 1) {
                double multiple = level * (0.6 + 0.4 * Math.exp(-trip / dies)) / pickUp;
                share += 1e-4 / curve.tripTime(setting, multiple).orElseThrow();
                trip += 1e-4;
            }
            MadeCurrent made = new MadeCurrent(5000, 50, n);
            made.pause(0.2)
                    .sine(trip, 0, t -> level * (0.6 + 0.4 * Math.exp(-t / dies)))
                    .pause(6);
            Operations.Operation op =
                    Operations.of(made.time(), made.value(), 50).all().get(0);
            double run = Operations.runThrough(
                    op, made.time(), made.value(), 0.02, i -> curve.tripTime(setting, i / pickUp));
            assertEquals(1, run, 0.01, curve + " " + n);
            assertEquals(0, Operations.runThrough(op, made.time(), made.value(), 0.02, i -> OptionalDouble.empty()));
        }
    }
}
