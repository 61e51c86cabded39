package org.juratest.simulators.scpi;

/** A SCPI error (SCPI-99, volume 2, 21.8) to be put into the error queue. */
public final class ScpiError extends RuntimeException {

    private final int code;

    private ScpiError(int code, String text) {
        super(text, null, false, false);
        this.code = code;
    }

    public static ScpiError undefinedHeader(String header) {
        return new ScpiError(-113, "Undefined header;" + header);
    }

    public static ScpiError settingsConflict(String why) {
        return new ScpiError(-221, "Settings conflict;" + why);
    }

    public static ScpiError outOfRange(String what) {
        return new ScpiError(-222, "Data out of range;" + what);
    }

    static ScpiError queueOverflow() {
        return new ScpiError(-350, "Queue overflow");
    }

    int code() {
        return code;
    }

    /**
     * Bit of the standard event status register (IEEE 488.2, 11.5.1): command error 5, execution error 4, device error
     * 3.
     */
    int eventBit() {
        return code > -200 ? 1 << 5 : code > -300 ? 1 << 4 : 1 << 3;
    }

    @Override
    public String toString() {
        return code + ",\"" + getMessage() + "\"";
    }
}
