package org.juratest.core.bench;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.anyDouble;
import static org.mockito.Mockito.atLeast;
import static org.mockito.Mockito.atLeastOnce;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.inOrder;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.family.breakers.CurrentSource;
import org.juratest.core.family.breakers.ResistanceMeter;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.Verdict;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StopException;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.port.GearIdentity;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.EventData;
import org.juratest.core.run.Output;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.Reading;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunFixture;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;
import org.mockito.InOrder;

class LiveTest {

    private static final UUID ATTEMPT = new UUID(42, 42);

    private final CurrentSource source = mock(CurrentSource.class);
    private final ResistanceMeter meter = mock(ResistanceMeter.class);
    private final StopSignal stop = new StopSignal();
    private final List<String> order = new ArrayList<>();
    private String journalBreaksAfter = "";
    private final List<Trace> kept = new ArrayList<>();
    private RunFixture told;
    private LiveGuard.Lease lease = new LiveGuard.Lease(true, null);
    /** In place of the step's own; absent for that. */
    private Method method;

    @BeforeEach
    void setUp() {
        told = new RunFixture().confirmAll();
        when(source.identify()).thenReturn(new GearIdentity("M", "X", "S-inj", "1"));
        when(meter.identify()).thenReturn(new GearIdentity("M", "X", "S-mic", "1"));
        when(source.timeFactor()).thenReturn(1.0);
        when(meter.timeFactor()).thenReturn(1.0);
        when(source.makeSafe()).thenReturn(new ReadBack(true, true, "off"));
        when(meter.makeSafe()).thenReturn(new ReadBack(true, true, "off"));
        when(source.ranges()).thenReturn(List.of(new CurrentSource.Range(150, 12), new CurrentSource.Range(1000, 6)));
    }

    private Attempt conduct(String step, String lane, Energising port) {
        Journal journal = new Journal() {
            @Override
            public RunState append(EventData... events) {
                for (EventData event : events) {
                    if (order.contains(journalBreaksAfter)) {
                        throw new IllegalStateException("the database is gone");
                    }
                    order.add(event.type());
                    told.add(event);
                }
                return told.state();
            }

            @Override
            public RunState state() {
                return told.state();
            }

            @Override
            public String keep(double[] samples, double rate) {
                throw new AssertionError("no sound is heard here");
            }

            @Override
            public String keep(byte[] bytes, String mediaType) {
                throw new AssertionError("no picture is taken here");
            }

            @Override
            public String keep(Trace trace) {
                kept.add(trace);
                return "ab".repeat(32);
            }
        };
        Sequence.Place place = new Sequence.Place(step, lane);
        Announcement announced = Announcements.of(told.state(), place, RunFixture.TODAY);
        journal.append(
                new OutputEvents.Energised(ATTEMPT, step, lane, announced.gear().get(0), announced.settings(), "here"));
        LiveGuard guard = new LiveGuard(() -> lease, stop);
        new Conductor(journal, port, told.gear(step.equals("trip") ? "inj" : "mic"), stop, guard, v -> {})
                .conduct(
                        ATTEMPT,
                        announced,
                        told.state().stepInScope(step).at(lane),
                        method != null
                                ? method
                                : Announcements.method(told.state().stepInScope(step)),
                        "MFR-CBK-07:" + lane);
        return told.state().attempt(ATTEMPT).orElseThrow();
    }

    private static CurrentSource.Injection on(double elapsed, double current) {
        return new CurrentSource.Injection(true, elapsed, current, current * 0.0016, null);
    }

    private static CurrentSource.Injection off(double elapsed, double current, CurrentSource.OffCause cause) {
        return new CurrentSource.Injection(false, elapsed, current, 0, cause);
    }

