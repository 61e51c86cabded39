package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.juratest.core.family.fibre.FiledTrace;
import org.juratest.core.family.fibre.Otdr;
import org.juratest.core.family.fibre.OtdrAnalysis;
import org.juratest.core.family.fibre.OtdrEvent;
import org.juratest.core.limit.Verdict;
import org.juratest.core.method.Filed;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.PointJudgement;
import org.juratest.e2e.fibre.FibreRig;
import org.juratest.formats.family.fibre.SorCaptures;
import org.juratest.simulators.fleet.Fleet;

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

    /** One way a splice shows more than it loses, the other way less: the mean is the same from either end. */
    @Test
    void aSpliceIsJudgedByTheMeanOfBothWays() throws IOException {
        try (FibreRig rig = new FibreRig(LINK, "fib-accept-1", 100)) {
            valid(rig, "trace1550", "1");
            assertTrue(
                    rig.judgement().points().stream()
                            .noneMatch(p -> p.key().toString().matches("mean1550/.*#.*")),
                    "one way alone is no mean");
            valid(rig, "trace1550far", "1");
            List<PointJudgement> means = rig.judgement().points().stream()
                    .filter(p -> p.key().toString().matches("mean1550/spliceMean#.*/1"))
                    .toList();
            assertTrue(means.size() >= 3, means.toString());
            means.forEach(m -> assertEquals(Verdict.PASS, m.verdict(), m.toString()));
            // Where it is stands in its name, with what the route has there.
            assertTrue(
                    means.get(0).label().matches("Splice 1 at 5\\d\\d m \\(Closure 1\\), mean loss, fibre 1"),
                    means.get(0).label());
            double near = rig.value("trace1550", "loss", "1");
            double far = rig.value("trace1550far", "loss", "1");
            assertEquals((near + far) / 2, rig.value("mean1550", "loss", "1"), 1e-9);
            // Measured anew, it is computed anew.
            int before = rig.state().attempts("mean1550", "1").size();
            valid(rig, "trace1550", "1");
            assertEquals(before + 1, rig.state().attempts("mean1550", "1").size());
        }
    }

    @Test
    void aBendIsNamedWithBothItsLosses() throws IOException {
        try (FibreRig rig = new FibreRig(LINK, "fib-accept-1", 100)) {
            valid(rig, "trace1310", "4");
            valid(rig, "trace1550", "4");
            assertEquals(1, rig.value("bends", "bends", "4"));
            assertEquals(0.42, rig.value("bends", "bendLong#1", "4"), 0.05);
            assertEquals(0.02, rig.value("bends", "bendShort#1", "4"), 0.05);
            assertEquals(Verdict.FAIL, verdict(rig, "bends/bendLong#1/4"));
        }
    }

    /** What is written for other programs reads back as the same trace, of the same fibre, from the same end. */
    @Test
    void aTraceGoesOutAsAFileAndComesBackTheSame() throws IOException {
        SorCaptures format = new SorCaptures();
        try (FibreRig rig = new FibreRig(LINK, "fib-accept-1", 100)) {
            valid(rig, "trace1310far", "2");
            AttemptEvents.Captured captured = rig.state().captures().get(0);
            byte[] bytes = format.write(rig.state(), captured, rig.trace(captured.sha256()))
                    .orElseThrow();
            Filed filed = format.read("x.sor", bytes);
            FiledTrace trace = (FiledTrace) filed.content();
            assertEquals(
                    List.of("CBL-PRA-01", "2", "Orsel tunnel, east portal", "Pravelle halt", "1310 nm"),
                    List.of(
                            filed.facts().get("cable"),
                            filed.facts().get("fibre"),
                            filed.facts().get("from"),
                            filed.facts().get("to"),
                            filed.facts().get("wavelength")));
            assertEquals(Boolean.TRUE, trace.reversed());
            assertTrue(filed.warnings().isEmpty(), filed.warnings().toString());
            OtdrAnalysis again = Otdr.analyse(trace.trace(), trace.lead());
            assertEquals(rig.value("trace1310far", "length", "2"), again.length(), 0.5);
            assertEquals(rig.value("trace1310far", "loss", "2"), again.loss(), 0.002);
        }
    }

    /** Every file of the years before is of its link, is analysed, and shows the splice that ages. */
    @Test
    void theYearsBeforeAreReadAsFilesAndShowTheSpliceThatAges() {
        SorCaptures format = new SorCaptures();
        List<Double> aging = new java.util.ArrayList<>();
        int files = 0;
        for (List<Fleet.PastTest> tests : FibreRig.FLEET.past().values()) {
            for (Fleet.PastTest test : tests) {
                for (Fleet.PastFile file : test.files()) {
                    files++;
                    Filed filed = format.read(file.name(), file.decoded());
                    assertEquals(List.of(), filed.warnings(), file.name());
                    FiledTrace content = (FiledTrace) filed.content();
                    OtdrAnalysis found = Otdr.analyse(content.trace(), content.lead());
                    assertTrue(
                            found.events().stream().anyMatch(e -> e.type() == OtdrEvent.Type.END),
                            file.name() + " of " + test.day() + ": " + found.events());
                    if (file.lane().equals("7") && file.step().equals("trace1550")) {
                        aging.add(found.events().stream()
                                .filter(e -> e.position() > 400 && e.position() < 600)
                                .mapToDouble(e -> java.util.Objects.requireNonNull(e.loss()))
                                .sum());
                    }
                }
            }
        }
        assertTrue(files > 300, files + " files");
        assertTrue(aging.size() >= 3, aging.toString());
        for (int i = 1; i < aging.size(); i++) {
            assertEquals(0.012, aging.get(i) - aging.get(i - 1), 0.004, aging.toString());
        }
    }
}
