package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.UUID;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import org.juratest.core.bench.FileAttempts;
import org.juratest.core.family.breakers.DigitisedCurrent;
import org.juratest.core.family.breakers.FiledCurrent;
import org.juratest.core.family.breakers.PickUp;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.Verdict;
import org.juratest.core.method.FileMethod;
import org.juratest.core.method.Filed;
import org.juratest.core.method.Hand;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StartingPoint;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.EventData;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.Reading;
import org.juratest.core.run.Refusal;
import org.juratest.core.trace.Trace;
import org.juratest.e2e.breakers.InjectionRig;
import org.juratest.formats.capture.CaptureFormat;
import org.juratest.formats.capture.CaptureFormats;
import org.juratest.server.starting.StartingPoints;

/** Instantaneous pick-up, minimum trip and sequences over the sockets of the injection set. */
class BreakerRunTest {

    private static PointJudgement judged(InjectionRig rig, String key) {
        return rig.judgement().points().stream()
                .filter(p -> p.key().toString().equals(key))
                .findFirst()
                .orElseThrow(() -> new AssertionError(key));
    }

    private static Attempt valid(InjectionRig rig, String step, String lane) {
        Attempt attempt = rig.measure(step, lane);
        // At a hundred times the clock, a second in which the machine stands still is more than a minute of the gear.
        for (int again = 0; again < 2 && attempt.outcome() != Attempt.Outcome.VALID; again++) {
            rig.rests(30);
            attempt = rig.measure(step, lane);
        }
        assertEquals(Attempt.Outcome.VALID, attempt.outcome(), step + " " + lane + ": " + attempt.words());
        return attempt;
    }

    private static Reading reading(Attempt attempt, String point) {
        return attempt.readings().stream()
                .filter(r -> r.key().point().equals(point))
                .findFirst()
                .orElseThrow(() -> new AssertionError(point + " of " + attempt));
    }

    /** A coarse search finds where it trips, a fine one goes on from what held. */
    @Test
    void theInstantaneousPickUpIsFoundFromCoarseToFine() throws IOException {
        try (InjectionRig rig = new InjectionRig("MFR-CBK-07", "cbk-accept-1", 200)) {
            Attempt coarse = valid(rig, "coarse", "B");
            double from = reading(coarse, "held").value();
            double tripped = reading(coarse, "pickUp").value();
            Attempt fine = valid(rig, "instantaneous", "B");
            Reading found = reading(fine, "pickUp");
            assertTrue(found.value() > from && found.value() < 1.02 * tripped, from + " " + found + " " + tripped);
            PointJudgement point = judged(rig, "instantaneous/pickUp/B");
            assertEquals(Verdict.PASS, point.verdict(), String.valueOf(point));
            double peak = reading(fine, "peak").value();
            assertTrue(peak > 1.3 * found.value() && peak < 3 * found.value(), "" + peak);
        }
    }

    /** A pole that trips at the first pulse says only "at or below"; the next measurement begins lower by itself. */
    @Test
    void aTripAtTheFirstPulseIsAtOrBelowAndTheNextBeginsLower() throws IOException {
        try (InjectionRig rig = new InjectionRig("MFR-CBK-07", "cbk-accept-1", 200)) {
            rig.control("low", "MFR-CBK-07:A", "0.6");
            Reading first = reading(valid(rig, "coarse", "A"), "pickUp");
            assertEquals(Qualifier.AT_MOST, first.qualifier());
            Attempt lower = valid(rig, "coarse", "A");
            Reading second = reading(lower, "pickUp");
            assertEquals(Qualifier.EQUAL, second.qualifier(), lower.words());
            assertTrue(second.value() < first.value(), first + " " + second);
            valid(rig, "instantaneous", "A");
            assertEquals(Verdict.FAIL, judged(rig, "instantaneous/pickUp/A").verdict());
        }
    }

