package org.juratest.core.family.breakers;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.verifyNoInteractions;

import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.bench.Gate;
import org.juratest.core.method.StopSignal;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.Announcement.Bound;

class SwitchingTest {

    /** A record with what was put in, s from the command and mm. */
    private static final class Made {
        private final double rate;
        private final double command;
        private final int n;
        private final float[] travel;
        private final float[] coil;
        private final float[][] contacts;
        private final Random random;

        Made(double rate, double command, double seconds, long seed) {
            this.rate = rate;
            this.command = command;
            this.n = (int) (rate * (command + seconds));
            this.travel = new float[n];
            this.coil = new float[n];
            this.contacts = new float[3][n];
            this.random = new Random(seed);
        }

        private double at(int i) {
            return i / rate - command;
        }

        /** From one place to another, evenly within a time; beyond it by some, back by some, then at rest. */
        Made moves(double from, double to, double begins, double lasts, double beyond, double back) {
            double way = Math.signum(to - from);
            for (int i = 0; i < n; i++) {
                double t = at(i) - begins;
                double swing = t - lasts;
                double place = t <= 0
                        ? from
                        : t < lasts
                                ? from + (to - from) * t / lasts
                                : swing < 0.004
                                        ? to + way * beyond * Math.sin(Math.PI * swing / 0.004)
                                        : swing < 0.01
                                                ? to - way * back * Math.sin(Math.PI * (swing - 0.004) / 0.006)
                                                : to;
                travel[i] = (float) (place + 0.01 * (random.nextDouble() - 0.5));
            }
            return this;
        }

        /** A current that grows towards its end, with a dip; interrupted at the end. */
        Made coil(double end, double constant, double dipAt, double dip, double interrupted) {
            for (int i = 0; i < n; i++) {
                double t = at(i);
                double current = t <= 0 || t > interrupted ? 0 : end * (1 - Math.exp(-t / constant));
                double off = (t - dipAt) / 0.001;
                current -= t > 0 && t < interrupted ? dip * Math.exp(-off * off) : 0;
                coil[i] = (float) (current + 0.002 * end * (random.nextDouble() - 0.5));
            }
            return this;
        }

        Made contact(int pole, boolean closed, double... changes) {
            for (int i = 0; i < n; i++) {
                boolean now = closed;
                for (double change : changes) {
                    now ^= at(i) >= change;
                }
                contacts[pole][i] = now ? 1 : 0;
            }
            return this;
        }

        SwitchingRecord record() {
            return new SwitchingRecord(rate, contacts, travel, coil);
        }
    }

    private static Switching of(Made made) {
        return Switching.of(made.record(), 6).orElseThrow();
    }

    @ParameterizedTest
    @CsvSource({"10000, 0.01", "20000, 0.05", "50000, 0.013"})
    void openingsAreToldAsTheyWereMade(double rate, double command) {
        Random random = new Random(7);
        for (int k = 0; k < 40; k++) {
            double begins = 0.02 + 0.02 * random.nextDouble();
            double stroke = 8 + 10 * random.nextDouble();
            double lasts = stroke / 1000 / (0.8 + random.nextDouble());
            double back = 0.2 + random.nextDouble();
            double[] parts = new double[3];
            Made made = new Made(rate, command, 0.2, k)
                    .moves(stroke, 0, begins, lasts, 0.4, back)
                    .coil(2, 0.01, 0.012 + 0.003 * random.nextDouble(), 0.35, 0.05);
            for (int pole = 0; pole < 3; pole++) {
                parts[pole] = begins + 0.0005 + 0.1 * lasts * random.nextDouble();
                made.contact(pole, true, parts[pole]);
            }
            Switching found = of(made);
            double sample = 1.5 / rate + 0.0003;
            for (int pole = 0; pole < 3; pole++) {
                assertEquals(parts[pole], found.poles().get(pole).parted().orElseThrow(), sample, "pole " + pole);
                assertTrue(found.poles().get(pole).made().isEmpty());
            }
            double last = Math.max(parts[0], Math.max(parts[1], parts[2]));
            double first = Math.min(parts[0], Math.min(parts[1], parts[2]));
            assertEquals(last - first, found.spread(Switching.Pole::parted).orElseThrow(), 2.1 / rate);
            Switching.Motion motion = found.motion().orElseThrow();
            assertEquals(stroke, motion.stroke(), 0.05);
            assertEquals(0.4, motion.overtravel(), 0.06);
            assertEquals(back, motion.rebound(), 0.06);
            assertEquals(stroke / 1000 / lasts, motion.speed().orElseThrow(), 0.03 * stroke / 1000 / lasts);
        }
    }

