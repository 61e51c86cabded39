package org.juratest.core.family.fibre;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.bench.Gate;
import org.juratest.core.method.Method;
import org.juratest.core.method.StopException;
import org.juratest.core.procedure.Param;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Refusal;
import org.juratest.core.standard.StandardTable;

/** Methods against gear and fibres that are made by definition. */
class FibreMethodsTest {

    private static final Param SHORT = Param.of(1550, "nm");
    private static final Param SECONDS = Param.of(10, "s");

    private static FibreForm trace(Map<String, Param> more) {
        Map<String, Param> params = new TreeMap<>(Map.of("wavelength", SHORT, "averaging", SECONDS));
        params.putAll(more);
        return new FibreForm("fibre.trace", params, "length=m", "loss=dB", "returnLoss=dB", "attenuation=dB/km");
    }

    /** 200 m of lead with its connection, a splice at 2 km, a connector at 4 km, the end at 6 km. */
    private static MadeFibre link(double pulse) {
        return new MadeFibre(1, pulse)
                .attenuation(0.2)
                .connector(200, 0.25, -50)
                .splice(2200, 0.12)
                .connector(4200, 0.3, -45)
                .end(6200, -40)
                .noise(20 + 5 * Math.log10(pulse / 100), 3);
    }

    @Test
    void aTraceGivesTheWholeAndEachEventByItsPlace() {
        FibreForm form = trace(Map.of()).on((pulse, range) -> link(pulse));
        Method.Result result = form.run();
        assertEquals(Attempt.Outcome.VALID, result.outcome(), result.words());
        assertFalse(form.on, "the laser is off");
        assertEquals(6000, form.value("length"), 6);
        assertEquals(1.2 + 0.25 + 0.12 + 0.3, form.value("loss"), 0.03);
        assertEquals(0.2, form.value("attenuation"), 0.01);
        assertEquals(
                List.of("connector 1, connection of the lead", "splice 1", "connector 2", "end 1"),
                List.copyOf(form.rows.values()));
        assertEquals(0.12, form.value("spliceLoss#1"), 0.02);
        assertEquals(0.3, form.value("connectorLoss#2"), 0.02);
        assertEquals(-45, form.value("connectorReflectance#2"), 1);
        assertEquals(-40, form.value("endReflectance#1"), 1);
        assertEquals(1, form.traces.size());
        assertEquals(-200, form.traces.get(0).x()[0], 1e-9, "the trace counts from the end of the lead");
        // A quick shot first; then a range with a third to spare, and the shortest pulse that is clear of the noise.
        assertEquals(2, form.shots.size());
        assertEquals(1, form.shots.get(0)[3]);
        assertEquals(8500, form.shots.get(1)[2], 500);
        assertTrue(form.shots.get(1)[1] < 300e-9, form.shots.get(1)[1] + " s");
        assertEquals(10, form.shots.get(1)[3]);
    }

    @Test
    void whatTheStepStatesIsTakenAsItIs() {
        FibreForm form = trace(Map.of("pulse", Param.of(1000, "ns"), "range", Param.of(20, "km")))
                .on((pulse, range) -> link(pulse));
        assertEquals(Attempt.Outcome.VALID, form.run().outcome());
        assertEquals(1, form.shots.size());
        assertEquals(1000e-9, form.shots.get(0)[1], 1e-15);
        assertEquals(20_000, form.shots.get(0)[2], 1e-9);
    }

    @ParameterizedTest
    @ValueSource(strings = {"fibre.trace", "fibre.launch"})
    void nothingIsSentIntoAFibreThatCarriesTraffic(String method) {
        FibreForm form = new FibreForm(method, Map.of("wavelength", SHORT)).on((pulse, range) -> link(pulse));
        form.light = -12;
        Method.Result result = form.run();
        assertEquals(Attempt.Outcome.CONNECTION_FAILED, result.outcome());
        assertTrue(result.words().contains("it carries traffic"), result.words());
        verify(form.tester, never()).outputOn();
        // A level that is no figure is no darkness.
        FibreForm unknown = new FibreForm(method, Map.of("wavelength", SHORT)).on((pulse, range) -> link(pulse));
        unknown.light = Double.NaN;
        assertEquals(Attempt.Outcome.CONNECTION_FAILED, unknown.run().outcome());
        verify(unknown.tester, never()).outputOn();
        // A wavelength that the gear filters may be sent beside the traffic, another of the same length may not.
        FibreForm bare =
                new FibreForm(method, Map.of("wavelength", Param.of(1650, "nm"))).on((pulse, range) -> link(pulse));
        bare.light = -12;
        assertEquals(Attempt.Outcome.CONNECTION_FAILED, bare.run().outcome());
        FibreForm beside = new FibreForm(method, Map.of("wavelength", Param.of(1625, "nm")), points(method))
                .on((pulse, range) -> link(pulse));
        beside.light = -12;
        assertEquals(Attempt.Outcome.VALID, beside.run().outcome());
    }

