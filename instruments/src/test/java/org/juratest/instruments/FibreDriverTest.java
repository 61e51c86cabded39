package org.juratest.instruments;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.core.family.fibre.ArrayCamera;
import org.juratest.core.family.fibre.EndFace;
import org.juratest.core.family.fibre.EndFaceTable;
import org.juratest.core.family.fibre.FaceCamera;
import org.juratest.core.family.fibre.FibreTraces;
import org.juratest.core.family.fibre.LaunchCheck;
import org.juratest.core.family.fibre.Otdr;
import org.juratest.core.family.fibre.OtdrAnalysis;
import org.juratest.core.family.fibre.OtdrTrace;
import org.juratest.core.port.GearException;
import org.juratest.instruments.family.fibre.ScpiArrayCamera;
import org.juratest.instruments.family.fibre.ScpiFaceCamera;
import org.juratest.instruments.family.fibre.ScpiLossTester;
import org.juratest.instruments.family.fibre.ScpiPolarityUnit;
import org.juratest.instruments.family.fibre.ScpiReflectometer;
import org.juratest.simulators.Ports;
import org.juratest.simulators.Simulators;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.fibre.FibreStandIns;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;

/** Reflectometer and camera over real sockets, and the links of the valley through the program's own analysis. */
class FibreDriverTest {

    private static final String LINK = "PRA-FIB-01";
    private static final Fleet FLEET = FleetGenerator.generate(
            FleetGenerator.SEED, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families());

    private StandInFamily.Running standIns;
    private ScpiReflectometer reflectometer;
    private ScpiFaceCamera camera;

    @BeforeEach
    void start() throws IOException {
        standIns = new FibreStandIns().start(FLEET, Ports.any(), StandInLog.none(), () -> {});
        standIns.factor(100);
        reflectometer = new ScpiReflectometer(
                "127.0.0.1", standIns.lines().get("reflectometer").port());
        camera = new ScpiFaceCamera(
                "127.0.0.1", standIns.lines().get("fibre-camera").port());
        reflectometer.identify();
        reflectometer.watchdog(10);
        camera.identify();
    }

    @AfterEach
    void stop() throws IOException {
        reflectometer.close();
        camera.close();
        standIns.close();
    }

    private OtdrTrace shot(String place, double nanometres, double seconds) {
        reflectometer.connectTo(LINK + ":" + place.replace(":far", ""));
        reflectometer.direction(place.endsWith(":far"));
        reflectometer.prepare(nanometres * 1e-9, 100e-9, 5000);
        reflectometer.outputOn();
        reflectometer.begin(seconds);
        await().atMost(Duration.ofMinutes(2)).until(reflectometer::isDone);
        OtdrTrace trace = reflectometer.trace();
        assertTrue(reflectometer.makeSafe().off());
        return trace;
    }

    @Test
    void aLinkOfTheValleyHasItsJointsFromBothEnds() {
        double lead = reflectometer.lead();
        assertEquals(150, lead);
        assertEquals(List.of(1310 / 1e9, 1550 / 1e9, 1625 / 1e9), reflectometer.wavelengths());
        OtdrAnalysis there = Otdr.analyse(shot("1.1550", 1550, 30), lead);
        OtdrAnalysis back = Otdr.analyse(shot("1.1550:far", 1550, 30), lead);
        // 2.46 km of route, stranded, with slack in four closures and one end.
        assertEquals(2460 * 1.018 + 60, there.length(), 10, there.toString());
        assertEquals(there.length(), back.length(), 3);
        List<FibreTraces.Matched> both = FibreTraces.matched(
                List.of(new FibreTraces.Taken(there, false), new FibreTraces.Taken(back, true)), FibreTraces.BEND);
        assertEquals(
                1,
                both.stream()
                        .filter(m -> m.kind() == FibreTraces.Kind.CONNECTOR)
                        .count(),
                both.toString());
        assertTrue(
                both.stream()
                        .filter(m -> m.kind() == FibreTraces.Kind.SPLICE)
                        .allMatch(m -> m.losses().get(1550).mean() == null
                                || m.losses().get(1550).mean() > 0
                                        && m.losses().get(1550).mean() < 0.15),
                both.toString());
    }

    /** Fibre 4 is bent: much is lost at 1550 nm, and little at 1310 nm. */
    @Test
    void oneFibreIsBent() {
        double lead = reflectometer.lead();
        List<FibreTraces.Matched> events = FibreTraces.matched(
                List.of(
                        new FibreTraces.Taken(Otdr.analyse(shot("4", 1310, 30), lead), false),
                        new FibreTraces.Taken(Otdr.analyse(shot("4", 1550, 30), lead), false)),
                FibreTraces.BEND);
        FibreTraces.Matched bend = events.stream()
                .filter(m -> m.kind() == FibreTraces.Kind.BEND)
                .findFirst()
                .orElseThrow(() -> new AssertionError(events.toString()));
        assertTrue(bend.losses().get(1550).forward() - bend.losses().get(1310).forward() > 0.3, bend.toString());
    }

    @Test
    void theConnectionAtTheFrontIsToldFromAShortShot() {
        double front = reflectometer.frontLevel();
        assertEquals(
                LaunchCheck.Quality.GOOD,
                LaunchCheck.of(Otdr.analyse(shot("1", 1550, 1), reflectometer.lead()), front)
                        .quality());
        LaunchCheck loose = LaunchCheck.of(Otdr.analyse(shot("8", 1550, 1), reflectometer.lead()), front);
        assertEquals(LaunchCheck.Quality.POOR, loose.quality(), loose.words());
    }

