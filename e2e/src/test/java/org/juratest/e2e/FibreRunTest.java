package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.juratest.core.limit.Verdict;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.PointJudgement;
import org.juratest.e2e.fibre.FibreRig;

/** The procedure for fibre links over the sockets of the stand-ins: what is wrong with a fibre is found there. */
class FibreRunTest {

    private static final String LINK = "PRA-FIB-01";
    private static final String PROCEDURE = "fib-oneend-1";

    private static Verdict verdict(FibreRig rig, String key) {
        return judged(rig, key).verdict();
    }

    private static PointJudgement judged(FibreRig rig, String key) {
        return rig.judgement().points().stream()
                .filter(p -> p.key().toString().equals(key))
                .findFirst()
                .orElseThrow(() -> new AssertionError(key + " in "
                        + rig.judgement().points().stream()
                                .map(PointJudgement::key)
                                .toList()));
    }

    private static void valid(FibreRig rig, String step, String lane) {
        Attempt attempt = rig.measure(step, lane);
        assertEquals(Attempt.Outcome.VALID, attempt.outcome(), step + ": " + attempt.words());
    }

    @Test
    void aSoundFibrePassesAndHasItsJointsAsRows() throws IOException {
        try (FibreRig rig = new FibreRig(LINK, PROCEDURE, 100)) {
            for (String step : List.of("face", "light", "launch", "trace1310", "trace1550")) {
                valid(rig, step, "1");
            }
            assertEquals(Verdict.PASS, verdict(rig, "face/zones/1"));
            assertEquals(Verdict.PASS, verdict(rig, "trace1550/loss/1"));
            assertEquals(Verdict.PASS, verdict(rig, "trace1550/attenuation/1"));
            // Its connectors are angled: at most -55 dB, not the -45 dB of flat ones.
            assertEquals(-55, judged(rig, "launch/reflectance/1").limit().high());
            assertEquals(Verdict.PASS, verdict(rig, "launch/reflectance/1"));
            assertEquals(2564, rig.value("trace1550", "length", "1"), 15);
            List<PointJudgement> rows = rig.judgement().points().stream()
                    .filter(p -> p.key().toString().matches("trace1550/.*#.*"))
                    .toList();
            assertTrue(rows.size() >= 5, rows.toString());
            rows.forEach(
                    r -> assertTrue(List.of(Verdict.PASS, Verdict.NOT_JUDGED).contains(r.verdict()), r.toString()));
            assertEquals(3, rig.traces());
            assertEquals(1, rig.files());
        }
    }

    /** The bend loses more at 1550 nm than a splice may, and little at 1310 nm. */
    @Test
    void aBentFibreFailsAtTheLongerWavelength() throws IOException {
        try (FibreRig rig = new FibreRig(LINK, PROCEDURE, 100)) {
            valid(rig, "trace1310", "4");
            valid(rig, "trace1550", "4");
            assertTrue(
                    rig.judgement().points().stream()
                            .filter(p -> p.key().toString().startsWith("trace1550/spliceLoss#"))
                            .anyMatch(p -> p.verdict() == Verdict.FAIL),
                    rig.judgement().toString());
            assertTrue(rig.judgement().points().stream()
                    .filter(p -> p.key().toString().startsWith("trace1310/"))
                    .noneMatch(p -> p.verdict() == Verdict.FAIL));
        }
    }

    @Test
    void aDirtyEndFaceFailsIsWipedAndPassesAsLeft() throws IOException {
        try (FibreRig rig = new FibreRig(LINK, PROCEDURE, 100)) {
            valid(rig, "face", "5");
            assertEquals(Verdict.FAIL, verdict(rig, "face/zones/5"));
            rig.wipe(LINK + ":5");
            valid(rig, "face", "5");
            assertEquals(0, rig.value("face", "zones", "5"));
        }
    }

    @Test
    void aFibreWithTrafficIsLeftAloneAndAPoorConnectionIsNoReading() throws IOException {
        try (FibreRig rig = new FibreRig(LINK, PROCEDURE, 100)) {
            valid(rig, "light", "3");
            assertEquals(Verdict.FAIL, verdict(rig, "light/power/3"));
            Attempt lit = rig.measure("trace1550", "3");
            assertEquals(Attempt.Outcome.CONNECTION_FAILED, lit.outcome());
            assertTrue(String.valueOf(lit.words()).contains("it carries traffic"), lit.words());
            Attempt loose = rig.measure("launch", "8");
            assertEquals(Attempt.Outcome.CONNECTION_FAILED, loose.outcome());
            assertTrue(String.valueOf(loose.words()).contains("Clean both end faces"), loose.words());
            assertTrue(loose.readings().isEmpty());
        }
    }
}
