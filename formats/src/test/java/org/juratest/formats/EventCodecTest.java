package org.juratest.formats;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertInstanceOf;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.juratest.core.correction.Correction;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.correction.RfPath;
import org.juratest.core.curve.BandElement;
import org.juratest.core.curve.LogLogTable;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.limit.DecisionRule;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Scope;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Actor;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.PriorReading;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RecordEvents;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.StepEvents;
import org.juratest.core.run.UnknownEvent;
import org.juratest.core.uncertainty.AccuracySpec;
import org.juratest.formats.procedure.ProcedureJson;
import org.juratest.formats.run.EventChain;
import org.juratest.formats.run.EventCodec;

class EventCodecTest {

    private static final UUID RUN = UUID.fromString("0190a0b0-0000-7000-8000-000000000001");
    private static final UUID ATTEMPT = UUID.fromString("0190a0b0-0000-7000-8000-000000000002");
    private static final Instant AT = Instant.parse("2026-11-25T10:32:07.123456Z");
    private static final PointKey KEY = PointKey.parse("trip/time/B");

    private static Event event(long n, EventData data) {
        return new Event(
                new UUID(7, n), RUN, n, n == 0 ? null : "ab".repeat(32), AT, Actor.person("tavel"), "here", data);
    }

    static List<EventData> everyType() {
        ResolvedLimit limit =
                new ResolvedLimit(14.1, 38.0, 23.1, 15.0, 36.0, "maker's band", DecisionRule.GUARDED, null, 25.0);
        Reading reading = new Reading(
                KEY,
                21.4,
                Unit.SECOND,
                Qualifier.AT_LEAST,
                Reading.Source.MEASURED,
                20.0,
                List.of(new Reading.Correction("temperature", 0.66, "from 14 to 20 °C")),
                0.12,
                2.0,
                limit,
                Map.of("current", Quantity.amperes(300.4)),
                "inj-2",
                null);
        LimitSpec formula = new LimitSpec(
                new LimitKind.Formula(null, "2 * x", null, Map.of("x", "nameplate:ir")),
                LimitSpec.When.STEP_END,
                "rule",
                DecisionRule.GUARDED,
                null,
                9.5,
                25.0);
        TimeCurrentBand band = new TimeCurrentBand(
                "sheet",
                "cold",
                List.of(new BandElement(
                        "t",
                        "long",
                        105,
                        null,
                        LogLogTable.of(new double[] {105, 900}, new double[] {50, 1}),
                        LogLogTable.of(new double[] {105, 900}, new double[] {90, 2}))));
        RunEvents.Opened opened = new RunEvents.Opened(
                "1184",
                "interval",
                "00",
                ProcedureJson.read(ProcedureJsonTest.document()),
                new AssetFacts(
                        "a",
                        "MFR-CBK-07",
                        "MFR",
                        "Montfrel",
                        "lv-breaker",
                        "Orvex",
                        "M160",
                        "48-2291",
                        new Nameplate(Map.of("ir", Quantity.amperes(100)), Map.of("colour", "grey")),
                        null),
                List.of(new GearFacts(
                        "inj-2",
                        "inj",
                        "current-source",
                        "Injection set 2",
                        "B",
                        "P",
                        "S",
                        LocalDate.of(2026, 3, 14),
                        null,
                        null,
                        Map.of("current", new AccuracySpec(0.5, 0.1, 0, AccuracySpec.Stated.EXPANDED_K2)))),
                List.of(new PriorReading("s", "B", 24.9, Unit.SECOND, AT, "MFR-CBK-07/2025/1", true)),
                band,
                Map.of(KEY.toString(), limit),
                "0.1.0",
                "CET");
        return List.of(
                opened,
                new RunEvents.ScopeSet(new Scope(Set.of("look"), Map.of("poles", Set.of("C")))),
                new RunEvents.ScreenTaken("screen-12"),
                new RunEvents.Interrupted("the server stopped", new ReadBack(true, true, "off")),
                new RunEvents.Resumed(),
                new RunEvents.Aborted("storm"),
                new RunEvents.Finished(
                        "MFR-CBK-07/2026/2",
                        new RunJudgement(Verdict.MARGINAL_OUTSIDE, true, null, List.of(), List.of("Sign")),
                        "0.1.0"),
                new RecordEvents.Signed("tavel", "A. Tavel", "technician", "performed"),
                new RecordEvents.Reviewed("oster", "M. Oster", "supervisor", RecordEvents.Decision.ACCEPTED, "fine"),
                new RecordEvents.Amended("tavel", "A. Tavel", "remarks", "text", "typing error"),
                new RunEvents.Withdrawn(ATTEMPT, "wrong"),
                new StepEvents.StepBegun("look"),
                new StepEvents.HoldReleased("safe", "dead"),
                new StepEvents.Restored("safe", "lock"),
                new StepEvents.AnswerGiven("look", "case", "-", StepEvents.Answer.NOT_IN_ORDER, "cracked"),
                new StepEvents.ConditionEntered("equipmentTemperature", Quantity.of(14, "Cel")),
                new StepEvents.StepSkipped("look", "dark"),
                new StepEvents.CoolingOverruled("trial"),
                new StepEvents.Note("Größe"),
                new StepEvents.Photo("ab".repeat(32), "image/png", null),
                new OutputEvents.Armed("trip", "B", "inj-2", "300 A", AT),
                new OutputEvents.Disarmed("late"),
                new OutputEvents.Energised(ATTEMPT, "trip", "B", "inj-2", Map.of("current", Quantity.amperes(300))),
                new OutputEvents.OutputOff(
                        ATTEMPT, OutputEvents.OffReason.SCREEN_LOST, "gone", ReadBack.silent("no answer")),
                new OutputEvents.Discharged("ins", "A", Quantity.of(12, "V")),
                new OutputEvents.Earthed("ins", "A"),
                new OutputEvents.GearLost("inj-2", "silent"),
                new OutputEvents.GearBack(
                        "inj-2",
                        "B,P,S,1",
                        new ReadBack(true, true, "off", List.of(new ReadBack.Part("inj-2", true, "off")))),
                new AttemptEvents.AttemptBegun(ATTEMPT, "trip", "B", null, 5),
                new AttemptEvents.ConnectionChecked(ATTEMPT, true, "good", Map.of()),
                new AttemptEvents.ReadingTaken(ATTEMPT, reading),
                new AttemptEvents.TraceTaken(ATTEMPT, "current", "ab".repeat(32), "s", "A", 40),
                new AttemptEvents.ReadingEntered(ATTEMPT, reading),
                new AttemptEvents.AttemptClosed(ATTEMPT, Attempt.Outcome.CONNECTION_FAILED, "open"),
                new AttemptEvents.AttemptVoided(ATTEMPT, AttemptEvents.VoidReason.WRONG_LANE, "pole C"),
                new AttemptEvents.AdjustmentMade(List.of(KEY), "greased"),
                new AttemptEvents.LimitChanged("trip", "time", formula, "trial"),
                new AttemptEvents.LimitResolved(KEY, ResolvedLimit.unresolved("rule", "no rating"), ATTEMPT),
                new RunEvents.ScopeSet(new Scope(Set.of(), Map.of(), Set.of("ber/uhf"))),
                new AttemptEvents.LimitChanged("trip", "time", formula, "trial", "B"),
                new AttemptEvents.ParamChanged("trip", "current", "B", 150, "thin"),
                new AttemptEvents.BackToProcedure("trip", null, "current", null),
                new RunEvents.VariantApplied(
                        "SHORT",
                        "Short",
                        2,
                        "ab".repeat(32),
                        new Scope(Set.of("look"), Map.of()),
                        List.of(new AttemptEvents.LimitChanged("trip", "time", formula, "v", "B")),
                        List.of(new AttemptEvents.ParamChanged("trip", "current", null, 150, "v"))),
                new RunEvents.AssetIdentified(
                        "H-1",
                        new RunEvents.DeviceIdentity(
                                "Orbessa",
                                "R2",
                                "H-1",
                                "4.1",
                                null,
                                List.of(new RunEvents.DeviceSpan("vhf", 136e6, 174e6)))),
                new AttemptEvents.SoundTaken(ATTEMPT, "heard", "cd".repeat(32), 1.5),
                new AttemptEvents.Captured(
                        ATTEMPT,
                        AttemptEvents.CaptureKind.PICTURE,
                        "front",
                        "ef".repeat(32),
                        "image/png",
                        Map.of("width", "96", "#1", "0.5 0.25")),
                new AttemptEvents.FeatureFound(ATTEMPT, "spot", "B", 2, Quantity.of(12.5, "mm"), null),
                new AttemptEvents.NoValue(ATTEMPT, KEY, AttemptEvents.Blank.NOTHING_THERE, "dark"),
                new AttemptEvents.NoValue(ATTEMPT, KEY, AttemptEvents.Blank.OVER_RANGE, "too bright"),
                new AttemptEvents.AttemptClosed(ATTEMPT, Attempt.Outcome.UNCLEAR, "connected?"),
                new AttemptEvents.AttemptSettled(ATTEMPT, true, "seen"),
                new RunEvents.SetupMoved("knocked"),
                new AttemptEvents.ReadingTaken(
                        ATTEMPT,
                        new Reading(
                                KEY,
                                21.4,
                                Unit.SECOND,
                                Qualifier.EQUAL,
                                Reading.Source.MEASURED,
                                20.0,
                                List.of(new Reading.Correction(
                                        "lead", new Correction(Correction.Kind.DECIBEL, 0.6), 0.05, "+0.6 dB")),
                                0.12,
                                2.3,
                                null,
                                Map.of(),
                                "inj-2",
                                null,
                                7.5)),
                new AttemptEvents.AdjustmentMade(
                        List.of(KEY),
                        "set",
                        List.of(new AttemptEvents.SettingChange("vhf.ref", "reference", 120, 131))),
                new OutputEvents.Armed("trip", "B", "inj-2", "all", AT, true, List.of("trip/C"), null),
                new RunEvents.GearChosen(new GearFacts(
                        "pad",
                        "pad",
                        "rf-path",
                        "Attenuator",
                        "B",
                        "P",
                        "S",
                        null,
                        null,
                        null,
                        Map.of(),
                        new RfPath(
                                new PathLoss(
                                        List.of(new PathLoss.LossPoint(136, 30.1), new PathLoss.LossPoint(174, 30.2))),
                                50))));
    }

