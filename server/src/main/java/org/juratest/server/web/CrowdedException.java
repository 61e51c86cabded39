package org.juratest.server.web;

/** Too many at once. */
public final class CrowdedException extends RuntimeException {

    public CrowdedException() {
        super("Too many sign in at this moment. Try again in a few seconds.");
    }
}
