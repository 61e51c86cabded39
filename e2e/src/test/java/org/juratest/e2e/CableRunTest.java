package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.PointJudgement;
import org.juratest.e2e.fibre.FibreRig;

/** The procedures for multi-fibre cables over the sockets of the stand-ins. */
class CableRunTest {

    private static final String PROCEDURE = "mpc-accept-1";

    private static PointJudgement judged(FibreRig rig, String key) {
        return rig.judgement().points().stream()
                .filter(p -> p.key().toString().equals(key))
                .findFirst()
                .orElseThrow(() -> new AssertionError(key));
    }

    private static void valid(FibreRig rig, String step, String lane) {
        Attempt attempt = rig.measure(step, lane);
        assertEquals(Attempt.Outcome.VALID, attempt.outcome(), step + " " + lane + ": " + attempt.words());
    }

    private static List<String> lanes(FibreRig rig, String id) {
        Step step = rig.state().procedure().step(id).orElseThrow();
        return rig.state().procedure().lanesOf(step, rig.state().scope());
    }

    private static List<String> failing(FibreRig rig, String step) {
        return rig.judgement().points().stream()
                .filter(p -> p.key().step().equals(step) && p.verdict() == Verdict.FAIL)
                .map(p -> p.key().toString())
                .toList();
    }

    /** References, polarity and losses of a good cable: every fibre at both wavelengths, judged by its plate. */
    @Test
    void aGoodCablePassesFibreByFibre() throws IOException {
        try (FibreRig rig = new FibreRig("PRA-MPC-01", PROCEDURE, 100)) {
            assertEquals(24, lanes(rig, "losses").size());
            for (String step : List.of("returnReference", "lossReference")) {
                lanes(rig, step).forEach(lane -> valid(rig, step, lane));
            }
            // Found on the first, taken over by the others, though their cords are longer.
            assertEquals(3.24, rig.value("returnReference", "distance", "1.1310"), 0.001);
            assertEquals(3.24, rig.value("returnReference", "distance", "12.1550"), 0.04);
            valid(rig, "polarity", "-");
            assertEquals(List.of(), failing(rig, "polarity"));
            lanes(rig, "losses").forEach(lane -> valid(rig, "losses", lane));
            // Dirt on both ends of three fibres is all that fails.
            assertEquals(
                    List.of(
                            "losses/loss/4.1310",
                            "losses/loss/4.1550",
                            "losses/returnLoss/4.1310",
                            "losses/returnLoss/4.1550"),
                    failing(rig, "losses").stream()
                            .filter(k -> k.contains("/4."))
                            .sorted()
                            .toList());
            assertEquals(Verdict.PASS, judged(rig, "losses/loss/1.1310").verdict());
            assertEquals(0.75, judged(rig, "losses/loss/1.1310").limit().high());
            double returned = rig.value("losses", "returnLoss", "1.1310");
            assertTrue(returned > 55 && returned < 70, "" + returned);
        }
    }

    /** The same set on a link: one reference a wavelength, both ways, against the budget of the link. */
    @Test
    void aLinkIsMeasuredBothWaysAgainstItsBudget() throws IOException {
        try (FibreRig rig = new FibreRig("PRA-FIB-01", "fib-loss-1", 100)) {
            Attempt early = rig.measure("lossReference", "1310");
            assertEquals(Attempt.Outcome.VALID, early.outcome());
            assertTrue(String.valueOf(early.words()).contains("one cord"), early.words());
            valid(rig, "lossReference", "1550");
            for (String step : List.of("lossNear", "lossFar")) {
                valid(rig, step, "1.1310");
                valid(rig, step, "1.1550");
                assertEquals(Verdict.PASS, judged(rig, step + "/loss/1.1310").verdict());
                assertEquals(3.5, judged(rig, step + "/loss/1.1550").limit().high());
            }
            double at1310 = rig.value("lossNear", "loss", "1.1310");
            double at1550 = rig.value("lossNear", "loss", "1.1550");
            assertTrue(at1310 > at1550 && at1550 > 0.5, at1310 + " " + at1550);
            // The dirty connector of the sixth fibre takes its part at either wavelength.
            valid(rig, "lossNear", "6.1310");
            assertTrue(rig.value("lossNear", "loss", "6.1310") > at1310 + 0.6);
        }
    }

