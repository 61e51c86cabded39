package org.juratest.instruments;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.LocalDate;
import java.util.function.Function;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.family.radios.RadioControl;
import org.juratest.core.family.radios.RadioTester;
import org.juratest.core.port.GearException;
import org.juratest.core.signal.ToneAnalysis;
import org.juratest.instruments.family.radios.RadioDataPort;
import org.juratest.instruments.family.radios.ScpiRadioTester;
import org.juratest.simulators.Ports;
import org.juratest.simulators.Simulators;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.radios.RadioStandIns;
import org.juratest.simulators.fleet.FleetGenerator;
import org.juratest.simulators.scpi.ScpiServer;

/** The radio test set and the data port against their stand-ins, and against gear that answers wrongly. */
class RadioDriverTest {

    private static final String RADIO = "MFR-RAD-02";
    private RadioStandIns standIns;
    private ScpiRadioTester set;
    private RadioDataPort radio;

    @BeforeEach
    void start() throws IOException {
        standIns = new RadioStandIns(
                FleetGenerator.generate(
                        FleetGenerator.SEED, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families()),
                0,
                0,
                0,
                StandInLog.none(),
                () -> {});
        standIns.factor(100);
        set = new ScpiRadioTester("127.0.0.1", standIns.setPort());
        radio = new RadioDataPort("127.0.0.1", standIns.dataPort());
    }

    @AfterEach
    void stop() throws IOException {
        set.close();
        radio.close();
        standIns.close();
    }

    private static GearException fault(GearException.Fault fault, Executable action) {
        GearException e = assertThrows(GearException.class, action);
        assertEquals(fault, e.fault(), String.valueOf(e.getMessage()));
        return e;
    }

    private void ready() {
        set.identify();
        set.connectTo(RADIO + ":vhf");
        set.watchdog(2);
        radio.identify();
        radio.connectTo(RADIO + ":vhf");
        radio.watchdog(2);
        radio.channel(155e6, RadioControl.Mode.FM, 25_000);
    }

    // ---- the data port

    @Test
    void aRadioSaysWhoItIsAndWhatCanBeSet() {
        ready();
        assertEquals(2, radio.device().spans().size());
        assertFalse(
                radio.device().serial().isBlank() || radio.device().firmware().isBlank());
        RadioControl.Setting before = radio.setting("reference");
        radio.set("reference", before.value() + 3);
        assertEquals(before.value() + 3, radio.setting("reference").value());
        fault(GearException.Fault.REFUSED, () -> radio.set("reference", before.highest() + 1));
        assertEquals(before.value() + 3, radio.setting("reference").value(), "what is refused changes nothing");
        assertTrue(String.valueOf(fault(GearException.Fault.REFUSED, () -> radio.setting("colour"))
                        .getMessage())
                .contains("colour"));
        fault(GearException.Fault.REFUSED, () -> radio.channel(300e6, RadioControl.Mode.FM, 25_000));
    }

    @Test
    void aKeyNobodyHoldsLetsGoByItselfAndSaysSo() throws InterruptedException {
        ready();
        radio.watchdog(1);
        await().atMost(Duration.ofMinutes(2)).until(this::heldForLongerThanItsTime);
        Thread.sleep(2500);
        fault(GearException.Fault.REFUSED, radio::feedWatchdog);
        assertTrue(radio.makeSafe().off());
    }

    /** Keyed and fed for twice the time-out; false where this machine stood still for too long to feed it in time. */
    private boolean heldForLongerThanItsTime() throws InterruptedException {
        radio.outputOn();
        long fed = System.nanoTime();
        for (int n = 0; n < 10; n++) {
            Thread.sleep(200);
            try {
                radio.feedWatchdog();
            } catch (GearException e) {
                assertTrue(System.nanoTime() - fed > 900_000_000L, "let go though it was fed: " + e.getMessage());
                radio.makeSafe();
                return false;
            }
            fed = System.nanoTime();
        }
        return true;
    }

    @Test
    void aDroppedLineUnkeysAndNeverKeysAgainByItself() {
        ready();
        radio.outputOn();
        standIns.lines().get("data-port").dropController();
        await().atMost(Duration.ofMinutes(2)).untilAsserted(() -> fault(GearException.Fault.LOST, radio::feedWatchdog));
        fault(GearException.Fault.LOST, radio::outputOn);
        assertTrue(radio.makeSafe().off(), "over a fresh connection");
    }

    // ---- the test set

    @Test
    void samplesCrossTheSocketAndDifferFromOneCaptureToTheNext() {
        ready();
        set.generate(new RadioTester.Signal(155e6, -60, RadioTester.Modulation.FM, 3000, 1000));
        set.outputOn();
        RadioTester.Sound heard = set.hear(0.5);
        assertEquals(0.5, heard.volts().length / heard.rate(), 1e-6);
        ToneAnalysis tone = ToneAnalysis.of(heard.volts(), heard.rate());
        assertEquals(1000, tone.tone().frequency(), 1);
        assertNotEquals(heard.volts()[100], set.hear(0.5).volts()[100], "noise is not the same twice");
        set.tune(155e6, 0);
        assertTrue(set.capture(0.05).dbm() < -60, "nothing is keyed");
    }

