package org.juratest.simulators.scpi;

import java.util.ArrayDeque;
import java.util.Deque;

/**
 * What every SCPI gear has: the common commands of IEEE 488.2 (10.3 and following), the error queue and the status
 * registers. Calls come one at a time under this object's lock.
 */
public abstract class ScpiGear implements LineGear {

    private static final int LONGEST_QUEUE = 20;

    private final Deque<ScpiError> errors = new ArrayDeque<>();
    private final ScpiCommands commands = new ScpiCommands();
    private int eventStatus = 0x80; // power on
    private int eventEnable;
    private int serviceEnable;

    protected ScpiGear(String identity) {
        commands.query("*IDN", () -> identity)
                .command("*RST", a -> reset())
                .command("*CLS", a -> {
                    errors.clear();
                    eventStatus = 0;
                })
                .query("*ESR", () -> {
                    int status = eventStatus;
                    eventStatus = 0;
                    return String.valueOf(status);
                })
                .command("*ESE", a -> eventEnable = (int) ScpiCommands.number(a, 0, 255))
                .query("*ESE", () -> String.valueOf(eventEnable))
                .query("*STB", () -> String.valueOf(statusByte()))
                .command("*SRE", a -> serviceEnable = (int) ScpiCommands.number(a, 0, 255))
                .query("*SRE", () -> String.valueOf(serviceEnable))
                .command("*OPC", a -> eventStatus |= 1)
                .query("*OPC", () -> "1")
                .command("*WAI", a -> {})
                .query("*TST", () -> "0")
                .query(
                        "SYSTem:ERRor",
                        () -> errors.isEmpty()
                                ? "0,\"No error\""
                                : errors.removeFirst().toString())
                .query("SYSTem:VERSion", () -> "1999.0");
    }

    protected final ScpiCommands commands() {
        return commands;
    }

    /** Back to the state after power-on; the output off. */
    protected abstract void reset();

    /** The controller's socket closed. */
    protected abstract void controllerGone();

    private int statusByte() {
        int errorQueue = errors.isEmpty() ? 0 : 1 << 2;
        int event = (eventStatus & eventEnable) != 0 ? 1 << 5 : 0;
        int byteNow = errorQueue | event;
        return (byteNow & serviceEnable) != 0 ? byteNow | 1 << 6 : byteNow;
    }

    @Override
    public final synchronized String line(String line, boolean controller) {
        StringBuilder answers = new StringBuilder();
        for (String unit : line.split(";")) {
            if (unit.isBlank()) {
                continue;
            }
            try {
                String answer = commands.execute(unit.trim(), controller);
                if (!answer.isEmpty()) {
                    answers.append(answers.isEmpty() ? "" : ";").append(answer);
                }
            } catch (ScpiError e) {
                error(e);
            }
        }
        return answers.toString();
    }

    private void error(ScpiError error) {
        eventStatus |= error.eventBit();
        if (errors.size() < LONGEST_QUEUE) {
            errors.addLast(error);
        } else {
            errors.removeLast();
            errors.addLast(ScpiError.queueOverflow());
        }
    }

    @Override
    public final synchronized void lost() {
        controllerGone();
    }
}
