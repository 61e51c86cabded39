package org.juratest.core.bench;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyBoolean;
import static org.mockito.ArgumentMatchers.anyDouble;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.family.breakers.CurrentSource;
import org.juratest.core.family.radios.RadioControl;
import org.juratest.core.family.radios.RadioTester;
import org.juratest.core.method.StopException;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Announcement.Span;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;

/** Whatever a method tries, its gear gets what was announced and nothing else. */
class GateTest {

    private static final Announcement ANNOUNCED = new Announcement(
            "trip",
            "B",
            "any",
            "200 A, keyed on 155 MHz",
            true,
            Map.of("current", Quantity.amperes(200)),
            List.of(
                    Bound.upTo("current", 200, "A", "announced"),
                    Bound.upTo("current", 1056, "A", "the procedure"),
                    Bound.upTo("time", 60, "s", "the procedure"),
                    Bound.at("carrier", List.of(155e6, 156e6), "Hz", "announced"),
                    Bound.at("signal", List.of(155e6), "Hz", "announced"),
                    Bound.below("level", -60, "dBm", "announced")),
            List.of("CurrentSource", "RadioControl", "RadioTester"),
            60,
            List.of("inj-1"));

    private final CurrentSource source = mock(CurrentSource.class);
    private final RadioControl radio = mock(RadioControl.class);
    private final RadioTester tester = mock(RadioTester.class);
    private final StopSignal stop = new StopSignal();
    private final Gate gate = new Gate(ANNOUNCED, stop, () -> {});
    private final CurrentSource limited = gate.limited(CurrentSource.class, source);

    private static String refused(Executable call) {
        return String.valueOf(
                assertThrows(Gate.NotAnnouncedException.class, call).getMessage());
    }

    @ParameterizedTest
    @CsvSource({
        "200.01, 60",
        "300, 1",
        "9600, 1",
        "-201, 1",
        "NaN, 1",
        "Infinity, 1",
        "10, 60.1",
        "10, NaN",
        "1e308, 1e308"
    })
    void aSetPointAboveWhatWasAnnouncedDoesNotReachTheGear(double current, double time) {
        refused(() -> limited.prepare(current, 3000, time));
        verify(source, never()).prepare(anyDouble(), anyDouble(), anyDouble());
    }

    @ParameterizedTest
    @CsvSource({"200, 60", "30, 2", "0.1, 0.01"})
    void whatWasAnnouncedGoesThrough(double current, double time) {
        limited.prepare(current, 3000, time);
        limited.outputOn();
        verify(source).prepare(current, 3000, time);
        verify(source).outputOn();
    }

    @ParameterizedTest
    @ValueSource(doubles = {156.8e6, 155.0005e6, 0, -155e6, 121.5e6})
    void aFrequencyThatWasNotAnnouncedIsNotTunedTo(double hertz) {
        RadioControl port = gate.limited(RadioControl.class, radio);
        assertTrue(
                refused(() -> port.channel(hertz, RadioControl.Mode.FM, 12_500)).contains("carrier"));
        verify(radio, never()).channel(anyDouble(), any(), anyDouble());
        assertTrue(refused(port::outputOn).contains("carrier was not set"));
        verify(radio, never()).outputOn();
    }

    @Test
    void partsOfARecordAreHeldToTheirBoundsToo() {
        RadioTester port = gate.limited(RadioTester.class, tester);
        refused(() -> port.generate(new RadioTester.Signal(155e6, 0, RadioTester.Modulation.NONE, 0, 0)));
        refused(() -> port.generate(new RadioTester.Signal(243e6, -70, RadioTester.Modulation.NONE, 0, 0)));
        refused(() -> port.level(-59.9));
        assertTrue(refused(() -> port.speak(1000, 0.01)).contains("nothing was announced"));
        verify(tester, never()).generate(any());
        verify(tester, never()).level(anyDouble());
        verify(tester, never()).speak(anyDouble(), anyDouble());
        port.generate(new RadioTester.Signal(155e6, -70, RadioTester.Modulation.NONE, 0, 0));
        port.outputOn();
        verify(tester).outputOn();
    }

    /** Gear keeps what an earlier measurement set it to: 300 A must not go on because nobody said otherwise. */
    @Test
    void nothingGoesOnBeforeItsSetPointsWereGivenInThisMeasurement() {
        assertTrue(refused(limited::outputOn).contains("was not set in this measurement"));
        verify(source, never()).outputOn();
    }

    @Test
    void anOutputThatWasNotAnnouncedStaysOff() {
        Gate listening = new Gate(
                new Announcement(
                        "trip",
                        "B",
                        "any",
                        "nothing",
                        false,
                        Map.of(),
                        ANNOUNCED.bounds(),
                        List.of("RadioTester"),
                        60,
                        List.of("x")),
                stop,
                () -> {});
        CurrentSource port = listening.limited(CurrentSource.class, source);
        port.prepare(1, 150, 1);
        assertTrue(refused(port::outputOn).contains("CurrentSource"));
        // Asked for as something more general it is no more allowed.
        refused(listening.limited(Energising.class, source)::outputOn);
        verify(source, never()).outputOn();
    }

    @Test
    void theWatchdogTheLabelAndTheConnectionAreTheEnginesAlone() {
        for (Executable call : List.<Executable>of(
                limited::feedWatchdog,
                () -> limited.watchdog(3600),
                () -> limited.connectTo("another pole"),
                limited::close)) {
            refused(call);
        }
        verify(source, never()).feedWatchdog();
        verify(source, never()).watchdog(anyDouble());
        verify(source, never()).close();
    }

