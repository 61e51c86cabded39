package org.juratest.core.family.meters;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.signal.SignalException;

/** Quantities of three phases from samples. */
class ThreePhaseTest {

    static final double RATE = 6400;

    /** A wave: fundamental of an rms and an angle, a fifth harmonic as a share of it, a direct part. */
    record Wave(double rms, double degrees, double fifth, double direct) {
        double at(double t, double hertz) {
            double a = 2 * Math.PI * hertz * t + Math.toRadians(degrees);
            return direct + Math.sqrt(2) * rms * (Math.cos(a) + fifth * Math.cos(5 * a));
        }
    }

    static double[][] sampled(List<Wave> waves, double hertz, double seconds) {
        double[][] all = new double[waves.size()][(int) Math.round(seconds * RATE)];
        for (int w = 0; w < all.length; w++) {
            for (int k = 0; k < all[w].length; k++) {
                all[w][k] = waves.get(w).at(k / RATE, hertz);
            }
        }
        return all;
    }

    private static Wave sine(double rms, double degrees) {
        return new Wave(rms, degrees, 0, 0);
    }

    private static ThreePhase of(double hertz, List<Wave> u, List<Wave> i) {
        return ThreePhase.of(RATE, sampled(u, hertz, 0.2), sampled(i, hertz, 0.2));
    }

    /** Whatever the frequency and wherever it begins: magnitudes, angles and powers are those of the waves. */
    @RepeatedTest(40)
    void sinesGiveWhatTheyAreMadeOf(RepetitionInfo nth) {
        SplittableRandom random = new SplittableRandom(nth.getCurrentRepetition());
        double hertz = 47 + 6 * random.nextDouble();
        double begin = 360 * random.nextDouble();
        double phi = 150 * random.nextDouble() - 75;
        List<Wave> u = List.of(sine(230, begin), sine(231, begin - 120), sine(229, begin - 240));
        List<Wave> i = List.of(sine(5, begin - phi), sine(4, begin - 120 - phi), sine(3, begin - 240 - phi));
        ThreePhase found = of(hertz, u, i);
        assertEquals(hertz, found.frequency(), 0.01);
        assertEquals(ThreePhase.Rotation.POSITIVE, found.rotation());
        double watts = 0;
        for (int k = 0; k < 3; k++) {
            PhaseQuantities p = found.phases().get(k);
            double s = u.get(k).rms() * i.get(k).rms();
            assertEquals(u.get(k).rms(), p.voltage(), 0.1);
            assertEquals(i.get(k).rms(), p.current(), 0.005);
            assertEquals(0, Math.IEEEremainder(p.voltageAngle() + 120.0 * k, 360), 0.1);
            assertEquals(0, Math.IEEEremainder(p.currentAngle() + 120.0 * k + phi, 360), 0.1);
            assertEquals(s * Math.cos(Math.toRadians(phi)), p.active(), 2e-3 * s);
            assertEquals(s * Math.sin(Math.toRadians(phi)), p.reactive(), 2e-3 * s);
            assertEquals(s, p.apparent(), 2e-3 * s);
            assertTrue(p.distortion() < 0.07 * s, "a sine has none: " + p.distortion());
            assertTrue(p.voltageThd() < 0.02, "THD " + p.voltageThd());
            watts += s * Math.cos(Math.toRadians(phi));
        }
        assertEquals(watts, found.active(), 3e-3 * found.apparent());
    }

    /** IEEE 1459: harmonics of current alone carry no power, but they are in S and in D; S^2 = P^2 + Q^2 + D^2. */
    @Test
    void harmonicsAreInTheApparentPowerAndInDistortion() {
        List<Wave> u = List.of(sine(230, 0), sine(230, -120), sine(230, 120));
        List<Wave> i = List.of(new Wave(10, -30, 0.4, 0), sine(10, -150), sine(10, 90));
        PhaseQuantities bent = of(50, u, i).phases().get(0);
        double rms = 10 * Math.sqrt(1 + 0.16);
        assertEquals(rms, bent.current(), 1e-3);
        assertEquals(0.4, bent.currentThd(), 1e-3);
        assertEquals(2300 * Math.cos(Math.PI / 6), bent.active(), 1);
        assertEquals(2300 * 0.5, bent.reactive(), 1);
        assertEquals(230 * rms, bent.apparent(), 1);
        assertEquals(2300 * 0.4, bent.distortion(), 2);
        assertEquals(
                bent.apparent() * bent.apparent(),
                bent.active() * bent.active()
                        + bent.reactive() * bent.reactive()
                        + bent.distortion() * bent.distortion(),
                1);
        assertEquals(Math.cos(Math.PI / 6), bent.displacement(), 1e-3);
        assertTrue(
                bent.powerFactor() < bent.displacement(), "distortion lowers the power factor, not the displacement");
    }

