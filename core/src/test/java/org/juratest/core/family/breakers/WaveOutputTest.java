package org.juratest.core.family.breakers;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.verifyNoInteractions;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.bench.Gate;
import org.juratest.core.method.Method;
import org.juratest.core.method.StopException;
import org.juratest.core.method.StopSignal;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.OutputEvents;

/** Pulses, ramps and sustained currents: whatever a method asks of them, the gear gets what was announced. */
class WaveOutputTest {

    private static final Announcement ANNOUNCED = new Announcement(
            "sequence",
            "B.1",
            "any",
            "560 A",
            true,
            Map.of(),
            List.of(Bound.upTo("current", 560, "A", "announced"), Bound.upTo("time", 60, "s", "the procedure")),
            List.of("WaveSource"),
            60,
            List.of("inj-2"));

    private final WaveSource source = mock(WaveSource.class);
    private final StopSignal stop = new StopSignal();
    private final Gate gate = new Gate(ANNOUNCED, stop, () -> {});
    private final WaveSource limited = gate.limited(WaveSource.class, source);

    @ParameterizedTest
    @CsvSource({"560.1, 0.1", "5000, 0.1", "-561, 0.1", "NaN, 0.1", "Infinity, 0.1", "100, 60.1", "100, NaN"})
    void moreThanAnnouncedReachesTheGearByNoWay(double current, double time) {
        assertThrows(Gate.NotAnnouncedException.class, () -> limited.preparePulse(current, 5000, time, 90));
        assertThrows(Gate.NotAnnouncedException.class, () -> limited.prepareRamp(current, 5000, 10, 5, time));
        assertThrows(Gate.NotAnnouncedException.class, () -> limited.prepareSustained(current, 5000, time));
        assertThrows(Gate.NotAnnouncedException.class, () -> limited.prepare(current, 5000, time));
        verifyNoInteractions(source);
    }

    @Test
    void aRampMayNotBeginAboveEither() {
        assertThrows(Gate.NotAnnouncedException.class, () -> limited.prepareRamp(100, 5000, 600, 5, 10));
        verifyNoInteractions(source);
    }

    @Test
    void nothingGoesOnWithWhatWasSetBeforeNorAfterAStop() {
        assertThrows(Gate.NotAnnouncedException.class, limited::outputOn);
        limited.prepareSustained(560, 1000, 60);
        stop.request(OutputEvents.OffReason.STOPPED, "somebody pressed");
        assertThrows(StopException.class, limited::outputOn);
        gate.close();
        assertThrows(RuntimeException.class, () -> limited.preparePulse(1, 150, 0.1, 0));
        verify(source).prepareSustained(560, 1000, 60);
        org.mockito.Mockito.verifyNoMoreInteractions(source);
    }

    /** Each states what can hurt, and what its greatest current and time may be: a procedure has to bound both. */
    @Test
    void everyMethodThatInjectsIsBoundByItsProcedure() {
        for (Method method :
                List.of(new LongTimeTrip(), new Pulses(), new PickUpRamp(), new Sequence(), new ByHand())) {
            MethodSpec spec = method.spec();
            assertEquals(MethodSpec.Hazard.CURRENT, spec.hazard(), spec.name());
            assertTrue(spec.maxima().keySet().containsAll(List.of("current", "time")), spec.name());
        }
    }

