package org.juratest.instruments.scpi;

import org.juratest.core.port.GearException;
import org.juratest.instruments.line.LineConnection;

/**
 * One SCPI connection over TCP. Each command is followed by {@code SYST:ERR?} in the same line, so that a refusal is
 * known at once.
 */
public final class ScpiConnection extends LineConnection {

    public ScpiConnection(String host, int port) {
        super(host, port);
    }

    /** Sends a command and makes sure that it was accepted. */
    public void command(String command) {
        String answer = query(command + ";:SYST:ERR?");
        if (!answer.startsWith("0,")) {
            if (!answer.matches("-?\\d+,\".*\"")) {
                throw garbled(command, answer);
            }
            throw new GearException(GearException.Fault.REFUSED, "it refused \"" + command + "\": " + answer);
        }
    }

    /** Asks for numbers, separated by commas. */
    public double[] numbers(String query, int count) {
        String answer = query(query);
        String[] fields = answer.split(",", -1);
        if (fields.length != count) {
            throw garbled(query, answer);
        }
        double[] numbers = new double[count];
        for (int i = 0; i < count; i++) {
            numbers[i] = number(query, fields[i]);
        }
        return numbers;
    }

    /** A number as SCPI writes it: 9.9E37 is over range, 9.91E37 is no value. */
    public static double number(String query, String text) {
        double value;
        try {
            value = Double.parseDouble(text.trim());
        } catch (NumberFormatException e) {
            throw garbled(query, text);
        }
        if (Math.abs(value) >= 9.905e37) {
            return Double.NaN;
        }
        return Math.abs(value) >= 9.85e37 ? Math.copySign(Double.POSITIVE_INFINITY, value) : value;
    }
}
