package org.juratest.core.run;

import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.correction.Correction;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.CorrectionSpec;
import org.juratest.core.procedure.Discharge;
import org.juratest.core.procedure.FeatureSpec;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/** References, charges, rows, and values that are not there. */
class SetUpTest {

    private static final UUID A = new UUID(19, 1);
    private static final UUID B = new UUID(19, 2);

    private static TestPoint point(
            String id, String unit, @Nullable LimitKind limit, List<CorrectionSpec> corrections) {
        return new TestPoint(
                id,
                id,
                unit,
                Scale.LINEAR,
                "series." + id,
                limit != null,
                limit == null ? null : LimitSpec.of(limit, LimitSpec.When.START, "default"),
                null,
                null,
                Map.of(),
                corrections);
    }

    private static CorrectionSpec offset(String of, @Nullable Double u) {
        return new CorrectionSpec(
                "zero", Correction.Kind.OFFSET, null, "0 - z", Map.of("z", of), null, List.of(), u, Map.of());
    }

    /** A zero that holds for 30 minutes, a measurement that counts with it, charges and finds rows. */
    private static Procedure procedure(Procedure p) {
        List<Step> steps = new ArrayList<>();
        steps.add(Step.builder("zero", StepKind.REFERENCE, "Zero")
                .method("m")
                .gear("mic")
                .points(List.of(point("level", "V", null, List.of())))
                .more(new Step.Relations(List.of(), false, true, null, List.of(), null, 30.0, null))
                .build());
        steps.add(Step.builder("level", StepKind.MEASUREMENT, "Level")
                .method("m")
                .lanes("poles")
                .gear("mic")
                .hazard(true)
                .points(List.of(
                        point("v", "V", new LimitKind.AtLeast(5, null), List.of(offset("reading:zero/level", 0.0)))))
                .features(List.of(new FeatureSpec(
                        "spot",
                        "Spot",
                        "mm",
                        0.5,
                        3,
                        List.of(point("size", "mm", new LimitKind.AtMost(2, null), List.of())))))
                .more(new Step.Relations(
                        List.of(),
                        false,
                        true,
                        null,
                        List.of(),
                        List.of("zero"),
                        null,
                        new Discharge(50, 10, "Earthed by hand")))
                .build());
        return RunFixture.withSteps(p, steps);
    }

    private final RunFixture told = new RunFixture(SetUpTest::procedure);

    private static String refused(Executable what) {
        return String.valueOf(assertThrows(Refusal.class, what).getMessage());
    }

    private static String code(Executable what) {
        return assertThrows(Refusal.class, what).code();
    }

    private Step ready(String lane, Instant now) {
        return Rules.ready(told.state(), "level", lane, now, RunFixture.TODAY);
    }

    private Instant now() {
        List<Event> events = told.state().events();
        return events.get(events.size() - 1).at();
    }

    private void took(UUID attempt, String step, String lane, String point, double volts, @Nullable Double u) {
        told.add(new AttemptEvents.AttemptBegun(
                attempt, step, lane, told.gear("mic").id(), 1));
        ReadingBuilder reading = new ReadingBuilder(
                told.state(),
                new PointKey(step, point, lane),
                told.gear("mic"),
                Reading.Source.MEASURED,
                volts,
                Unit.VOLT);
        if (u == null) {
            reading.unknown();
        } else {
            reading.typeB(u, 1);
        }
        told.add(new AttemptEvents.ReadingTaken(attempt, reading.result().reading()));
        told.add(new AttemptEvents.AttemptClosed(attempt, Attempt.Outcome.VALID, "measured"));
    }

    // ---- references

    @Test
    void whatCountsWithAReferenceWaitsForIt() {
        assertEquals(
                "\"Level\" counts with \"Zero\", which was not taken yet. Take it first.",
                refused(() -> ready("A", now())));
        took(A, "zero", "-", "level", 0.25, 0.1);
        assertDoesNotThrow(() -> ready("A", now()));
    }

    @Test
    void aReferenceEndsToHold() {
        took(A, "zero", "-", "level", 0.25, 0.1);
        Instant taken = told.state().attempts("zero", null).get(0).at();
        assertDoesNotThrow(() -> ready("A", taken.plusSeconds(1799)));
        assertEquals(
                "\"Level\" counts with \"Zero\", which is 30 min old and holds for 30 min. Take it first.",
                refused(() -> ready("A", taken.plusSeconds(1800))));
    }

