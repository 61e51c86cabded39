package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.correction.RfPath;
import org.juratest.core.limit.Verdict;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.Refusal;
import org.juratest.e2e.radio.RadioRig;

/**
 * The procedures for radios over the sockets of the stand-ins: what is wrong with a radio is found, and nothing else.
 */
class RadioRunTest {

    private static final String YEARLY = "rad-yearly-3";

    private static void all(RadioRig rig) {
        rig.measureAll().forEach((where, outcome) -> assertEquals(Attempt.Outcome.VALID, outcome, where));
    }

    private static void measured(RadioRig rig, String step, String lane) {
        Attempt attempt = rig.measure(step, lane);
        assertEquals(Attempt.Outcome.VALID, attempt.outcome(), String.valueOf(attempt.words()));
    }

    private static Verdict verdict(RadioRig rig, String key) {
        return rig.judgement().points().stream()
                .filter(p -> p.key().toString().equals(key))
                .map(PointJudgement::verdict)
                .findFirst()
                .orElseThrow();
    }

    @Test
    void aSoundRadioPassesInBothBandsWithEveryFigureItsOwn() throws IOException {
        try (RadioRig rig = new RadioRig("TES-RAD-03", YEARLY, 100)) {
            all(rig);
            List<PointJudgement> measured = rig.judgement().points().stream()
                    .filter(p -> p.asFound() != null)
                    .toList();
            assertTrue(measured.size() > 35, measured.size() + " points");
            measured.forEach(
                    p -> assertTrue(List.of(Verdict.PASS, Verdict.NOT_JUDGED).contains(p.verdict()), p.toString()));
            assertNotEquals(rig.value("txPower", "high", "vhf"), rig.value("txPower", "high", "uhf"));
            assertEquals(1, rig.state().attempts("txCarrier", null).size(), "the reference is proved on one band");
            assertTrue(String.valueOf(rig.judgement().provedOnce()).contains("UHF"));
            assertTrue(rig.sounds() > 0, "the sound of the receiver is kept to be listened to");
            assertTrue(rig.traces() > 10);
        }
    }

    /** Each fault moves the figure it should by as much as it should, and leaves the others' verdicts alone. */
    @ParameterizedTest
    @CsvSource({
        "drift,4,txCarrier,vhf,error,vhf,4,0.15,FAIL",
        "power.uhf,-3,txPower,uhf,high,uhf,x,0,FAIL",
        "deviation.vhf,1.3,txDeviation,vhf,pos,vhf,x,0,FAIL",
        "deaf.uhf,9,rxSensitivity,uhf,level,uhf,x,0,FAIL",
        "sound.vhf,0.09,rxSound,vhf,distortion,vhf,10.3,0.6,FAIL"
    })
    void aFaultIsFoundWhereItIs(
            String fault,
            double amount,
            String step,
            String lane,
            String point,
            String faulty,
            String expected,
            double within,
            Verdict verdict)
            throws IOException {
        try (RadioRig rig = new RadioRig("TES-RAD-03", YEARLY, 100)) {
            measured(rig, step, lane);
            double before = rig.value(step, point, lane);
            rig.standIns().bench().fault("TES-RAD-03", fault, amount);
            measured(rig, step, lane);
            double after = rig.value(step, point, lane);
            assertNotEquals(before, after);
            if (!expected.equals("x")) {
                assertEquals(Double.parseDouble(expected), after, within);
            }
            assertEquals(verdict, verdict(rig, step + "/" + point + "/" + faulty));
            String other = lane.equals("vhf") ? "uhf" : "vhf";
            if (!fault.equals("drift")) {
                measured(rig, step, other);
                assertEquals(
                        Verdict.PASS, verdict(rig, step + "/" + point + "/" + other), "the other band is as it was");
            }
        }
    }

    @Test
    void halfThePowerIsThreeDecibelsAndNineDeafAreNine() throws IOException {
        try (RadioRig rig = new RadioRig("TES-RAD-03", YEARLY, 100)) {
            measured(rig, "txPower", "uhf");
            measured(rig, "rxSensitivity", "uhf");
            double watts = rig.value("txPower", "high", "uhf");
            double level = rig.value("rxSensitivity", "level", "uhf");
            rig.standIns().bench().fault("TES-RAD-03", "power.uhf", -3.0103);
            rig.standIns().bench().fault("TES-RAD-03", "deaf.uhf", 9);
            measured(rig, "txPower", "uhf");
            measured(rig, "rxSensitivity", "uhf");
            assertTrue(rig.value("txPower", "high", "uhf") < 0.75 * watts, watts + " W before");
            assertTrue(
                    rig.value("rxSensitivity", "level", "uhf") > level + 6,
                    level + " dBm before, " + rig.value("rxSensitivity", "level", "uhf"));
        }
    }

    @Test
    void aNeighbourIsHeldOffOnBothSides() throws IOException {
        try (RadioRig rig = new RadioRig("TES-RAD-03", "rad-accept-1", 100)) {
            assertEquals(
                    Attempt.Outcome.VALID, rig.measure("rxSelectivity", "vhf").outcome());
            double lower = rig.value("rxSelectivity", "lower", "vhf");
            double upper = rig.value("rxSelectivity", "upper", "vhf");
            assertTrue(lower > 45 && lower < 90 && Math.abs(lower - upper) < 3, lower + " and " + upper + " dB");
            assertEquals(Verdict.PASS, verdict(rig, "rxSelectivity/lower/vhf"));
        }
    }

    // ---- what must not happen

