package org.juratest.core.port;

import org.jspecify.annotations.Nullable;
import org.juratest.core.run.GearFacts;

/** Gear did not do, or did not answer, what it should. The message says what happened, for a technician. */
public final class GearException extends RuntimeException {

    /** What is wrong with the gear. */
    public enum Fault {
        /** No connection, or it was lost. */
        LOST,
        /** Connected, but no answer in time. */
        SILENT,
        /** An answer that cannot be read. */
        GARBLED,
        /** It refused a command, with its own error. */
        REFUSED,
        /** Another instrument answers than the one chosen. */
        WRONG_IDENTITY
    }

    private final Fault fault;
    private final transient @Nullable GearFacts gear;

    public GearException(Fault fault, String message) {
        super(message);
        this.fault = fault;
        this.gear = null;
    }

    public GearException(Fault fault, String message, Throwable cause) {
        super(message, cause);
        this.fault = fault;
        this.gear = null;
    }

    private GearException(GearException from, GearFacts gear) {
        super(from.getMessage(), from);
        this.fault = from.fault;
        this.gear = gear;
    }

    /** The same, of gear that is used beside what measures. */
    public GearException of(GearFacts which) {
        return gear != null ? this : new GearException(this, which);
    }

    /** Which gear it is; absent where it is the one that measures. */
    public @Nullable GearFacts gear() {
        return gear;
    }

    public Fault fault() {
        return fault;
    }
}
