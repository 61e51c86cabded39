package org.juratest.formats.table;

/** Bytes that are not a table as they were said to be. */
public final class TableException extends RuntimeException {

    private final String field;

    /** @param what what is the matter and what to do, without a capital and a full stop */
    public TableException(String field, String what) {
        super(what);
        this.field = field;
    }

    public String field() {
        return field;
    }
}