    @Test
    void aReferenceIsVoidOnceTheSetUpMovedAndGoodAgainWhenItIsTakenAnew() {
        took(A, "zero", "-", "level", 0.25, 0.1);
        told.act(new RunEvents.SetupMoved("the lamp was knocked"));
        assertEquals(
                "\"Level\" counts with \"Zero\", which is void: the lamp was knocked. Take it first.",
                refused(() -> ready("A", now())));
        took(B, "zero", "-", "level", 0.5, 0.1);
        assertDoesNotThrow(() -> ready("A", now()));
        told.add(new RunEvents.GearChosen(told.gear("inj")));
        assertDoesNotThrow(() -> ready("A", now()), "other gear, for something else");
        told.add(new RunEvents.GearChosen(told.gear("mic")));
        assertTrue(refused(() -> ready("A", now())).contains("was taken since"));
    }

    @Test
    void aVoidedOrSkippedReferenceIsNone() {
        took(A, "zero", "-", "level", 0.25, 0.1);
        told.act(new AttemptEvents.AttemptVoided(A, AttemptEvents.VoidReason.LEAD, "loose"));
        assertTrue(refused(() -> ready("A", now())).contains("was not taken yet"));
        told.act(new StepEvents.StepSkipped("zero", "no time"));
        assertTrue(refused(() -> ready("A", now())).contains("was skipped: no time"));
    }

    @Test
    void aReadingIsCorrectedByTheLatestReferenceWithItsUncertainty() {
        took(A, "zero", "-", "level", 1, 0.4);
        took(B, "zero", "-", "level", 0.25, 0.3);
        UUID third = new UUID(19, 3);
        took(third, "level", "A", "v", 6, 0.4);
        Reading reading = told.state().attempt(third).orElseThrow().readings().get(0);
        assertEquals(5.75, reading.value(), 1e-12);
        assertEquals(6, reading.raw());
        assertEquals(2 * 0.5, reading.uncertainty(), 1e-6, "0.4 V of the reading and 0.3 V of its zero, k = 2");
        assertEquals(-0.25, reading.corrections().get(0).amount(), 1e-12);
    }

    @Test
    void whereNobodyKnowsHowWellTheReferenceIsKnownNobodyKnowsTheReading() {
        took(A, "zero", "-", "level", 0.25, null);
        took(B, "level", "A", "v", 6, 0.4);
        Reading reading = told.state().attempt(B).orElseThrow().readings().get(0);
        assertEquals(5.75, reading.value(), 1e-12);
        assertNull(reading.uncertainty(), "unknown is not zero");
    }

    // ---- references carried over into the next run

    /** Carries the zero of what was told into another run of the same, a while later. */
    private CarriedReference.Carried carried(RunFixture into, Instant when) {
        return CarriedReference.of(
                into.state(), "zero", told.state(), "CBK-1/2026/1", when, RunFixture.TODAY, () -> new UUID(19, 77));
    }

    private Instant taken() {
        return told.state().attempts("zero", null).get(0).at();
    }

    @Test
    void aCarriedReferenceCountsAsItDidAndEndsToHoldWhenItWouldHave() {
        took(A, "zero", "-", "level", 0.25, 0.1);
        RunFixture next = new RunFixture(SetUpTest::procedure);
        CarriedReference.Carried carried = carried(next, taken().plusSeconds(1200));
        assertEquals(taken(), carried.takenAt());
        assertEquals(taken().plusSeconds(1800), carried.until());
        carried.events().forEach(next::add);
        RunState state = next.state();
        assertEquals(
                0.25,
                References.value(state, state.stepInScope("level"), "A", "level")
                        .orElseThrow());
        assertDoesNotThrow(() -> Rules.ready(state, "level", "A", taken().plusSeconds(1799), RunFixture.TODAY));
        assertTrue(refused(() -> Rules.ready(state, "level", "A", taken().plusSeconds(1801), RunFixture.TODAY))
                .contains("is 30 min old and holds for 30 min"));
        // And from there into a third, still by the time it was measured at.
        RunFixture third = new RunFixture(SetUpTest::procedure);
        assertEquals(
                taken(),
                CarriedReference.of(
                                third.state(),
                                "zero",
                                state,
                                "CBK-1/2026/2",
                                taken().plusSeconds(1700),
                                RunFixture.TODAY,
                                () -> new UUID(19, 78))
                        .takenAt());
    }

