package org.juratest.simulators;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.concurrent.Callable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.simulators.family.breakers.Breakers;
import org.juratest.simulators.family.breakers.StandIns;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;

class StandInTest {

    private static final Fleet FLEET = FleetGenerator.generate(
            FleetGenerator.SEED, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families());

    @TempDir
    private Path folder;

    private StandIns standIns;

    @BeforeEach
    void start() throws IOException {
        standIns = new StandIns(FLEET, Ports.any(), StandInLog.to(folder.resolve("log")), () -> {});
    }

    @AfterEach
    void stop() throws IOException {
        standIns.close();
    }

    /** A plain socket, as any SCPI client has. */
    private static final class Line implements AutoCloseable {
        private final Socket socket;
        private final BufferedReader in;

        Line(int port) throws IOException {
            socket = new Socket("127.0.0.1", port);
            socket.setSoTimeout(20_000);
            in = new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
        }

        void send(String line) throws IOException {
            socket.getOutputStream().write((line + "\n").getBytes(StandardCharsets.UTF_8));
        }

        String ask(String line) throws IOException {
            send(line);
            return in.readLine();
        }

        boolean says(String query, String answer) {
            try {
                return answer.equals(ask(query));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }

        @Override
        public void close() throws IOException {
            socket.close();
        }
    }

    private static void until(Callable<Boolean> condition) {
        await().atMost(Duration.ofMinutes(2)).until(condition);
    }

    private boolean logged(String words) {
        try {
            return Files.readString(folder.resolve("log")).contains(words);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "NONSENSE 1 | -113",
                "SOUR:CURR 99999 | -222",
                "SOUR:CURR ten | -222",
                "SOUR:CURR NaN | -222",
                "OUTP MAYBE | -222",
                "OUTP ON | -221",
                "ROUT:LAB without quotes | -222",
                "SYST:WDOG -1 | -222",
                "*IDN? 3 | -222"
            })
    void refusalsAreErrorsInTheQueue(String command, int code) throws IOException {
        try (Line line = new Line(standIns.injectionPort())) {
            String error = line.ask(command + ";:SYST:ERR?");
            assertTrue(error.startsWith(code + ",\""), error);
            assertEquals("0,\"No error\"", line.ask("SYST:ERR?"));
            assertEquals("0", line.ask("OUTP?"));
        }
    }

    @Test
    void commonCommandsAndStatusFollowIeee488() throws IOException {
        try (Line line = new Line(standIns.injectionPort())) {
            assertEquals("Brennach,PI-5000,BR-3317,2.4", line.ask("*IDN?"));
            assertEquals("128", line.ask("*ESR?")); // power on
            line.send("*ESE 32;*SRE 32;WRONG");
            assertEquals("100", line.ask("*STB?")); // event summary, error queue, service request
            assertEquals("32", line.ask("*ESR?")); // command error, and read clears it
            line.send("*CLS");
            assertEquals("0", line.ask("*STB?"));
            assertEquals("1;0;1999.0", line.ask("*OPC?;*TST?;SYST:VERS?"));
            for (int i = 0; i < 25; i++) {
                line.send("WRONG");
            }
            String last = "";
            for (String error = line.ask("SYST:ERR?"); !error.startsWith("0,"); error = line.ask("SYST:ERR?")) {
                last = error;
            }
            assertTrue(last.startsWith("-350"), last);
        }
    }

    @Test
    void longAndShortFormsAreOneInAnyCase() throws IOException {
        try (Line line = new Line(standIns.injectionPort())) {
            line.send("source:current 25");
            assertEquals("2.50000000E+01", line.ask(":SOUR:CURR?"));
            assertTrue(line.ask("SOUR:CURRE?;:SYST:ERR?").startsWith("-113")); // neither short nor long
        }
    }

    private static void prepare(Line line, String label, double current, double limit) throws IOException {
        line.send("ROUT:LAB \"" + label + "\";SYST:WDOG 2;SOUR:CURR:RANG 1000;SOUR:CURR " + current + ";SOUR:TIME:LIM "
                + limit);
        assertEquals("0,\"No error\"", line.ask("SYST:ERR?"));
    }

