package org.juratest.core.signal;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.juratest.core.correction.PathLoss;

class LevelsTest {

    @Test
    void aQuarterOfAMicrovoltIsThatManyDecibels() {
        assertEquals(-119.03, RfLevel.dbmOfMicrovolts(0.25), 0.005); // as the trade's tables have it
        assertEquals(0.25, RfLevel.microvolts(-119.031), 1e-4);
        assertEquals(5, RfLevel.watts(RfLevel.dbm(5)), 1e-12);
        assertEquals(36.99, RfLevel.dbm(5), 0.001);
        assertTrue(Double.isNaN(RfLevel.dbm(-1)) && Double.isNaN(RfLevel.dbm(Double.NaN)));
        assertEquals(Double.NEGATIVE_INFINITY, RfLevel.dbm(0));
    }

    @Test
    void powerBesideTheChannelIsThatOfTheLinesThere() {
        Iq iq = Made.carrier(0.5, 96_000, 0.5, t -> 0);
        double[] i = iq.i();
        double[] q = iq.q();
        for (int n = 0; n < i.length; n++) {
            double up = 2 * Math.PI * 12_000 * n / 96_000;
            double down = 2 * Math.PI * -14_000 * n / 96_000;
            i[n] += 0.5e-3 * Math.cos(up) + 0.5e-3 * Math.sqrt(0.1) * Math.cos(down);
            q[n] += 0.5e-3 * Math.sin(up) + 0.5e-3 * Math.sqrt(0.1) * Math.sin(down);
        }
        AdjacentChannels found = AdjacentChannels.of(new Iq(i, q, 96_000), 12_500, 8500);
        assertEquals(-60, found.upper(), 0.05);
        assertEquals(-70, found.lower(), 0.05);
        assertEquals(-60, found.greater(), 0.05);
        // A clean carrier leaks less than any limit asks for.
        assertTrue(AdjacentChannels.of(Made.carrier(0.5, 96_000, 0.5, t -> 700 * t), 12_500, 8500)
                        .greater()
                < -95);
    }

    @Test
    void modulationReachesIntoTheNextChannelAsBesselSays() {
        // Deviation over tone 5: lines at n kHz of J_n(5); the channel at 12.5 kHz, 8.5 kHz wide, has n = 9 to 16.
        AdjacentChannels found =
                AdjacentChannels.of(Made.carrier(0.5, 96_000, 0.5, Made.tone(1000, 5000, 0)), 12_500, 8500);
        double[] j = {-0.17759677, -0.32757914, 0.04656512, 0.36483123, 0.39123236
        }; // J_0 to J_4 of 5, Abramowitz and Stegun, table 9.4
        double own = j[0] * j[0];
        for (int n = 1; n <= 4; n++) {
            own += 2 * j[n] * j[n];
        }
        double beside = Math.pow(5.52028e-3, 2)
                + Math.pow(1.46780e-3, 2)
                + Math.pow(3.50927e-4, 2)
                + Math.pow(7.62781e-5, 2); // J_9 to J_12
        assertEquals(10 * Math.log10(beside / own), found.upper(), 0.05);
        assertEquals(found.upper(), found.lower(), 0.05);
    }

    @Test
    void channelsThatMakeNoSenseAreRefused() {
        Iq iq = Made.carrier(0.2, 48_000, 0.5, t -> 0);
        assertEquals(
                "rate-too-low",
                assertThrows(SignalException.class, () -> AdjacentChannels.of(iq, 25_000, 16_000))
                        .code());
        assertEquals(
                "bad-channel",
                assertThrows(SignalException.class, () -> AdjacentChannels.of(iq, 12_500, Double.NaN))
                        .code());
        assertEquals(
                "too-short",
                assertThrows(SignalException.class, () -> AdjacentChannels.of(iq.part(0, 100), 12_500, 8500))
                        .code());
        assertEquals(
                "silence",
                assertThrows(
                                SignalException.class,
                                () -> AdjacentChannels.of(
                                        new Iq(new double[9600], new double[9600], 48_000), 12_500, 8500))
                        .code());
    }

    @Test
    void pathLossIsLinearOverTheRootOfFrequency() {
        PathLoss loss = new PathLoss(List.of(
                new PathLoss.LossPoint(100, 30.2),
                new PathLoss.LossPoint(400, 30.6),
                new PathLoss.LossPoint(900, 31.3)));
        assertEquals(30.4, loss.at(225e6), 1e-9); // root 15 is half-way from 10 to 20
        assertEquals(30.95, loss.at(625e6), 1e-9);
        assertEquals(30.6, loss.at(400e6), 1e-9);
        assertEquals(30.2, loss.at(30e6), 1e-9);
        assertEquals(31.3, loss.at(2e9), 1e-9);
        assertTrue(loss.covers(100e6)
                && loss.covers(900e6)
                && !loss.covers(99e6)
                && !loss.covers(901e6)
                && !loss.covers(Double.NaN));
        assertThrows(IllegalArgumentException.class, () -> new PathLoss(List.of()));
        assertThrows(
                IllegalArgumentException.class,
                () -> new PathLoss(List.of(new PathLoss.LossPoint(400, 1), new PathLoss.LossPoint(100, 1))));
        for (double bad : new double[] {Double.NaN, -1, 0, Double.POSITIVE_INFINITY}) {
            assertThrows(IllegalArgumentException.class, () -> new PathLoss.LossPoint(bad, 1));
        }
        assertThrows(IllegalArgumentException.class, () -> new PathLoss.LossPoint(100, Double.NaN));
    }
}
