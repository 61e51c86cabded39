package org.juratest.server.web;

/** It has to be waited before the next try. */
public final class TooFastException extends RuntimeException {

    private final long seconds;

    /** @param seconds to wait */
    public TooFastException(long seconds) {
        super("Too many wrong passwords in a row. Wait " + seconds + " s, then try again.");
        this.seconds = seconds;
    }

    public long seconds() {
        return seconds;
    }
}
