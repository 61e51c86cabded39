package org.juratest.core.run;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/**
 * One event of a run with its envelope.
 *
 * @param id UUID version 7
 * @param n 0, 1, 2, ... without a gap
 * @param prev SHA-256 of event n-1, lower-case hex; absent at 0
 * @param at whole microseconds
 * @param origin id of the installation it was made at
 */
public record Event(
        UUID id, UUID run, long n, @Nullable String prev, Instant at, Actor by, String origin, EventData data) {

    public Event {
        if (n < 0 || (n == 0) != (prev == null)) {
            throw new IllegalArgumentException(
                    "event " + n + (prev == null ? " names no event before it" : " names one before it"));
        }
        if (!at.equals(at.truncatedTo(ChronoUnit.MICROS))) {
            throw new IllegalArgumentException("an event's time has whole microseconds");
        }
    }
}