    @Test
    void aCarriedReferenceIsVoidOnceTheSetUpMovesWhereItWasCarriedTo() {
        took(A, "zero", "-", "level", 0.25, 0.1);
        RunFixture next = new RunFixture(SetUpTest::procedure);
        carried(next, taken().plusSeconds(60)).events().forEach(next::add);
        next.act(new RunEvents.SetupMoved("the cord was taken off"));
        assertTrue(refused(() -> Rules.ready(next.state(), "level", "A", taken().plusSeconds(90), RunFixture.TODAY))
                .contains("is void: the cord was taken off"));
        assertEquals(
                1,
                carried(next, taken().plusSeconds(90)).events().stream()
                        .filter(AttemptEvents.AttemptCarried.class::isInstance)
                        .count());
    }

    @Test
    void whatDoesNotHoldOrWasTakenOtherwiseIsNotCarried() {
        RunFixture next = new RunFixture(SetUpTest::procedure);
        String anew = "\"Zero\" has to be taken anew: ";
        assertEquals(anew + "that of CBK-1/2026/1 was not taken yet.", refused(() -> carried(next, now())));
        took(A, "zero", "-", "level", 0.25, 0.1);
        assertEquals(
                anew + "that of CBK-1/2026/1 is 30 min old and holds for 30 min.",
                refused(() -> carried(next, taken().plusSeconds(1800))));
        Instant soon = taken().plusSeconds(60);
        assertTrue(refused(() -> CarriedReference.of(
                        next.state(), "level", told.state(), "R", soon, RunFixture.TODAY, UUID::randomUUID))
                .contains("it is no reference"));
        RunFixture longer = new RunFixture(p -> RunFixture.withSteps(
                p,
                procedure(p).steps().stream()
                        .map(s -> !s.id().equals("zero")
                                ? s
                                : Step.builder("zero", StepKind.REFERENCE, "Zero")
                                        .method("m")
                                        .gear("mic")
                                        .points(s.points())
                                        .more(new Step.Relations(
                                                List.of(), false, true, null, List.of(), null, 60.0, null))
                                        .build())
                        .toList()));
        assertTrue(refused(() -> carried(longer, soon)).contains("took it in another way"));
        carried(next, soon).events().forEach(next::add);
        assertTrue(refused(() -> carried(next, soon)).contains("was taken in this run and holds"));
        RunFixture other = new RunFixture(SetUpTest::procedure);
        GearFacts mic = other.gear("mic");
        other.add(new RunEvents.GearChosen(new GearFacts(
                "mic-2",
                "mic",
                mic.role(),
                mic.name(),
                mic.maker(),
                mic.model(),
                "S-2",
                mic.calibratedOn(),
                mic.calibratedTo(),
                mic.certificate(),
                mic.accuracy())));
        assertTrue(refused(() -> carried(other, soon)).contains("took it with other gear"));
        told.act(new RunEvents.SetupMoved("the lamp was knocked"));
        assertTrue(refused(() -> carried(new RunFixture(SetUpTest::procedure), soon))
                .contains("is void: the lamp was knocked"));
    }

    // ---- what is not there

    @ParameterizedTest
    @CsvSource({
        "NOTHING_THERE, FAIL, no value: dark",
        "OVER_RANGE, NOT_JUDGED, over range: dark",
        "NOT_MEASURABLE, NOT_JUDGED, not measurable: dark"
    })
    void whatHasNoValueFailsOnlyWhereItIsTheDevice(AttemptEvents.Blank blank, Verdict verdict, String why) {
        took(A, "zero", "-", "level", 0, 0.1);
        UUID id = new UUID(18, 1);
        told.add(new AttemptEvents.AttemptBegun(id, "level", "A", null, 1));
        told.add(new AttemptEvents.NoValue(id, new PointKey("level", "v", "A"), blank, "dark"));
        told.add(new AttemptEvents.AttemptClosed(id, Attempt.Outcome.VALID, ""));
        assertEquals(verdict, told.point("level/v/A").verdict());
        assertEquals(why, told.point("level/v/A").why());
        assertNotNull(told.point("level/v/A").counting());
    }

    @Test
    void aValueThatIsNotFiniteBecomesNoneInWords() {
        PointKey key = new PointKey("zero", "level", "-");
        for (double bad : new double[] {Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY}) {
            ReadingBuilder.Result result = new ReadingBuilder(
                            told.state(), key, null, Reading.Source.MEASURED, bad, Unit.VOLT)
                    .accuracy("voltage")
                    .result();
            assertNull(result.reading());
            assertEquals(
                    Double.isNaN(bad) ? AttemptEvents.Blank.NOTHING_THERE : AttemptEvents.Blank.OVER_RANGE,
                    result.blank());
            assertNotNull(result.words());
        }
    }