    private static String[] points(String method) {
        return method.equals("fibre.launch") ? new String[] {"reflectance=dB", "loss=dB"} : new String[] {"length=m"};
    }

    /** What the procedure allows at most is held when it is announced, and by the gate when it is chosen. */
    @Test
    void nothingIsLongerThanTheProcedureAllows() {
        FibreForm form = trace(Map.of("averaging", Param.of(61, "s"))).on((pulse, range) -> link(pulse));
        assertEquals("above-maximum", assertThrows(Refusal.class, form::run).code());
        FibreForm pulse = trace(Map.of("pulse", Param.of(10_001, "ns"), "range", Param.of(20, "km")))
                .on((p, range) -> link(p));
        assertThrows(Gate.NotAnnouncedException.class, pulse::run);
        assertFalse(pulse.on);
    }

    @Test
    void withoutBackscatterThereIsNoLink() {
        FibreForm form = trace(Map.of())
                .on((pulse, range) ->
                        new MadeFibre(1, pulse).port(-14).end(0, Double.NaN).noise(20, 1));
        Method.Result result = form.run();
        assertEquals(Attempt.Outcome.CONNECTION_FAILED, result.outcome());
        assertTrue(form.readings.isEmpty() && !form.on);
        assertEquals(1, form.finished, "a second shot would tell nothing");
    }

    /** A lead with nothing at its end is no link of no length that loses nothing. */
    @ParameterizedTest
    @ValueSource(strings = {"fibre.trace", "fibre.launch"})
    void anOpenLeadIsNoLink(String method) {
        FibreForm form = new FibreForm(method, Map.of("wavelength", SHORT), points(method))
                .on((pulse, range) ->
                        new MadeFibre(1, pulse).attenuation(0.2).end(200, -14).noise(25, 3));
        assertEquals(Attempt.Outcome.CONNECTION_FAILED, form.run().outcome());
        assertTrue(form.readings.isEmpty() && !form.on, form.readings.toString());
    }

    /** Where the first shot sees no end, the longest pulse that is allowed is the one to look with. */
    @Test
    void aLinkWithoutAnEndInSightIsLookedAtWithTheLongestPulse() {
        FibreForm form = trace(Map.of()).on((pulse, range) -> new MadeFibre(4, pulse)
                .attenuation(0.2)
                .connector(200, 0.25, -50)
                .end(70_000, -14)
                .noise(24 + 5 * Math.log10(pulse / 100), 3));
        form.run();
        assertEquals(10e-6, form.shots.get(1)[1], 1e-12);
        assertEquals(81_000, form.shots.get(1)[2], 1e-6);
    }

    @Test
    void anEndThatIsNotSeenLeavesNoFigureForTheWhole() {
        FibreForm form = trace(Map.of("pulse", Param.of(100, "ns"), "range", Param.of(5, "km")))
                .on((pulse, range) -> link(pulse));
        assertEquals(Attempt.Outcome.VALID, form.run().outcome());
        assertEquals(
                List.of("length", "loss", "returnLoss"),
                form.blanks.keySet().stream().sorted().toList());
        assertEquals(0.12, form.value("spliceLoss#1"), 0.02);
    }

    /** From one end alone a gainer is neither good nor bad: it is told, and not judged with the splices. */
    @Test
    void aGainerIsNoSplice() {
        FibreForm form = trace(Map.of()).on((pulse, range) -> new MadeFibre(1, pulse)
                .attenuation(0.2)
                .connector(200, 0.25, -50)
                .splice(2200, -0.1)
                .end(6200, -40)
                .noise(20, 3));
        form.run();
        assertTrue(form.rows.containsValue("gainer 1"), form.rows.toString());
        assertEquals(-0.1, form.value("gainerLoss#1"), 0.02);
        assertFalse(form.readings.containsKey("spliceLoss#1"));
    }

    @Test
    void aStopWhileTheLaserIsOnIsHonoured() {
        FibreForm form = trace(Map.of()).on((pulse, range) -> link(pulse));
        when(form.tester.isDone()).thenAnswer(c -> {
            form.stop.request(OutputEvents.OffReason.STOPPED, "stopped by tavel");
            return false;
        });
        assertThrows(StopException.class, form::run);
        assertTrue(form.readings.isEmpty());
    }