    @Test
    void aTransmitterBeyondTheInputIsRefusedByTheSetItself() {
        ready();
        assertTrue(set.greatestInput() < 60);
        GearException e = fault(GearException.Fault.REFUSED, () -> set.tune(155e6, set.greatestInput() + 20));
        assertTrue(String.valueOf(e.getMessage()).contains("-222"), e.getMessage());
    }

    @Test
    void aSilentSetIsSilentAndARubbishAnswerGarbled() {
        ready();
        standIns.lines().get("radio-test-set").manners(new ScpiServer.Manners(false, true, 0));
        fault(GearException.Fault.GARBLED, set::supplyCurrent);
        standIns.lines().get("radio-test-set").manners(new ScpiServer.Manners(true, false, 0));
        fault(GearException.Fault.SILENT, set::identify);
        fault(GearException.Fault.LOST, set::supplyCurrent);
    }

    // ---- blocks

    private static byte[] samples(float... values) {
        ByteBuffer block = ByteBuffer.allocate(4 * values.length);
        for (float value : values) {
            block.putFloat(value);
        }
        return block.array();
    }

    private static byte[] block(String head, byte[] bytes, String tail) {
        ByteArrayOutputStream all = new ByteArrayOutputStream();
        all.writeBytes(head.getBytes(StandardCharsets.US_ASCII));
        all.writeBytes(bytes);
        all.writeBytes(tail.getBytes(StandardCharsets.US_ASCII));
        return all.toByteArray();
    }

    /** Asks gear for sound that answers everything well but the block. */
    private static double[] heard(byte[] block) throws IOException {
        Function<String, byte[]> answers = line -> switch (line) {
            case "SENS:AUD:RATE?" -> "48000\n".getBytes(StandardCharsets.US_ASCII);
            case "INIT:DONE?" -> "1\n".getBytes(StandardCharsets.US_ASCII);
            case "FETC:DATA?" -> block;
            case "SYST:ERR?" -> "0,\"No error\"\n".getBytes(StandardCharsets.US_ASCII);
            default ->
                line.contains("SYST:ERR?")
                        ? "0,\"No error\"\n".getBytes(StandardCharsets.US_ASCII)
                        : line.equals("*IDN?")
                                ? "Orbessa,T,S,1\n".getBytes(StandardCharsets.US_ASCII)
                                : line.contains("?") ? "1\n".getBytes(StandardCharsets.US_ASCII) : new byte[0];
        };
        try (ServerSocket listener = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            Thread gear = new Thread(() -> {
                try (Socket socket = listener.accept()) {
                    InputStream in = socket.getInputStream();
                    StringBuilder line = new StringBuilder();
                    for (int c = in.read(); c >= 0; c = in.read()) {
                        if (c != '\n') {
                            line.append((char) c);
                            continue;
                        }
                        byte[] answer = answers.apply(line.toString());
                        line.setLength(0);
                        socket.getOutputStream().write(answer);
                        if (answer == block && block.length > 0 && block[block.length - 1] != '\n') {
                            return; // it hangs up in the middle
                        }
                    }
                } catch (IOException e) {
                    // The driver hung up, which is what these tests are about.
                    assert e != null;
                }
            });
            gear.setDaemon(true);
            gear.start();
            try (ScpiRadioTester tester = new ScpiRadioTester("127.0.0.1", listener.getLocalPort())) {
                tester.identify();
                return tester.hear(0.01).volts();
            }
        }
    }

    @Test
    void aBlockIsReadByItsLengthWhateverIsInIt() throws IOException {
        // 0x0A0A0A0A holds four line feeds.
        float feeds = Float.intBitsToFloat(0x0A0A0A0A);
        assertArrayEquals(new double[] {0.5, feeds, -1}, heard(block("#212", samples(0.5f, feeds, -1), "\n")));
        assertArrayEquals(new double[] {0.25}, heard(block("#9000000004", samples(0.25f), "\n")));
    }

    @ParameterizedTest
    @ValueSource(strings = {"#03", "#X", "0.5", "#2a4", "#9999999999", "#13", "#10"})
    void aBlockThatIsNoneIsGarbled(String head) {
        fault(
                GearException.Fault.GARBLED,
                () -> heard(block(head, head.equals("#13") ? new byte[3] : new byte[0], "\n")));
    }

    @Test
    void samplesThatAreNoNumbersAreNamed() {
        assertTrue(String.valueOf(
                        fault(GearException.Fault.GARBLED, () -> heard(block("#18", samples(1, Float.NaN), "\n")))
                                .getMessage())
                .contains("sample 1"));
        fault(GearException.Fault.GARBLED, () -> heard(block("#18", samples(Float.NEGATIVE_INFINITY, 0), "\n")));
        fault(GearException.Fault.GARBLED, () -> heard(block("#14", samples(1, 2), "\n")));
        fault(GearException.Fault.LOST, () -> heard(block("#216", samples(1, 2), "")));
    }
}
