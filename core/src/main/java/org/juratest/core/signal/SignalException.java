package org.juratest.core.signal;

/** Samples that cannot be analysed at all: too few, not finite, at a rate that does not hold the signal. */
public final class SignalException extends IllegalArgumentException {

    private final String code;

    /** @param code short name of what is wrong, such as {@code too-short} */
    public SignalException(String code, String message) {
        super(message);
        this.code = code;
    }

    public String code() {
        return code;
    }
}