    @Test
    void aPersonSettlesWhatNothingCouldTell() {
        took(A, "zero", "-", "level", 0, 0.1);
        told.add(new AttemptEvents.AttemptBegun(B, "level", "A", null, 1));
        told.add(new AttemptEvents.NoValue(
                B, new PointKey("level", "v", "A"), AttemptEvents.Blank.NOTHING_THERE, "dark"));
        told.add(new AttemptEvents.AttemptClosed(B, Attempt.Outcome.UNCLEAR, "dark. Is it connected?"));
        assertEquals(Verdict.NOT_JUDGED, told.point("level/v/A").verdict(), "not yet");
        assertEquals("attempt-is-clear", code(() -> told.act(new AttemptEvents.AttemptSettled(A, true, "seen"))));
        assertEquals("words-missing", code(() -> told.act(new AttemptEvents.AttemptSettled(B, true, " "))));
        told.act(new AttemptEvents.AttemptSettled(B, true, "the lead is on"));
        assertEquals(Verdict.FAIL, told.point("level/v/A").verdict());
        assertTrue(told.state().attempt(B).orElseThrow().words().contains("the lead is on"));
        assertEquals("attempt-is-clear", code(() -> told.act(new AttemptEvents.AttemptSettled(B, false, "no"))));
    }

    // ---- charges

    private void live(String lane, UUID attempt) {
        told.add(new OutputEvents.Armed("level", lane, "mic-1", "5 kV", now().plusSeconds(15)));
        told.add(new OutputEvents.Energised(attempt, "level", lane, "mic-1", Map.of(), "here"));
        told.add(new AttemptEvents.AttemptBegun(attempt, "level", lane, "mic-1", 1));
        told.add(new OutputEvents.OutputOff(
                attempt, OutputEvents.OffReason.DONE, "", new ReadBack(true, true, "output off")));
        told.add(new AttemptEvents.AttemptClosed(attempt, Attempt.Outcome.VALID, ""));
        told.add(new OutputEvents.Conducted("done"));
    }

    @Test
    void nothingStartsBeforeWhatWasChargedIsEarthedForItsTime() {
        took(A, "zero", "-", "level", 0, 0.1);
        live("A", B);
        assertTrue(
                refused(() -> ready("B", now())).endsWith("may have left a charge: measure the voltage that is left."));
        assertEquals("still-charged", code(() -> told.act(new OutputEvents.Earthed("level", "A"))), "not measured yet");
        told.act(new OutputEvents.Discharged("level", "A", new Quantity(-0.4, Unit.KILOVOLT)));
        assertTrue(
                refused(() -> told.act(new OutputEvents.Earthed("level", "A"))).contains("still 400 V on it"));
        told.act(new OutputEvents.Discharged("level", "A", new Quantity(49, Unit.VOLT)));
        assertTrue(refused(() -> ready("B", now())).endsWith("may have left a charge: Earthed by hand."));
        told.act(new OutputEvents.Earthed("level", "A"));
        Instant earthed = now();
        assertTrue(refused(() -> ready("B", earthed.plusSeconds(1))).endsWith("it stays earthed for another 599 s."));
        assertDoesNotThrow(() -> ready("B", earthed.plusSeconds(600)));
        assertDoesNotThrow(() -> ready("A", earthed.plusSeconds(600)));
    }

    @Test
    void nothingIsEarthedThatWasNotCharged() {
        assertEquals("not-charged", code(() -> told.act(new OutputEvents.Earthed("level", "A"))));
        assertEquals(
                "not-charged",
                code(() -> told.act(new OutputEvents.Discharged("level", "A", new Quantity(1, Unit.VOLT)))));
        took(A, "zero", "-", "level", 0, 0.1);
        live("A", B);
        assertEquals(
                "wrong-unit",
                code(() -> told.act(new OutputEvents.Discharged("level", "A", new Quantity(1, Unit.AMPERE)))));
    }

    // ---- rows that are discovered

    private int found(UUID attempt, String lane, double millimetres) {
        AttemptEvents.FeatureFound row = Rows.found(
                told.state(),
                attempt,
                told.state().procedure().step("level").orElseThrow(),
                lane,
                "spot",
                new Quantity(millimetres / 1000, Unit.METRE),
                null);
        told.add(row);
        return row.row();
    }

