package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.Objects;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.family.meters.MeterError;
import org.juratest.core.limit.Verdict;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.Reading;
import org.juratest.core.run.Refusal;
import org.juratest.core.trace.Trace;
import org.juratest.e2e.meters.MeterRig;

/** Measuring installations and transformers over the sockets of their stand-ins. */
class MeterRunTest {

    private static PointJudgement judged(MeterRig rig, String key) {
        return rig.judgement().points().stream()
                .filter(p -> p.key().toString().equals(key))
                .findFirst()
                .orElseThrow(() -> new AssertionError(key));
    }

    private static Attempt valid(MeterRig rig, String step, String lane) {
        Attempt attempt = rig.measure(step, lane);
        assertEquals(Attempt.Outcome.VALID, attempt.outcome(), step + " " + lane + ": " + attempt.words());
        return attempt;
    }

    private static Reading reading(Attempt attempt, String point) {
        return attempt.readings().stream()
                .filter(r -> r.key().point().equals(point))
                .findFirst()
                .orElseThrow(() -> new AssertionError(point + " of " + attempt));
    }

    private static String refused(Executable what) {
        return String.valueOf(assertThrows(Refusal.class, what).code());
    }

    private static String words(Attempt attempt) {
        return String.valueOf(attempt.words());
    }

    /** A current transformer that was put back the other way round is told as that, and it alone. */
    @Test
    void aReversedTransformerIsToldInWordsAndRightAfterItIsTurned() throws IOException {
        try (MeterRig rig = new MeterRig("TES-MET-02", "met-site-1", 50)) {
            Attempt found = valid(rig, "wiring", "-");
            assertTrue(words(found).contains("current 2 reversed"), words(found));
            assertTrue(words(found).contains("taking power factor"), "it says what it assumes: " + words(found));
            assertEquals(Verdict.FAIL, judged(rig, "wiring/changes/-").verdict());
            assertEquals(6, rig.traces());
            rig.control("meter", "TES-MET-02:L2", "reversed", "0");
            Attempt right = valid(rig, "wiring", "-");
            assertTrue(words(right).startsWith("wired as it should be"), words(right));
            assertEquals(0, reading(right, "changes").value());
        }
    }

    /** Voltages that are missing count as what has to be changed, though a wiring fits. */
    @Test
    void aMissingVoltageIsNamedByItsInput() throws IOException {
        try (MeterRig rig = new MeterRig("PRA-MET-07", "met-site-1", 50)) {
            Attempt found = valid(rig, "wiring", "-");
            assertTrue(words(found).contains("voltage 3 is missing"), words(found));
            assertTrue(reading(found, "changes").value() >= 1);
            assertTrue(reading(found, "u3").value() < 5);
        }
    }

    /** A load beyond what is assumed fits no wiring: no value, and in words what was assumed. */
    @Test
    void aLoadBeyondWhatIsAssumedGivesNoValue() throws IOException {
        try (MeterRig rig = new MeterRig("PRA-MET-01", "met-site-1", 50)) {
            rig.param("wiring", "lags", 1);
            rig.param("wiring", "leads", 0);
            Attempt found = valid(rig, "wiring", "-");
            assertTrue(words(found).contains("no wiring fits"), words(found));
            assertFalse(judged(rig, "wiring/changes/-").verdict() == Verdict.PASS);
            rig.confirm("connect");
            assertEquals(
                    "failed-before", refused(() -> rig.ready("error", "-")), "what nobody understands is not counted");
        }
    }

    /** Pulses or seconds, whichever comes first; the error is what the meter has, the reference's own share in U. */
    @Test
    void theErrorUnderLoadIsWhatTheMeterHas() throws IOException {
        try (MeterRig rig = new MeterRig("PRA-MET-02", "met-site-1", 50)) {
            Attempt attempt = valid(rig, "error", "-");
            Reading error = reading(attempt, "error");
            assertEquals(1.32, error.value(), 0.2);
            assertEquals(100 + error.value(), reading(attempt, "registration").value(), 1e-9);
            assertEquals(30, reading(attempt, "pulses").value());
            assertTrue(error.with().containsKey("powerFactor"), error.with().toString());
            // With more pulses than fit into its time, time ends it.
            rig.param("error", "pulses", 1000);
            rig.param("error", "seconds", 20);
            Attempt timed = valid(rig, "error", "-");
            double counted = reading(timed, "pulses").value();
            assertTrue(counted > 3 && counted < 3 * 999, timed.toString());
            assertEquals(error.value(), reading(timed, "error").value(), 0.2);
        }
    }