    /**
     * Short time, its I²t out and in, and ground fault of an electronic unit: each pick-up by pulses longer than its
     * delay, each delay against its own part of the curve.
     */
    @Test
    void anElectronicUnitsDelayedFunctionsAreTriedEach() throws IOException {
        for (String position : List.of("MFR-CBK-04", "MFR-CBK-02")) {
            try (InjectionRig rig = new InjectionRig(position, "cbe-accept-1", 200)) {
                valid(rig, "longTime", "A");
                valid(rig, "shortPickUp", "A");
                double shortTime =
                        reading(valid(rig, "shortDelay", "A"), "time").value();
                // 0.2 s and its clearing; with I²t in (2 / 1.35)² as long at 1.35 times the pick-up.
                assertEquals(position.endsWith("02") ? 0.477 : 0.216, shortTime, 0.02, position);
                valid(rig, "groundPickUp", "G");
                assertEquals(
                        0.216, reading(valid(rig, "groundDelay", "G"), "time").value(), 0.01);
                for (String key : List.of(
                        "longTime/time/A",
                        "shortPickUp/pickUp/A",
                        "shortDelay/time/A",
                        "groundPickUp/pickUp/G",
                        "groundDelay/time/G")) {
                    assertEquals(Verdict.PASS, judged(rig, key).verdict(), position + " " + judged(rig, key));
                }
            }
        }
    }

    /** A unit whose own time has drifted: what it picks up at is right, how long it waits is not. */
    @Test
    void aUnitThatWaitsTooLongFailsByItsDelaysOnly() throws IOException {
        try (InjectionRig rig = new InjectionRig("BRU-CBK-02", "cbe-accept-1", 200)) {
            for (String step : List.of("shortPickUp", "shortDelay")) {
                valid(rig, step, "B");
            }
            valid(rig, "groundDelay", "G");
            assertEquals(Verdict.PASS, judged(rig, "shortPickUp/pickUp/B").verdict());
            PointJudgement late = judged(rig, "shortDelay/time/B");
            assertEquals(Verdict.FAIL, late.verdict());
            assertTrue(String.valueOf(late.why()).endsWith("beyond its limit, a minor deviation"), late.toString());
            assertEquals(Verdict.FAIL, judged(rig, "groundDelay/time/G").verdict());
            rig.control("delay", "BRU-CBK-02:A", "1");
            valid(rig, "shortDelay", "C");
            assertEquals(Verdict.PASS, judged(rig, "shortDelay/time/C").verdict(), "all poles share the unit");
        }
    }

    /** Raised by a hand until it trips; let go, it is off at once; a hand that is not heard any more is let go. */
    @Test
    void aCurrentByHandFollowsTheHandAndEndsWithIt() throws IOException {
        try (InjectionRig rig = new InjectionRig("MFR-CBK-07", "cbk-accept-1", 5)) {
            assertFalse(rig.state().scope().step("byHand"), "a run begins without it");
            assertFalse(rig.judgement().notTested().contains("Current by hand"), "and is whole without it");
            rig.all();
            double greatest = rig.state()
                    .stepInScope("instantaneous")
                    .maxima()
                    .get("current")
                    .value();
            long[] beats = {0};
            Attempt tripped = heldOnce(rig, beats, hand -> hand.holds(1, System.nanoTime()));
            assertEquals(Attempt.Outcome.VALID, tripped.outcome(), tripped.words());
            Reading at = reading(tripped, "current");
            assertEquals(Qualifier.EQUAL, at.qualifier(), tripped.words());
            assertTrue(at.value() > 200 && at.value() <= greatest * 1.01, at + " of " + greatest);
            assertEquals(
                    2,
                    rig.state().captures().stream()
                            .filter(c -> c.attempt().equals(tripped.id()))
                            .count(),
                    "as it was set, and as it flowed");

            Attempt letGo = heldOnce(rig, beats, hand -> {
                // Long enough that it is on by then, on a slow machine as well.
                if (++beats[0] < 20) {
                    hand.holds(0, System.nanoTime());
                } else {
                    hand.letGo();
                }
            });
            assertEquals(Attempt.Outcome.VALID, letGo.outcome(), letGo.words());
            assertEquals(Qualifier.MORE, reading(letGo, "current").qualifier(), letGo.words());
            assertEquals(100, reading(letGo, "current").value(), 1, "as it began");

            Attempt unheard = heldOnce(rig, beats, hand -> {
                if (++beats[0] < 20) {
                    hand.holds(0, System.nanoTime());
                }
            });
            assertEquals(Attempt.Outcome.VALID, unheard.outcome(), unheard.words());
            assertTrue(unheard.words().startsWith("let go"), unheard.words());
        }
    }

