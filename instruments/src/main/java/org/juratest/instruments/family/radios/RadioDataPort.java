package org.juratest.instruments.family.radios;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.juratest.core.family.radios.RadioControl;
import org.juratest.core.port.GearException;
import org.juratest.core.port.GearIdentity;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.RunEvents;
import org.juratest.instruments.line.Handover;
import org.juratest.instruments.line.LineConnection;

/**
 * A radio behind a data port that speaks lines: a word and its arguments, answered by {@code OK}, {@code VAL ...} or
 * {@code ERR ...}. Nothing is retried that keys.
 */
public final class RadioDataPort implements RadioControl {

    private final LineConnection connection;

    public RadioDataPort(String host, int port) {
        this.connection = new LineConnection(host, port);
    }

    private String ask(String line) {
        String answer = connection.query(line);
        if (answer.startsWith("ERR ")) {
            throw new GearException(GearException.Fault.REFUSED, "it refused \"" + line + "\": " + answer.substring(4));
        }
        return answer;
    }

    private void tell(String line) {
        String answer = ask(line);
        if (!answer.equals("OK")) {
            throw LineConnection.garbled(line, answer);
        }
    }

    private String value(String line) {
        String answer = ask(line);
        if (!answer.startsWith("VAL ")) {
            throw LineConnection.garbled(line, answer);
        }
        return answer.substring(4);
    }

    private double number(String line) {
        String value = value(line);
        try {
            return Double.parseDouble(value);
        } catch (NumberFormatException e) {
            throw LineConnection.garbled(line, value);
        }
    }

    @Override
    public GearIdentity identify() {
        connection.open();
        return GearIdentity.parse(value("HELLO").replace(';', ','));
    }

    @Override
    public void connectTo(String label) {
        if (label.chars().anyMatch(c -> c <= ' ')) {
            throw new IllegalArgumentException("a label has no blanks and no line ends");
        }
        Handover.patiently(() -> tell("AT " + label));
    }

    @Override
    public RunEvents.DeviceIdentity device() {
        String answer = value("ID");
        String[] fields = answer.split(";", -1);
        if (fields.length != 6 || fields[0].isBlank() || fields[2].isBlank()) {
            throw LineConnection.garbled("ID", answer);
        }
        List<RunEvents.DeviceSpan> bands = new ArrayList<>();
        for (String band : fields[5].split(",")) {
            String[] parts = band.split("[=-]", -1);
            try {
                bands.add(
                        new RunEvents.DeviceSpan(parts[0], Double.parseDouble(parts[1]), Double.parseDouble(parts[2])));
            } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
                throw LineConnection.garbled("ID", answer);
            }
        }
        return new RunEvents.DeviceIdentity(
                fields[0], fields[1], fields[2], fields[3], fields[4].isBlank() ? null : fields[4], bands);
    }

    @Override
    public Setting setting(String name) {
        String answer = value("SETTING " + name);
        String[] fields = answer.split(" ", -1);
        try {
            return new Setting(Integer.parseInt(fields[0]), Integer.parseInt(fields[1]), Integer.parseInt(fields[2]));
        } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
            throw LineConnection.garbled("SETTING " + name, answer);
        }
    }

    @Override
    public void set(String name, int value) {
        tell("SETTING " + name + " " + value);
    }

    @Override
    public void channel(double hertz, Mode mode, double spacing) {
        tell(String.format(Locale.ROOT, "CHANNEL %.0f %s %.0f", hertz, mode, spacing));
    }

    @Override
    public void highPower(boolean high) {
        tell("POWER " + (high ? "HIGH" : "LOW"));
    }

    @Override
    public void subTone(double hertz) {
        tell(String.format(Locale.ROOT, "SUBTONE %.2f", hertz));
    }

    @Override
    public void holdSquelchOpen(boolean open) {
        tell("SQUELCH " + (open ? "OPEN" : "SET"));
    }

    @Override
    public boolean squelchIsOpen() {
        String answer = value("SQUELCH?");
        if (!answer.equals("OPEN") && !answer.equals("CLOSED")) {
            throw LineConnection.garbled("SQUELCH?", answer);
        }
        return answer.equals("OPEN");
    }

    @Override
    public boolean[] received(int count) {
        String answer = value("BITS? " + count);
        if (answer.length() != count || !answer.matches("[01]*")) {
            throw LineConnection.garbled("BITS?", answer);
        }
        boolean[] bits = new boolean[count];
        for (int n = 0; n < count; n++) {
            bits[n] = answer.charAt(n) == '1';
        }
        return bits;
    }

    @Override
    public double battery() {
        return number("BATTERY?");
    }

    @Override
    public void watchdog(double seconds) {
        tell("TIMEOUT " + seconds);
    }

    @Override
    public void feedWatchdog() {
        tell("HOLD");
    }

    @Override
    public void outputOn() {
        tell("KEY ON");
    }

    @Override
    public double timeFactor() {
        return number("TIME?");
    }

    @Override
    public ReadBack makeSafe() {
        ReadBack first = unkeyed();
        // Once more over a fresh connection: the old one may have been dead.
        return first.off() ? first : unkeyed();
    }

    private ReadBack unkeyed() {
        try {
            connection.open();
            tell("KEY OFF");
            String answer = value("KEY?");
            return new ReadBack(
                    true,
                    answer.equals("OFF"),
                    answer.equals("OFF") ? "transmitter off" : "it says its key is \"" + answer + "\"");
        } catch (GearException e) {
            return ReadBack.silent(String.valueOf(e.getMessage()));
        }
    }

    @Override
    public void close() {
        connection.close();
    }
}