    @Test
    void aCrossedPairIsFoundThreadByThread() throws IOException {
        try (FibreRig rig = new FibreRig("PRA-MPC-02", PROCEDURE, 100)) {
            valid(rig, "polarity", "-");
            assertEquals(2, rig.value("polarity", "crossed", "-"));
            assertEquals(0, rig.value("polarity", "missing", "-"));
            assertEquals(Verdict.FAIL, judged(rig, "polarity/crossed/-").verdict());
            // The rows are in the order of the fibres.
            assertEquals(4, rig.value("polarity", "arrives#3", "-"));
            assertEquals(3, rig.value("polarity", "arrives#4", "-"));
            assertEquals(Verdict.PASS, judged(rig, "polarity/off#5/-").verdict());
            assertEquals(Verdict.FAIL, judged(rig, "polarity/off#3/-").verdict());
        }
    }

    /** A broken fibre loses at least what the detector can see, and that is a failure, not a gap. */
    @Test
    void aBrokenFibreIsMissingAndFails() throws IOException {
        try (FibreRig rig = new FibreRig("ORE-MPC-01", PROCEDURE, 100)) {
            assertTrue(lanes(rig, "losses").contains("17.850")
                    && lanes(rig, "losses").contains("24.1300"));
            valid(rig, "polarity", "-");
            assertEquals(1, rig.value("polarity", "missing", "-"));
            for (String lane : List.of("1.850", "17.850")) {
                valid(rig, "returnReference", lane);
                valid(rig, "lossReference", lane);
                valid(rig, "losses", lane);
            }
            assertEquals(Verdict.FAIL, judged(rig, "losses/loss/17.850").verdict());
            assertEquals(Verdict.PASS, judged(rig, "losses/loss/1.850").verdict());
        }
    }

    /** No cable gains: a source that grew stronger since its reference gives no reading. */
    @Test
    void aNegativeLossIsABadReference() throws IOException {
        try (FibreRig rig = new FibreRig("PRA-MPC-01", PROCEDURE, 100)) {
            valid(rig, "returnReference", "1.1310");
            valid(rig, "lossReference", "1.1310");
            rig.control("fibre-drift", "-1.2");
            Attempt bad = rig.measure("losses", "1.1310");
            assertEquals(Attempt.Outcome.CONNECTION_FAILED, bad.outcome());
            assertTrue(String.valueOf(bad.words()).contains("the reference is bad"), bad.words());
            assertTrue(bad.readings().isEmpty());
            valid(rig, "lossReference", "1.1310");
            valid(rig, "losses", "1.1310");
        }
    }

    /** Dirty faces fail one by one; the connector is wiped, and what was found stays beside what is left. */
    @Test
    void aDirtyConnectorIsSeenFaceByFaceAndCleaned() throws Exception {
        try (FibreRig rig = new FibreRig("PRA-MPC-01", PROCEDURE, 20)) {
            valid(rig, "facesNear", "-");
            assertEquals(2, rig.value("facesNear", "failing", "-"));
            assertEquals(
                    List.of("facesNear/failing/-", "facesNear/zones#4/-", "facesNear/zones#9/-"),
                    failing(rig, "facesNear"));
            Thread.sleep(200);
            valid(rig, "facesNear", "-");
            assertEquals(0, rig.value("facesNear", "failing", "-"));
            valid(rig, "facesFar", "-");
            assertEquals(1, rig.value("facesFar", "failing", "-"));
        }
    }

    /** Two pictures are one: all twenty-four faces, the one that is dirty among them. */
    @Test
    void aWideFerruleIsJoinedFromTwoPictures() throws IOException {
        try (FibreRig rig = new FibreRig("ORE-MPC-01", PROCEDURE, 20)) {
            valid(rig, "facesNear", "-");
            assertEquals(List.of("facesNear/failing/-", "facesNear/zones#11/-"), failing(rig, "facesNear"));
        }
    }

    @Test
    void anUnsharpPictureIsNoShot() throws IOException {
        try (FibreRig rig = new FibreRig("PRA-MPC-02", PROCEDURE, 100)) {
            rig.control("fibre-focus", "4");
            Attempt blurred = rig.measure("facesNear", "-");
            assertEquals(Attempt.Outcome.CONNECTION_FAILED, blurred.outcome());
            assertTrue(String.valueOf(blurred.words()).matches("not sharp: .*|.* turn the focus.*"), blurred.words());
            assertEquals(0, rig.files());
        }
    }
}