    @Test
    void fromTheFarEndTheGearIsToldSo() {
        FibreForm form = trace(Map.of("farEnd", Param.of(1, "1"))).on((pulse, range) -> link(pulse));
        form.run();
        assertEquals(List.of(true), form.far);
        FibreForm near = trace(Map.of()).on((pulse, range) -> link(pulse));
        near.run();
        assertEquals(List.of(false), near.far);
    }

    /** A poor connection is no reading of the link; a good one is told with its figures. */
    @ParameterizedTest
    @CsvSource({"-50, 0.25, VALID", "-50, 0.9, VALID", "-50, 2.5, CONNECTION_FAILED", "-22, 0.25, CONNECTION_FAILED"})
    void theFirstMetresTellWhetherToGoOn(double reflectance, double loss, Attempt.Outcome outcome) {
        FibreForm form = new FibreForm("fibre.launch", Map.of("wavelength", SHORT), "reflectance=dB", "loss=dB")
                .on((pulse, range) -> new MadeFibre(1, pulse)
                        .attenuation(0.2)
                        .connector(200, loss, reflectance)
                        .end(9000, -40)
                        .noise(25, 3));
        Method.Result result = form.run();
        assertEquals(outcome, result.outcome(), result.words());
        assertEquals(1, form.traces.size());
        if (outcome == Attempt.Outcome.VALID) {
            assertEquals(reflectance, form.value("reflectance"), 1);
            assertEquals(loss, form.value("loss"), 0.03);
        } else {
            assertTrue(form.readings.isEmpty());
            assertTrue(form.checks.get(0).contains("Clean both end faces"), form.checks.toString());
        }
    }

    @ParameterizedTest
    @CsvSource({"-70, no light", "-13, traffic"})
    void lightIsLookedForWithoutSendingAny(double dbm, String words) {
        FibreForm form = new FibreForm("fibre.light", Map.of(), "power=dBm");
        form.light = dbm;
        Method.Result result = form.run();
        assertEquals(dbm, form.value("power"));
        assertTrue(result.words().contains(words), result.words());
        verify(form.tester, never()).outputOn();
    }

    @Test
    void anEndFaceIsCountedByZonesThatFailAndDrawnWithItsMarks() {
        FibreForm clean = new FibreForm("fibre.endface", Map.of(), "zones=1", "largest=um");
        assertEquals("clean", clean.run().words());
        assertEquals(0, clean.value("zones"));
        FibreForm dirty = new FibreForm("fibre.endface", Map.of(), "zones=1", "largest=um");
        dirty.face.defect(2, 3, 6, 0.1).defect(30, 0, 4, 0.1).scratch(-40, 20, -20, 40, 4, 0.2);
        Method.Result result = dirty.run();
        assertEquals(Attempt.Outcome.VALID, result.outcome());
        assertTrue(result.words().contains("clean it"), result.words());
        assertEquals(2, dirty.value("zones"));
        assertEquals(6, dirty.value("largest"), 0.4);
        Map<String, String> facts = dirty.pictures.get(0);
        assertEquals("fail", facts.get("verdict"));
        assertEquals(
                3, facts.keySet().stream().filter(k -> k.startsWith("#box")).count(), facts.toString());
        assertTrue(facts.get("#box 1").matches("(0\\.\\d{5} ){4}bad defect 5\\.\\d \u00b5m"), facts.toString());
        assertEquals(
                4, facts.keySet().stream().filter(k -> k.startsWith("#ring ")).count());
    }

    @Test
    void aPictureThatShowsTooLittleIsNoMeasurement() {
        FibreForm form = new FibreForm("fibre.endface", Map.of(), "zones=1");
        form.face.blur(4);
        Method.Result result = form.run();
        assertEquals(Attempt.Outcome.CONNECTION_FAILED, result.outcome());
        assertTrue(result.words().contains("not sharp"), result.words());
        assertTrue(form.readings.isEmpty() && form.pictures.size() == 1);
        FibreForm empty = new FibreForm("fibre.endface", Map.of(), "zones=1");
        empty.face.levels(1, 1, 1, 1);
        assertTrue(empty.run().words().contains("white"));
    }

    @ParameterizedTest
    @CsvSource({"single-mode, angled, 4", "single-mode, flat, 0", "multimode, angled, 2147483647"})
    void theTableFollowsThePlate(String kind, String connectors, int scratches) {
        EndFaceTable table = EndFaceTable.of(StandardTable.choose(
                        EndFaceTable.shipped(), EndFaceTable.GROUP, Map.of("kind", kind, "connectors", connectors))
                .orElseThrow());
        assertEquals(
                scratches,
                table.zones().get(0).scratches().stream()
                        .mapToInt(EndFaceTable.Allowed::most)
                        .sum());
    }
}
