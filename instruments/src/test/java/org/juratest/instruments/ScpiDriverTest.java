package org.juratest.instruments;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.juratest.core.family.breakers.CurrentSource;
import org.juratest.core.family.breakers.OperationRecorder;
import org.juratest.core.family.breakers.RelayTestSet;
import org.juratest.core.family.breakers.ResistanceMeter;
import org.juratest.core.family.breakers.SwitchingRecord;
import org.juratest.core.port.GearException;
import org.juratest.core.port.Port;
import org.juratest.core.run.ReadBack;
import org.juratest.instruments.family.breakers.ScpiBreakerAnalyser;
import org.juratest.instruments.family.breakers.ScpiInjectionSet;
import org.juratest.instruments.family.breakers.ScpiMicroOhmmeter;
import org.juratest.instruments.family.breakers.ScpiRelayTestSet;
import org.juratest.instruments.family.breakers.ScpiResidualTester;
import org.juratest.simulators.Ports;
import org.juratest.simulators.Simulators;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.breakers.StandIns;
import org.juratest.simulators.fleet.FleetGenerator;
import org.juratest.simulators.scpi.ScpiServer;

class ScpiDriverTest {

    private StandIns standIns;
    private ScpiInjectionSet source;

    @BeforeEach
    void start() throws IOException {
        standIns = new StandIns(
                FleetGenerator.generate(1, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families()),
                Ports.any(),
                StandInLog.none(),
                () -> {});
        standIns.factor(100);
        source = new ScpiInjectionSet("127.0.0.1", standIns.injectionPort());
    }

    @AfterEach
    void stop() throws IOException {
        source.close();
        standIns.close();
    }

    private static GearException.Fault fault(Executable action) {
        return assertThrows(GearException.class, action).fault();
    }

    private void live() {
        source.identify();
        source.connectTo("MFR-CBK-03:A");
        source.watchdog(2);
        source.prepare(300, 1000, 60);
        source.outputOn();
    }

    @Test
    void anInjectionFromIdentityToTrip() throws InterruptedException {
        assertEquals("BR-3317", source.identify().serial());
        assertEquals(100, source.timeFactor());
        assertEquals(
                List.of(150.0, 1000.0, 5000.0),
                source.ranges().stream().map(CurrentSource.Range::current).toList());
        live();
        CurrentSource.Injection first = source.read();
        assertTrue(first.on());
        assertEquals(300, first.current(), 0.5);
        CurrentSource.Injection now = await().atMost(Duration.ofMinutes(2)).until(source::read, read -> !read.on());
        assertEquals(CurrentSource.OffCause.TRIP, now.cause());
        assertTrue(now.elapsed() > 15 && now.elapsed() < 35, now.toString());
    }

    @Test
    void contactResistanceAndOverRange() {
        try (ScpiMicroOhmmeter meter = new ScpiMicroOhmmeter("127.0.0.1", standIns.microPort())) {
            meter.identify();
            meter.connectTo("MFR-CBK-03:B");
            meter.watchdog(2);
            meter.prepare(10);
            meter.outputOn();
            ResistanceMeter.Result result = meter.measure();
            assertTrue(result.resistance() > 150e-6 && result.resistance() < 350e-6, result.toString());
            standIns.plant().open("MFR-CBK-03:B", true);
            assertEquals(Double.POSITIVE_INFINITY, meter.measure().resistance());
            assertTrue(meter.makeSafe().off());
        }
    }

    @Test
    void anOperationIsRecordedFromItsCommandOn() {
        int port = standIns.lines().get("breaker-analyser").port();
        try (ScpiBreakerAnalyser analyser = new ScpiBreakerAnalyser("127.0.0.1", port)) {
            analyser.identify();
            analyser.connectTo("MFR-CBK-03:B");
            assertEquals(
                    Double.POSITIVE_INFINITY, analyser.coilResistance(OperationRecorder.Command.OPEN), "no coil there");
            analyser.connectTo("MFR-MCB-01");
            assertEquals(52, analyser.coilResistance(OperationRecorder.Command.CLOSE), 0.1);
            analyser.watchdog(2);
            analyser.prepare(OperationRecorder.Command.CLOSE, 110, 0.2);
            assertEquals(
                    GearException.Fault.REFUSED,
                    fault(() -> analyser.prepare(OperationRecorder.Command.CLOSE, 1000, 0.2)));
            analyser.outputOn();
            await().atMost(Duration.ofMinutes(2)).until(() -> !analyser.isRecording());
            assertEquals(CurrentSource.OffCause.LIMIT, analyser.cause());
            SwitchingRecord record = analyser.recorded();
            assertEquals(3, record.contacts().length);
            assertEquals(0.21 * record.perSecond(), record.travel().length, 2);
            assertEquals(0, record.contacts()[0][0]);
            assertEquals(1, record.contacts()[0][record.travel().length - 1]);
            assertEquals(14, record.travel()[record.travel().length - 1] - record.travel()[0], 0.5);
        }
    }

