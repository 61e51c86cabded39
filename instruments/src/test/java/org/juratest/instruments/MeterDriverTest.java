package org.juratest.instruments;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.LocalDate;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.family.meters.LoadSource;
import org.juratest.core.family.meters.MeterOutput;
import org.juratest.core.family.meters.MeterPort;
import org.juratest.core.family.meters.PulseCounter;
import org.juratest.core.family.meters.ReferenceStandard;
import org.juratest.core.family.meters.ThreePhase;
import org.juratest.core.port.GearException;
import org.juratest.instruments.family.meters.ModeCMeter;
import org.juratest.instruments.family.meters.ScpiBurdenSet;
import org.juratest.instruments.family.meters.ScpiLoadSource;
import org.juratest.instruments.family.meters.ScpiReferenceStandard;
import org.juratest.instruments.family.meters.ScpiTransformerAnalyser;
import org.juratest.simulators.Ports;
import org.juratest.simulators.Simulators;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.meters.MeterStandIns;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;

/** Reference, source, burden set, analyser and the port of a meter, against their stand-ins. */
class MeterDriverTest {

    private static final Fleet FLEET =
            FleetGenerator.generate(1, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families());

    private MeterStandIns standIns;

    @BeforeEach
    void start() throws IOException {
        standIns = new MeterStandIns(FLEET, Ports.any(), StandInLog.none(), () -> {});
        standIns.factor(100);
    }

    @AfterEach
    void stop() throws IOException {
        standIns.close();
    }

    private static GearException.Fault fault(Runnable action) {
        return assertThrows(GearException.class, action::run).fault();
    }

    // ---- the meter's own port

    private ModeCMeter meter() {
        return new ModeCMeter("127.0.0.1", standIns.port("meter-port"));
    }

    @Test
    void registersComeWithTheirUnitAndTheWorthOfTheirLastDigit() {
        try (ModeCMeter meter = meter()) {
            assertEquals("BR-7031", meter.identify().serial());
            meter.connectTo("PRA-MET-01:-");
            MeterPort.Readout readout = meter.readout();
            assertEquals("EM-1", readout.identification());
            MeterPort.Register taken = readout.registers().get("1.8.0");
            assertEquals("kWh", taken.unit());
            assertEquals(0.001, taken.digit(), 1e-12);
            assertTrue(taken.value() > 1000, taken.toString());
            assertEquals("kW", readout.registers().get("1.6.0").unit());
            assertFalse(readout.registers().containsKey("0.0.0"), "a number of a meter is no register");
            meter.connectTo("NOWHERE");
            assertEquals(GearException.Fault.SILENT, fault(meter::readout));
        }
    }

    /** A meter of one answer, for what real ones do when a head slips. */
    private static MeterPort.Readout readOf(String frame) throws IOException {
        try (ServerSocket listener = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            Thread answers = new Thread(() -> {
                try (Socket socket = listener.accept()) {
                    OutputStream out = socket.getOutputStream();
                    byte[] asked = new byte[64];
                    if (socket.getInputStream().read(asked) > 0) {
                        out.write("/DRA5EM-1\r\n".getBytes(StandardCharsets.ISO_8859_1));
                    }
                    if (socket.getInputStream().read(asked) > 0) {
                        out.write(frame.getBytes(StandardCharsets.ISO_8859_1));
                    }
                    while (socket.getInputStream().read(asked) > 0) {
                        // Nothing more is said.
                    }
                } catch (IOException e) {
                    assertFalse(frame.isEmpty(), e.getMessage());
                }
            });
            answers.start();
            try (ModeCMeter meter = new ModeCMeter("127.0.0.1", listener.getLocalPort())) {
                assertThrows(GearException.class, meter::readout, "it is not connected yet");
                meter.open();
                meter.connectTo("X");
                return meter.readout();
            }
        }
    }

    private static String framed(String data) {
        int check = 0;
        for (char c : (data + "\u0003").toCharArray()) {
            check ^= c;
        }
        return "\u0002" + data + "\u0003" + (char) check;
    }

    @Test
    void whatAMeterSaysIsReadLineByLine() throws IOException {
        Map<String, MeterPort.Register> registers = readOf(framed("1.8.0(000123.4*kWh)\r\nF.F(00)\r\n1.8.0*99(12)\r\n"
                        + "garbage\r\n2.8.0(-1.25*kWh)\r\nC.1.0(AB12)\r\n!\r\n"))
                .registers();
        assertEquals(new MeterPort.Register(123.4, "kWh", 0.1), registers.get("1.8.0"));
        assertEquals(new MeterPort.Register(-1.25, "kWh", 0.01), registers.get("2.8.0"));
        assertEquals(new MeterPort.Register(0, "", 1), registers.get("F.F"));
        assertFalse(registers.containsKey("C.1.0"), registers.toString());
    }

    /** A bit that fell is seen by the check byte; nothing of it is taken. */
    @ParameterizedTest
    @CsvSource({"4, 5", "9, 8", "20, x"})
    void aWrongByteIsRefused(int at, String other) {
        String good = framed("1.8.0(000123.4*kWh)\r\n!\r\n");
        String bad = good.substring(0, at) + other + good.substring(at + 1);
        GearException e = assertThrows(GearException.class, () -> readOf(bad));
        assertEquals(GearException.Fault.GARBLED, e.fault());
        assertTrue(String.valueOf(e.getMessage()).contains("check byte"), e.getMessage());
    }