    /** Traffic is seen before any light goes out, and the laser's own light is not taken for it. */
    @Test
    void lightOnAFibreIsSeenWithTheLaserOff() {
        reflectometer.connectTo(LINK + ":3");
        assertTrue(reflectometer.light() > -20);
        reflectometer.connectTo(LINK + ":1");
        assertTrue(reflectometer.light() < -60);
        reflectometer.outputOn();
        assertThrows(GearException.class, reflectometer::light);
    }

    @Test
    void withoutTheLaserThereIsNoTraceAndStoppedIsStopped() {
        reflectometer.connectTo(LINK + ":1");
        reflectometer.prepare(1550e-9, 100e-9, 5000);
        GearException off = assertThrows(GearException.class, () -> reflectometer.begin(1));
        assertTrue(off.getMessage().contains("the laser is off"), off.getMessage());
        assertThrows(GearException.class, () -> reflectometer.prepare(1490e-9, 100e-9, 5000));
        reflectometer.outputOn();
        reflectometer.begin(500);
        assertFalse(reflectometer.isDone());
        assertTrue(reflectometer.makeSafe().off());
        assertFalse(reflectometer.isDone());
    }

    private int port(String role) {
        return standIns.lines().get(role).port();
    }

    /** Sources, switch and detectors of a cable over their sockets, with what they refuse. */
    @Test
    void aLossSetTakesReferencesAndMeasuresACable() {
        try (ScpiLossTester set = new ScpiLossTester("127.0.0.1", port("loss-tester"));
                ScpiPolarityUnit unit = new ScpiPolarityUnit("127.0.0.1", port("polarity-unit"))) {
            set.identify();
            unit.identify();
            assertEquals(List.of(850 / 1e9, 1300 / 1e9, 1310 / 1e9, 1550 / 1e9), set.wavelengths());
            set.connectTo("PRA-MPC-02:5");
            set.select(5, 1310e-9, true);
            double reference = set.power();
            assertEquals(3.4, set.echo().distance(), 0.001);
            assertEquals(-14.7, set.reflected(3.4), 0.2);
            set.select(5, 1310e-9, false);
            double loss = reference - set.power();
            assertTrue(loss > 0.1 && loss < 0.5, "" + loss);
            assertTrue(set.reflected(3.4) < -55);
            assertEquals(List.of(5), unit.lit());
            // The third and the fourth are crossed.
            set.select(3, 1310e-9, false);
            assertEquals(List.of(4), unit.lit());
            assertEquals("single mode", set.launch());
            set.select(3, 850e-9, false);
            assertTrue(set.launch().contains("IEC 61280-4-1"), set.launch());
            assertThrows(GearException.class, () -> set.select(33, 1310e-9, false));
            assertThrows(GearException.class, () -> set.select(1, 980e-9, false));
            set.connectTo("ORE-MPC-01:17");
            set.select(17, 850e-9, false);
            assertTrue(set.power() < -60, "broken");
            assertEquals(List.of(), unit.lit());
        }
    }

    /** Blurred at first, sharp once its focus is turned; a wide ferrule comes in pieces that overlap. */
    @Test
    void anArrayCameraIsFocusedAndTakesPieces() {
        try (ScpiArrayCamera wide = new ScpiArrayCamera("127.0.0.1", port("array-camera"))) {
            wide.identify();
            assertThrows(GearException.class, wide::look, "nothing is in front of it");
            wide.connectTo("ORE-MPC-01");
            wide.direction(false);
            wide.look();
            await().atMost(Duration.ofMinutes(2)).until(() -> !wide.isLooking());
            ArrayCamera.Seen preview = wide.preview();
            assertEquals(1, preview.pieces().size());
            assertEquals(0.8, preview.scale());
            wide.begin();
            await().atMost(Duration.ofMinutes(2)).until(wide::isDone);
            ArrayCamera.Seen seen = wide.seen();
            assertEquals(2, seen.pieces().size());
            ArrayCamera.Piece second = seen.pieces().get(1);
            int first = seen.pieces().get(0).picture().width();
            assertTrue(second.x() > 0 && second.x() < first * seen.scale(), "they overlap: " + second.x());
            byte[] file = wide.file(second.picture());
            assertEquals('P', file[1]);
        }
    }

    private EndFace look(String place) {
        camera.connectTo(LINK + ":" + place.replace(":far", ""));
        camera.direction(place.endsWith(":far"));
        camera.begin();
        await().atMost(Duration.ofMinutes(2)).until(camera::isDone);
        FaceCamera.Seen seen = camera.seen();
        return EndFace.of(seen.picture(), seen.scale(), EndFaceTable.singleMode());
    }

    /** Taken off, wiped and put on again, a dirty end face is clean; one that was clean is so at once. */
    @Test
    void aDirtyEndFaceIsCleanAfterItIsWiped() throws Exception {
        assertEquals(EndFace.Verdict.PASS, look("1").verdict());
        EndFace dirty = look("5");
        assertEquals(EndFace.Verdict.FAIL, dirty.verdict(), dirty.toString());
        Thread.sleep(60); // 6 s of the gear's time
        assertEquals(EndFace.Verdict.PASS, look("5").verdict());
        assertEquals(EndFace.Verdict.FAIL, look("6:far").verdict());
        assertEquals(StandInFamily.Effect.DONE, standIns.command(new String[] {"fibre-clean", LINK + ":6:far"}));
        assertEquals(EndFace.Verdict.PASS, look("6:far").verdict());
        assertThrows(
                IllegalArgumentException.class, () -> standIns.command(new String[] {"fibre-clean", LINK + ":99"}));
        assertThrows(GearException.class, () -> look("99"));
    }
}