    @Test
    void aTripIsTimedJudgedAndWrittenInOrder() {
        when(source.read())
                .thenReturn(
                        on(0.2, 10), on(1, 300), on(1, 300), on(9, 301), off(21.4, 300.4, CurrentSource.OffCause.TRIP));
        Attempt attempt = conduct("trip", "B", source);
        assertEquals(Attempt.Outcome.VALID, attempt.outcome());
        Reading reading = attempt.readings().get(0);
        assertEquals(21.4, reading.value());
        assertEquals(300.4, reading.with().get("current").value());
        assertEquals(Verdict.PASS, told.point("trip/time/B").verdict());
        // U: timer 0.01 s (k = 2), and 1 % of 300.4 A (k = 2) times the slope 2 t/I of the band's middle.
        double slope = told.state().envelope().slopeAt(300.4);
        assertEquals(Math.hypot(0.01, 3.004 * slope), reading.uncertainty(), 1e-9);
        assertEquals(
                List.of(
                        "energised",
                        "attemptBegun",
                        "connectionChecked",
                        "readingTaken",
                        "captured",
                        "outputOff",
                        "attemptClosed"),
                order);
        assertArrayEquals(
                new double[] {1, 9},
                kept.get(0).x(),
                "an instrument asked twice in one step of its own says one thing");
        assertArrayEquals(new double[] {300, 301}, kept.get(0).y());
        assertEquals("ab".repeat(32), told.state().captures().get(0).sha256());
        InOrder calls = inOrder(source);
        calls.verify(source).connectTo("MFR-CBK-07:B");
        calls.verify(source).watchdog(LiveGuard.WATCHDOG_SECONDS);
        calls.verify(source).prepare(10, 150, 2);
        calls.verify(source).outputOn();
        calls.verify(source).makeSafe();
        calls.verify(source).prepare(300, 1000, 60);
        calls.verify(source).outputOn();
        calls.verify(source).makeSafe();
    }

    @Test
    void noTripWithinTheGreatestTimeIsABound() {
        when(source.read()).thenReturn(on(0.2, 10), off(60, 300, CurrentSource.OffCause.LIMIT));
        Reading reading = conduct("trip", "B", source).readings().get(0);
        assertEquals(Qualifier.MORE, reading.qualifier());
        assertEquals(60, reading.value());
        assertEquals(Verdict.FAIL, told.point("trip/time/B").verdict());
    }

    @Test
    void anOpenOrPoorConnectionStopsBeforeTheInjection() {
        when(source.read()).thenReturn(new CurrentSource.Injection(true, 0.2, 0.0, 12, null));
        Attempt open = conduct("trip", "B", source);
        assertEquals(Attempt.Outcome.UNCLEAR, open.outcome(), "a lead that is off, or a pole that does not close");
        assertTrue(open.words().contains("Are the leads on"), open.words());
        assertEquals(Verdict.NOT_JUDGED, told.point("trip/time/B").verdict());
        assertEquals(List.of(), open.readings());
        verify(source, times(1)).outputOn();
        verify(source, never()).prepare(300, 1000, 60);
    }

    @Test
    void aPoorConnectionIsNamedWithItsFigure() {
        when(source.read()).thenReturn(new CurrentSource.Injection(true, 0.2, 10, 0.35, null));
        assertTrue(conduct("trip", "B", source).words().contains("35.0 mΩ"));
        verify(source, times(1)).outputOn();
    }

    /** The stop comes while the output is being switched on: what switches off must come after what switches on. */
    @Test
    void aStopNeverOvertakesTheSwitchingOnItIsToUndo() throws InterruptedException {
        LiveGuard guard = guard(() -> new LiveGuard.Lease(false, null), stop);
        Thread guarding = new Thread(() -> guard.tick(0));
        stop.switchOn(() -> {
            guarding.start();
            // The guard has every chance to run ahead; it may not make safe before this is over.
            assertDoesNotThrow(() -> Thread.sleep(200));
            source.outputOn();
        });
        guarding.join(5000);
        InOrder calls = inOrder(source);
        calls.verify(source).outputOn();
        calls.verify(source).makeSafe();
        assertThrows(StopException.class, () -> stop.switchOn(source::outputOn));
        verify(source, times(1)).outputOn();
    }

    @Test
    void aCheckCurrentThatIsNotConfirmedOffEndsTheAttempt() {
        when(source.read()).thenReturn(on(0.2, 10), off(21.4, 300.4, CurrentSource.OffCause.TRIP));
        when(source.makeSafe()).thenReturn(ReadBack.silent("no answer"));
        assertEquals(
                Attempt.Outcome.INSTRUMENT_ERROR, conduct("trip", "B", source).outcome());
        verify(source, times(1)).outputOn();
        assertTrue(told.state().unconfirmed().containsKey("inj-1"));
    }

