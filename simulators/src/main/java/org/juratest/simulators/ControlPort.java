package org.juratest.simulators;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Objects;
import org.juratest.simulators.family.breakers.StandIns;
import org.juratest.simulators.family.radios.RadioStandIns;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.scpi.ScpiServer;

/**
 * Where faults, wrong leads and the time factor are set: the hand of fate, and of the technician with a screwdriver.
 * Drivers never open it. One command a line, answered by {@code ok} or {@code error WORDS}; {@code help} lists them.
 */
final class ControlPort implements AutoCloseable {

    private static final String HELP =
            "factor X | factor? | slow LABEL FACTOR | contact LABEL FACTOR | poor LABEL MILLIOHMS | "
                    + "open LABEL on|off | lead LABEL TRUE-LABEL | estop on|off | radio POSITION FAULT VALUE | "
                    + "radio-lead POSITION TRUE-POSITION | antenna POSITION on|off | line GEAR "
                    + "good|silent|rubbish|late:MS|drop";

    /** Keeps the fleet as it is by now, so that what was mended stays so over a restart. */
    interface Keeper {
        void keep(Fleet fleet) throws IOException;
    }

    private final ServerSocket listener;
    private final Keeper keeper;
    private final StandIns standIns;
    private final RadioStandIns radios;
    private final StandInLog log;

    ControlPort(StandIns standIns, RadioStandIns radios, int port, StandInLog log, Keeper keeper) throws IOException {
        this.keeper = keeper;
        this.standIns = standIns;
        this.radios = radios;
        this.log = log;
        listener = new ServerSocket(port, 16, InetAddress.getLoopbackAddress());
        Thread thread = new Thread(this::accept, "control");
        thread.setDaemon(true);
        thread.start();
    }

    int port() {
        return listener.getLocalPort();
    }

    /** Keeps the fleet as it is by now. */
    synchronized void keep() {
        try {
            keeper.keep(now());
        } catch (IOException e) {
            log.write("control", "NOT-KEPT " + e.getMessage());
        }
    }

    private Fleet now() {
        Fleet fleet = standIns.plant().fleet();
        return fleet.withRadios(radios.bench().truths(fleet.radios()));
    }

    private void accept() {
        while (!listener.isClosed()) {
            try (Socket socket = listener.accept();
                    BufferedReader in = new BufferedReader(
                            new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8))) {
                OutputStream out = socket.getOutputStream();
                for (String line = in.readLine(); line != null; line = in.readLine()) {
                    out.write((answer(line) + "\n").getBytes(StandardCharsets.UTF_8));
                    out.flush();
                }
            } catch (IOException e) {
                if (!listener.isClosed()) {
                    log.write("control", "CONNECTION-LOST " + e.getMessage());
                }
            }
        }
    }

    private String answer(String line) {
        log.write("control", line);
        try {
            return execute(line.trim().split("\\s+"));
        } catch (IOException e) {
            return "error the fleet could not be kept: " + e.getMessage();
        } catch (NumberFormatException e) {
            return "error a number is needed: " + e.getMessage();
        } catch (ArrayIndexOutOfBoundsException e) {
            return "error too few words; " + HELP;
        } catch (IllegalArgumentException e) {
            return "error " + e.getMessage();
        }
    }

    private synchronized String execute(String[] words) throws IOException {
        switch (words[0]) {
            case "help" -> {
                return HELP;
            }
            case "factor?" -> {
                return String.valueOf(standIns.factor());
            }
            case "factor" -> {
                standIns.factor(within(words[1], 0.1, 1000));
                radios.factor(standIns.factor());
            }
            case "radio" -> radios.bench().fault(words[1], words[2], within(words[3], -100, 100));
            case "radio-lead" -> radios.bench().lead(words[1], words[2]);
            case "antenna" -> radios.bench().antennaOff(words[1], !on(words[2]));
            case "slow" -> {
                standIns.plant().slowness(words[1], within(words[2], 0.01, 100));
                keeper.keep(now());
            }
            case "contact" -> {
                standIns.plant().contact(words[1], within(words[2], 0.01, 100));
                keeper.keep(now());
            }
            case "poor" -> standIns.plant().poor(words[1], within(words[2], 0, 1e6));
            case "open" -> standIns.plant().open(words[1], on(words[2]));
            case "lead" -> standIns.plant().lead(words[1], words[2]);
            case "estop" -> {
                standIns.emergency(on(words[1]));
                radios.emergency(on(words[1]));
            }
            case "line" ->
                line(
                        radios.line(words[1]) == null
                                ? standIns.line(words[1])
                                : Objects.requireNonNull(radios.line(words[1])),
                        words[2]);
            default -> throw new IllegalArgumentException("unknown command \"" + words[0] + "\"; " + HELP);
        }
        return "ok";
    }

    private static void line(ScpiServer line, String manners) {
        switch (manners) {
            case "good" -> line.manners(ScpiServer.Manners.GOOD);
            case "silent" -> line.manners(new ScpiServer.Manners(true, false, 0));
            case "rubbish" -> line.manners(new ScpiServer.Manners(false, true, 0));
            case "drop" -> line.dropController();
            default -> {
                if (!manners.startsWith("late:")) {
                    throw new IllegalArgumentException("good, silent, rubbish, late:MS or drop");
                }
                line.manners(new ScpiServer.Manners(false, false, (long) within(manners.substring(5), 0, 60_000)));
            }
        }
    }

    private static double within(String text, double lowest, double highest) {
        double value = Double.parseDouble(text);
        if (!(value >= lowest && value <= highest)) {
            throw new IllegalArgumentException(text + " is outside " + lowest + " to " + highest);
        }
        return value;
    }

    private static boolean on(String text) {
        return switch (text) {
            case "on" -> true;
            case "off" -> false;
            default -> throw new IllegalArgumentException("on or off, not \"" + text + "\"");
        };
    }

    @Override
    public void close() throws IOException {
        listener.close();
    }
}