    @Test
    void withoutEnoughLoadThereIsNoValue() throws IOException {
        try (MeterRig rig = new MeterRig("TES-MET-01", "met-site-1", 50)) {
            rig.control("meter", "TES-MET-01", "amperes", "0.01");
            Attempt attempt = valid(rig, "error", "-");
            assertTrue(words(attempt).contains("the load is not enough"), words(attempt));
            assertTrue(attempt.readings().isEmpty());
            assertEquals(Verdict.NOT_JUDGED, judged(rig, "error/error/-").verdict(), "no fault of the meter");
            // A meter that stands still under load is asked about: it may be the head that sees nothing.
            rig.control("meter", "TES-MET-01", "amperes", "3");
            rig.control("meter", "TES-MET-01", "full", "-100");
            Attempt still = rig.measure("error", "-");
            assertEquals(Attempt.Outcome.UNCLEAR, still.outcome(), words(still));
        }
    }

    /** Clamps say plausible; another tap is asked about, never failed. */
    @Test
    void aRatioIsPlausibleOrAskedAbout() throws IOException {
        try (MeterRig rig = new MeterRig("ORE-MET-01", "met-site-1", 50)) {
            Attempt other = rig.measure("ctRatio", "L1");
            assertEquals(Attempt.Outcome.UNCLEAR, other.outcome());
            assertTrue(words(other).contains("entered 40.00, measured 30.00"), words(other));
            Attempt good = valid(rig, "ctRatio", "L2");
            assertEquals("plausible", words(good));
            assertEquals(40, reading(good, "ratio").value(), 0.4);
        }
    }

    /** Above the rated burden fails, of an unknown one nothing is judged. */
    @ParameterizedTest
    @CsvSource({"COL-MET-02, L3, FAIL", "COL-MET-02, L1, PASS", "VAU-MET-02, L1, NOT_JUDGED"})
    void aBurdenIsHeldAgainstWhatIsKnownOfIt(String position, String lane, Verdict verdict) throws IOException {
        try (MeterRig rig = new MeterRig(position, "met-site-1", 50)) {
            valid(rig, "ctBurden", lane);
            PointJudgement point = judged(rig, "ctBurden/vaNominal/" + lane);
            assertEquals(verdict, point.verdict(), point.toString());
        }
    }

    /** Registers over the meter's own port, before and after; the advance follows. */
    @Test
    void theRegistersAreReadInModeC() throws IOException {
        try (MeterRig rig = new MeterRig("PRA-MET-01", "met-site-1", 50)) {
            Reading before = reading(valid(rig, "before", "-"), "taken");
            assertTrue(before.value() > 1000, before.toString());
            Reading after = reading(valid(rig, "after", "-"), "taken");
            // What it goes on by depends on how long the two took: the meter runs fifty times as fast as the clock.
            double advance = judged(rig, "advance/energy/-").counting().value();
            assertEquals(after.value() - before.value(), advance, 1e-9);
            assertTrue(advance >= 0, after.toString());
        }
    }

