package org.juratest.simulators.scpi;

import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.juratest.simulators.StandInLog;

/**
 * Gear with an output: watchdog, emergency stop, label, its own time. It powers up off. The watchdog runs in wall time
 * and is never scaled; everything measured runs in the gear's time, which may be faster.
 */
public abstract class Watched extends ScpiGear {

    private static final long TICK_MILLIS = 5;

    private final StandInLog log;
    private final ScheduledExecutorService clock;
    private final String name;
    private String label = "";
    private boolean on;
    private String reason = "COMMAND";
    private double watchdogSeconds;
    private long fedAt;
    private boolean emergency;
    private final GearClock time = new GearClock();

    protected Watched(String name, String identity, StandInLog log) {
        super(identity);
        this.name = name;
        this.log = log;
        commands()
                .command("ROUTe:LABel", a -> label = ScpiCommands.string(a))
                .query("ROUTe:LABel", () -> "\"" + label + "\"")
                .command("OUTPut", this::output)
                .query("OUTPut", () -> on ? "1" : "0")
                .query("OUTPut:REASon", () -> reason)
                .command("SYSTem:WDOG", a -> watchdogSeconds = ScpiCommands.number(a, 0, 60))
                .query("SYSTem:WDOG", () -> ScpiCommands.nr3(watchdogSeconds))
                .command("SYSTem:WDOG:FEED", a -> feed())
                .query("SYSTem:ESTop", () -> emergency ? "1" : "0")
                .query("SYSTem:TIME:FACTor", () -> ScpiCommands.nr3(time.factor()));
        clock = Executors.newSingleThreadScheduledExecutor(task -> {
            Thread thread = new Thread(task, name + "-clock");
            thread.setDaemon(true);
            return thread;
        });
        clock.scheduleAtFixedRate(this::tick, TICK_MILLIS, TICK_MILLIS, TimeUnit.MILLISECONDS);
    }

    /** Its role, by which its line and the log know it. */
    public final String name() {
        return name;
    }

    private void feed() {
        fedAt = System.nanoTime();
        log.write(name, "FED");
    }

    private void output(String argument) {
        switch (argument.toUpperCase(java.util.Locale.ROOT)) {
            case "ON", "1" -> switchOn();
            case "OFF", "0" -> off("COMMAND");
            default -> throw ScpiError.outOfRange("ON or OFF");
        }
    }

    private void switchOn() {
        if (emergency) {
            throw ScpiError.settingsConflict("the emergency stop is pressed");
        }
        if (!(watchdogSeconds > 0)) {
            throw ScpiError.settingsConflict("set the watchdog first");
        }
        if (on) {
            return;
        }
        started();
        fedAt = System.nanoTime();
        on = true;
        reason = "COMMAND";
        log.write(name, "ON " + label + settings());
    }

    /** What it goes on with, for the log: empty, or a blank and words. */
    protected String settings() {
        return "";
    }

    /** The output goes on now. */
    protected abstract void started();

    /** The output went off now. */
    protected abstract void ended();

    /** The output is on: switch it off if what is measured says so. */
    protected abstract void running();

    protected final void off(String why) {
        if (on) {
            on = false;
            reason = why;
            log.write(name, "OFF " + why);
            ended();
        }
    }

    private synchronized void tick() {
        if (!on) {
            return;
        }
        if (emergency) {
            off("ESTOP");
        } else if ((System.nanoTime() - fedAt) / 1e9 > watchdogSeconds) {
            off("WATCHDOG");
        } else {
            running();
        }
    }

    @Override
    protected void reset() {
        off("COMMAND");
        label = "";
        watchdogSeconds = 0;
    }

    @Override
    public final void closed() {
        clock.shutdownNow();
    }

    @Override
    protected void controllerGone() {
        off("WATCHDOG");
    }

    /** Presses or releases the emergency stop. */
    public final synchronized void emergency(boolean pressed) {
        emergency = pressed;
        log.write(name, pressed ? "ESTOP pressed" : "ESTOP released");
    }

    /** How much faster than the clock the gear's time runs from now on. */
    public final synchronized void factor(double now) {
        time.factor(now);
        log.write(name, "FACTOR " + now);
    }

    public final synchronized double factor() {
        return time.factor();
    }

    /** The gear's own time, s. */
    protected final double time() {
        return time.time();
    }

    protected final boolean isOn() {
        return on;
    }

    protected final String reason() {
        return reason;
    }

    protected final String label() {
        return label;
    }
}
