package org.juratest.instruments.family.breakers;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.FloatBuffer;
import java.util.Locale;
import org.juratest.core.family.breakers.CurrentSource;
import org.juratest.core.family.breakers.OperationRecorder;
import org.juratest.core.family.breakers.SwitchingRecord;
import org.juratest.core.port.GearException;
import org.juratest.instruments.scpi.ScpiConnection;
import org.juratest.instruments.scpi.ScpiOutput;

/** An analyser of breakers that speaks SCPI over TCP. */
public final class ScpiBreakerAnalyser extends ScpiOutput implements OperationRecorder {

    /** Most poles it may record. */
    private static final int MOST_POLES = 6;

    public ScpiBreakerAnalyser(String host, int port) {
        super(host, port);
    }

    private static String word(Command command) {
        return command == Command.CLOSE_OPEN ? "CLOSEOPEN" : command.name();
    }

    @Override
    public double coilResistance(Command command) {
        connection().command("SOUR:COMM " + word(command));
        double ohms = connection().numbers("MEAS:COIL:RES?", 1)[0];
        // Over range is an open circuit.
        return Double.isNaN(ohms) || ohms < 0 ? Double.POSITIVE_INFINITY : ohms;
    }

    @Override
    public void prepare(Command command, double voltage, double seconds) {
        connection().command("SOUR:COMM " + word(command));
        connection().command(String.format(Locale.ROOT, "SOUR:VOLT %.6g", voltage));
        connection().command(String.format(Locale.ROOT, "SOUR:TIME %.6g", seconds));
    }

    private String[] state() {
        String answer = connection().query("FETC?");
        String[] fields = answer.split(",", -1);
        if (fields.length != 2 || !(fields[0].equals("0") || fields[0].equals("1"))) {
            throw ScpiConnection.garbled("FETC?", answer);
        }
        return fields;
    }

    @Override
    public boolean isRecording() {
        return state()[0].equals("1");
    }

    @Override
    public CurrentSource.OffCause cause() {
        String[] state = state();
        try {
            return CurrentSource.OffCause.valueOf(state[1].trim());
        } catch (IllegalArgumentException e) {
            throw ScpiConnection.garbled("FETC?", String.join(",", state));
        }
    }

    @Override
    public SwitchingRecord recorded() {
        double rate = connection().numbers("SENS:DATA:RATE?", 1)[0];
        double poles = connection().numbers("SENS:DATA:CHAN?", 1)[0];
        byte[] bytes = connection().block("SENS:DATA?");
        int channels = 2 + (int) poles;
        if (!(poles >= 1 && poles <= MOST_POLES) || bytes.length % (Float.BYTES * channels) != 0) {
            throw garbled(bytes.length + " bytes for " + poles + " poles are no record of an operation");
        }
        int n = bytes.length / Float.BYTES / channels;
        FloatBuffer all = ByteBuffer.wrap(bytes).order(ByteOrder.BIG_ENDIAN).asFloatBuffer();
        float[] travel = new float[n];
        float[] coil = new float[n];
        float[][] contacts = new float[(int) poles][n];
        all.get(travel).get(coil);
        for (float[] contact : contacts) {
            all.get(contact);
        }
        try {
            return new SwitchingRecord(rate, contacts, travel, coil);
        } catch (IllegalArgumentException e) {
            throw garbled(String.valueOf(e.getMessage()));
        }
    }

    private static GearException garbled(String words) {
        return new GearException(GearException.Fault.GARBLED, words);
    }
}