    /** Load points, creep and starting current of a meter that is good, and of ones that are not. */
    @Test
    void loadPointsFindWhatAMeterDoesWhereItsLoadNeverIs() throws IOException {
        try (MeterRig rig = new MeterRig("VAU-MET-03", "met-load-1", 1000)) {
            valid(rig, "unity", "c");
            assertEquals(Verdict.PASS, judged(rig, "unity/error/c").verdict());
            Attempt slow = valid(rig, "inductive", "b");
            assertEquals(-1.6, reading(slow, "error").value(), 0.4);
            assertEquals(0.5, reading(slow, "error").with().get("powerFactor").value(), 1e-9);
            assertEquals(Verdict.FAIL, judged(rig, "inductive/error/b").verdict());
            Attempt starts = valid(rig, "start", "ct");
            assertTrue(reading(starts, "pulses").value() >= 1, words(starts));
            rig.control("meter", "VAU-MET-03", "starts", "0.01");
            assertEquals(0, reading(valid(rig, "start", "ct"), "pulses").value());
        }
        try (MeterRig rig = new MeterRig("PRA-MET-05", "met-load-1", 1000)) {
            Attempt creeps = valid(rig, "creep", "-");
            assertTrue(reading(creeps, "pulses").value() >= 3, words(creeps));
            assertEquals(Verdict.FAIL, judged(rig, "creep/pulses/-").verdict());
        }
    }

    /** A hold that a contact ends: nothing is on before it closes; where nobody closes it nothing ever is. */
    @Test
    void aLoadPointWaitsForItsContactWithNothingOn() throws Exception {
        try (MeterRig rig = new MeterRig("PRA-MET-01", "met-load-1", 200)) {
            rig.param("single", "wait", 10);
            Thread closes = new Thread(() -> {
                try {
                    Thread.sleep(1500);
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                }
                rig.control("contact-in", "on");
            });
            long begun = System.nanoTime();
            closes.start();
            valid(rig, "single", "L1");
            closes.join();
            assertTrue(System.nanoTime() - begun > 1_400_000_000L, "it did not wait");
            rig.control("contact-in", "off");
            rig.param("single", "wait", 10);
            Attempt never = rig.held("single", "L2", hand -> {});
            assertEquals(Attempt.Outcome.ABORTED, never.outcome());
            assertTrue(words(never).contains("did not close; nothing was switched on"), words(never));
        }
    }

    /** The blocking order: no burden is injected into before the current of that phase has fallen to nothing. */
    @Test
    void aBurdenIsInjectedIntoOnlyWhereItsSecondaryIsShorted() throws IOException {
        try (MeterRig rig = new MeterRig("TES-MET-01", "ct-burden-1", 50)) {
            rig.confirm("warn");
            assertEquals("not-measured-before", refused(() -> rig.confirm("open")), "links stay closed until then");
            Attempt shorted = valid(rig, "short", "L1");
            assertTrue(reading(shorted, "before").value() > 0.5, shorted.toString());
            assertTrue(reading(shorted, "current").value() < 0.05, shorted.toString());
            assertEquals("not-measured-before", refused(() -> rig.confirm("open")), "of all three");
            valid(rig, "short", "L2");
            valid(rig, "short", "L3");
            assertEquals("hold-open", refused(() -> rig.ready("burden", "L1")));
            rig.confirm("open");
            rig.ready("burden", "L1");
            valid(rig, "burden", "L1");
            PointJudgement burden = judged(rig, "burden/vaNominal/L1");
            assertEquals(Verdict.PASS, burden.verdict(), burden.toString());
            rig.confirm("close");
            assertEquals("not-measured-before", refused(() -> rig.confirm("putBack")), "nor is it left so");
            assertTrue(reading(valid(rig, "restore", "L1"), "current").value() > 0.5);
        }
    }

    /** A short that nobody made is a failure that forbids what follows. */
    @Test
    void aSecondaryThatNobodyShortsFails() throws IOException {
        try (MeterRig rig = new MeterRig("TES-MET-01", "ct-burden-1", 0.1)) {
            rig.param("short", "seconds", 5);
            Attempt left = valid(rig, "short", "L1");
            assertTrue(words(left).contains("Do not open its link"), words(left));
            assertEquals(Verdict.FAIL, judged(rig, "short/current/L1").verdict());
            rig.confirm("warn");
            assertEquals("failed-before", refused(() -> rig.confirm("open")));
        }
    }

