package org.juratest.instruments.family.breakers;

import org.jspecify.annotations.Nullable;
import org.juratest.core.family.breakers.CurrentSource;
import org.juratest.instruments.scpi.ScpiConnection;

/** What gear that injects a current answers to {@code FETCh?}: on, elapsed, current, voltage, why it is off. */
final class Injections {

    private static final String FETCH = "FETC?";

    private Injections() {}

    static CurrentSource.Injection read(ScpiConnection connection) {
        String answer = connection.query(FETCH);
        String[] fields = answer.split(",", -1);
        if (fields.length != 5 || !(fields[0].equals("0") || fields[0].equals("1"))) {
            throw ScpiConnection.garbled(FETCH, answer);
        }
        double elapsed = ScpiConnection.number(FETCH, fields[1]);
        double current = ScpiConnection.number(FETCH, fields[2]);
        double voltage = ScpiConnection.number(FETCH, fields[3]);
        if (!(elapsed >= 0 && elapsed <= Double.MAX_VALUE) || !(current >= 0 && current <= Double.MAX_VALUE)) {
            throw ScpiConnection.garbled(FETCH, answer);
        }
        boolean on = fields[0].equals("1");
        return new CurrentSource.Injection(on, elapsed, current, voltage, on ? null : cause(answer, fields[4]));
    }

    private static CurrentSource.@Nullable OffCause cause(String answer, String word) {
        try {
            return CurrentSource.OffCause.valueOf(word.trim());
        } catch (IllegalArgumentException e) {
            throw ScpiConnection.garbled(FETCH, answer);
        }
    }
}
