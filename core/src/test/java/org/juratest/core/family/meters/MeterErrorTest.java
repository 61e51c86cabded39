package org.juratest.core.family.meters;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Errors of meters by counting. */
class MeterErrorTest {

    @Test
    void anErrorIsOfTheReference() {
        MeterError slow = MeterError.byPulses(99, 1000, 0.1, 0.05, 0);
        assertEquals(-1, slow.percent(), 1e-9);
        assertEquals(99, slow.registration(), 1e-9);
        assertEquals(0.05, slow.uncertainty(), 1e-12, "edges timed by the reference add nothing");
        assertTrue(MeterError.byTime(99, 1000, 0.1, 0.05).uncertainty() > 0.8, "a count over a time is coarse");
    }

    /** What the uncertainty of a count over a time says is what counting gives, over all beginnings. */
    @Test
    void countingOverATimeScattersAsToldNoMoreAndNoLess() {
        SplittableRandom random = new SplittableRandom(5);
        double squares = 0;
        int tries = 20_000;
        double wanted = 40.37;
        for (int n = 0; n < tries; n++) {
            // Whole pulses between a beginning and an end, the length scattered by less than one either way.
            double begin = random.nextDouble();
            double length = wanted + random.nextDouble() - 0.5;
            double counted = Math.floor(begin + length) - Math.floor(begin);
            squares += Math.pow((counted - length) / length * 100, 2);
        }
        double told = MeterError.byTime(40, 1000, 0.04037, 0).uncertainty() / 2;
        assertEquals(Math.sqrt(squares / tries), told, 0.06 * told);
    }

    @Test
    void aRegisterIsAsFineAsItsLastDigit() {
        MeterError dial = MeterError.byRegister(1234.5, 1236.5, 0.1, 2.01, 0.1);
        assertEquals((2 - 2.01) / 2.01 * 100, dial.percent(), 1e-9);
        assertTrue(dial.uncertainty() > 4 && dial.uncertainty() < 4.2, dial.toString());
        assertThrows(IllegalArgumentException.class, () -> MeterError.byRegister(2, 2, 0.1, 1, 0));
    }

    @ParameterizedTest
    @CsvSource({"9,59.9,NOT_YET", "10,0,PULSES", "3,60,TIME", "10,60,PULSES", "11,70,PULSES"})
    void aTestEndsByWhicheverComesFirst(long pulses, double elapsed, MeterError.Ending.Reached reached) {
        assertEquals(reached, new MeterError.Ending(10, 60).at(pulses, elapsed));
    }

    /** One says how long; the other two follow, whichever is said. */
    @Test
    void pulsesEnergyAndTimeAreOne() {
        MeterError.Amount a = MeterError.Amount.ofPulses(10, 1000, 3450);
        assertEquals(0.01, a.energy(), 1e-12);
        assertEquals(0.01 / 3.45 * 3600, a.seconds(), 1e-9);
        for (MeterError.Amount same : new MeterError.Amount[] {
            MeterError.Amount.ofEnergy(a.energy(), 1000, 3450), MeterError.Amount.ofTime(a.seconds(), 1000, 3450)
        }) {
            assertEquals(a.pulses(), same.pulses(), 1e-9);
            assertEquals(a.energy(), same.energy(), 1e-12);
            assertEquals(a.seconds(), same.seconds(), 1e-9);
        }
        assertThrows(IllegalArgumentException.class, () -> MeterError.Amount.ofPulses(10, 1000, 0));
    }

    @Test
    void creepIsWatchedAsLongAsTheStandardSays() {
        // Class 1, three elements, 230 V, 60 A, 1000 pulses/kWh: 600e6 / (1000 x 3 x 230 x 60) = 14.5 min.
        assertEquals(14.49, MeterError.creepMinutes(600, 1000, 3, 230, 60), 0.01);
        assertThrows(IllegalArgumentException.class, () -> MeterError.creepMinutes(600, 0, 3, 230, 60));
        assertEquals(4000, MeterError.demand(1000, 900), 1e-9);
    }

    @ParameterizedTest
    @CsvSource({"0,1000,0.1", "5,0,0.1", "5,1000,0", "5,1000,NaN"})
    void whatGivesNoErrorIsRefused(long pulses, double constant, double reference) {
        assertThrows(IllegalArgumentException.class, () -> MeterError.byPulses(pulses, constant, reference, 0.1, 0));
        assertThrows(IllegalArgumentException.class, () -> MeterError.byTime(pulses, constant, reference, 0.1));
    }
}