    /** Pulses do not heat the bimetal: the long-time trip after a search is what it was before. */
    @Test
    void whatRestsBetweenPulsesGathersNoHeat() throws IOException {
        try (InjectionRig rig = new InjectionRig("MFR-CBK-07", "cbk-accept-1", 200)) {
            double before = reading(valid(rig, "longTime", "C"), "time").value();
            for (int i = 0; i < 40; i++) {
                Thread.onSpinWait();
            }
            valid(rig, "coarse", "C");
            double after = reading(valid(rig, "longTime", "C"), "time").value();
            assertTrue(after > 0.55 * before, before + " s, then " + after + " s");
        }
    }

    /** From the minimum trip to the lock-out at three levels; one phase has a fast curve that has become slow. */
    @Test
    void aReclosersPhasesAreToldApartLevelByLevel() throws IOException {
        try (InjectionRig rig = new InjectionRig("ORE-REC-01", "rec-2yearly-2", 100)) {
            for (String phase : List.of("A", "B")) {
                valid(rig, "pickUp", phase);
                assertEquals(Verdict.PASS, judged(rig, "pickUp/pickUp/" + phase).verdict());
                for (String level : List.of("1", "2", "3")) {
                    String lane = phase + "." + level;
                    rig.rests(30);
                    Attempt attempt = valid(rig, "sequence", lane);
                    assertEquals(4, reading(attempt, "operations").value(), lane + " " + attempt.words());
                    assertEquals(
                            Verdict.PASS,
                            judged(rig, "sequence/delayed/" + lane).verdict(),
                            lane + " " + reading(attempt, "delayed"));
                    assertEquals(1, reading(attempt, "runDelayed").value(), 0.1, lane);
                }
            }
            assertEquals(Verdict.PASS, judged(rig, "sequence/fast/A.1").verdict());
            assertEquals(Verdict.FAIL, judged(rig, "sequence/fast/B.1").verdict());
            long rows = rig.state().attempts("sequence", "A.1").stream()
                    .flatMap(a -> a.readings().stream())
                    .filter(r -> r.key().point().startsWith("trip#"))
                    .count();
            assertEquals(4, rows);
            // Levels that a run begins without are no gap in it.
            assertTrue(rig.judgement().notTested().stream().noneMatch(w -> w.contains("level")));
        }
    }

    /**
     * Nothing regulates the current of a sequence: what the first attempt teaches, the next one starts from, and hits;
     * further than the procedure allows nobody sets it.
     */
    @Test
    void whatASequenceTeachesHitsNextTime() throws IOException {
        try (InjectionRig rig = new InjectionRig("ORE-REC-01", "rec-2yearly-2", 100)) {
            Step step = rig.state().procedure().step("sequence").orElseThrow();
            Attempt first = valid(rig, "sequence", "A.1");
            StartingPoint found = StartingPoints.found(step, first).get(0);
            double wanted = found.wanted().value();
            assertEquals("drive", found.param());
            assertTrue(found.hit().value() < 0.97 * wanted, "as set it gives too little: " + found);
            AttemptEvents.ParamChanged set =
                    new AttemptEvents.ParamChanged("sequence", "drive", "A.1", found.value(), "starting point");
            set.check(rig.state());
            assertEquals(
                    "out-of-range",
                    assertThrows(Refusal.class, () -> new AttemptEvents.ParamChanged(
                                            "sequence", "drive", "A.1", 1.4, "more")
                                    .check(rig.state()))
                            .code());
            rig.param("sequence", "drive", found.value());
            rig.rests(30);
            Attempt second = valid(rig, "sequence", "A.1");
            Step then = rig.state().procedure().step("sequence").orElseThrow();
            StartingPoint again = StartingPoints.found(then, second).get(0);
            assertEquals(wanted, again.hit().value(), 0.02 * wanted);
            assertEquals(found.value(), again.value(), 0.02, "and teaches the same");
        }
    }

    /** Held by a hand; again where the machine stood still for so long that nobody was heard. */
    private static Attempt heldOnce(InjectionRig rig, long[] beats, Consumer<Hand> beat) {
        Attempt attempt;
        int tries = 0;
        do {
            beats[0] = 0;
            attempt = rig.held("byHand", "C", beat);
        } while (attempt.outcome() != Attempt.Outcome.VALID && ++tries < 3);
        return attempt;
    }

