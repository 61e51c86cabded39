package org.juratest.formats.sor;

/** A file that is no trace file, is cut off, or says what cannot be. */
public final class SorException extends IllegalArgumentException {

    private final String block;
    private final long offset;
    private final String reason;

    SorException(String block, long offset, String reason) {
        super("block " + block + ", byte " + offset + ": " + reason);
        this.block = block;
        this.offset = offset;
        this.reason = reason;
    }

    /** Name of the block at fault; {@code file} where it is none. */
    public String block() {
        return block;
    }

    /** Place in the file of the first byte at fault. */
    public long offset() {
        return offset;
    }

    public String reason() {
        return reason;
    }
}
