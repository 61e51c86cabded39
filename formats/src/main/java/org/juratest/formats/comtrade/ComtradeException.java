package org.juratest.formats.comtrade;

/** Files that are no record, are cut off, or say what cannot be. */
public final class ComtradeException extends IllegalArgumentException {

    private final String file;
    private final long place;
    private final String reason;

    private ComtradeException(String file, String unit, long place, String reason) {
        super(file + ", " + unit + " " + place + ": " + reason);
        this.file = file;
        this.place = place;
        this.reason = reason;
    }

    static ComtradeException line(String file, long line, String reason) {
        return new ComtradeException(file, "line", line, reason);
    }

    static ComtradeException at(String file, long offset, String reason) {
        return new ComtradeException(file, "byte", offset, reason);
    }

    /** {@code configuration} or {@code data}. */
    public String file() {
        return file;
    }

    /** Line from 1 of a text, byte from 0 of a binary file. */
    public long place() {
        return place;
    }

    public String reason() {
        return reason;
    }
}
