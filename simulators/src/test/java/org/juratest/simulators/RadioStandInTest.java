package org.juratest.simulators;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.DataInputStream;
import java.io.IOException;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.simulators.family.radios.RadioStandIns;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;

/** The radio stand-ins as any client sees them: a data port with its lines, a test set with SCPI and blocks. */
class RadioStandInTest {

    private static final Fleet FLEET = FleetGenerator.generate(
            FleetGenerator.SEED, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families());
    private static final String RADIO = "TES-RAD-03";

    @TempDir
    private Path folder;

    private RadioStandIns standIns;
    private Line port;
    private Line set;

    @BeforeEach
    void start() throws IOException {
        standIns = new RadioStandIns(FLEET, 0, 0, 0, StandInLog.to(folder.resolve("log")), () -> {});
        port = new Line(standIns.dataPort());
        set = new Line(standIns.setPort());
        assertEquals("OK", port.ask("AT " + RADIO + ":vhf"));
        set.send("ROUT:LAB \"" + RADIO + ":vhf\"");
        assertEquals("0,\"No error\"", set.ask("SYST:ERR?"));
    }

    @AfterEach
    void stop() throws IOException {
        port.close();
        set.close();
        standIns.close();
    }

    /** A plain socket. */
    private static final class Line implements AutoCloseable {
        private final Socket socket;
        private final DataInputStream in;

        Line(int port) throws IOException {
            socket = new Socket("127.0.0.1", port);
            socket.setSoTimeout(20_000);
            in = new DataInputStream(socket.getInputStream());
        }

        void send(String line) throws IOException {
            socket.getOutputStream().write((line + "\n").getBytes(StandardCharsets.UTF_8));
        }

        String ask(String line) throws IOException {
            send(line);
            StringBuilder answer = new StringBuilder();
            for (int c = in.read(); c >= 0 && c != '\n'; c = in.read()) {
                answer.append((char) c);
            }
            return answer.toString();
        }

        float[] block(String line) throws IOException {
            send(line);
            assertEquals('#', in.read());
            byte[] digits = new byte[in.read() - '0'];
            in.readFully(digits);
            byte[] bytes = new byte[Integer.parseInt(new String(digits, StandardCharsets.US_ASCII))];
            in.readFully(bytes);
            assertEquals('\n', in.read());
            float[] values = new float[bytes.length / 4];
            ByteBuffer.wrap(bytes).order(ByteOrder.BIG_ENDIAN).asFloatBuffer().get(values);
            return values;
        }

        @Override
        public void close() throws IOException {
            socket.close();
        }
    }

    private String log() throws IOException {
        return Files.readString(folder.resolve("log"));
    }

