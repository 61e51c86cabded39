package org.juratest.instruments.family.meters;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.juratest.core.family.meters.MeterPort;
import org.juratest.core.port.GearException;
import org.juratest.core.port.GearIdentity;
import org.juratest.instruments.line.LineConnection;

/**
 * Reads meters in mode C of IEC 62056-21 through an adapter on TCP: request with the address of the meter, its
 * identification, an acknowledgement that asks for its data, the data between STX and ETX, a check byte. The speed is
 * the adapter's business. The adapter itself answers at the address {@value #ADAPTER}.
 */
public final class ModeCMeter implements MeterPort {

    static final String ADAPTER = "ADAPTER";

    private static final int STX = 2;
    private static final int ETX = 3;
    /** Data readout, at the speed it offers. */
    private static final String DATA = "\u0006050\r";

    private static final Pattern LINE = Pattern.compile("([^()\\s]{1,16})\\(([^()*]{0,32})(?:\\*([^()]{0,16}))?\\)");

    private final LineConnection line;
    private String address = ADAPTER;

    public ModeCMeter(String host, int port) {
        this.line = new LineConnection(host, port);
    }

    /** Connects unless connected. */
    public void open() {
        line.open();
    }

    @Override
    public GearIdentity identify() {
        open();
        // "/", three letters of the maker, a figure for the speed, then what the maker writes: model and number.
        String[] words = identification(ADAPTER).substring(5).split(" ");
        if (words.length != 3) {
            throw new GearException(GearException.Fault.GARBLED, "the adapter does not say who it is");
        }
        return GearIdentity.parse("Brennach," + words[0] + "," + words[1] + "," + words[2]);
    }

    private String identification(String of) {
        String request = "/?" + of + "!";
        String said = line.query(request + "\r").strip();
        if (said.length() < 6 || said.charAt(0) != '/') {
            throw LineConnection.garbled(request, said);
        }
        return said;
    }

    /** The address of a meter is the place it is at, without what is measured there. */
    @Override
    public void connectTo(String label) {
        address = label.contains(":") ? label.substring(0, label.indexOf(':')) : label;
    }

    @Override
    public double timeFactor() {
        return 1;
    }

    @Override
    public Readout readout() {
        String who = identification(address);
        byte[] frame = line.frame(DATA, ETX);
        int check = 0;
        for (int n = 1; n < frame.length - 1; n++) {
            check ^= frame[n];
        }
        if (frame.length < 3 || frame[0] != STX || check != frame[frame.length - 1]) {
            throw new GearException(
                    GearException.Fault.GARBLED,
                    "the check byte of its data is " + (frame.length == 0 ? "missing" : frame[frame.length - 1])
                            + ", by what came it is " + check);
        }
        Map<String, Register> registers = new LinkedHashMap<>();
        String text = new String(frame, 1, frame.length - 3, java.nio.charset.StandardCharsets.ISO_8859_1);
        for (String row : text.split("\r\n")) {
            Matcher m = LINE.matcher(row);
            if (m.matches() && m.group(2).matches("-?\\d+(\\.\\d+)?")) {
                int point = m.group(2).indexOf('.');
                double digit =
                        point < 0 ? 1 : Math.pow(10, point + 1 - m.group(2).length());
                String unit = m.group(3) == null ? "" : m.group(3);
                registers.put(m.group(1), new Register(Double.parseDouble(m.group(2)), unit, digit));
            }
        }
        return new Readout(who.substring(5), registers);
    }

    @Override
    public void close() {
        line.close();
    }
}
