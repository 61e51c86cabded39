package org.juratest.simulators.family.radios;

import java.util.Locale;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.LineGear;

/**
 * The port that radios are plugged into, with a line protocol of our own: a word and its arguments, answered by
 * {@code OK}, {@code VAL ...} or {@code ERR ...}. A keyed radio lets go by itself when its time-out is not fed, and
 * when the line breaks.
 */
final class DataPort implements LineGear {

    private static final String IDENTITY = "Orbessa;DP-1;%s;1.2";
    private static final int MOST_BITS = 20_000;

    /** Told when a setting was changed, so that it can be kept. */
    interface Changed {
        void settings();
    }

    private final ScheduledExecutorService clock;
    private final RadioBench bench;
    private final String serial;
    private final StandInLog log;
    private final Changed changed;
    private String label = "";
    private double timeOut;
    private long fedAt;
    /** Whether the key was let go because nobody held it, and nobody was told. */
    private boolean timedOut;

    private double factor = 1;

    DataPort(String serial, RadioBench bench, StandInLog log, Changed changed) {
        this.serial = serial;
        this.bench = bench;
        this.log = log;
        this.changed = changed;
        clock = Executors.newSingleThreadScheduledExecutor(task -> {
            Thread thread = new Thread(task, "data-port-clock");
            thread.setDaemon(true);
            return thread;
        });
        clock.scheduleAtFixedRate(this::tick, 5, 5, TimeUnit.MILLISECONDS);
    }

    synchronized void factor(double now) {
        factor = now;
    }

    private synchronized void tick() {
        SimulatedRadio radio = bench.at(label);
        if (radio != null && radio.keyed() && (System.nanoTime() - fedAt) / 1e9 > timeOut) {
            radio.key(false);
            timedOut = true;
            log.write("data-port", "KEY OFF time-out");
        }
    }

    @Override
    public synchronized String line(String line, boolean controller) {
        String[] words = line.trim().split("\\s+");
        try {
            return answer(words, controller);
        } catch (NumberFormatException e) {
            return "ERR a number is needed";
        } catch (ArrayIndexOutOfBoundsException e) {
            return "ERR too few words";
        } catch (IllegalArgumentException e) {
            return "ERR " + e.getMessage();
        }
    }

    private String answer(String[] words, boolean controller) {
        String word = words[0].toUpperCase(Locale.ROOT);
        if (word.equals("HELLO")) {
            return "VAL " + String.format(Locale.ROOT, IDENTITY, serial);
        }
        if (word.equals("TIME?")) {
            return "VAL " + factor;
        }
        boolean asks = word.endsWith("?") || word.equals("ID") || word.equals("SETTING") && words.length == 2;
        if (!asks && !controller) {
            return "ERR another controller holds this port";
        }
        if (word.equals("AT")) {
            SimulatedRadio before = bench.at(label);
            if (before != null) {
                before.key(false);
            }
            timedOut = false;
            label = words[1];
            return "OK";
        }
        SimulatedRadio radio = bench.at(label);
        if (radio == null) {
            // What makes safe is always possible: a radio that is not there is not keyed.
            return word.equals("KEY") && words[1].equals("OFF")
                    ? "OK"
                    : word.equals("KEY?") ? "VAL OFF" : "ERR no radio answers at the port";
        }
        return ofRadio(radio, word, words);
    }

    private String ofRadio(SimulatedRadio radio, String word, String[] words) {
        switch (word) {
            case "ID":
                return "VAL " + radio.identity();
            case "CHANNEL":
                radio.channel(Double.parseDouble(words[1]), words[2].equals("FSK4"), Double.parseDouble(words[3]));
                return "OK";
            case "POWER":
                radio.highPower(words[1].equals("HIGH"));
                return "OK";
            case "SUBTONE":
                radio.subTone(Double.parseDouble(words[1]));
                return "OK";
            case "SQUELCH":
                radio.holdSquelch(words[1].equals("OPEN"));
                return "OK";
            case "SQUELCH?":
                return "VAL " + (radio.squelchIsOpen(bench.wanted()) ? "OPEN" : "CLOSED");
            case "TIMEOUT":
                timeOut = Double.parseDouble(words[1]);
                return "OK";
            case "HOLD":
                if (timedOut) {
                    return "ERR the time-out has let the key go";
                }
                fedAt = System.nanoTime();
                return "OK";
            case "KEY":
                return key(radio, words[1]);
            case "KEY?":
                return "VAL " + (radio.keyed() ? "ON" : "OFF");
            case "SETTING":
                return setting(radio, words);
            case "BITS?":
                return "VAL "
                        + radio.bits(Math.max(1, Math.min(MOST_BITS, Integer.parseInt(words[1]))), bench.wanted());
            case "BATTERY?":
                return "VAL " + radio.battery();
            default:
                return "ERR there is no " + word;
        }
    }

    private String key(SimulatedRadio radio, String on) {
        if (on.equals("ON")) {
            if (!(timeOut > 0)) {
                return "ERR set the time-out first";
            }
            fedAt = System.nanoTime();
        }
        timedOut = false;
        radio.key(on.equals("ON"));
        log.write(
                "data-port",
                "KEY " + on + " " + label
                        + (on.equals("ON") ? String.format(Locale.ROOT, " %.0f Hz", radio.carrier()) : ""));
        return "OK";
    }

    private String setting(SimulatedRadio radio, String[] words) {
        if (words.length == 2) {
            int[] now = radio.setting(words[1]);
            return "VAL " + now[0] + " " + now[1] + " " + now[2];
        }
        radio.setting(words[1], Integer.parseInt(words[2]));
        log.write("data-port", "SETTING " + words[1] + " " + words[2]);
        changed.settings();
        return "OK";
    }

    @Override
    public void closed() {
        clock.shutdownNow();
    }

    @Override
    public synchronized void lost() {
        SimulatedRadio radio = bench.at(label);
        if (radio != null && radio.keyed()) {
            radio.key(false);
            log.write("data-port", "KEY OFF line lost");
        }
    }
}