    /**
     * Trip times come from the model behind the gear; the windows are those a technician would expect of these poles.
     */
    @ParameterizedTest
    @CsvSource({
        "MFR-CBK-07:A, 300, TRIP, 20, 27",
        "MFR-CBK-07:B, 300, TRIP, 38.5, 46",
        "MFR-CBK-07:A, 600, TRIP, 4, 7",
        "MFR-CBK-07:A, 100, LIMIT, 100, 100",
        "MFR-CBK-07:A, 950, TRIP, 0.01, 0.03",
        "NOWHERE:A, 300, OPEN, 0, 30"
    })
    void aPoleTripsAsItsPhysicsSays(String label, double current, String reason, double from, double to)
            throws Exception {
        standIns.factor(100);
        try (Line line = new Line(standIns.injectionPort())) {
            prepare(line, label, current, 100);
            line.send("OUTP ON");
            until(() -> line.says("OUTP?", "0"));
            assertEquals(reason, line.ask("OUTP:REAS?"));
            double seconds = Double.parseDouble(line.ask("SENS:TIME?"));
            assertTrue(seconds >= from && seconds <= to, seconds + " s");
            if (reason.equals("TRIP")) {
                assertEquals(seconds, Double.parseDouble(line.ask("SENS:TRIP?")));
            } else {
                assertEquals("9.91E+37", line.ask("SENS:TRIP?"));
            }
        }
    }

    @Test
    void aHotPoleTripsEarlierAndCoolsDown() throws Exception {
        // Slow enough that a busy machine does not let it cool between the two.
        standIns.factor(40);
        try (Line line = new Line(standIns.injectionPort())) {
            double cold = tripTime(line);
            double hot = tripTime(line);
            assertTrue(hot < 0.8 * cold, cold + " then " + hot);
            standIns.factor(400);
            Thread.sleep(1500); // 600 s of the gear's time
            assertEquals(cold, tripTime(line), 0.05 * cold);
        }
    }

    private static double tripTime(Line line) throws Exception {
        prepare(line, "MFR-CBK-07:A", 300, 100);
        line.send("OUTP ON");
        until(() -> line.says("OUTP?", "0"));
        return Double.parseDouble(line.ask("SENS:TRIP?"));
    }

    @Test
    void theWatchdogRunsInWallTimeAndPollingDoesNotFeedIt() throws Exception {
        standIns.factor(0.1);
        try (Line line = new Line(standIns.injectionPort())) {
            prepare(line, "MFR-CBK-07:A", 120, 1000);
            // Of the gear's own time it would be fifteen seconds.
            until(() -> heldForLongerThanItsTime(line));
            until(() -> line.says("OUTP:REAS?", "WATCHDOG"));
        }
    }

    /** On and fed for longer than the time-out; false where this machine stood still for too long to feed in time. */
    private static boolean heldForLongerThanItsTime(Line line) throws Exception {
        line.send("SYST:WDOG 1.5;OUTP ON");
        long fed = System.nanoTime();
        for (int i = 0; i < 10; i++) {
            Thread.sleep(200);
            line.send("SYST:WDOG:FEED");
            if (line.ask("OUTP?").equals("0")) {
                assertTrue(System.nanoTime() - fed > 1_400_000_000L, "let go though it was fed");
                return false;
            }
            fed = System.nanoTime();
        }
        return true;
    }

    @Test
    void aClosedControlSocketSwitchesOffAndAWatcherMayOnlyAsk() throws Exception {
        Line controller = new Line(standIns.injectionPort());
        prepare(controller, "MFR-CBK-07:A", 120, 1000);
        try (Line watcher = new Line(standIns.injectionPort())) {
            controller.send("OUTP ON");
            assertEquals("1", controller.ask("OUTP?"));
            assertEquals("1", watcher.ask("OUTP?"));
            assertTrue(watcher.ask("OUTP OFF;:SYST:ERR?").startsWith("-221"));
            assertEquals("1", watcher.ask("OUTP?"));
            controller.close();
            until(() -> logged("OFF WATCHDOG"));
            assertEquals("0", watcher.ask("OUTP?"));
            until(() -> logged("CONTROLLER-GONE"));
            assertEquals("0,\"No error\"", watcher.ask("SOUR:CURR 20;:SYST:ERR?")); // now it controls
        }
    }

    @Test
    void theEmergencyStopSwitchesOffAndKeepsOff() throws Exception {
        try (Line line = new Line(standIns.injectionPort())) {
            prepare(line, "MFR-CBK-07:A", 120, 1000);
            line.send("OUTP ON");
            assertEquals("1", line.ask("OUTP?"));
            standIns.emergency(true);
            until(() -> logged("OFF ESTOP"));
            assertEquals("1", line.ask("SYST:EST?"));
            assertTrue(line.ask("OUTP ON;:SYST:ERR?").startsWith("-221"));
        }
    }

