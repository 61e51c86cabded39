package org.juratest.core.condition;

import java.time.Instant;

/**
 * A value at a time.
 *
 * @param years since 1970-01-01 UTC, of 365.25 days
 * @param value as the series counts it, on its scale's axis (log10 of it on a logarithmic one)
 */
public record Timed(double years, double value) {

    /** Seconds of the year that slopes are stated by. */
    public static final double YEAR_S = 365.25 * 86_400;
    /** Within what an {@link Instant} can hold, s. */
    private static final double FARTHEST = 3e16;

    /** @throws IllegalArgumentException if either is NaN or infinite */
    public Timed {
        if (!(Math.abs(years) <= Double.MAX_VALUE) || !(Math.abs(value) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("a value of a series must be finite, not " + value + " at " + years);
        }
    }

    public static double years(Instant at) {
        return at.getEpochSecond() / YEAR_S;
    }

    /** The time of a number of years; for what lies further away, {@link #FARTHEST} seconds from 1970. */
    public static Instant instant(double years) {
        double seconds = years * YEAR_S;
        return Instant.ofEpochSecond(Math.round(Math.max(-FARTHEST, Math.min(FARTHEST, seconds))));
    }
}
