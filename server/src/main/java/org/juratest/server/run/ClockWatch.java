package org.juratest.server.run;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.function.LongSupplier;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Notices that the server's clock was set: it then went another way than one that only ever runs on. Nothing about
 * outputs depends on it (their tokens, leases and claims count by the database's clock, their guards by a monotonic
 * one), but the times of events do.
 */
final class ClockWatch {

    private static final Logger LOG = LoggerFactory.getLogger(ClockWatch.class);
    /** What a clock that is kept right may be moved by without a word. */
    private static final Duration SLACK = Duration.ofSeconds(2);

    private final Clock clock;
    private final LongSupplier nanos;
    private Instant wall;
    private long steady;
    private @Nullable Jump last;

    /**
     * A jump.
     *
     * @param from what the clock would have shown
     * @param to what it showed
     */
    record Jump(Instant from, Instant to) {
        String words() {
            Duration by = Duration.between(from, to);
            return "The server's clock was set " + (by.isNegative() ? "back" : "on") + " by "
                    + plain(by.abs().plusMillis(500)) + ", from " + from.truncatedTo(ChronoUnit.SECONDS) + " to "
                    + to.truncatedTo(ChronoUnit.SECONDS)
                    + ". Times before and after do not count on from each other; their order is right.";
        }

        private static String plain(Duration by) {
            return by.toHours() > 0
                    ? by.toHours() + " h " + by.toMinutesPart() + " min"
                    : by.toMinutes() > 0 ? by.toMinutes() + " min " + by.toSecondsPart() + " s" : by.toSeconds() + " s";
        }
    }

    /** @param nanos a clock that is never set, ns */
    ClockWatch(Clock clock, LongSupplier nanos) {
        this.clock = clock;
        this.nanos = nanos;
        this.wall = clock.instant();
        this.steady = nanos.getAsLong();
    }

    /** The last jump there was, up to now; absent if there was none. */
    synchronized @Nullable Jump look() {
        long passed = nanos.getAsLong();
        Instant now = clock.instant();
        Instant expected = wall.plusNanos(passed - steady);
        if (Duration.between(expected, now).abs().compareTo(SLACK) > 0) {
            last = new Jump(expected, now);
            LOG.warn("{}", last.words());
        }
        wall = now;
        steady = passed;
        return last;
    }
}