    @ParameterizedTest
    @MethodSource("everyType")
    void everyTypeComesBackAsItWasWritten(EventData data) {
        Event event = event(1, data);
        byte[] bytes = EventCodec.write(event);
        assertEquals(event, EventCodec.read(bytes));
        assertArrayEquals(bytes, EventCodec.write(EventCodec.read(bytes)));
        assertArrayEquals(bytes, EventCodec.canonical(bytes));
    }

    /** What a record of before lanes, variants and paths hashed to must not change because a class grew. */
    @Test
    void whatIsAbsentIsNotWritten() {
        String text = everyType().stream()
                .limit(everyType().size() - 18)
                .map(d -> new String(EventCodec.write(event(1, d)), StandardCharsets.UTF_8))
                .collect(java.util.stream.Collectors.joining());
        for (String later : List.of(
                "\"lane\":null",
                "\"lanes\":{}",
                "withoutPairs",
                "\"path\"",
                "\"settings\":[]",
                "\"then\"",
                "\"on\":",
                "\"device\"",
                "\"more\"",
                "\"features\"",
                "\"corrections\":null",
                "\"freedom\"",
                "\"rule\":null",
                "\"product\"",
                "\"kind\":null",
                "provedOnce",
                "measures",
                "ifRated")) {
            assertFalse(text.contains(later), later);
        }
    }