    @Test
    void aStopMakesSafeAndClosesTheAttemptAsAborted() {
        when(source.read()).thenAnswer(i -> {
            stop.request(OutputEvents.OffReason.STOPPED, "stopped by oster");
            return on(1, 300);
        });
        Attempt attempt = conduct("trip", "B", source);
        assertEquals(Attempt.Outcome.ABORTED, attempt.outcome());
        assertEquals("stopped by oster", attempt.words());
        verify(source, atLeastOnce()).makeSafe();
        assertEquals(Output.Mode.SAFE, told.state().output().mode());
    }

    @ParameterizedTest
    @ValueSource(strings = {"attemptBegun", "connectionChecked", "readingTaken"})
    void theOutputGoesOffAlsoWhenNothingCanBeWrittenAnyMore(String lastWritten) {
        journalBreaksAfter = lastWritten;
        when(source.read()).thenReturn(on(0.2, 10), off(21.4, 300.4, CurrentSource.OffCause.TRIP));
        assertThrows(IllegalStateException.class, () -> conduct("trip", "B", source));
        // The check's own switching off is one; the one that ends it is at least another.
        verify(source, atLeast(lastWritten.equals("attemptBegun") ? 1 : 2)).makeSafe();
    }

    @Test
    void rubbishFromTheGearMakesSafeAndLosesTheGearNotTheRun() {
        when(source.read())
                .thenThrow(new GearException(GearException.Fault.GARBLED, "its answer to \"FETC?\" cannot be read"));
        Attempt attempt = conduct("trip", "B", source);
        assertEquals(Attempt.Outcome.INSTRUMENT_ERROR, attempt.outcome());
        assertTrue(told.state().gearLost().containsKey("inj-1"));
        verify(source, atLeastOnce()).makeSafe();
    }

    @Test
    void anotherInstrumentAtTheAddressIsNeverSwitchedOn() {
        when(source.identify()).thenReturn(new GearIdentity("M", "X", "S-other", "1"));
        Attempt attempt = conduct("trip", "B", source);
        assertEquals(Attempt.Outcome.INSTRUMENT_ERROR, attempt.outcome());
        assertTrue(attempt.words().contains("S-other"), attempt.words());
        verify(source, never()).outputOn();
    }

    @Test
    void contactResistanceIsReadInThePointsUnit() {
        when(meter.measure()).thenReturn(new ResistanceMeter.Result(203e-6, 10.01, 1e-3));
        Reading reading = conduct("contact", "A", meter).readings().get(0);
        assertEquals(203, reading.value(), 1e-9);
        assertEquals(2.03, reading.uncertainty(), 1e-9);
        verify(meter).prepare(10);
    }

    @Test
    void anOverRangeResistanceIsAnOpenCircuitNotAValue() {
        when(meter.measure()).thenReturn(new ResistanceMeter.Result(Double.POSITIVE_INFINITY, 0, 1));
        Attempt attempt = conduct("contact", "A", meter);
        assertEquals(Attempt.Outcome.UNCLEAR, attempt.outcome());
        assertEquals(List.of(), attempt.readings());
        told.add(new AttemptEvents.AttemptSettled(ATTEMPT, true, "clamps on, seen closed"));
        assertEquals(Verdict.FAIL, told.point("contact/r/A").verdict(), "a contact that does not close fails");
    }

    @Test
    void aParameterAboveItsGreatestValueIsRefusedWhenAnnounced() {
        var step = told.state().stepInScope("trip");
        var params = new HashMap<>(step.params());
        params.put("current", Param.of(400, "A"));
        assertEquals(
                "above-maximum",
                assertThrows(Refusal.class, () -> Methods.byName("breaker.longTime")
                                .orElseThrow()
                                .announce(told.state(), withParams(step, params), "B", "pole B"))
                        .code());
    }