    private static AttemptEvents.Captured samples(InjectionRig rig, Attempt attempt) {
        return rig.state().captures().stream()
                .filter(c -> c.attempt().equals(attempt.id()) && c.keptForFiles())
                .findFirst()
                .orElseThrow();
    }

    private static CaptureFormat formatOf(AttemptEvents.Captured kept) {
        return CaptureFormats.all().stream()
                .filter(f -> f.writes(kept))
                .findFirst()
                .orElseThrow();
    }

    /** The current of an attempt as its file says it. */
    private static DigitisedCurrent left(InjectionRig rig, Attempt attempt) throws IOException {
        AttemptEvents.Captured kept = samples(rig, attempt);
        CaptureFormat format = formatOf(kept);
        byte[] bytes = format.write(rig.state(), kept, rig.trace(kept.sha256())).orElseThrow();
        return ((FiledCurrent) format.read("x.cff", bytes).content()).current();
    }

    /** What a ramp and the pulse that tripped were read off leaves as a record of the trade, sample by sample. */
    @Test
    void rampsAndPulsesLeaveTheirSamplesToo() throws IOException {
        try (InjectionRig rig = new InjectionRig("ORE-REC-01", "rec-2yearly-2", 100)) {
            Attempt ramp = valid(rig, "pickUp", "A");
            DigitisedCurrent left = left(rig, ramp);
            double pickUp = reading(ramp, "pickUp").value();
            assertEquals(
                    pickUp,
                    PickUp.of(left.time(), left.current(), 50, PickUp.Detector.FALL)
                            .orElseThrow()
                            .current(),
                    0.01 * pickUp);
        }
        try (InjectionRig rig = new InjectionRig("MFR-CBK-07", "cbk-accept-1", 200)) {
            Attempt pulses = valid(rig, "coarse", "A");
            DigitisedCurrent left = left(rig, pulses);
            double largest = Arrays.stream(left.current()).map(Math::abs).max().orElseThrow();
            double tripped = reading(pulses, "pickUp").value();
            assertTrue(largest > 1.2 * tripped && largest < 3 * tripped, largest + " A peak of " + tripped + " A");
        }
    }

    /** What was digitised goes out as a record of the trade and comes in again as the same operations. */
    @Test
    void aSequencesCurrentGoesOutAsAFileAndComesInAgain() throws IOException {
        try (InjectionRig rig = new InjectionRig("ORE-REC-01", "rec-2yearly-2", 100)) {
            Attempt measured = valid(rig, "sequence", "A.2");
            AttemptEvents.Captured kept = samples(rig, measured);
            CaptureFormat format = formatOf(kept);
            byte[] bytes =
                    format.write(rig.state(), kept, rig.trace(kept.sha256())).orElseThrow();
            Filed file = CaptureFormats.of("ORE-REC-01_A.2_001.cff", bytes)
                    .orElseThrow()
                    .read("ORE-REC-01_A.2_001.cff", bytes);
            assertTrue(file.names().contains("ORE-REC-01"), file.names().toString());
            assertEquals(List.of(), file.warnings());
            Step step = rig.state().procedure().step("sequence").orElseThrow();
            FileMethod method = (FileMethod) Methods.byName("breaker.sequence").orElseThrow();
            assertTrue(method.takes(rig.state(), step, "A.2", file));
            assertFalse(method.takes(rig.state(), step, "A.1", file), "another level");

            List<EventData> events = FileAttempts.of(
                    rig.state(),
                    new FileAttempts.Brought(
                            "ORE-REC-01_A.2_001.cff", bytes, format.mediaType(), file, step.at("A.2"), "A.2", null),
                    UUID.randomUUID(),
                    new FileAttempts.Keeper() {
                        @Override
                        public String keep(Trace trace) {
                            return "a".repeat(64);
                        }

                        @Override
                        public String keep(byte[] file, String mediaType) {
                            return "b".repeat(64);
                        }
                    });
            List<Reading> again = events.stream()
                    .filter(AttemptEvents.ReadingTaken.class::isInstance)
                    .map(e -> ((AttemptEvents.ReadingTaken) e).reading())
                    .toList();
            for (String point : List.of("operations", "fast", "delayed", "trip#1", "trip#4", "open#1", "rms#3")) {
                Reading then = again.stream()
                        .filter(r -> r.key().point().equals(point))
                        .findFirst()
                        .orElseThrow(() -> new AssertionError(point + " of " + again));
                assertEquals(reading(measured, point).value(), then.value(), 2e-3 * then.value() + 1e-4, point);
            }
        }
    }

