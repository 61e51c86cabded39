package org.juratest.server.web;

/** Something that a role may do in general, but not with this. */
public final class NotAllowedException extends RuntimeException {

    public NotAllowedException(String message) {
        super(message);
    }
}