    @Test
    void theMicroOhmmeterMeasuresThePoleItsLeadsAreOn() throws Exception {
        Breakers.Pole pole = Breakers.of(FLEET).stream()
                .filter(b -> b.position().equals("MFR-CBK-07"))
                .findFirst()
                .orElseThrow()
                .poles()
                .get("C");
        try (Line line = new Line(standIns.microPort())) {
            line.send("ROUT:LAB \"MFR-CBK-07:A\";SYST:WDOG 2;SOUR:CURR 10;OUTP ON");
            assertEquals("1", line.ask("OUTP?"));
            standIns.plant().lead("MFR-CBK-07:A", "MFR-CBK-07:C");
            line.send("INIT");
            assertEquals("1", line.ask("*OPC?"));
            assertEquals(
                    pole.microhms() * 1e-6,
                    Double.parseDouble(line.ask("FETC:RES?").split(",")[0]),
                    pole.microhms() * 2e-9);
            standIns.plant().open("MFR-CBK-07:C", true);
            line.send("INIT");
            assertTrue(line.ask("FETC:RES?").startsWith("9.9E+37"));
            line.send("OUTP OFF");
            assertTrue(line.ask("INIT;:SYST:ERR?").startsWith("-221"));
        }
    }

    /** 20 degC is where insulation is kept; at 10 degC it is twice as high. */
    @Test
    void aStandAloneTesterShowsWhatItIsConnectedToAtItsTemperature() {
        double at20 = standIns.shows("insulation-tester", "MFR-CBK-07:B-E", 20);
        Breakers.Pole pole = Breakers.of(FLEET).stream()
                .filter(b -> b.position().equals("MFR-CBK-07"))
                .findFirst()
                .orElseThrow()
                .poles()
                .get("B");
        assertEquals(pole.megohms() * 1e6, at20, 1);
        assertEquals(2 * at20, standIns.shows("insulation-tester", "MFR-CBK-07:B-E", 10), 1);
        assertNull(standIns.shows("multimeter", "MFR-CBK-07:B-E", 20));
        assertNull(standIns.shows("insulation-tester", "TES-RAD-01:vhf", 20));
    }

    @Test
    void aRepairOfWhatIsNoneOfItsDevicesIsNone() {
        assertNull(standIns.repaired("TES-RAD-01:vhf"));
        assertNotNull(standIns.repaired("MFR-CBK-07:B"));
    }

    @Test
    void theSameSeedAndDayGiveTheSameValley() {
        assertEquals(
                FLEET,
                FleetGenerator.generate(
                        FleetGenerator.SEED, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families()));
        assertEquals(8, FLEET.sites().size());
        assertTrue(Breakers.of(FLEET).size() >= 40);
        List<Fleet.PastTest> all =
                FLEET.past().values().stream().flatMap(List::stream).toList();
        assertTrue(all.stream().allMatch(t -> t.day().isBefore(FLEET.today())));
        assertEquals(
                3,
                all.stream()
                        .filter(t -> t.readings().stream()
                                .anyMatch(p -> !p.repaired().isEmpty()))
                        .count());
        assertEquals(
                FLEET.devices().size(),
                FLEET.devices().stream()
                        .map(d -> d.maker() + d.serial())
                        .distinct()
                        .count());
    }

    /** What the valley was before families brought their parts to it: the draws are the same ones. */
    @Test
    void theStarOfTheDemoIsWhatItWas() {
        List<Fleet.PastTest> star = FLEET.past()
                .get(FLEET.devices().stream()
                        .filter(d -> d.position().equals("MFR-CBK-07"))
                        .findFirst()
                        .orElseThrow()
                        .asset());
        assertEquals(
                List.of(
                        "insulation A-B 5270.0",
                        "insulation A-E 5470.0",
                        "insulation A-LL 5170.0",
                        "insulation B-C 3790.0",
                        "insulation B-E 3760.0",
                        "insulation B-LL 3850.0",
                        "insulation C-A 9190.0",
                        "insulation C-E 9740.0",
                        "insulation C-LL 8850.0",
                        "contact A 199.7",
                        "contact B 203.2",
                        "contact C 268.6",
                        "longTime A 22.321",
                        "longTime B 22.522",
                        "longTime C 23.04",
                        "contactAgain A 197.3",
                        "contactAgain B 202.1",
                        "contactAgain C 267.6"),
                star.get(3).readings().stream()
                        .map(r -> r.step() + " " + r.lane() + " " + r.value())
                        .toList());
    }

    private static long clocks() {
        return Thread.getAllStackTraces().keySet().stream()
                .filter(t -> t.getName().endsWith("-clock"))
                .count();
    }

    /** Hundreds of clocks that nobody needs any more would take the processors from those who do. */
    @Test
    void closedStandInsLeaveNothingRunning() throws Exception {
        until(() -> clocks() <= standIns.lines().size());
        standIns.close();
        until(() -> clocks() == 0);
    }
}