    /** Where the current does not fall, the ramp levels off; what the other detector finds is offered. */
    @Test
    void theOtherDetectorIsOfferedWhereOneFindsNothing() throws IOException {
        try (InjectionRig rig = new InjectionRig("COL-REC-01", "rec-2yearly-2", 100)) {
            Attempt fall = rig.measure("pickUp", "C");
            assertEquals(Attempt.Outcome.UNCLEAR, fall.outcome(), fall.words());
            assertTrue(fall.words().contains("levelling-off of the ramp shows 14"), fall.words());
            rig.param("pickUp", "detector", 1);
            Reading found = reading(valid(rig, "pickUp", "C"), "pickUp");
            assertEquals(140 * 1.02 * 1.01, found.value(), 2.5);
        }
    }

    /** Opened, closed, and closed and opened again by its own coils; what is worn is told by what it wears. */
    @Test
    void aBreakersOperationsAreTimedPoleByPole() throws IOException {
        try (InjectionRig rig = new InjectionRig("MFR-MCB-01", "mcb-4yearly-3", 1)) {
            for (String pole : List.of("A", "B", "C")) {
                valid(rig, "contact", pole);
            }
            Attempt opened = valid(rig, "open", "-");
            assertEquals(35.5, reading(opened, "slowest").value(), 3, opened.words());
            assertEquals(14, reading(opened, "stroke").value(), 0.3);
            assertTrue(reading(opened, "latch").value() > 10
                    && reading(opened, "latch").value() < 20);
            assertEquals(
                    2,
                    rig.state().captures().stream()
                            .filter(c -> c.attempt().equals(opened.id()))
                            .count());
            valid(rig, "close", "-");
            Attempt both = valid(rig, "closeOpen", "-");
            assertTrue(reading(both, "closeOpen").value() > 55, both.toString());
            double slow = reading(valid(rig, "closeLow", "-"), "slowest").value();
            assertTrue(slow > judged(rig, "close/slowest/-").counting().value(), "its coil pulls less");
            valid(rig, "openLow", "-");
            rig.judgement().points().stream()
                    .filter(p -> List.of("open", "close", "closeOpen", "contact", "closeLow", "openLow")
                            .contains(p.key().step()))
                    .filter(p -> p.limit() != null)
                    .forEach(p -> assertEquals(Verdict.PASS, p.verdict(), String.valueOf(p)));
        }
    }

    @Test
    void aLazyPoleAStiffLatchAndAnEmptyDamperEachShow() throws IOException {
        try (InjectionRig rig = new InjectionRig("MFR-MCB-03", "mcb-4yearly-3", 1)) {
            valid(rig, "open", "-");
            assertEquals(Verdict.FAIL, judged(rig, "open/spread/-").verdict());
            assertEquals(Verdict.PASS, judged(rig, "open/pole1/-").verdict());
        }
        try (InjectionRig rig = new InjectionRig("MFR-MCB-05", "mcb-4yearly-3", 1)) {
            valid(rig, "open", "-");
            assertEquals(Verdict.FAIL, judged(rig, "open/slowest/-").verdict());
            assertEquals(Verdict.PASS, judged(rig, "open/spread/-").verdict());
            rig.control("switching", "MFR-MCB-05", "friction", "1");
            assertTrue(reading(valid(rig, "open", "-"), "slowest").value() < 40, "its latches are mended");
        }
        try (InjectionRig rig = new InjectionRig("MFR-MCB-06", "mcb-4yearly-3", 1)) {
            valid(rig, "open", "-");
            assertEquals(Verdict.FAIL, judged(rig, "open/rebound/-").verdict());
            assertEquals(Verdict.PASS, judged(rig, "open/slowest/-").verdict());
        }
    }

    /** At a low control voltage a stiff latch is not freed: a coil that was energised and nothing moved is unclear. */
    @Test
    void whatDoesNotMoveIsNotCalledATime() throws IOException {
        try (InjectionRig rig = new InjectionRig("MFR-MCB-05", "mcb-4yearly-3", 1)) {
            rig.control("switching", "MFR-MCB-05", "friction", "6");
            Attempt stuck = rig.measure("open", "-");
            assertEquals(Attempt.Outcome.UNCLEAR, stuck.outcome(), stuck.words());
            assertTrue(stuck.words().contains("no contact moved"), stuck.words());
        }
    }