    private static Step withParams(Step s, Map<String, Param> params) {
        return Step.builder(s.id(), s.kind(), s.title())
                .text(s.text())
                .method(s.method())
                .lanes(s.lanes())
                .params(params)
                .maxima(s.maxima())
                .gear(s.gear())
                .hazard(s.hazard())
                .hold(s.hold())
                .minutes(s.minutes())
                .required(s.required())
                .notAfterFailIn(s.notAfterFailIn())
                .coolMinutes(s.coolMinutes())
                .repeats(s.repeats())
                .points(s.points())
                .build();
    }

    /** A guard over the source, whose watchdog is set. */
    private LiveGuard guard(LiveGuard.LeaseSource leases, StopSignal stopping) {
        LiveGuard guard = new LiveGuard(leases, stopping);
        guard.watch(
                source,
                new Gate(
                        Announcements.of(told.state(), new Sequence.Place("trip", "B"), RunFixture.TODAY),
                        stopping,
                        () -> {}));
        guard.feed(1);
        return guard;
    }

    /** The guard against a clock that is turned by hand: ticks every 100 ms for some time. */
    private static boolean tick(LiveGuard guard, long fromMillis, long toMillis) {
        boolean watching = true;
        for (long t = fromMillis; t < toMillis && watching; t += LiveGuard.CHECK_MILLIS) {
            watching = guard.tick(t * 1_000_000);
        }
        return watching;
    }

    @Test
    void theWatchdogIsFedTwiceASecondAndOnlyWhileTheLeaseHolds() {
        boolean[] valid = {true};
        LiveGuard guard = guard(() -> new LiveGuard.Lease(valid[0], null), stop);
        assertTrue(tick(guard, 0, 2000));
        verify(source, times(4)).feedWatchdog();
        valid[0] = false;
        assertFalse(tick(guard, 2000, 2100));
        verify(source, times(4)).feedWatchdog();
        verify(source, times(1)).makeSafe();
        assertTrue(stop.requested());
        assertFalse(tick(guard, 2100, 5000));
        verify(source, times(1)).makeSafe();
    }

    @Test
    void aStopAskedForElsewhereAndALeaseThatCannotBeReadMakeSafe() {
        assertFalse(guard(() -> new LiveGuard.Lease(true, "stopped by oster"), new StopSignal())
                .tick(0));
        StopSignal broken = new StopSignal();
        assertFalse(guard(
                        () -> {
                            throw new java.sql.SQLException("gone");
                        },
                        broken)
                .tick(0));
        assertTrue(broken.requested());
        verify(source, times(2)).makeSafe();
        verify(source, never()).feedWatchdog();
    }

    @Test
    void whatIsShownLiveKeepsItsOrder() {
        Conductor.Progress progress = new Conductor.Progress(
                Map.of(
                        "level",
                        Quantity.of(-120, "dBm"),
                        "SINAD",
                        Quantity.of(12, "dB"),
                        "beside",
                        Quantity.of(3, "dBm")),
                List.of());
        assertEquals(
                List.of("SINAD", "beside", "level"),
                List.copyOf(progress.values().keySet()));
    }

    @Test
    void gearThatCannotBeFedIsMadeSafe() {
        doThrow(new GearException(GearException.Fault.SILENT, "no answer"))
                .when(source)
                .feedWatchdog();
        assertFalse(guard(() -> new LiveGuard.Lease(true, null), stop).tick(0));
        verify(source).makeSafe();
        verify(source, never()).prepare(anyDouble(), anyDouble(), anyDouble());
    }

    @Test
    void gearThatTheGuardMissesFirstIsAGearErrorToo() {
        when(source.read()).thenReturn(on(0.2, 10)).thenAnswer(call -> {
            stop.request(new GearException(GearException.Fault.LOST, "it closed the connection"));
            return on(1, 300);
        });
        Attempt attempt = conduct("trip", "A", source);
        assertEquals(Attempt.Outcome.INSTRUMENT_ERROR, attempt.outcome());
        assertTrue(order.contains("gearLost"), order.toString());
        assertEquals(
                "it closed the connection",
                told.state().gearLost().get(told.gear("inj").id()));
    }
}