    @Test
    void aResidualCurrentIsHeldOrGrowsUntilItTrips() {
        int port = standIns.lines().get("residual-tester").port();
        try (ScpiResidualTester tester = new ScpiResidualTester("127.0.0.1", port)) {
            tester.identify();
            tester.connectTo("MFR-CBK-03:B");
            assertEquals(Double.POSITIVE_INFINITY, tester.touchVoltage(0.03), "there is no such device");
            tester.connectTo("TES-RCD-01:p");
            double volts = tester.touchVoltage(0.03);
            assertTrue(volts > 1 && volts < 12, volts + " V");
            tester.watchdog(2);
            tester.prepareHeld(0.15, 0, 0.5);
            tester.outputOn();
            CurrentSource.Injection held =
                    await().atMost(Duration.ofMinutes(2)).until(tester::read, read -> !read.on());
            assertEquals(CurrentSource.OffCause.TRIP, held.cause());
            assertTrue(held.elapsed() < 0.04, held.toString());
            tester.prepareSteps(0.006, 0.033, 18, 5.4, 180);
            tester.outputOn();
            CurrentSource.Injection grown =
                    await().atMost(Duration.ofMinutes(2)).until(tester::read, read -> !read.on());
            assertEquals(CurrentSource.OffCause.TRIP, grown.cause());
            assertTrue(grown.current() > 0.015 && grown.current() < 0.03, grown.toString());
            tester.prepareHeld(0.015, 0, 0.4);
            tester.outputOn();
            assertEquals(
                    CurrentSource.OffCause.LIMIT,
                    await().atMost(Duration.ofMinutes(2))
                            .until(tester::read, read -> !read.on())
                            .cause());
        }
    }

    @Test
    void aRelayIsWatchedByEitherContactAndRamped() {
        int port = standIns.lines().get("relay-test-set").port();
        try (ScpiRelayTestSet set = new ScpiRelayTestSet("127.0.0.1", port)) {
            set.identify();
            set.connectTo("MFR-REL-01:A");
            set.watchdog(2);
            RelayTestSet.Injected twice = new RelayTestSet.Injected(1.6, 45, 60, 0, 0);
            set.prepareHeld(twice, RelayTestSet.Contact.START, 1);
            set.outputOn();
            CurrentSource.Injection started =
                    await().atMost(Duration.ofMinutes(2)).until(set::read, read -> !read.on());
            assertEquals(CurrentSource.OffCause.TRIP, started.cause());
            assertTrue(started.elapsed() < 0.1, started.toString());
            set.prepareHeld(twice, RelayTestSet.Contact.TRIP, 10);
            set.outputOn();
            // IEC 60255-151, standard inverse, 0.2 at twice: 0.14 / (2^0.02 - 1) * 0.2.
            assertEquals(
                    2.006,
                    await().atMost(Duration.ofMinutes(2))
                            .until(set::read, read -> !read.on())
                            .elapsed(),
                    0.15);
            set.prepareRamp(0.64, 1.04, 0, 0.008, 0.1, 30);
            set.outputOn();
            await().atMost(Duration.ofMinutes(2)).until(() -> !set.read().on());
            assertEquals(0.8, set.ramp().pickUp(), 0.02);
            assertTrue(set.ramp().dropOff() < set.ramp().pickUp());
        }
    }

    @Test
    void makeSafeIsIdempotentAndReadsBack() {
        live();
        assertEquals(new ReadBack(true, true, "output off"), source.makeSafe());
        assertEquals(new ReadBack(true, true, "output off"), source.makeSafe());
        assertFalse(source.read().on());
    }

    @Test
    void aPortThatWasGivenUpNeverHoldsTheGearAgain() {
        source.identify();
        source.close();
        assertFalse(source.makeSafe().answered(), "a late guard connects no more");
        try (ScpiInjectionSet next = new ScpiInjectionSet("127.0.0.1", standIns.injectionPort())) {
            next.identify();
            next.connectTo("MFR-CBK-03:B");
            assertTrue(next.makeSafe().off());
        }
    }

    @Test
    void aRefusalCarriesTheGearsOwnError() {
        source.identify();
        GearException e = assertThrows(GearException.class, () -> source.prepare(1e9, 1000, 60));
        assertEquals(GearException.Fault.REFUSED, e.fault());
        assertTrue(e.getMessage().contains("-222"), e.getMessage());
        assertEquals(GearException.Fault.REFUSED, fault(source::outputOn)); // watchdog not set
        assertDoesNotThrow(source::identify);
    }