    /** Winding, demagnetising, curve with both knees, ratio, polarity; the order is held. */
    @Test
    void aTransformerByItselfInItsOrder() throws IOException {
        try (MeterRig rig = new MeterRig("BRU-CT-04", "ct-alone-1", 20)) {
            rig.confirm("isolate");
            assertEquals("not-measured-before", refused(() -> rig.ready("demag", "-")));
            Attempt winding = valid(rig, "winding", "-");
            double cold = reading(winding, "resistance").value();
            assertEquals(cold * 309.5 / 254.5, reading(winding, "corrected").value(), 0.001 * cold);
            assertEquals("not-measured-before", refused(() -> rig.ready("excitation", "-")));
            valid(rig, "demag", "-");
            Attempt curve = valid(rig, "excitation", "-");
            double knee = reading(curve, "knee").value();
            assertTrue(knee > 90 && knee < 120, "knee " + knee);
            double other = reading(curve, "knee45").value();
            assertTrue(other > 0.4 * knee && other < 1.2 * knee, "at 45 degrees " + other);
            Trace kept = excitation(rig, curve);
            assertTrue(kept.x().length > 15 && kept.y()[0] > 0);
            Attempt ratio = valid(rig, "ratio", "-");
            assertEquals(600, reading(ratio, "ratio").value(), 6);
            assertEquals(1, reading(ratio, "polarity").value());
            rig.control("meter", "BRU-CT-04", "reversed", "1");
            valid(rig, "ratio", "-");
            assertEquals(Verdict.FAIL, judged(rig, "ratio/polarity/-").verdict());
        }
    }

    /** What is measured on a core that a direct current left magnetised lies off what it is without. */
    @Test
    void aMagnetisedCoreTakesMoreCurrentBelowItsKnee() throws IOException {
        try (MeterRig rig = new MeterRig("BRU-CT-04", "ct-alone-1", 20)) {
            valid(rig, "winding", "-");
            double magnetised = at(rig, valid(rig, "excitation", "-"), 5);
            valid(rig, "demag", "-");
            double free = at(rig, valid(rig, "excitation", "-"), 5);
            assertTrue(magnetised > 1.5 * free, magnetised + " and " + free);
        }
    }

    // ---- what the second version of the site test has

    /** Two elements against the second wire: the phase without a transformer is no fault, a reversed one is. */
    @Test
    void aSupplyWithThreeWiresIsWiredRightWithTwoElements() throws IOException {
        try (MeterRig rig = new MeterRig("ORE-MET-03", "met-site-2", 50)) {
            Attempt right = valid(rig, "wiring", "-");
            assertTrue(words(right).startsWith("wired as it should be"), words(right));
            double watts = reading(right, "active").value();
            assertEquals(40 * watts / 1000, reading(right, "activePrimary").value(), 1e-6 * watts);
            assertEquals(230, reading(right, "u2").value(), 3);
            // Against the second wire the voltages are no phase voltages: the power factor is that of the load.
            Reading error = reading(valid(rig, "error", "-"), "error");
            assertEquals(
                    reading(right, "powerFactor").value(),
                    error.with().get("powerFactor").value(),
                    0.01);
            assertEquals(
                    reading(right, "i1").value(), error.with().get("current").value(), 0.3);
            rig.control("meter", "ORE-MET-03:L3", "reversed", "1");
            Attempt found = valid(rig, "wiring", "-");
            assertTrue(words(found).contains("current 3 reversed"), words(found));
            assertFalse(words(found).contains("no current in input 2"), words(found));
            assertEquals("unknown-lane", refused(() -> rig.ready("ctRatio", "L2")), "there is no transformer in L2");
        }
    }

    /** A blank on the plate is no fault of the transformer: its ratio is measured, and said what to enter. */
    @Test
    void aRatioThatIsLeftBlankIsMeasured() throws IOException {
        try (MeterRig rig = new MeterRig("ORE-MET-02", "met-site-2", 50)) {
            Attempt attempt = valid(rig, "ctRatio", "L1");
            assertEquals(40, reading(attempt, "ratio").value(), 0.5);
            assertTrue(words(attempt).contains("as 200 A to 5 A; enter that on the plate"), words(attempt));
            assertTrue(
                    attempt.readings().stream().noneMatch(r -> r.key().point().equals("error")));
            assertEquals(Verdict.NOT_JUDGED, judged(rig, "ctRatio/error/L1").verdict());
        }
    }

