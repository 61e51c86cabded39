package org.juratest.core.route;

/** A route that cannot be; the message names line and column in a sentence. */
public final class RouteException extends Exception {

    private static final long serialVersionUID = 1;

    private final int line;
    private final String column;

    RouteException(int line, String column, String words) {
        super("Line " + line + (column.isEmpty() ? "" : ", " + column) + ": " + words);
        this.line = line;
        this.column = column;
    }

    /** From 1; 0 where it is about the whole. */
    public int line() {
        return line;
    }

    /** Name of the column; empty where it is about the line. */
    public String column() {
        return column;
    }
}