    @Test
    void silenceRubbishAndLatenessAreToldApartAndMendedByConnectingAgain() {
        ScpiServer line = standIns.lines().get("injection");
        source.identify();
        line.manners(new ScpiServer.Manners(true, false, 0));
        assertEquals(GearException.Fault.SILENT, fault(source::read));
        assertEquals(
                GearException.Fault.LOST,
                fault(source::read)); // a silent line is closed, so that no late answer is taken for another
        line.manners(new ScpiServer.Manners(false, true, 0));
        assertEquals(GearException.Fault.GARBLED, fault(source::identify));
        // Rubbish may hold line ends: what is left of it is never taken for the next answer.
        for (int i = 0; i < 60; i++) {
            line.manners(new ScpiServer.Manners(false, true, 0));
            assertEquals(GearException.Fault.GARBLED, fault(source::identify));
            line.manners(ScpiServer.Manners.GOOD);
            assertDoesNotThrow(source::read);
        }
        line.manners(new ScpiServer.Manners(false, false, 4000));
        assertEquals(GearException.Fault.SILENT, fault(source::read));
        line.manners(ScpiServer.Manners.GOOD);
        assertDoesNotThrow(source::identify);
    }

    @Test
    void aPulledCableIsLostAndNeverSwitchedOnAgainByItself() {
        live();
        standIns.lines().get("injection").dropController();
        await().atMost(Duration.ofMinutes(2))
                .untilAsserted(() -> assertEquals(GearException.Fault.LOST, fault(source::feedWatchdog)));
        assertEquals(GearException.Fault.LOST, fault(source::outputOn));
        assertTrue(source.makeSafe().off()); // over a fresh connection
    }

    @Test
    void controlPassesFromOneConnectionToTheNextAndIsRefusedWhileItIsHeld() {
        standIns.factor(1); // so that nothing trips meanwhile
        for (int i = 0; i < 40; i++) {
            live();
            source.close();
            source = new ScpiInjectionSet("127.0.0.1", standIns.injectionPort());
        }
        live();
        try (ScpiInjectionSet second = new ScpiInjectionSet("127.0.0.1", standIns.injectionPort())) {
            second.identify();
            GearException e = assertThrows(GearException.class, () -> second.connectTo("MFR-CBK-03:B"));
            assertTrue(e.getMessage().contains("another controller"), e.getMessage());
            assertTrue(source.read().on());
        }
    }

    @Test
    void gearThatIsNotThereSaysSo() throws IOException {
        int nobody;
        try (ServerSocket free = new ServerSocket(0)) {
            nobody = free.getLocalPort();
        }
        try (ScpiInjectionSet missing = new ScpiInjectionSet("127.0.0.1", nobody)) {
            assertEquals(GearException.Fault.LOST, fault(missing::identify));
            ReadBack readBack = missing.makeSafe();
            assertFalse(readBack.answered());
            assertFalse(readBack.off());
        }
    }

    @Test
    void driversAreFoundByTheIdThatGearNamesAndByTheirRole() {
        assertEquals(Optional.empty(), Drivers.forRole("insulation-tester"));
        assertEquals(Optional.empty(), Drivers.byId("no-such-driver"));
        DriverFactory found = Drivers.byId("scpi-injection").orElseThrow();
        assertEquals(found, Drivers.forRole("current-source").orElseThrow());
        assertEquals(Set.of("current-source"), found.roles());
        try (Port first = found.open("127.0.0.1", 1);
                Port second = found.open("127.0.0.1", 1)) {
            assertTrue(first != second, "each port is one of its own");
        }
    }

    /**
     * Gear that answers anything with noise, of any length, or hangs up: always a GearException, never another, never a
     * hang.
     */
    @Test
    void noiseOfAnyKindIsAlwaysAGearException() throws Exception {
        SplittableRandom random = new SplittableRandom(71);
        try (ServerSocket listener = new ServerSocket(0, 10, InetAddress.getLoopbackAddress())) {
            Thread noise = new Thread(() -> answerNoise(listener, random));
            noise.setDaemon(true);
            noise.start();
            for (int i = 0; i < 60; i++) {
                try (ScpiInjectionSet gear = new ScpiInjectionSet("127.0.0.1", listener.getLocalPort())) {
                    assertThrows(
                            GearException.class,
                            () -> {
                                gear.identify();
                                gear.timeFactor();
                                gear.ranges();
                                gear.read();
                                gear.prepare(1, 1, 1);
                            },
                            "seed 71, draw " + i);
                    assertFalse(gear.makeSafe().off());
                }
            }
        }
    }

    private static void answerNoise(ServerSocket listener, SplittableRandom random) {
        while (!listener.isClosed()) {
            try (Socket socket = listener.accept()) {
                InputStream in = socket.getInputStream();
                for (int c = in.read(); c >= 0 && random.nextInt(12) > 0; c = in.read()) {
                    if (c == '\n') {
                        byte[] bytes = new byte[random.nextInt(80)];
                        random.nextBytes(bytes);
                        socket.getOutputStream().write(bytes);
                        socket.getOutputStream().write("\n".getBytes(StandardCharsets.UTF_8));
                    }
                }
            } catch (IOException e) {
                if (!listener.isClosed() && !(e instanceof java.net.SocketException)) {
                    throw new UncheckedIOException(e);
                }
            }
        }
    }
}