    @Test
    void theCanonicalFormIsRfc8785OverTheWholeEnvelope() {
        // Keys sorted, no space, numbers as ECMAScript prints them, absent instead of null.
        assertEquals(
                ("{\"at\":\"2026-11-25T10:32:07.123456Z\",\"by\":\"person:tavel\","
                                        + "\"data\":{\"what\":\"humidity\",\"value\":{\"unit\":\"%\",\"value\":61}},")
                                .replace(
                                        "\"what\":\"humidity\",\"value\":{\"unit\":\"%\",\"value\":61}",
                                        "\"value\":{\"unit\":\"%\",\"value\":61},\"what\":\"humidity\"")
                        + "\"id\":\"00000000-0000-0007-0000-000000000000\",\"n\":0,\"origin\":\"here\",\"run\":\"" + RUN
                        + "\",\"type\":\"conditionEntered\",\"v\":1}",
                new String(
                        EventCodec.write(event(0, new StepEvents.ConditionEntered("humidity", Quantity.of(61, "%")))),
                        StandardCharsets.UTF_8));
    }

    @Test
    void textsAreStoredInNfc() {
        byte[] composed = EventCodec.write(event(0, new StepEvents.Note("Gr\u00f6\u00dfe")));
        assertArrayEquals(composed, EventCodec.write(event(0, new StepEvents.Note("Gro\u0308\u00dfe"))));
    }

