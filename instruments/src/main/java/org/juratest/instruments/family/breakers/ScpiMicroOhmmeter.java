package org.juratest.instruments.family.breakers;

import java.util.Locale;
import org.juratest.core.family.breakers.ResistanceMeter;
import org.juratest.instruments.scpi.ScpiConnection;
import org.juratest.instruments.scpi.ScpiOutput;

/** A micro-ohmmeter that speaks SCPI over TCP. */
public final class ScpiMicroOhmmeter extends ScpiOutput implements ResistanceMeter {

    public ScpiMicroOhmmeter(String host, int port) {
        super(host, port);
    }

    @Override
    public void prepare(double current) {
        connection().command(String.format(Locale.ROOT, "SOUR:CURR %.6g", current));
    }

    @Override
    public Result measure() {
        connection().command("INIT");
        double[] numbers = connection().numbers("FETC:RES?", 3);
        if (Double.isNaN(numbers[0]) || numbers[0] < 0 || !(numbers[1] >= 0) || !(numbers[2] > 0)) {
            throw ScpiConnection.garbled("FETC:RES?", numbers[0] + "," + numbers[1] + "," + numbers[2]);
        }
        return new Result(numbers[0], numbers[1], numbers[2]);
    }
}
