package org.juratest.server.web;

import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;

/** The run has moved on since the client looked, or the client did not say which state it looked at. */
public final class PreconditionException extends RuntimeException {

    private final boolean missing;
    private final long actual;

    private PreconditionException(boolean missing, long actual, String message) {
        super(message);
        this.missing = missing;
        this.actual = actual;
    }

    /**
     * How many entries by persons a client has seen, by its {@code If-Match}.
     *
     * @throws PreconditionException if it says nothing
     * @throws Refusal if it says something else than a number
     */
    public static long expected(@Nullable String ifMatch) {
        if (ifMatch == null) {
            throw missing();
        }
        try {
            return Long.parseLong(ifMatch.replace("W/", "").replace("\"", ""));
        } catch (NumberFormatException e) {
            throw new Refusal(
                    "bad-if-match",
                    "If-Match must be a number, that of the state you have seen, not \"" + ifMatch + "\".",
                    "If-Match");
        }
    }

    public static PreconditionException missing() {
        return new PreconditionException(true, -1, "Say with If-Match which state this is meant for.");
    }

    public static PreconditionException stale(long expected, long actual) {
        return new PreconditionException(
                false,
                actual,
                "Someone else has changed this meanwhile (it stands at " + actual + ", not " + expected
                        + "). Look at it again; nothing of yours was stored.");
    }

    public boolean isMissing() {
        return missing;
    }

    public long actual() {
        return actual;
    }
}