    @Test
    void afterAStopNothingGoesOnWhateverTheMethodDoes() {
        limited.prepare(100, 1000, 10);
        stop.request(OutputEvents.OffReason.STOPPED, "stopped by oster");
        assertThrows(StopException.class, limited::outputOn);
        verify(source, never()).outputOn();
    }

    /**
     * What the method meets when a stop closed its gate is the stop, with what asked for it: never only that it is
     * over.
     */
    @Test
    void aGateThatAStopClosedTellsTheStop() {
        stop.request(new GearException(GearException.Fault.SILENT, "it did not answer"));
        gate.close();
        StopException told = assertThrows(StopException.class, limited::read);
        assertEquals(GearException.Fault.SILENT, told.fault().fault());
        verify(source, never()).read();
    }

    @Test
    void whatForbidsItRightBeforeKeepsItOff() {
        Gate forbidding = new Gate(ANNOUNCED, stop, () -> {
            throw new IllegalStateException("no lease");
        });
        CurrentSource port = forbidding.limited(CurrentSource.class, source);
        port.prepare(100, 1000, 10);
        assertThrows(IllegalStateException.class, port::outputOn);
        verify(source, never()).outputOn();
    }

    /**
     * A method that leaves a thread behind has nothing in hand once its measurement is over, but may always make safe.
     */
    @Test
    void onceClosedOnlyWhatMakesSafeGoesThrough() {
        when(source.makeSafe()).thenReturn(new ReadBack(true, true, "off"));
        limited.prepare(100, 1000, 10);
        gate.close();
        refused(limited::outputOn);
        refused(() -> limited.prepare(1, 1, 1));
        refused(limited::read);
        assertTrue(limited.makeSafe().off());
        verify(source, never()).outputOn();
    }

    @Test
    void anOutputIsOverdueOnceItWasOnForLongerThanAnnounced() {
        when(source.makeSafe()).thenReturn(new ReadBack(true, true, "off"));
        long now = System.nanoTime();
        assertFalse(gate.isOverdue(now + 3_600_000_000_000L, 1), "what is off is never overdue");
        limited.prepare(100, 1000, 10);
        limited.outputOn();
        assertFalse(gate.isOverdue(now + 60_000_000_000L, 1));
        assertTrue(gate.isOverdue(now + 80_000_000_000L, 1));
        assertTrue(gate.isOverdue(now + 20_000_000_000L, 10), "the gear's time runs ten times as fast");
        limited.makeSafe();
        assertFalse(gate.isOverdue(now + 80_000_000_000L, 1));
    }

    @Test
    void faultsOfGearComeThroughAsTheyAre() {
        when(source.read()).thenThrow(new GearException(GearException.Fault.SILENT, "no answer"));
        assertEquals(
                GearException.Fault.SILENT,
                assertThrows(GearException.class, limited::read).fault());
        RadioControl port = gate.limited(RadioControl.class, radio);
        port.holdSquelchOpen(true);
        verify(radio, times(1)).holdSquelchOpen(anyBoolean());
    }

    @Test
    void announcementsThatDifferInAnythingHaveAnotherDigest() {
        Announcement same = new Announcement(
                "trip",
                "B",
                "any",
                "200 A, keyed on 155 MHz",
                true,
                Map.of("current", Quantity.amperes(200)),
                ANNOUNCED.bounds(),
                List.of("RadioTester", "RadioControl", "CurrentSource"),
                60,
                List.of("inj-1"));
        assertEquals(ANNOUNCED.digest(), same.digest());
        for (Announcement other : List.of(
                new Announcement(
                        "trip",
                        "C",
                        "any",
                        ANNOUNCED.what(),
                        true,
                        ANNOUNCED.settings(),
                        ANNOUNCED.bounds(),
                        ANNOUNCED.outputs(),
                        60,
                        ANNOUNCED.gear()),
                new Announcement(
                        "trip",
                        "B",
                        "any",
                        ANNOUNCED.what(),
                        true,
                        Map.of("current", Quantity.amperes(201)),
                        ANNOUNCED.bounds(),
                        ANNOUNCED.outputs(),
                        60,
                        ANNOUNCED.gear()),
                new Announcement(
                        "trip",
                        "B",
                        "any",
                        ANNOUNCED.what(),
                        true,
                        ANNOUNCED.settings(),
                        ANNOUNCED.bounds(),
                        ANNOUNCED.outputs(),
                        60,
                        List.of("inj-2")),
                new Announcement(
                        "trip",
                        "B",
                        "any",
                        ANNOUNCED.what(),
                        false,
                        ANNOUNCED.settings(),
                        ANNOUNCED.bounds(),
                        ANNOUNCED.outputs(),
                        60,
                        ANNOUNCED.gear()))) {
            assertFalse(ANNOUNCED.digest().equals(other.digest()), other.toString());
        }
        assertThrows(IllegalArgumentException.class, () -> new Span(2, 1));
        assertThrows(IllegalArgumentException.class, () -> new Span(Double.NaN, 1));
        assertThrows(
                IllegalArgumentException.class,
                () -> new Announcement(
                        "s", "-", "m", "w", true, Map.of(), List.of(), List.of(), Double.NaN, List.of()));
    }
}
