package org.juratest.simulators;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.scpi.ScpiServer;

/**
 * Where faults, wrong leads and the time factor are set: the hand of fate, and of the technician with a screwdriver.
 * Drivers never open it. One command a line, answered by {@code ok} or {@code error WORDS}; {@code help} lists them.
 */
final class ControlPort implements AutoCloseable {

    /** Keeps the fleet as it is by now, so that what was mended stays so over a restart. */
    interface Keeper {
        void keep(Fleet fleet) throws IOException;
    }

    private final ServerSocket listener;
    private final Keeper keeper;
    private final Fleet fleet;
    private final List<StandInFamily.Running> families;
    private double factor;
    private final StandInLog log;

    /** @param factor at which the families were started */
    ControlPort(
            Fleet fleet, List<StandInFamily.Running> families, double factor, int port, StandInLog log, Keeper keeper)
            throws IOException {
        this.fleet = fleet;
        this.families = List.copyOf(families);
        this.factor = factor;
        this.keeper = keeper;
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
        Fleet now = fleet;
        for (StandInFamily.Running family : families) {
            now = family.now(now);
        }
        return now;
    }

    private String help() {
        List<String> all = new ArrayList<>(
                List.of("factor X", "factor?", "estop on|off", "shows ROLE LABEL CELSIUS", "repair LABEL"));
        families.forEach(f -> all.addAll(f.commands()));
        all.add("line GEAR good|silent|rubbish|late:MS|drop");
        return String.join(" | ", all);
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
            return "error too few words; " + help();
        } catch (IllegalArgumentException e) {
            return "error " + e.getMessage();
        }
    }

    private synchronized String execute(String[] words) throws IOException {
        switch (words[0]) {
            case "help" -> {
                return help();
            }
            case "factor?" -> {
                return String.valueOf(factor);
            }
            case "factor" -> {
                factor = Words.within(words[1], 0.1, 1000);
                families.forEach(f -> f.factor(factor));
            }
            case "estop" -> {
                boolean pressed = Words.on(words[1]);
                families.forEach(f -> f.emergency(pressed));
            }
            case "line" -> line(lineOf(words[1]), words[2]);
            case "shows" -> {
                Double shown = first(
                        f -> f.shows(words[1], words[2], Words.within(words[3], -60, 200)),
                        "no " + words[1] + " shows anything of \"" + words[2] + "\"");
                return shown.toString();
            }
            case "repair" -> {
                String done = first(f -> f.repaired(words[1]), "there is nothing to repair at \"" + words[1] + "\"");
                keeper.keep(now());
                return done;
            }
            default -> ofFamily(words);
        }
        return "ok";
    }

    private <T> T first(Function<StandInFamily.Running, @Nullable T> ask, String otherwise) {
        for (StandInFamily.Running family : families) {
            T answer = ask.apply(family);
            if (answer != null) {
                return answer;
            }
        }
        throw new IllegalArgumentException(otherwise);
    }

    private void ofFamily(String[] words) throws IOException {
        for (StandInFamily.Running family : families) {
            StandInFamily.Effect effect = family.command(words);
            if (effect == StandInFamily.Effect.CHANGED) {
                keeper.keep(now());
            }
            if (effect != StandInFamily.Effect.NOT_OURS) {
                return;
            }
        }
        throw new IllegalArgumentException("unknown command \"" + words[0] + "\"; " + help());
    }

    private ScpiServer lineOf(String gear) {
        Map<String, ScpiServer> lines = new TreeMap<>();
        families.forEach(f -> lines.putAll(f.lines()));
        ScpiServer line = lines.get(gear);
        if (line == null) {
            throw new IllegalArgumentException(
                    "there is no gear \"" + gear + "\"; there are " + String.join(", ", lines.keySet()));
        }
        return line;
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
                line.manners(
                        new ScpiServer.Manners(false, false, (long) Words.within(manners.substring(5), 0, 60_000)));
            }
        }
    }

    @Override
    public void close() throws IOException {
        listener.close();
    }
}