    /** The lead that a loose terminal is in drops too much, the others do not; its burden stands unjudged. */
    @Test
    void theLeadOfAVoltageTransformerIsMeasuredFromBothEnds() throws IOException {
        try (MeterRig rig = new MeterRig("MFR-MET-04", "met-site-2", 50)) {
            valid(rig, "leadDrop", "L1");
            assertEquals(Verdict.PASS, judged(rig, "leadDrop/drop/L1").verdict());
            Attempt loose = valid(rig, "leadDrop", "L3");
            assertEquals(-0.42, reading(loose, "drop").value(), 0.02);
            assertEquals(Verdict.FAIL, judged(rig, "leadDrop/drop/L3").verdict());
            Attempt burden = valid(rig, "vtBurden", "L1");
            assertEquals(14, reading(burden, "vaNominal").value(), 4);
            assertEquals(
                    Verdict.NOT_JUDGED, judged(rig, "vtBurden/vaNominal/L1").verdict());
            rig.control("meter", "MFR-MET-04", "missing", "1");
            assertTrue(words(valid(rig, "leadDrop", "L1")).contains("no voltage"));
        }
    }

    /** Reactive energy has a head and a constant of its own, and needs a load that takes some. */
    @Test
    void reactiveEnergyIsCountedWhereThereIsSome() throws IOException {
        try (MeterRig rig = new MeterRig("TES-MET-01", "met-site-2", 200)) {
            rig.all();
            rig.control("meter", "TES-MET-01", "reactive", "3.2");
            Attempt attempt = valid(rig, "errorReactive", "-");
            assertEquals(3.2, reading(attempt, "error").value(), 0.3);
            assertEquals(Verdict.FAIL, judged(rig, "errorReactive/error/-").verdict());
            rig.control("meter", "TES-MET-01", "lag", "1");
            Attempt none = valid(rig, "errorReactive", "-");
            assertTrue(none.readings().isEmpty() && words(none).contains("var"), words(none));
        }
    }

    /** A register that does not keep up with its own output is found by the reference, never by the pulses. */
    @Test
    void aRegisterThatLagsBehindItsOutputIsFound() throws IOException {
        try (MeterRig rig = new MeterRig("VAU-MET-01", "met-site-2", 1000)) {
            rig.all();
            Attempt pulses = valid(rig, "error", "-");
            assertEquals(Verdict.PASS, judged(rig, "error/error/-").verdict(), words(pulses));
            Attempt register = valid(rig, "register", "-");
            assertEquals(-2, reading(register, "error").value(), 0.7);
            assertEquals(Verdict.FAIL, judged(rig, "register/error/-").verdict());
            // Without time for a digit there is nothing to say.
            rig.control("meter", "VAU-MET-01", "amperes", "0.001");
            rig.param("register", "seconds", 60);
            Attempt still = valid(rig, "register", "-");
            assertTrue(words(still).contains("the register did not go on"), words(still));
        }
    }

    /** From one beginning of an interval to the next, whenever it was asked. */
    @Test
    void theDemandOfOneIntervalStandsBesideTheReference() throws IOException {
        try (MeterRig rig = new MeterRig("TES-MET-01", "met-site-2", 100)) {
            rig.all();
            Attempt attempt = valid(rig, "demand", "-");
            // A quarter of a second of the clock is 25 s here: that far apart its ends are seen.
            assertEquals(900, reading(attempt, "interval").value(), 60);
            assertEquals(0, reading(attempt, "error").value(), 1);
            rig.param("demand", "interval", 300);
            Attempt other = valid(rig, "demand", "-");
            assertTrue(words(other).contains("began no interval"), words(other));
        }
    }