    /** However a hand raises it, and however often: never beyond what was announced, nor without a beginning. */
    @ParameterizedTest
    @CsvSource({"560.1", "-561", "NaN", "Infinity"})
    void noHandRaisesBeyondWhatWasAnnounced(double current) {
        Announcement announced = new Announcement(
                "byHand",
                "B",
                "any",
                "560 A",
                true,
                Map.of(),
                List.of(Bound.upTo("current", 560, "A", "announced"), Bound.upTo("time", 60, "s", "the procedure")),
                List.of("HandSource"),
                60,
                List.of("inj-2"));
        HandSource set = mock(HandSource.class);
        HandSource held = new Gate(announced, new StopSignal(), () -> {}).limited(HandSource.class, set);
        assertThrows(Gate.NotAnnouncedException.class, () -> held.prepareAdjustable(current, 5000, 10));
        assertThrows(Gate.NotAnnouncedException.class, () -> held.prepareAdjustable(100, 5000, 61));
        held.adjust(560);
        assertThrows(Gate.NotAnnouncedException.class, held::outputOn, "how long it may be was not set");
        held.prepareAdjustable(100, 5000, 60);
        held.outputOn();
        assertThrows(Gate.NotAnnouncedException.class, () -> held.adjust(current));
        verify(set, org.mockito.Mockito.times(1)).adjust(560);
        verify(set, org.mockito.Mockito.never()).adjust(current);
    }

    // ---- the way of pulses

    @ParameterizedTest
    @CsvSource({"100, 10, 400, 237", "100, 10, 400, 100.5", "608, 88.5, 1111, 880", "50, 1, 60, 59.9"})
    void pulsesClimbToTheLeastThatTrips(double start, double step, double highest, double trips) {
        PulseSearch search = new PulseSearch(start, step, highest);
        double last = 0;
        while (!search.isDone()) {
            assertTrue(search.next() > last && search.next() <= highest);
            last = search.next();
            search.was(last >= trips);
        }
        assertTrue(search.isFound());
        assertTrue(search.next() >= trips && search.next() < trips + step, search.next() + " A");
        assertTrue(search.lastHeld() < trips && search.lastHeld() >= trips - step);
    }

    @Test
    void theFirstPulseSaysOnlyAtOrBelowAndNoneSaysAbove() {
        PulseSearch first = new PulseSearch(100, 10, 200);
        first.was(true);
        assertTrue(first.isDone() && first.isAtOrBelow() && !first.isFound());
        assertTrue(Double.isNaN(first.lastHeld()));
        PulseSearch none = new PulseSearch(100, 30, 200);
        int pulses = 0;
        while (!none.isDone()) {
            none.was(false);
            pulses++;
        }
        assertEquals(5, pulses, "the last one is the highest that may be, however the steps fall");
        assertEquals(200, none.lastHeld());
        assertTrue(!none.isFound() && !none.isAtOrBelow());
        for (double[] bad : new double[][] {{0, 1, 2}, {1, 0, 2}, {3, 1, 2}, {Double.NaN, 1, 2}}) {
            assertThrows(IllegalArgumentException.class, () -> new PulseSearch(bad[0], bad[1], bad[2]));
        }
    }

    /** Symmetrical rms, peak and offset of pulses whose figures are known. */
    @ParameterizedTest
    @CsvSource({"0, 0", "30, 0.5", "90, 1"})
    void aPulseIsToldByItsAlternatingPartItsPeakAndItsOffset(double degrees, double share) {
        double angle = Math.toRadians(degrees);
        MadeCurrent made = new MadeCurrent(9600, 50, 4).noise(0.5);
        double w = 2 * Math.PI * 50;
        made.piece(0.1, t -> 500 * Math.sqrt(2) * (Math.sin(angle + w * t) - Math.sin(angle) * Math.exp(-t / 0.02)));
        made.pause(0.05);
        PulseWave wave = PulseWave.of(made.time(), made.value(), 50);
        assertEquals(500, wave.symmetrical(), 3);
        assertEquals(0.1, wave.flowed(), 0.002);
        // The direct part begins with the share of the peak, and its mean over a cycle of 20 ms is 1 - 1/e of that.
        assertEquals(100 * share * (1 - Math.exp(-1)), wave.offset(), 5);
        assertTrue(wave.peak() >= 700 && wave.peak() < 700 * (1 + share) + 10, "" + wave.peak());
    }