    @Test
    void aTypeOrVersionItDoesNotKnowIsKeptWithItsContent() {
        String stored = new String(EventCodec.write(event(1, new StepEvents.Note("x"))), StandardCharsets.UTF_8);
        for (String other :
                List.of(stored.replace("\"note\"", "\"sealBroken\""), stored.replace("\"v\":1", "\"v\":2"))) {
            Event event = EventCodec.read(other.getBytes(StandardCharsets.UTF_8));
            assertEquals(
                    Map.of("text", "x"),
                    assertInstanceOf(UnknownEvent.class, event.data()).content());
            assertEquals(other, new String(EventCodec.write(event), StandardCharsets.UTF_8));
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "\"n\":1 | \"n\":1.5 | \"n\"",
                "\"at\":\"2026 | \"at\":\"20x6 | \"at\"",
                "\"by\":\"person:tavel\" | \"by\":7 | \"by\"",
                "\"text\":\"x\" | \"text\":{} | text",
                "\"text\":\"x\" | \"text\":null | text",
                "\"text\":\"x\" | \"words\":\"x\" | text",
                "{\"text\":\"x\"} | [] | data",
                "\"type\":\"note\", | \"typ\":\"note\", | \"type\""
            })
    void badBytesAreRefusedWithTheFieldNamed(String good, String bad, String named) {
        String stored = new String(EventCodec.write(event(1, new StepEvents.Note("x"))), StandardCharsets.UTF_8)
                .replace(good, bad);
        IllegalArgumentException e = assertThrows(
                IllegalArgumentException.class, () -> EventCodec.read(stored.getBytes(StandardCharsets.UTF_8)));
        assertTrue(e.getMessage().contains(named), e.getMessage());
    }

    private record Chain(List<byte[]> bodies, String head) {
        Optional<EventChain.Break> check() {
            return EventChain.check(RUN, bodies, head, bodies.size());
        }
    }

    private static Chain chain() {
        List<byte[]> bodies = new ArrayList<>();
        String prev = null;
        List<EventData> data = everyType();
        for (int n = 0; n < data.size(); n++) {
            bodies.add(EventCodec.write(new Event(
                    new UUID(7, n), RUN, n, prev, AT.plusSeconds(n), Actor.person("tavel"), "here", data.get(n))));
            prev = EventCodec.hash(bodies.get(n));
        }
        return new Chain(bodies, String.valueOf(prev));
    }

    @Test
    void aChainHoldsUntilAnyByteOfItIsChanged() {
        Chain good = chain();
        assertEquals(Optional.empty(), good.check());
        SplittableRandom random = new SplittableRandom(53);
        for (int i = 0; i < 400; i++) {
            List<byte[]> bodies = new ArrayList<>(good.bodies);
            int n = random.nextInt(bodies.size());
            byte[] body = bodies.get(n).clone();
            int place = random.nextInt(body.length);
            body[place] ^= (byte) (1 + random.nextInt(255));
            bodies.set(n, body);
            Optional<EventChain.Break> found = new Chain(bodies, good.head).check();
            assertTrue(found.isPresent(), "seed 53, draw " + i + ": byte " + place + " of event " + n);
            assertTrue(Math.abs(found.get().n() - n) <= 1, found + " for event " + n);
        }
    }

    @Test
    void aWalkGivesEveryEventUpToTheBreak() {
        Chain good = chain();
        EventChain.Walk whole = EventChain.walk(RUN, good.bodies, good.head, good.bodies.size());
        assertEquals(good.bodies.stream().map(EventCodec::read).toList(), whole.events());
        assertEquals(Optional.empty(), whole.broken());
        List<byte[]> bodies = new ArrayList<>(good.bodies);
        bodies.set(5, (" " + new String(bodies.get(5), StandardCharsets.UTF_8)).getBytes(StandardCharsets.UTF_8));
        EventChain.Walk broken = EventChain.walk(RUN, bodies, good.head, bodies.size());
        assertEquals(whole.events().subList(0, 5), broken.events());
        assertEquals(Optional.of(new EventChain.Break(5, "is not in canonical form")), broken.broken());
    }

    @Test
    void aCutTailAMissingASwappedAndAnInsertedEventAreFound() {
        Chain good = chain();
        int size = good.bodies.size();
        assertTrue(EventChain.check(RUN, good.bodies.subList(0, size - 1), good.head, size)
                .isPresent());
        assertTrue(EventChain.check(RUN, good.bodies.subList(0, size - 1), good.head, size - 1)
                .isPresent());
        List<byte[]> missing = new ArrayList<>(good.bodies);
        missing.remove(4);
        assertFalse(EventChain.check(RUN, missing, good.head, size - 1).isEmpty());
        List<byte[]> swapped = new ArrayList<>(good.bodies);
        java.util.Collections.swap(swapped, 3, 4);
        assertEquals(3, new Chain(swapped, good.head).check().orElseThrow().n());
        assertTrue(
                EventChain.check(new UUID(1, 2), good.bodies, good.head, size).isPresent());
    }

    @Test
    void aNumberThatIsNotFiniteIsNeverWritten() {
        assertThrows(
                RuntimeException.class,
                () -> EventCodec.write(event(0, new UnknownEvent("x", 1, Map.of("value", Double.NaN)))));
        assertThrows(
                RuntimeException.class,
                () -> EventCodec.write(
                        event(0, new AttemptEvents.AttemptBegun(ATTEMPT, "s", "-", null, Double.POSITIVE_INFINITY))));
    }
}
