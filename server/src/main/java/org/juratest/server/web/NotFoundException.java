package org.juratest.server.web;

/** Something named in a request does not exist. */
public final class NotFoundException extends RuntimeException {

    private final String kind;

    public NotFoundException(String kind, String id) {
        super("There is no " + kind + " \"" + id + "\".");
        this.kind = kind;
    }

    public String kind() {
        return kind;
    }
}
