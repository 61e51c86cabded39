package org.juratest.core.run;

import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Scope;
import org.juratest.core.quantity.Quantity;

/** A run is busy from the press to the end of its conductor; what does not fit is not taken, whoever adds it. */
class BusyTest {

    private static final UUID ATTEMPT = new UUID(6, 1);
    private static final ReadBack OFF = new ReadBack(true, true, "off");
    private static final Actor PERSON = Actor.person("tavel");
    private static final Actor PROCESS = Actor.process("p1");

    private static OutputEvents.Armed armed() {
        return new OutputEvents.Armed("trip", "B", "inj-1", "300 A", Instant.parse("2026-03-02T09:00:00Z"));
    }

    private static OutputEvents.Energised energised(String conductor) {
        return new OutputEvents.Energised(ATTEMPT, "trip", "B", "inj-1", Map.of(), conductor);
    }

    private static RunFixture told(EventData... events) {
        RunFixture told = new RunFixture().confirmAll();
        Stream.of(events).forEach(told::add);
        return told;
    }

    /** In the gap of a sequence: the first measurement is over, its output off, the next not begun. */
    private static RunFixture inGap() {
        return told(
                armed(),
                energised("p1"),
                new AttemptEvents.AttemptBegun(ATTEMPT, "trip", "B", "inj-1", 1),
                new OutputEvents.OutputOff(ATTEMPT, OutputEvents.OffReason.DONE, "done", OFF),
                new AttemptEvents.AttemptClosed(ATTEMPT, Attempt.Outcome.VALID, "done"));
    }

    @Test
    void busyFromThePressToTheEndOfTheConductorGapsIncluded() {
        RunFixture told = told(armed());
        assertFalse(told.state().isBusy(), "armed is not busy");
        told.add(energised("p1"));
        assertTrue(told.state().isBusy());
        RunFixture gap = inGap();
        assertEquals(Output.Mode.SAFE, gap.state().output().mode());
        assertTrue(gap.state().isBusy(), "in the gap as well");
        gap.add(new OutputEvents.Conducted("done"));
        assertFalse(gap.state().isBusy());
        assertFalse(
                told(armed(), energised(null)).state().isBusy(), "runs of versions that did not say when they ended");
        assertFalse(told(armed(), energised("p1"), new RunEvents.Interrupted("cut", OFF))
                .state()
                .isBusy());
    }

    static Stream<EventData> whatAPersonDoes() {
        return Stream.of(
                new StepEvents.HoldReleased("safe", "dead"),
                new StepEvents.Restored("safe", "plug"),
                new StepEvents.StepSkipped("trip", "no time"),
                new RunEvents.AssetIdentified("2"),
                new RunEvents.ScopeSet(Scope.ALL),
                new RunEvents.ScreenTaken("x"),
                new RunEvents.Aborted("enough"),
                armed(),
                new AttemptEvents.ParamChanged("trip", "current", null, 200, "weak"),
                new AttemptEvents.AttemptVoided(ATTEMPT, AttemptEvents.VoidReason.LEAD, "off"),
                new AttemptEvents.LimitChanged(
                        "trip", "time", LimitSpec.of(new LimitKind.AtMost(9, null), LimitSpec.When.START, "x"), "why"),
                new StepEvents.StepBegun("trip"),
                new StepEvents.ConditionEntered("ambientTemperature", Quantity.of(20, "Cel")),
                new StepEvents.CoolingOverruled("cold"));
    }

    @ParameterizedTest
    @MethodSource("whatAPersonDoes")
    void whileBusyAPersonOnlyStopsAndTakesNotes(EventData data) {
        for (RunFixture told : List.of(inGap(), told(armed(), energised("p1")))) {
            assertEquals(
                    "busy",
                    assertThrows(Refusal.class, () -> Rules.admit(told.state(), PERSON, data))
                            .code());
            assertDoesNotThrow(() -> Rules.admit(told.state(), PERSON, new StepEvents.Note("a noise")));
        }
    }

    @ParameterizedTest
    @MethodSource("whatAPersonDoes")
    void whateverAnArmedStepRestsOnDisarmsItWhenItChanges(EventData data) {
        if (data instanceof OutputEvents.Armed || data instanceof StepEvents.StepBegun) {
            assertNull(Rules.disarms(data));
        } else {
            assertNotNull(Rules.disarms(data), data.type());
        }
        assertNull(Rules.disarms(new StepEvents.Note("x")));
    }

