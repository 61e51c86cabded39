package org.juratest.core.run;

/** An event that does not follow the events a run has. */
public final class ChainException extends IllegalStateException {

    private final long n;

    ChainException(Event event, String what) {
        super("event " + event.n() + " (" + event.id() + ") " + what);
        this.n = event.n();
    }

    /** Number of the event that does not fit. */
    public long n() {
        return n;
    }
}