    @Test
    void aDeadLeadIsAskedAboutAndCountsForNothing() throws IOException {
        try (RadioRig rig = new RadioRig("TES-RAD-03", YEARLY, 100)) {
            rig.standIns().bench().antennaOff("TES-RAD-03", true);
            Attempt attempt = rig.measure("txPower", "vhf");
            assertEquals(Attempt.Outcome.UNCLEAR, attempt.outcome(), "neither way anything comes through the lead");
            assertFalse(attempt.counts());
            assertTrue(
                    String.valueOf(attempt.words()).endsWith("Is the lead on the antenna port of this radio?"),
                    attempt.words());
            rig.standIns().bench().antennaOff("TES-RAD-03", false);
            assertEquals(Attempt.Outcome.VALID, rig.measure("txPower", "vhf").outcome());
        }
    }

    /**
     * The receiver opens through the same lead, so the lead is there: a transmitter that gives next to nothing fails.
     */
    @Test
    void aDeadTransmitterFails() throws IOException {
        try (RadioRig rig = new RadioRig("TES-RAD-03", YEARLY, 100)) {
            rig.standIns().bench().fault("TES-RAD-03", "power.vhf", -60);
            Attempt attempt = rig.measure("txPower", "vhf");
            assertEquals(Attempt.Outcome.VALID, attempt.outcome(), String.valueOf(attempt.words()));
            assertTrue(String.valueOf(attempt.check()).contains("the receiver hears through it"), attempt.toString());
            PointJudgement mid = rig.judgement().points().stream()
                    .filter(p -> p.key().toString().equals("txPower/mid/vhf"))
                    .findFirst()
                    .orElseThrow();
            assertEquals(Verdict.FAIL, mid.verdict());
            assertTrue(mid.counting().value() < 1e-3, "a figure, however small: " + mid.counting());
        }
    }

    @Test
    void anAttenuatorThatIsTooWeakIsFoundBeforeAnythingIsKeyed() throws IOException {
        PathLoss loss = new PathLoss(List.of(new PathLoss.LossPoint(100, 3), new PathLoss.LossPoint(500, 3)));
        try (RadioRig rig = new RadioRig("TES-RAD-03", YEARLY, 100, new RfPath(loss, 50))) {
            Attempt attempt = rig.measure("txPower", "vhf");
            assertEquals(Attempt.Outcome.CONNECTION_FAILED, attempt.outcome(), String.valueOf(attempt.words()));
            assertTrue(attempt.readings().isEmpty());
        }
        try (RadioRig rig = new RadioRig(
                "TES-RAD-03",
                YEARLY,
                100,
                new RfPath(
                        new PathLoss(List.of(new PathLoss.LossPoint(100, 30), new PathLoss.LossPoint(500, 30))), 1))) {
            assertEquals(
                    "above-maximum",
                    assertThrows(Refusal.class, () -> rig.measure("txPower", "vhf"))
                            .code());
        }
    }

    @Test
    void anotherRadioAtTheLeadsIsNoticed() throws IOException {
        try (RadioRig rig = new RadioRig("TES-RAD-03", YEARLY, 100)) {
            rig.standIns().bench().lead("TES-RAD-03", "TES-RAD-04");
            Attempt attempt = rig.measure("txCarrier", "vhf");
            assertEquals(Attempt.Outcome.CONNECTION_FAILED, attempt.outcome());
            assertTrue(
                    attempt.readings().isEmpty()
                            && String.valueOf(attempt.words()).contains("Connect the radio of this run"),
                    String.valueOf(attempt.words()));
            assertTrue(
                    rig.measure("rxSensitivity", "uhf").readings().isEmpty(),
                    "nor is its receiver taken for the other's");
        }
    }

    // ---- alignment

    @Test
    void aDriftedRadioIsAlignedAndMeasuredAgain() throws IOException {
        try (RadioRig rig = new RadioRig("TES-RAD-02", "rad-align-1", 100)) {
            all(rig);
            double found = rig.value("txCarrier", "error", "vhf");
            assertTrue(found > 2.5, found + " ppm as found");
            assertFalse(rig.state().adjustments().isEmpty());
            assertTrue(rig.state().adjustments().stream()
                    .flatMap(a -> a.settings().stream())
                    .anyMatch(s -> s.name().equals("reference") && s.before() != s.after()));
            rig.measure("txCarrier", "vhf");
            assertTrue(
                    Math.abs(rig.value("txCarrier", "error", "vhf")) < 0.3,
                    rig.value("txCarrier", "error", "vhf") + " ppm as left");
            PointJudgement carrier = rig.judgement().points().stream()
                    .filter(p -> p.key().toString().equals("txCarrier/error/vhf"))
                    .findFirst()
                    .orElseThrow();
            assertNotNull(carrier.asLeft());
            assertEquals(Verdict.PASS, carrier.verdict(), "as left it passes; as found stays on the record");
        }
    }

    @Test
    void anAlignmentOutOfReachPutsTheSettingBack() throws IOException {
        try (RadioRig rig = new RadioRig("TES-RAD-03", "rad-align-1", 100)) {
            rig.measure("txCarrier", "vhf");
            rig.standIns().bench().fault("TES-RAD-03", "drift", 60);
            Attempt attempt = rig.measure("alignReference", "vhf");
            assertTrue(String.valueOf(attempt.words()).contains("put back"), String.valueOf(attempt.words()));
            assertTrue(rig.state().adjustments().isEmpty(), "nothing was changed in the end");
            rig.standIns().bench().fault("TES-RAD-03", "drift", 0);
            rig.measure("txCarrier", "vhf");
            assertTrue(Math.abs(rig.value("txCarrier", "error", "vhf")) < 2.5);
        }
    }
}