    static Stream<Object[]> misfits() {
        RunFixture finished =
                told(new RunEvents.Finished("MFR-CBK-07/2026/1", RunJudgement.of(new RunFixture().state()), "test"));
        RunFixture aborted = told(new RunEvents.Aborted("enough"));
        RunFixture live = told(armed(), energised("p1"));
        RunFixture safe = told();
        RunFixture armed = told(armed());
        RunFixture gap = inGap();
        Reading reading = new Reading(
                PointKey.parse("trip/time/B"),
                20,
                org.juratest.core.quantity.Unit.SECOND,
                org.juratest.core.limit.Qualifier.EQUAL,
                Reading.Source.MEASURED,
                null,
                List.of(),
                null,
                null,
                null,
                Map.of(),
                null,
                null);
        return Stream.of(
                new Object[] {"energised after finished", finished, energised("p1")},
                new Object[] {"energised after given up", aborted, energised("p1")},
                new Object[] {"energised without an arming", safe, energised("p1")},
                new Object[] {"energised twice", live, energised("p1")},
                new Object[] {"energised in a gap by another process", gap, energised("p2")},
                new Object[] {"armed in a gap", gap, armed()},
                new Object[] {"armed twice", armed, armed()},
                new Object[] {
                    "finished while live", live, new RunEvents.Finished("r", RunJudgement.of(safe.state()), "t")
                },
                new Object[] {"finished in a gap", gap, new RunEvents.Finished("r", RunJudgement.of(safe.state()), "t")
                },
                new Object[] {"given up while live", live, new RunEvents.Aborted("x")},
                new Object[] {"given up in a gap", gap, new RunEvents.Aborted("x")},
                new Object[] {
                    "off without being on",
                    safe,
                    new OutputEvents.OutputOff(ATTEMPT, OutputEvents.OffReason.DONE, "", OFF)
                },
                new Object[] {"disarmed without being armed", safe, new OutputEvents.Disarmed("x")},
                new Object[] {"ended while still live", live, new OutputEvents.Conducted("x")},
                new Object[] {"ended without having begun", safe, new OutputEvents.Conducted("x")},
                new Object[] {"interrupted while safe", safe, new RunEvents.Interrupted("x", OFF)},
                new Object[] {"a reading of no attempt", safe, new AttemptEvents.ReadingTaken(new UUID(9, 9), reading)},
                new Object[] {
                    "a reading after the attempt was closed", gap, new AttemptEvents.ReadingTaken(ATTEMPT, reading)
                },
                new Object[] {
                    "an attempt begun twice", gap, new AttemptEvents.AttemptBegun(ATTEMPT, "trip", "B", null, 1)
                },
                new Object[] {
                    "an attempt of a finished run",
                    finished,
                    new AttemptEvents.AttemptBegun(new UUID(9, 9), "trip", "B", null, 1)
                });
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("misfits")
    void theJournalTakesNothingThatDoesNotFit(String what, RunFixture told, EventData data) {
        assertEquals(
                "does-not-fit",
                assertThrows(Refusal.class, () -> Rules.admit(told.state(), PROCESS, data), what)
                        .code());
    }

    @Test
    void theNextOfASequenceFitsInItsGap() {
        assertDoesNotThrow(() -> Rules.admit(
                inGap().state(),
                PROCESS,
                new OutputEvents.Energised(new UUID(6, 2), "trip", "C", "inj-1", Map.of(), "p1")));
        assertDoesNotThrow(() -> Rules.admit(inGap().state(), PROCESS, new OutputEvents.Conducted("done")));
        assertDoesNotThrow(() -> Rules.admit(inGap().state(), PROCESS, new RunEvents.Interrupted("cut", OFF)));
    }

    @Test
    void workIsWhatWasDoneToTheAssetNotAStopOrATakeover() {
        RunFixture told = new RunFixture();
        assertEquals(Set.of(), Performers.of(told.state()), "taking the screen is no work");
        told.add(new StepEvents.Note("passing by"));
        told.add(armed()).add(new OutputEvents.Disarmed("stopped by tavel"));
        assertEquals(Set.of(), Performers.of(told.state()), "neither is arming what never went on");
        told.add(armed()).add(energised("p1"));
        assertEquals(Set.of("tavel"), Performers.of(told.state()));
        assertEquals(
                Set.of("tavel"), Performers.of(new RunFixture().confirmAll().state()));
        assertEquals(
                Set.of("tavel"),
                Performers.of(told(new RunEvents.Finished("r", RunJudgement.of(new RunFixture().state()), "t"))
                        .state()));
    }

    @Test
    void settingsOfADeviceAreNotToldByAPerson() {
        RunFixture told = new RunFixture();
        AttemptEvents.AdjustmentMade claim = new AttemptEvents.AdjustmentMade(
                List.of(PointKey.parse("contact/r/B")),
                "aligned",
                List.of(new AttemptEvents.SettingChange("x", "X", 1, 2)));
        assertEquals(
                "settings",
                assertThrows(Refusal.class, () -> claim.check(told.state())).field());
    }
}