    // ---- the reference

    @Test
    void samplesPulsesAndClampsOfTheReference() {
        try (ScpiReferenceStandard reference =
                new ScpiReferenceStandard("127.0.0.1", standIns.port("reference-standard"))) {
            assertEquals("BR-6012", reference.identify().serial());
            assertEquals(GearException.Fault.SILENT, fault(() -> reference.samples(0.2)), "no voltage, no answer");
            reference.identify();
            reference.connectTo("TES-MET-02");
            ReferenceStandard.Samples taken = reference.samples(0.2);
            assertEquals(0.2 * taken.perSecond(), taken.voltage()[2].length);
            ThreePhase measured = ThreePhase.of(taken.perSecond(), taken.voltage(), taken.current());
            assertEquals(49.98, measured.frequency(), 0.01);
            assertEquals(230, measured.phases().get(0).voltage(), 1);
            reference.count(PulseCounter.Energy.ACTIVE, 5, 600);
            await().atMost(Duration.ofMinutes(2))
                    .until(() -> reference.counted().over());
            PulseCounter.Count count = reference.counted();
            assertEquals(5, count.pulses());
            // One current runs backwards: a third is left, of which the reference sees the energy between the pulses.
            assertEquals(5 / 2000.0, count.energy(), 0.03 * 5 / 2000);
            reference.connectTo("TES-MET-02:L2");
            assertTrue(Math.abs(reference.clamped().secondary().degrees()) > 170, "the other way round");
        }
    }

    @Test
    void theReferenceAddsUpAndSeesBothEndsOfALead() {
        try (ScpiReferenceStandard reference =
                new ScpiReferenceStandard("127.0.0.1", standIns.port("reference-standard"))) {
            reference.identify();
            reference.connectTo("MFR-MET-04:L3");
            ReferenceStandard.Ends ends = reference.ends();
            assertEquals(0.9958, ends.meter().rms() / ends.transformer().rms(), 0.0003);
            assertTrue(ends.current().rms() > 0.05 && ends.current().behind(ends.transformer()) > 10, ends.toString());
            reference.integrate();
            ReferenceStandard.Integrated first = reference.integrated();
            await().atMost(Duration.ofMinutes(2))
                    .until(() -> reference.integrated().seconds() > first.seconds() + 60);
            ReferenceStandard.Integrated later = reference.integrated();
            assertTrue(later.active() > first.active() && later.apparent() > later.active(), later.toString());
            assertEquals(
                    Math.sqrt(later.apparent() * later.apparent() - later.active() * later.active()),
                    later.reactive(),
                    0.03 * later.apparent());
            reference.connectTo("TES-MET-01:L1");
            assertEquals(GearException.Fault.SILENT, fault(reference::ends), "it has no voltage transformers");
        }
    }

    // ---- outputs

    @Test
    void aSourceGivesWhatItWasToldAndGoesOffByItself() {
        try (ScpiLoadSource source = new ScpiLoadSource("127.0.0.1", standIns.port("load-source"))) {
            source.identify();
            source.connectTo("PRA-MET-01");
            source.watchdog(30);
            source.prepare(new LoadSource.Load(230, 5, 60, 0, 50, 0), 200);
            source.outputOn();
            source.count(PulseCounter.Energy.ACTIVE, 3, 100);
            await().atMost(Duration.ofMinutes(2)).until(() -> source.counted().over());
            assertEquals(1725, source.counted().power(), 2);
            await().atMost(Duration.ofMinutes(2)).until(() -> !source.given().on());
            assertEquals(MeterOutput.Cause.LIMIT, source.given().cause());
            assertFalse(source.contact());
            standIns.command(new String[] {"contact-in", "on"});
            assertTrue(source.contact());
            assertEquals(
                    GearException.Fault.REFUSED,
                    fault(() -> source.prepare(new LoadSource.Load(9000, 5, 0, 0, 50, 0), 10)));
        }
    }

    @Test
    void aBurdenSetOnNothingSaysThatNoCurrentFlows() {
        try (ScpiBurdenSet set = new ScpiBurdenSet("127.0.0.1", standIns.port("burden-set"))) {
            set.identify();
            set.connectTo("NOWHERE");
            set.watchdog(30);
            set.prepare(1, 30);
            set.outputOn();
            await().atMost(Duration.ofMinutes(2)).until(() -> !set.given().on());
            assertEquals(MeterOutput.Cause.OPEN, set.given().cause());
            assertEquals(0, set.given().amperes());
        }
    }

    @Test
    void anAnalyserTakesACurveUpToItsGreatestCurrent() {
        try (ScpiTransformerAnalyser analyser =
                new ScpiTransformerAnalyser("127.0.0.1", standIns.port("transformer-analyser"))) {
            analyser.identify();
            analyser.connectTo("BRU-CT-04");
            analyser.watchdog(30);
            analyser.prepareExcitation(400, 0.05, 30, 60);
            analyser.outputOn();
            await().atMost(Duration.ofMinutes(2)).until(() -> !analyser.given().on());
            assertEquals(MeterOutput.Cause.DONE, analyser.given().cause());
            double[] amperes = analyser.curve().amperes();
            assertTrue(amperes.length > 10 && amperes.length < 30, "it stops before 400 V: " + amperes.length);
            assertTrue(amperes[amperes.length - 1] <= 0.05);
        }
    }
}
