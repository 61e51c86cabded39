package org.juratest.core.family.breakers;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.family.breakers.PickUp.Detector;

class PickUpTest {

    @ParameterizedTest
    @CsvSource({
        // rate, line, noise A, what is left after the contacts parted
        "10000, 50, 0, 0",
        "10000, 50, 0.3, 0.1",
        "4800, 60, 0.2, 0.5",
        "20000, 50, 0.5, 0.75"
    })
    void aFallShowsTheCurrentOfTheLastCycleBefore(double rate, double line, double noise, double left) {
        Random random = new Random((long) (rate * left));
        for (int n = 0; n < 20; n++) {
            double begins = 40 + 20 * random.nextDouble();
            double grows = 2 + 20 * random.nextDouble();
            double at = 1 + 3 * random.nextDouble();
            double phase = 2 * Math.PI * line * at;
            MadeCurrent made = new MadeCurrent(rate, line, n).noise(noise);
            made.pause(0.1);
            double parted = made.now() + at;
            made.sine(at, 0, t -> begins + grows * t);
            double last = begins + grows * at;
            made.sine(0.5, phase, t -> left * last);
            PickUp found = PickUp.of(made.time(), made.value(), line, Detector.FALL)
                    .orElseThrow(() -> new AssertionError("nothing found"));
            double want = begins + grows * (at - 0.5 / line);
            assertEquals(want, found.current(), 0.006 * want + 2 * noise / Math.sqrt(rate / line), "ramp " + n);
            assertEquals(parted, found.parted(), 0.3 / line, "ramp " + n);
            assertEquals(Detector.FALL, found.by());
        }
    }

    @ParameterizedTest
    @CsvSource({"0, 0", "0.2, 0.1", "0.3, -0.15"})
    void whereNothingFallsTheRampLevelsOff(double noise, double after) {
        Random random = new Random(7);
        for (int n = 0; n < 20; n++) {
            double begins = 30 + 40 * random.nextDouble();
            double grows = 4 + 10 * random.nextDouble();
            double at = 1.5 + 3 * random.nextDouble();
            MadeCurrent made = new MadeCurrent(5000, 50, n).noise(noise);
            made.pause(0.1).sine(at, 0, t -> begins + grows * t);
            double last = begins + grows * at;
            made.sine(1.5, 2 * Math.PI * 50 * at, t -> last + after * grows * t);
            Optional<PickUp> found = PickUp.of(made.time(), made.value(), 50, Detector.LEVELLING);
            assertTrue(found.isPresent(), "ramp " + n);
            assertEquals(last, found.get().current(), 0.01 * last, "ramp " + n);
            assertEquals(Optional.empty(), PickUp.of(made.time(), made.value(), 50, Detector.FALL));
        }
    }

    @Test
    void aRampThatGoesOnShowsNothing() {
        MadeCurrent ramp = new MadeCurrent(5000, 50, 1).noise(0.2);
        ramp.pause(0.1).sine(4, 0, t -> 20 + 15 * t);
        MadeCurrent steady = new MadeCurrent(5000, 50, 1).noise(0.2);
        steady.pause(0.1).sine(4, 0, t -> 100);
        MadeCurrent none = new MadeCurrent(5000, 50, 1).noise(0.2).pause(2);
        for (MadeCurrent made : new MadeCurrent[] {ramp, steady, none}) {
            for (Detector by : Detector.values()) {
                assertEquals(Optional.empty(), PickUp.of(made.time(), made.value(), 50, by), String.valueOf(by));
            }
        }
    }
}