    /** Bounces are no partings, a spike on the line is no bounce, and both operations of a close-open are told. */
    @Test
    void bouncesGlitchesAndPartingsAreToldApart() {
        Made made = new Made(20_000, 0.01, 0.25, 3)
                .moves(0, 14, 0.04, 0.014, 0.3, 0.2)
                .coil(2, 0.01, 0.014, 0.35, 0.06);
        made.contact(0, false, 0.05, 0.0506, 0.0512, 0.11)
                .contact(1, false, 0.051, 0.112)
                // One sample of noise long before it touches.
                .contact(2, false, 0.02, 0.02005, 0.0505, 0.111);
        Switching found = of(made);
        assertEquals(0.0012, found.poles().get(0).bounce().orElseThrow(), 0.0001);
        assertEquals(0, found.poles().get(1).bounce().orElseThrow());
        assertEquals(0.0505, found.poles().get(2).made().orElseThrow(), 0.0004);
        assertEquals(0.112 - 0.05, found.closeOpen().orElseThrow(), 0.0002);
        assertEquals(0.002, found.spread(Switching.Pole::parted).orElseThrow(), 0.0002);
    }

    @Test
    void theArmatureIsSeenInTheDipAndOnlyThere() {
        Made dips = new Made(20_000, 0.02, 0.2, 5).coil(2, 0.01, 0.015, 0.3, 0.05);
        Switching.Coil coil = of(dips).coil();
        assertEquals(0.015, coil.latch().orElseThrow(), 0.001);
        assertEquals(0.05, coil.ends().orElseThrow(), 0.0006);
        assertEquals(2, coil.peak(), 0.03);
        Switching.Coil even =
                of(new Made(20_000, 0.02, 0.2, 6).coil(2, 0.01, 0.015, 0, 1)).coil();
        assertTrue(even.latch().isEmpty(), "an even current has no dip: " + even);
        assertTrue(even.ends().isEmpty(), "nothing interrupted it");
        Switching.Coil cut =
                of(new Made(20_000, 0.02, 0.2, 8).coil(2, 0.01, 0.015, 0, 0.03)).coil();
        assertTrue(cut.latch().isEmpty(), "where it is interrupted is no dip: " + cut);
    }

    @Test
    void whatDoesNotMoveHasNoTimesAndWithoutACommandThereIsNothing() {
        Made still =
                new Made(10_000, 0.01, 0.1, 1).coil(2, 0.01, 0.015, 0.3, 0.05).contact(1, true);
        Switching found = of(still);
        assertTrue(found.motion().isEmpty());
        assertTrue(found.closeOpen().isEmpty()
                && found.last(Switching.Pole::parted).isEmpty());
        // One pole of three: the others are told, the whole is not.
        Made lazy = new Made(10_000, 0.01, 0.1, 1)
                .coil(2, 0.01, 0.015, 0.3, 0.05)
                .contact(0, true, 0.03)
                .contact(1, true)
                .contact(2, true, 0.031);
        assertEquals(0.03, of(lazy).poles().get(0).parted().orElseThrow(), 0.0005);
        assertEquals(OptionalDouble.empty(), of(lazy).last(Switching.Pole::parted));
        assertTrue(Switching.of(new Made(10_000, 0.01, 0.1, 1).record(), 6).isEmpty());
    }

    @ParameterizedTest
    @CsvSource({"0, 100, 100, 100", "10000, 5, 5, 5", "10000, 100, 99, 100", "10000, 100, 100, 99", "1e9, 90, 90, 90"})
    void channelsThatDoNotBelongTogetherAreNoRecord(double rate, int travel, int coil, int contact) {
        assertThrows(
                IllegalArgumentException.class,
                () -> new SwitchingRecord(
                        rate, new float[][] {new float[contact]}, new float[travel], new float[coil]));
    }

    @Test
    void samplesThatAreNoNumbersAreNoRecord() {
        float[] bad = new float[100];
        bad[40] = Float.NaN;
        float[] good = new float[100];
        assertThrows(IllegalArgumentException.class, () -> new SwitchingRecord(1000, new float[][] {good}, bad, good));
        assertThrows(IllegalArgumentException.class, () -> new SwitchingRecord(1000, new float[][] {bad}, good, good));
    }

    /** The coil gets no more than was announced, whatever a method asks for. */
    @ParameterizedTest
    @CsvSource({"121.1, 0.3", "-130, 0.3", "NaN, 0.3", "110, 1.1", "110, Infinity"})
    void moreThanAnnouncedReachesNoCoil(double voltage, double seconds) {
        Announcement announced = new Announcement(
                "open",
                "-",
                "any",
                "110 V",
                true,
                Map.of(),
                List.of(Bound.upTo("voltage", 121, "V", "announced"), Bound.upTo("time", 1, "s", "the procedure")),
                List.of("OperationRecorder"),
                1,
                List.of("brk-1"));
        OperationRecorder recorder = mock(OperationRecorder.class);
        Gate gate = new Gate(announced, new StopSignal(), () -> {});
        OperationRecorder limited = gate.limited(OperationRecorder.class, recorder);
        assertThrows(
                Gate.NotAnnouncedException.class,
                () -> limited.prepare(OperationRecorder.Command.OPEN, voltage, seconds));
        verifyNoInteractions(recorder);
        limited.prepare(OperationRecorder.Command.OPEN, 110, 0.3);
        verify(recorder).prepare(OperationRecorder.Command.OPEN, 110, 0.3);
    }
}
