package org.juratest.formats.wav;

/** A file that is no WAVE file, is cut off, or holds something this program cannot read. */
public final class WavException extends IllegalArgumentException {

    private final long at;

    WavException(long at, String what) {
        super("byte " + at + ": " + what);
        this.at = at;
    }

    /** Place of the first byte at fault. */
    public long at() {
        return at;
    }
}
