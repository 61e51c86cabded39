package org.juratest.core.record;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunFixture;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.StepEvents;

class RecordTest {

    private static Headline headline(RunFixture told) {
        return Headline.of(told.state(), RunJudgement.of(told.state()));
    }

    private static Comparison.Row row(RunFixture then, RunFixture now, String key) {
        return Comparison.of(then.state(), now.state()).rows().stream()
                .filter(r -> r.now().key().toString().equals(key))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void theHeadlineSaysWhatFailedFirstAndWhatCameOfIt() {
        assertEquals(new Headline("Passed", null), headline(new RunFixture().allMeasured()));
        RunFixture told = new RunFixture().allMeasured();
        told.attempt("trip/time/B", 99);
        assertEquals("Failed, one point", headline(told).title());
        RunFixture late = new RunFixture();
        late.attempt("ins/r/A-B", 2000);
        late.attempt("ins/r/C-E", 2000);
        late.confirmAll().act(new StepEvents.AnswerGiven("look", "case", "-", StepEvents.Answer.DEFECT, "scratched"));
        for (String pole : List.of("A", "B", "C")) {
            late.attempt("contact/r/" + pole, 200);
            late.attempt("trip/time/" + pole, pole.equals("B") ? 41.6 : 24);
        }
        late.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse("trip/time/B")), "exercised ten times."));
        late.attempt("trip/time/B", 24.3);
        assertEquals("Passed as left, one point marginal", headline(late).title());
        assertEquals(
                "Trip, pole B failed as found (41.6 s, allowed 14.1 to 38.0). It passed as left (24.3 s), after: "
                        + "exercised ten times.",
                headline(late).detail());
        assertEquals(
                "Incomplete, two points without a verdict",
                headline(skippedInsulation()).title());
    }

    private static RunFixture skippedInsulation() {
        RunFixture told = new RunFixture().confirmAll();
        told.act(new StepEvents.AnswerGiven("look", "case", "-", StepEvents.Answer.IN_ORDER, null))
                .act(new StepEvents.StepSkipped("ins", "tester broke"));
        for (String pole : List.of("A", "B", "C")) {
            told.attempt("contact/r/" + pole, 200);
            told.attempt("trip/time/" + pole, 24);
        }
        return told;
    }

    @Test
    void timeBelongsToTheStepAndLaneItWasSpentOn() {
        RunFixture told = new RunFixture()
                .act(new StepEvents.StepBegun("look"))
                .pass(59)
                .act(new StepEvents.StepBegun("contact"));
        told.pass(118).attempt("contact/r/A", 200);
        told.pass(57).attempt("contact/r/B", 200);
        StepTimes times = StepTimes.of(told.state());
        assertEquals(Duration.ofSeconds(60), times.step("look"));
        // An attempt of three events, a second each, after the pause.
        assertEquals(Duration.ofSeconds(121), times.lane("contact", "A"));
        assertEquals(Duration.ofSeconds(60), times.lane("contact", "B"));
        assertEquals(times.lane("contact", "A").plus(times.lane("contact", "B")), times.step("contact"));
        assertEquals(Duration.ZERO, times.step("trip"));
    }

    @Test
    void aNightWithoutAScreenIsNobodysTime() {
        RunFixture told = new RunFixture()
                .act(new StepEvents.StepBegun("look"))
                .pass(36_000)
                .act(new RunEvents.ScreenTaken("screen-2"));
        told.pass(9).add(new StepEvents.AnswerGiven("look", "case", "-", StepEvents.Answer.IN_ORDER, null));
        assertEquals(Duration.ofSeconds(10), StepTimes.of(told.state()).step("look"));
        RunJudgement judgement = RunJudgement.of(told.state());
        told.add(new RunEvents.Finished("P/2026/1", judgement, "test"));
        StepTimes finished = StepTimes.of(told.state());
        told.pass(9000).add(new RunEvents.Finished("P/2026/1", judgement, "test"));
        assertEquals(finished, StepTimes.of(told.state()), "what comes after the end takes no step's time");
    }

    @Test
    void aChangeWithinTheCombinedUncertaintyIsNoChangeSeen() {
        RunFixture then = new RunFixture();
        RunFixture now = new RunFixture();
        RunFixture far = new RunFixture();
        then.attempt("contact/r/A", 200);
        now.attempt("contact/r/A", 202.8);
        far.attempt("contact/r/A", 202.9);
        // U is 1 % of each: sqrt(2.00^2 + 2.028^2) = 2.848 by hand.
        Comparison.Row near = row(then, now, "contact/r/A");
        assertEquals(2.8, near.change(), 1e-9);
        assertEquals(2.848, near.uncertainty(), 1e-3);
        assertEquals(Comparison.Seen.NO_CHANGE_SEEN, near.seen());
        assertEquals(Comparison.Seen.CHANGED, row(then, far, "contact/r/A").seen());
        assertEquals(-2.8, row(now, then, "contact/r/A").change(), 1e-9);
    }

    @Test
    void theLevelIsAsLeftAndTheDriftAsFound() {
        RunFixture then = new RunFixture();
        then.attempt("trip/time/B", 22.0);
        RunFixture now = new RunFixture();
        now.attempt("trip/time/B", 41.6);
        now.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse("trip/time/B")), "exercised"));
        now.attempt("trip/time/B", 24.3);
        Comparison.Row row = row(then, now, "trip/time/B");
        assertEquals(2.3, row.change(), 1e-9);
        assertEquals(19.6, row.drift(), 1e-9);
        assertNull(row(now, then, "trip/time/B").drift());
        assertTrue(row.marginChange() == null || Math.abs(row.marginChange()) < 1, String.valueOf(row.marginChange()));
    }

    @Test
    void whatCameOfAFailureIsSaidForEveryEnd() {
        record End(double left, String came, String title) {}
        for (End end : List.of(
                new End(24.0, "It passed as left (24.0 s)", "Passed as left"),
                new End(37.5, "It passed, marginally, as left (37.5 s)", "Passed as left, one point marginal"),
                new End(44.0, "It failed again as left (44.0 s)", "Failed, one point"))) {
            RunFixture told = new RunFixture().allMeasured();
            RunFixture late = new RunFixture();
            for (String path : List.of("A-B", "C-E")) {
                late.attempt("ins/r/" + path, 2000);
            }
            late.confirmAll().act(new StepEvents.AnswerGiven("look", "case", "-", StepEvents.Answer.IN_ORDER, null));
            for (String pole : List.of("A", "B", "C")) {
                late.attempt("contact/r/" + pole, 200);
                late.attempt("trip/time/" + pole, pole.equals("A") ? 50 : 24);
            }
            late.add(new AttemptEvents.AdjustmentMade(List.of(PointKey.parse("trip/time/A")), "greased"));
            late.attempt("trip/time/A", end.left);
            assertTrue(
                    headline(late).detail().contains(end.came + ", after: greased."),
                    headline(late).detail());
            assertEquals(end.title, headline(late).title());
            assertNull(headline(told).detail());
        }
        RunFixture bound = new RunFixture();
        bound.attempt("trip/time/A", Qualifier.MORE, 60, Attempt.Outcome.VALID);
        assertEquals(
                "Trip, pole A failed as found (> 60.0 s, allowed 14.1 to 38.0).",
                headline(bound).detail());
        assertTrue(
                headline(bound).title().matches("Failed, one point, \\w+ points without a verdict"),
                headline(bound).title());
    }

    @Test
    void turnedRoundAComparisonSaysTheOpposite() {
        long seed = 4;
        Random random = new Random(seed);
        for (int i = 0; i < 50; i++) {
            RunFixture a = new RunFixture();
            RunFixture b = new RunFixture();
            for (String pole : List.of("A", "B", "C")) {
                a.attempt("contact/r/" + pole, 180 + 60 * random.nextDouble());
                b.attempt("contact/r/" + pole, 180 + 60 * random.nextDouble());
            }
            for (String pole : List.of("A", "B", "C")) {
                Comparison.Row there = row(a, b, "contact/r/" + pole);
                Comparison.Row back = row(b, a, "contact/r/" + pole);
                assertEquals(there.change(), -back.change(), 1e-12, "seed " + seed);
                assertEquals(there.uncertainty(), back.uncertainty(), 1e-12);
                assertEquals(there.seen(), back.seen());
                assertEquals(Math.abs(there.change()) > there.uncertainty(), there.seen() == Comparison.Seen.CHANGED);
            }
        }
    }

    @Test
    void stepsTogetherTakeNoLongerThanTheRun() {
        RunFixture told =
                new RunFixture().act(new StepEvents.StepBegun("look")).pass(30).allMeasured();
        Duration all = StepTimes.of(told.state()).steps().values().stream().reduce(Duration.ZERO, Duration::plus);
        List<org.juratest.core.run.Event> events = told.events();
        Duration whole = Duration.between(
                events.get(0).at(), events.get(events.size() - 1).at());
        assertTrue(!all.isZero() && all.compareTo(whole) <= 0, all + " of " + whole);
        assertEquals(Duration.ZERO, StepTimes.of(told.state()).step("change"), "a derivation takes nobody's time");
    }

    @Test
    void whatCannotBeSubtractedSaysWhy() {
        RunFixture then = new RunFixture();
        RunFixture now = new RunFixture();
        then.attempt("trip/time/A", 22);
        now.attempt("trip/time/A", Qualifier.MORE, 60, Attempt.Outcome.VALID);
        then.attempt("trip/time/B", 22);
        now.attempt("contact/r/C", 200);
        Comparison.Row bound = row(then, now, "trip/time/A");
        assertEquals(Comparison.Seen.NOT_COMPARABLE, bound.seen());
        assertEquals(List.of("one of them is only a bound"), bound.differences());
        assertNull(bound.change());
        assertEquals(List.of("not measured now"), row(then, now, "trip/time/B").differences());
        assertEquals(Comparison.Seen.NEW, row(then, now, "contact/r/C").seen());
        assertEquals(List.of(), Comparison.of(then.state(), then.state()).onlyThen());
        assertEquals(0, row(then, then, "trip/time/A").change(), 0);
    }

    @Test
    void aLimitThatFollowsFromReadingsIsNotAnotherLimitButAChangedOneIs() {
        RunFixture then = new RunFixture();
        RunFixture now = new RunFixture();
        for (String pole : List.of("A", "B", "C")) {
            then.attempt("contact/r/" + pole, 200);
            now.attempt("contact/r/" + pole, 220);
        }
        then.attempt("ins/r/A-B", 2000);
        now.attempt("ins/r/A-B", 2000);
        assertEquals(List.of(), row(then, now, "contact/r/A").differences());
        assertEquals(List.of(), row(then, now, "ins/r/A-B").differences());
        now.add(new AttemptEvents.LimitChanged(
                "ins",
                "r",
                LimitSpec.of(new LimitKind.AtLeast(50, 5000.0), LimitSpec.When.START, "house"),
                "old switchboard"));
        assertEquals(List.of("another limit then"), row(then, now, "ins/r/A-B").differences());
    }

    @Test
    void aFileNamePatternNamesEveryRecordApart() {
        Map<String, String> facts = Map.of(
                "position", "MFR-CBK-07", "year", "2026", "n", "2", "number", "MFR-CBK-07/2026/2", "verdict", "pass");
        assertEquals("MFR-CBK-07_2026-2", FileNamePattern.USUAL.name(facts));
        assertEquals("Bericht-MFR-CBK-07-2026-2-pass", new FileNamePattern("Bericht {number}: {verdict}").name(facts));
        assertEquals(
                "MFR-CBK-07-2026-2",
                new FileNamePattern("{number}{person}").name(facts),
                "what is not known is left out");
        assertEquals(
                "record-con.MFR",
                new FileNamePattern("{position}.MFR{year}{n}").name(Map.of("position", "con", "year", "", "n", "")));
        for (String bad : List.of("", "{numbr}", "{position}-{year}", "a{number", "x}{number}", "y".repeat(121))) {
            assertEquals(
                    "pattern",
                    assertThrows(Refusal.class, () -> new FileNamePattern(bad), bad)
                            .field());
        }
        assertTrue(assertThrows(Refusal.class, () -> new FileNamePattern("ab{numbr}"))
                .getMessage()
                .startsWith("At character 3:"));
    }

    @Test
    void noFileNameCanLeaveItsFolder() {
        long seed = 20261125;
        Random random = new Random(seed);
        for (int i = 0; i < 2000; i++) {
            StringBuilder wild = new StringBuilder();
            random.ints(12, 0, 0x2FF)
                    .forEach(c -> wild.append((char) (random.nextInt(3) == 0 ? "/\\:.".charAt(random.nextInt(4)) : c)));
            String name = new FileNamePattern("{number}").name(Map.of("number", wild.toString()));
            assertNotNull(name);
            assertFalse(
                    name.isEmpty()
                            || name.matches("(?s).*[/\\\\:*?\"<>|\\p{Cntrl}].*")
                            || name.startsWith(".")
                            || name.length() > 127,
                    "seed " + seed + ": " + name);
        }
    }
}