    private void size(UUID attempt, String lane, int row, double millimetres) {
        told.add(new AttemptEvents.ReadingTaken(
                attempt,
                new ReadingBuilder(
                                told.state(),
                                new PointKey("level", "size#" + row, lane),
                                null,
                                Reading.Source.MEASURED,
                                millimetres,
                                Unit.MILLIMETRE)
                        .typeB(0.01, 1)
                        .result()
                        .reading()));
    }

    @Test
    void aRowKeepsItsNumberWhereItsKeyAgrees() {
        told.add(new AttemptEvents.AttemptBegun(A, "level", "A", null, 1));
        assertEquals(1, found(A, "A", 10));
        assertEquals(2, found(A, "A", 10.4), "two of one attempt are two, however close");
        told.add(new AttemptEvents.AttemptClosed(A, Attempt.Outcome.VALID, ""));
        told.add(new AttemptEvents.AttemptBegun(B, "level", "A", null, 1));
        assertEquals(2, found(B, "A", 10.3), "the nearer of the two");
        assertEquals(1, found(B, "A", 9.8));
        assertEquals(3, found(B, "A", 30));
        assertThrows(IllegalStateException.class, () -> found(B, "A", 50), "more than the procedure takes");
        told.add(new AttemptEvents.AttemptClosed(B, Attempt.Outcome.VALID, ""));
        UUID other = new UUID(19, 4);
        told.add(new AttemptEvents.AttemptBegun(other, "level", "B", null, 1));
        assertEquals(1, found(other, "B", 10), "each lane has rows of its own");
    }

    @Test
    void rowsAreJudgedByTheirColumnLikeAnyPoint() {
        told.add(new AttemptEvents.AttemptBegun(A, "level", "A", null, 1));
        size(A, "A", found(A, "A", 10), 1.5);
        size(A, "A", found(A, "A", 40), 2.5);
        assertTrue(told.state().keys().stream().noneMatch(k -> k.point().contains("#")), "it does not count yet");
        told.add(new AttemptEvents.AttemptClosed(A, Attempt.Outcome.VALID, ""));
        assertEquals(Verdict.PASS, told.point("level/size#1/A").verdict());
        assertEquals(Verdict.FAIL, told.point("level/size#2/A").verdict());
        assertEquals(
                "Spot 2 at 40.0 mm, size, pole A", told.point("level/size#2/A").label());
        Reading second = told.state().attempt(A).orElseThrow().readings().get(1);
        assertEquals(40, second.with().get("spot").value(), 1e-9, "by which it is found again in other records");
        assertEquals(
                List.of("level/size#1/A", "level/size#2/A"),
                told.state().keys().stream()
                        .map(PointKey::toString)
                        .filter(k -> k.contains("#"))
                        .toList());
    }

    /** A row that fails is put right like any point: what is measured after it is as left. */
    @Test
    void aRowIsAdjustedOnceItWasFound() {
        PointKey first = PointKey.parse("level/size#1/A");
        assertEquals(
                "unknown-point",
                code(() -> told.act(new AttemptEvents.AdjustmentMade(List.of(first), "before it is found"))));
        told.add(new AttemptEvents.AttemptBegun(A, "level", "A", null, 1));
        size(A, "A", found(A, "A", 10), 2.5);
        told.add(new AttemptEvents.AttemptClosed(A, Attempt.Outcome.VALID, ""));
        assertEquals(Verdict.FAIL, told.point("level/size#1/A").verdict());
        assertEquals(
                "unknown-point",
                code(() -> told.act(new AttemptEvents.AdjustmentMade(
                        List.of(PointKey.parse("level/size#2/A")), "another one that is not there"))));
        told.act(new AttemptEvents.AdjustmentMade(List.of(first), "ground down"));
        told.add(new AttemptEvents.AttemptBegun(B, "level", "A", null, 1));
        size(B, "A", found(B, "A", 10), 0.5);
        told.add(new AttemptEvents.AttemptClosed(B, Attempt.Outcome.VALID, ""));
        PointJudgement judged = told.point("level/size#1/A");
        assertEquals(2.5, java.util.Objects.requireNonNull(judged.asFound()).value());
        assertEquals(0.5, java.util.Objects.requireNonNull(judged.asLeft()).value());
        assertEquals(Verdict.PASS, judged.verdict());
    }
}