    private static double milliseconds(InjectionRig rig, String step, String lane) {
        return reading(valid(rig, step, lane), "time").value();
    }

    /** What holds at half, trips in time at once and five times its current, and where it trips while it grows. */
    @Test
    void aResidualCurrentDeviceIsTriedOnBothHalves() throws IOException {
        for (String position : List.of("TES-RCD-01", "ORE-RCD-01")) {
            try (InjectionRig rig = new InjectionRig(position, "rcd-yearly-1", 20)) {
                for (String half : List.of("p", "n")) {
                    assertEquals(
                            Qualifier.MORE,
                            reading(valid(rig, "half", half), "time").qualifier());
                    milliseconds(rig, "once", half);
                    milliseconds(rig, "five", half);
                    valid(rig, "grows", half);
                }
                rig.judgement().points().stream()
                        .filter(p -> p.limit() != null)
                        .filter(p -> !p.key().step().equals("counted"))
                        .forEach(p -> assertEquals(Verdict.PASS, p.verdict(), position + " " + p));
            }
        }
    }

    /** A slow one, a nervous one, and one whose first trip sticks: each fails where it should and only there. */
    @Test
    void residualCurrentDevicesFailByWhatIsWrongWithThem() throws IOException {
        try (InjectionRig rig = new InjectionRig("VAU-RCD-01", "rcd-yearly-1", 20)) {
            milliseconds(rig, "once", "p");
            assertEquals(Verdict.FAIL, judged(rig, "once/time/p").verdict());
        }
        try (InjectionRig rig = new InjectionRig("MFR-RCD-01", "rcd-yearly-1", 20)) {
            assertEquals(
                    Qualifier.EQUAL, reading(valid(rig, "half", "n"), "time").qualifier());
            assertEquals(Verdict.FAIL, judged(rig, "half/time/n").verdict());
            milliseconds(rig, "once", "n");
            assertEquals(Verdict.PASS, judged(rig, "once/time/n").verdict());
        }
        try (InjectionRig rig = new InjectionRig("PRA-RCD-02", "rcd-yearly-1", 20)) {
            double first = milliseconds(rig, "once", "p");
            double next = milliseconds(rig, "once", "n");
            assertTrue(first > 300 && next < 50, first + " ms, then " + next + " ms");
        }
    }

    /** Where the protective conductor would become dangerous no test current flows. */
    @Test
    void noResidualCurrentFlowsIntoABadEarth() throws IOException {
        try (InjectionRig rig = new InjectionRig("TES-RCD-01", "rcd-yearly-1", 20)) {
            rig.control("residual", "TES-RCD-01", "earth", "1900");
            Attempt refused = rig.measure("once", "p");
            assertEquals(Attempt.Outcome.CONNECTION_FAILED, refused.outcome(), refused.words());
            assertTrue(refused.words().contains("at most 50.0 V"), refused.words());
            assertTrue(
                    refused.readings().stream().noneMatch(r -> r.key().point().equals("time")));
        }
    }

    /** Pick-up, times over the curve and the direction of a relay; one that has drifted and one that is turned fail. */
    @Test
    void aRelayIsMeasuredElementByElement() throws IOException {
        try (InjectionRig rig = new InjectionRig("MFR-REL-01", "rel-2yearly-2", 50)) {
            for (String phase : List.of("A", "B", "C")) {
                Attempt attempt = valid(rig, "pickUp", phase);
                assertEquals(0.8, reading(attempt, "pickUp").value(), 0.02, attempt.words());
                for (String level : List.of("1", "2", "3")) {
                    valid(rig, "time", phase + "." + level);
                }
            }
            Attempt direction = valid(rig, "directional", "-");
            assertEquals(45, reading(direction, "centre").value(), 1.5);
            assertEquals(176, reading(direction, "width").value(), 1);
            // IEC 60255-151, standard inverse, 0.2 at five times: 0.14 / (5^0.02 - 1) * 0.2.
            assertEquals(0.856, valid(rig, "time", "A.2").readings().get(0).value(), 0.04);
            rig.judgement().points().stream()
                    .filter(p -> p.limit() != null)
                    .forEach(p -> assertEquals(Verdict.PASS, p.verdict(), String.valueOf(p)));
        }
        try (InjectionRig rig = new InjectionRig("MFR-REL-02", "rel-2yearly-2", 50)) {
            valid(rig, "pickUp", "B");
            assertEquals(Verdict.FAIL, judged(rig, "pickUp/pickUp/B").verdict());
            assertEquals(Verdict.PASS, judged(rig, "pickUp/ratio/B").verdict());
            valid(rig, "time", "B.1");
            assertEquals(Verdict.FAIL, judged(rig, "time/time/B.1").verdict(), "slow near its setting");
        }
        try (InjectionRig rig = new InjectionRig("BRU-REL-03", "rel-2yearly-2", 50)) {
            valid(rig, "directional", "-");
            assertEquals(Verdict.FAIL, judged(rig, "directional/centre/-").verdict());
            assertEquals(Verdict.PASS, judged(rig, "directional/width/-").verdict());
        }
    }

