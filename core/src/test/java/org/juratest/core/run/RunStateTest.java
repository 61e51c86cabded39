package org.juratest.core.run;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.PointKey;

class RunStateTest {

    private static RunFixture busy() {
        RunFixture told = new RunFixture().allMeasured();
        told.attempt("trip/time/B", 60);
        told.add(new StepEvents.Note("a note"));
        told.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse("trip/time/B")), "greased"));
        told.attempt("trip/time/B", 25);
        told.add(new OutputEvents.Armed("trip", "C", "inj-1", "300 A", told.now()));
        return told;
    }

    /** What can be seen of a state, for comparing two. */
    private static String seen(RunState s) {
        return List.of(
                        s.n(),
                        s.personEvents(),
                        s.status(),
                        s.output(),
                        s.scope(),
                        s.attempts(),
                        s.adjustments(),
                        s.limits(),
                        s.answers(),
                        s.conditions(),
                        s.skipped(),
                        s.changedLimits(),
                        s.remarks(),
                        s.unknown(),
                        s.gearLost(),
                        String.valueOf(s.driver()),
                        String.valueOf(s.interrupted()),
                        RunJudgement.of(s))
                .toString();
    }

    @Test
    void foldingAPrefixAndThenTheRestIsFoldingAll() {
        List<Event> events = busy().events();
        String whole = seen(RunState.of(events));
        for (int cut = 1; cut < events.size(); cut++) {
            RunState state = RunState.of(events.subList(0, cut));
            for (Event event : events.subList(cut, events.size())) {
                state = state.after(event);
            }
            assertEquals(whole, seen(state), "cut at " + cut);
        }
    }

    @Test
    void eventsSeenBeforeChangeNothingWhereverTheyComeAgain() {
        List<Event> events = busy().events();
        SplittableRandom random = new SplittableRandom(31);
        RunState state = RunState.EMPTY;
        for (int i = 0; i < events.size(); i++) {
            state = state.after(events.get(i));
            Event again = events.get(random.nextInt(i + 1));
            assertSame(state, state.after(again), "seed 31, event " + again.n() + " again after " + i);
        }
        assertEquals(seen(RunState.of(events)), seen(state));
    }

    @Test
    void aStateIsNotChangedByWhatComesAfter() {
        List<Event> events = busy().events();
        RunState middle = RunState.of(events.subList(0, 20));
        String before = seen(middle);
        events.subList(20, events.size()).forEach(new Folded(middle)::next);
        assertEquals(before, seen(middle));
    }

    private static final class Folded {
        private RunState state;

        Folded(RunState state) {
            this.state = state;
        }

        void next(Event event) {
            state = state.after(event);
        }
    }

    @Test
    void aGapAForkAndAnotherRunAreRefused() {
        List<Event> events = busy().events();
        RunState state = RunState.of(events.subList(0, 5));
        assertEquals(
                6,
                assertThrows(ChainException.class, () -> state.after(events.get(6)))
                        .n());
        Event fork = new Event(
                new UUID(77, 7),
                RunFixture.RUN,
                3,
                "00",
                events.get(3).at(),
                Actor.person("x"),
                "there",
                new StepEvents.Note("fork"));
        assertThrows(ChainException.class, () -> state.after(fork));
        Event other = new Event(
                new UUID(77, 8),
                new UUID(2, 2),
                5,
                "00",
                events.get(3).at(),
                Actor.person("x"),
                "there",
                new StepEvents.Note("other"));
        assertThrows(ChainException.class, () -> state.after(other));
    }

    @Test
    void anUnknownTypeIsKeptAndShownWithoutBeingFolded() {
        RunFixture told = new RunFixture().allMeasured();
        RunJudgement before = RunJudgement.of(told.state());
        told.add(new UnknownEvent("calibrationSeal", 3, Map.of("colour", "green")));
        assertEquals(before, RunJudgement.of(told.state()));
        assertEquals(1, told.state().unknown().size());
        assertEquals("calibrationSeal", told.state().unknown().get(0).data().type());
    }

    @Test
    void whatIsWithdrawnStaysVisibleAndHasNoEffect() {
        RunFixture told = new RunFixture().confirmAll();
        Event tick = told.state().events().get(2);
        assertTrue(told.state().isConfirmed("safe", "dead"));
        told.act(new RunEvents.Withdrawn(tick.id(), "wrong cabinet"));
        assertFalse(told.state().isConfirmed("safe", "dead"));
        assertTrue(told.state().isConfirmed("safe", "lock"));
        assertTrue(told.state().isWithdrawn(tick.id()));
        assertEquals(told.state().n() + 1, told.state().events().size());
        assertThrows(Refusal.class, () -> new RunEvents.Withdrawn(tick.id(), "again").check(told.state()));
    }

    @Test
    void aReadingIsNeverWithdrawn() {
        RunFixture told = new RunFixture().allMeasured();
        Event reading = told.state().events().stream()
                .filter(e -> e.data() instanceof AttemptEvents.ReadingTaken)
                .findFirst()
                .orElseThrow();
        Refusal e = assertThrows(
                Refusal.class, () -> new RunEvents.Withdrawn(reading.id(), "too high").check(told.state()));
        assertTrue(e.getMessage().contains("void its attempt"));
    }

    @Test
    void withdrawingAChangedLimitRestoresTheProceduresOwn() {
        RunFixture told = new RunFixture().allMeasured();
        assertEquals(Verdict.PASS, told.point("ins/r/A-B").verdict());
        told.act(new AttemptEvents.LimitChanged(
                "ins", "r", LimitSpec.of(new LimitKind.AtLeast(9000, null), LimitSpec.When.START, "house"), "trial"));
        assertEquals(Verdict.FAIL, told.point("ins/r/A-B").verdict());
        Event change = told.state().events().stream()
                .filter(e -> e.data() instanceof AttemptEvents.LimitChanged)
                .findFirst()
                .orElseThrow();
        told.act(new RunEvents.Withdrawn(change.id(), "trial over"));
        assertEquals(Verdict.PASS, told.point("ins/r/A-B").verdict());
        assertEquals("default", told.point("ins/r/A-B").limit().source());
    }

    @Test
    void onlyPersonsAdvanceWhatIfMatchCounts() {
        RunFixture told = new RunFixture();
        assertEquals(2, told.state().personEvents());
        List<Event> events = told.events();
        RunState state = told.state()
                .after(new Event(
                        new UUID(8, 8),
                        RunFixture.RUN,
                        events.size(),
                        "00",
                        told.now(),
                        Actor.process("p"),
                        "here",
                        new OutputEvents.GearLost("inj-1", "pulled")));
        assertEquals(2, state.personEvents());
    }

    @Test
    void aDerivedValueLeavesTheWorkAtItsStep() {
        RunFixture told = new RunFixture().confirmAll();
        told.act(new StepEvents.StepBegun("contact"));
        told.attempt("contact/r/A", 200);
        told.act(new StepEvents.StepBegun("trip"));
        told.attempt("trip/time/A", 24);
        assertTrue(told.state().attempts().stream().anyMatch(a -> a.step().equals("change")), "the ratio follows");
        assertEquals("trip", told.state().currentStep());
    }
}