    /** Of its parts, on all phases, when the last of them is there; anew when one is measured again. */
    @Test
    void theWholeInstallationFollowsFromItsParts() throws IOException {
        try (MeterRig rig = new MeterRig("MFR-MET-04", "met-site-2", 200)) {
            valid(rig, "wiring", "-");
            valid(rig, "error", "-");
            for (String lane : java.util.List.of("L1", "L2", "L3")) {
                valid(rig, "ctRatio", lane);
            }
            valid(rig, "leadDrop", "L1");
            valid(rig, "leadDrop", "L2");
            assertTrue(judged(rig, "whole/error/c05s").counting() == null, "not before the last part");
            valid(rig, "leadDrop", "L3");
            double before = judged(rig, "whole/error/c05s").counting().value();
            assertTrue(judged(rig, "whole/share/c05s").verdict() != Verdict.NOT_JUDGED);
            rig.control("meter", "MFR-MET-04:L3", "drop", "3.42");
            valid(rig, "leadDrop", "L3");
            double after = judged(rig, "whole/error/c05s").counting().value();
            assertEquals(before - 1, after, 0.05, "three per cent in one of three leads");
            // A part that came to nothing is no part without an error.
            rig.control("meter", "MFR-MET-04", "amperes", "0.0001");
            valid(rig, "ctRatio", "L2");
            assertEquals(Verdict.NOT_JUDGED, judged(rig, "whole/share/c05s").verdict());
        }
    }

    /** No point asks for more than the meter may carry; the time of the creep test is that of its class. */
    @Test
    void loadPointsStayWithinWhatTheMeterCarries() throws IOException {
        try (MeterRig rig = new MeterRig("TES-MET-01", "met-load-2", 1000)) {
            Attempt most = valid(rig, "unity", "d");
            assertEquals(6, reading(most, "error").with().get("current").value(), 1e-9, "not 150 % of 5 A");
            PointJudgement judged = judged(rig, "unity/error/d");
            assertEquals(0.5, Objects.requireNonNull(judged.limit()).high(), judged.toString());
            assertTrue(
                    judged.limit().source().startsWith("IEC 62053-22:2020, class 0.5 S, load power factor 1"),
                    judged.limit().source());
            assertEquals("unknown-lane", refused(() -> rig.ready("creep", "c1")), "its class is 0.5 S");
            Attempt creeps = valid(rig, "creep", "c05s");
            double minutes = MeterError.creepMinutes(600, 2000, 3, 230, 6);
            assertEquals(
                    60 * minutes, reading(creeps, "pulses").with().get("time").value(), 1);
        }
        try (MeterRig rig = new MeterRig("ORE-MET-03", "met-load-2", 1000)) {
            assertThrows(Refusal.class, () -> rig.ready("single", "L1"), "no phase alone without a neutral");
        }
    }

    /** Turns of a primary that went together leave the class. */
    @ParameterizedTest
    @CsvSource({"MFR-VT-01, PASS", "MFR-VT-05, FAIL"})
    void aVoltageTransformerByItself(String position, Verdict verdict) throws IOException {
        try (MeterRig rig = new MeterRig(position, "vt-alone-1", 20)) {
            assertEquals("hold-open", refused(() -> rig.ready("ratio", "-")));
            rig.confirm("isolate");
            valid(rig, "winding", "-");
            Attempt ratio = valid(rig, "ratio", "-");
            assertEquals(200, reading(ratio, "ratio").value(), 3);
            assertEquals(1, reading(ratio, "polarity").value());
            assertEquals(verdict, judged(rig, "ratio/deviation/-").verdict(), words(ratio));
        }
    }

    private static Trace excitation(MeterRig rig, Attempt attempt) {
        return rig.trace(rig.state().captures().stream()
                .filter(c -> c.attempt().equals(attempt.id()) && c.name().equals("Excitation"))
                .map(AttemptEvents.Captured::sha256)
                .findFirst()
                .orElseThrow());
    }

    private static double at(MeterRig rig, Attempt curve, double volts) {
        Trace kept = excitation(rig, curve);
        for (int n = 0; n < kept.y().length; n++) {
            if (kept.y()[n] >= volts) {
                return kept.x()[n];
            }
        }
        throw new AssertionError("the curve ends below " + volts);
    }
}