    /** Its voltage turned round, it looks backwards: no edges are told, and a person says why. */
    @Test
    void aRelayThatLooksBackwardsHasNoEdges() throws IOException {
        try (InjectionRig rig = new InjectionRig("MFR-REL-01", "rel-2yearly-2", 50)) {
            rig.control("relay", "MFR-REL-01", "turned", "180");
            Attempt backwards = rig.measure("directional", "-");
            assertEquals(Attempt.Outcome.UNCLEAR, backwards.outcome(), backwards.words());
            assertTrue(backwards.words().contains("its own angle"), backwards.words());
        }
    }

    @Test
    void theDifferenceIsFoundAtEachRestraint() throws IOException {
        try (InjectionRig rig = new InjectionRig("BRU-REL-01", "rel-diff-1", 50)) {
            for (String restraint : List.of("1", "2", "3", "4")) {
                valid(rig, "differential", restraint);
                PointJudgement point = judged(rig, "differential/difference/" + restraint);
                assertEquals(Verdict.PASS, point.verdict(), String.valueOf(point));
            }
        }
        try (InjectionRig rig = new InjectionRig("BRU-REL-01", "rel-diff-1", 50)) {
            rig.control("relay", "BRU-REL-01", "slope", "1.4");
            valid(rig, "differential", "1");
            valid(rig, "differential", "3");
            // Beneath the knee its setting rules, above it the slope.
            assertEquals(Verdict.PASS, judged(rig, "differential/difference/1").verdict());
            assertEquals(Verdict.FAIL, judged(rig, "differential/difference/3").verdict());
        }
    }

    /** A setting that nobody wrote down is found, put right over the port, and read again as left. */
    @Test
    void settingsAreReadComparedWrittenAndReadBack() throws IOException {
        try (InjectionRig rig = new InjectionRig("BRU-REL-05", "rel-settings-1", 1)) {
            Attempt read = valid(rig, "settings", "-");
            assertEquals(0.25, reading(read, "timeMultiplier").value(), 1e-9);
            assertEquals(30, reading(read, "differentialSlope").value(), 1e-9);
            assertEquals(Verdict.FAIL, judged(rig, "settings/timeMultiplier/-").verdict());
            assertEquals(Verdict.PASS, judged(rig, "settings/pickUpSetting/-").verdict());

            Attempt written = valid(rig, "write", "-");
            assertEquals("written and read back", written.words());
            List<AttemptEvents.SettingChange> changes = rig.state().events().stream()
                    .map(e -> e.data())
                    .filter(AttemptEvents.AdjustmentMade.class::isInstance)
                    .flatMap(e -> ((AttemptEvents.AdjustmentMade) e).settings().stream())
                    .toList();
            assertEquals(
                    List.of(new AttemptEvents.SettingChange(
                            "timeMultiplier", "Time multiplier, now, thousandths", 250, 200)),
                    changes,
                    "what agreed was left alone");

            valid(rig, "settings", "-");
            PointJudgement left = judged(rig, "settings/timeMultiplier/-");
            assertEquals(Verdict.PASS, left.verdict());
            assertEquals(0.25, left.asFound().value(), 1e-9, "as found stays on the record");
            assertEquals(
                    "as of record; nothing was written",
                    valid(rig, "write", "-").words());
        }
    }
}