    @Test
    void aDirectPartIsInTheRmsAndNotInTheThd() {
        List<Wave> u = List.of(sine(230, 0), sine(230, -120), sine(230, 120));
        List<Wave> i = List.of(new Wave(10, 0, 0, 5), sine(10, -120), sine(10, 120));
        PhaseQuantities p = of(50, u, i).phases().get(0);
        assertEquals(Math.hypot(10, 5), p.current(), 1e-3);
        assertEquals(0, p.currentThd(), 1e-3);
        assertEquals(2300, p.active(), 2, "a direct current under an alternating voltage carries no power");
    }

    @ParameterizedTest
    @CsvSource({"0,-120,120,POSITIVE", "0,120,-120,NEGATIVE", "40,160,-80,NEGATIVE", "0,0,0,UNKNOWN"})
    void theRotationIsThatOfTheVoltages(double a, double b, double c, ThreePhase.Rotation rotation) {
        List<Wave> i = List.of(sine(1, a), sine(1, b), sine(1, c));
        assertEquals(
                rotation,
                of(50, List.of(sine(230, a), sine(230, b), sine(230, c)), i).rotation());
    }

    @Test
    void withAVoltageMissingNobodyKnowsHowTheyTurnAndTheOthersAreTold() {
        List<Wave> u = List.of(sine(0, 0), sine(230, -120), sine(230, 120));
        ThreePhase found = of(50, u, List.of(sine(5, 0), sine(5, -120), sine(5, 120)));
        assertEquals(ThreePhase.Rotation.UNKNOWN, found.rotation());
        assertEquals(0, found.phases().get(1).voltageAngle(), 0.01, "the first there is lies at 0");
        assertEquals(List.of(1), WiringCheck.missingVoltages(found));
        assertEquals(0, found.phases().get(0).active(), 1e-6);
        assertEquals(1150, found.phases().get(1).active(), 1);
    }

    @Test
    void symmetricalComponentsMakeThePhasorsAgain() {
        SplittableRandom random = new SplittableRandom(3);
        for (int n = 0; n < 50; n++) {
            List<Phasor> three = List.of(
                    Phasor.of(random.nextDouble(), 360 * random.nextDouble()),
                    Phasor.of(random.nextDouble(), 360 * random.nextDouble()),
                    Phasor.of(random.nextDouble(), 360 * random.nextDouble()));
            ThreePhase.Symmetrical s = ThreePhase.Symmetrical.of(three);
            for (int k = 0; k < 3; k++) {
                Phasor again = s.zero()
                        .plus(s.positive().turned(-120.0 * k))
                        .plus(s.negative().turned(120.0 * k));
                assertEquals(three.get(k).re(), again.re(), 1e-12);
                assertEquals(three.get(k).im(), again.im(), 1e-12);
            }
        }
    }

    @Test
    void whatCannotBeComputedIsRefused() {
        double[][] good = sampled(List.of(sine(230, 0), sine(230, -120), sine(230, 120)), 50, 0.2);
        double[][] two = {good[0], good[1]};
        double[][] none = new double[3][good[0].length];
        double[][] shorter = {new double[100], new double[100], new double[100]};
        double[][] bad = sampled(List.of(sine(230, 0), sine(230, -120), sine(230, 120)), 50, 0.2);
        bad[2][17] = Double.NaN;
        assertEquals("bad-samples", code(() -> ThreePhase.of(RATE, two, good)));
        assertEquals("bad-samples", code(() -> ThreePhase.of(RATE, good, bad)));
        assertEquals("bad-samples", code(() -> ThreePhase.of(50, good, good)));
        assertEquals("bad-samples", code(() -> ThreePhase.of(RATE, good, shorter)));
        assertEquals("too-short", code(() -> ThreePhase.of(RATE, shorter, shorter)));
        assertEquals("no-voltage", code(() -> ThreePhase.of(RATE, none, good)));
        double[][] slow = sampled(List.of(sine(230, 0), sine(230, -120), sine(230, 120)), 16.7, 1);
        assertEquals("no-frequency", code(() -> ThreePhase.of(RATE, slow, slow)));
    }

    private static String code(Runnable action) {
        return assertThrows(SignalException.class, action::run).code();
    }
}