    // ---- data port

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "KEY ON | ERR set the time-out first",
                "CHANNEL x FM 12500 | ERR a number is needed",
                "CHANNEL 155e6 | ERR too few words",
                "TELL ME | ERR there is no TELL",
                "SETTING reference 999 | ERR .*0.*255.*",
                "SETTING nothing 3 | ERR .*nothing.*",
                "BITS? x | ERR a number is needed",
                "KEY? | VAL OFF",
                "BATTERY? | VAL 0[.][0-9]+"
            })
    void everyLineHasItsAnswer(String line, String answer) throws IOException {
        String said = port.ask(line);
        assertTrue(said.matches(answer), line + ": " + said);
        assertTrue(port.ask("ID").startsWith("VAL "), "and it goes on");
    }

    @Test
    void itSaysWhoTheRadioIsAndKeepsItsSettings() throws IOException {
        String[] fields = port.ask("ID").substring(4).split(";");
        assertEquals(6, fields.length);
        assertTrue(fields[5].matches("vhf=[0-9.E]+-[0-9.E]+,uhf=[0-9.E]+-[0-9.E]+"), fields[5]);
        String[] before = port.ask("SETTING reference").split(" ");
        int other = Integer.parseInt(before[1]) + 7;
        assertEquals("OK", port.ask("SETTING reference " + other));
        assertEquals("VAL " + other + " " + before[2] + " " + before[3], port.ask("SETTING reference"));
        assertTrue(log().contains("SETTING reference " + other));
    }

    @Test
    void aKeyThatNobodyHoldsIsLetGoAndSaysSo() throws Exception {
        port.ask("CHANNEL 155000000 FM 12500");
        assertEquals("OK", port.ask("TIMEOUT 0.2"));
        assertEquals("OK", port.ask("KEY ON"));
        assertEquals("VAL ON", port.ask("KEY?"));
        await().atMost(Duration.ofMinutes(2)).until(() -> !port.ask("KEY?").equals("VAL ON"));
        assertEquals("ERR the time-out has let the key go", port.ask("HOLD"), "whoever holds on is told");
        assertEquals("OK", port.ask("KEY OFF"));
        assertEquals("OK", port.ask("HOLD"), "and then it is over");
        assertTrue(log().contains("KEY OFF time-out"));
    }

    @Test
    void aBrokenLineLetsTheKeyGo() throws Exception {
        port.ask("TIMEOUT 5");
        port.ask("KEY ON");
        port.close();
        try (Line other = new Line(standIns.dataPort())) {
            await().atMost(Duration.ofMinutes(2)).until(() -> log().contains("KEY OFF line lost"));
            assertEquals("VAL OFF", other.ask("KEY?"));
        }
    }

    @Test
    void whoeverElseIsThereMayAskButNotKey() throws IOException {
        try (Line watcher = new Line(standIns.dataPort())) {
            assertTrue(watcher.ask("ID").startsWith("VAL "));
            port.ask("TIMEOUT 5");
            assertEquals("ERR another controller holds this port", watcher.ask("KEY ON"));
            assertEquals("VAL OFF", port.ask("KEY?"));
        }
    }

    @Test
    void anEmptyPlaceHasNoRadioButIsSafe() throws IOException {
        assertEquals("OK", port.ask("AT NOWHERE"));
        assertEquals("ERR no radio answers at the port", port.ask("ID"));
        assertEquals("OK", port.ask("KEY OFF"));
        assertEquals("VAL OFF", port.ask("KEY?"));
    }

    // ---- test set

    @Test
    void samplesCrossTheSocketAsABlock() throws IOException {
        port.ask("CHANNEL 155000000 FM 12500");
        port.ask("TIMEOUT 5");
        set.send("SENS:FREQ:CENT 155e6");
        set.send("SENS:POW:RANG 15");
        float[] unkeyed = taken();
        port.ask("KEY ON");
        float[] keyed = taken();
        assertEquals(unkeyed.length, keyed.length);
        assertTrue(power(keyed) > 1e6 * power(unkeyed), power(keyed) + " against " + power(unkeyed));
        assertEquals("0,\"No error\"", set.ask("SYST:ERR?"));
    }

    @Test
    void aGeneratorThatIsOffIsNotHeard() throws IOException {
        port.ask("CHANNEL 155000000 FM 12500");
        port.ask("SQUELCH AUTO");
        for (String line : List.of(
                "SYST:WDOG 5",
                "SOUR:FREQ 155e6",
                "SOUR:POW -40",
                "SOUR:MOD FM",
                "SOUR:DEV 1500",
                "SOUR:FM:INT:FREQ 1000")) {
            set.send(line);
        }
        assertEquals("VAL CLOSED", port.ask("SQUELCH?"));
        set.send("OUTP ON");
        assertEquals("0,\"No error\"", set.ask("SYST:ERR?"));
        assertEquals("VAL OPEN", port.ask("SQUELCH?"));
        set.send("OUTP OFF");
        assertEquals(
                "0,\"No error\"",
                set.ask("SYST:ERR?"),
                "what was told over one line is done before the other is asked");
        assertEquals("VAL CLOSED", port.ask("SQUELCH?"));
    }

    @Test
    void whatIsAskedTooEarlyOrOutOfRangeIsAnError() throws IOException {
        set.send("SENS:FREQ:CENT 155e6");
        set.send("INIT:IQ 2");
        set.send("FETC:DATA?");
        assertTrue(set.ask("SYST:ERR?").startsWith("-221"), "nothing was taken in yet");
        for (String wrong :
                List.of("SOUR:POW 100", "SOUR:MOD AM", "SENS:FREQ:CENT nan", "INIT:IQ 1e9", "SOUR:NOTHING 1")) {
            set.send(wrong);
            String error = set.ask("SYST:ERR?");
            assertTrue(error.matches("-(1|2)\\d\\d,.*"), wrong + ": " + error);
        }
        assertEquals("0,\"No error\"", set.ask("SYST:ERR?"));
    }

    private float[] taken() throws IOException {
        set.send("INIT:IQ 0.02");
        for (int n = 0; n < 500 && !set.ask("INIT:DONE?").equals("1"); n++) {
            assertEquals("0,\"No error\"", set.ask("SYST:ERR?"));
        }
        return set.block("FETC:DATA?");
    }

    private static double power(float[] samples) {
        double sum = 0;
        for (float s : samples) {
            sum += (double) s * s;
        }
        return sum / samples.length;
    }
}