    /** A lead that fell off looks like a trip to gear that waits for one: no current shows in the samples. */
    @Test
    void whereNothingFlowedThePeakIsThatOfTheNoise() {
        MadeCurrent noise = new MadeCurrent(4800, 50, 9).noise(2).pause(0.16);
        assertTrue(PulseWave.of(noise.time(), noise.value(), 50).peak() < 12);
        MadeCurrent nothing = new MadeCurrent(4800, 50, 9).pause(0.16);
        assertEquals(0, PulseWave.of(nothing.time(), nothing.value(), 50).peak());
    }

    /** Residual currents too: neither held nor growing do they go beyond what was announced. */
    @ParameterizedTest
    @CsvSource({"0.0331, 0.5", "-0.04, 0.5", "NaN, 0.5", "0.03, 10.1"})
    void noMoreResidualCurrentThanAnnounced(double current, double time) {
        Announcement announced = new Announcement(
                "once",
                "p",
                "any",
                "30 mA",
                true,
                Map.of(),
                List.of(Bound.upTo("current", 0.033, "A", "announced"), Bound.upTo("time", 10, "s", "the procedure")),
                List.of("ResidualTester"),
                10,
                List.of("rcd-1"));
        ResidualTester tester = mock(ResidualTester.class);
        ResidualTester held = new Gate(announced, new StopSignal(), () -> {}).limited(ResidualTester.class, tester);
        assertThrows(Gate.NotAnnouncedException.class, () -> held.prepareHeld(current, 0, time));
        assertThrows(Gate.NotAnnouncedException.class, () -> held.prepareSteps(0.006, current, 18, time, 0));
        assertThrows(Gate.NotAnnouncedException.class, () -> held.prepareSteps(current, 0.03, 18, time, 0));
        verifyNoInteractions(tester);
    }

    /**
     * Each current and the voltage of a relay's test set: none of them beyond what was announced, however it is given.
     */
    @ParameterizedTest
    @CsvSource({"1.7, 60, 0, 1", "1.6, 111, 0, 1", "1.6, 60, 1.7, 1", "1.6, 60, NaN, 1", "1.6, 60, 0, 2.1"})
    void aRelayGetsNoMoreThanAnnounced(double current, double voltage, double other, double time) {
        Announcement announced = new Announcement(
                "directional",
                "-",
                "any",
                "1.6 A and 60 V",
                true,
                Map.of(),
                List.of(
                        Bound.upTo("current", 1.6, "A", "announced"),
                        Bound.upTo("voltage", 110, "V", "announced"),
                        Bound.upTo("time", 2, "s", "the procedure")),
                List.of("RelayTestSet"),
                2,
                List.of("rel-1"));
        RelayTestSet set = mock(RelayTestSet.class);
        RelayTestSet held = new Gate(announced, new StopSignal(), () -> {}).limited(RelayTestSet.class, set);
        RelayTestSet.Injected what = new RelayTestSet.Injected(current, 45, voltage, other, 180);
        assertThrows(Gate.NotAnnouncedException.class, () -> held.prepareHeld(what, RelayTestSet.Contact.START, time));
        verifyNoInteractions(set);
    }

    /** The edge between what operates and what does not is found from either side, to within what was asked for. */
    @ParameterizedTest
    @CsvSource({"45, 225, 133.4, 0.5", "45, -135, -43.1, 0.5", "3, 0, 0.6, 0.01", "3, 0, 2.999, 0.01"})
    void halvesFindTheEdge(double operates, double holds, double edge, double resolution) {
        Bisection search = new Bisection(operates, holds, resolution);
        int looks = 0;
        while (!search.isDone()) {
            double at = search.next();
            search.was(operates > holds ? at >= edge : at <= edge);
            looks++;
        }
        assertEquals(edge, search.edge(), resolution / 2 + 1e-9);
        assertTrue(looks <= 1 + Math.log(Math.abs(operates - holds) / resolution) / Math.log(2), looks + " looks");
    }
}
