package org.juratest.server.run;

import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.function.LongSupplier;
import org.juratest.core.run.Event;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.StepEvents;

/**
 * What makes safe is read, then confirmed, one by one: not by a key that is held, nor by whatever else goes faster than
 * a person reads. Held by two clocks: that of the events, which other server processes write too, and one of this
 * process that nobody sets.
 */
final class Confirmations {

    /** Two of them are at least this far apart. */
    static final Duration APART = Duration.ofMillis(300);

    private static final int REMEMBERED = 256;

    private final LongSupplier nanos;
    private final Map<UUID, Long> last = new LinkedHashMap<>(REMEMBERED, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<UUID, Long> eldest) {
            return size() > REMEMBERED;
        }
    };

    /** @param nanos a clock that is never set, ns */
    Confirmations(LongSupplier nanos) {
        this.nanos = nanos;
    }

    /**
     * Takes note of a confirmation. Call under the run's lock.
     *
     * @param events of the run so far
     * @param now by the clock that events are written by
     * @throws Refusal if it comes too soon after the one before
     */
    synchronized void confirmed(List<Event> events, Instant now) {
        UUID run = events.get(0).run();
        long steady = nanos.getAsLong();
        Long before = last.get(run);
        boolean tooQuick = before != null && steady - before < APART.toNanos()
                || events.stream()
                        .filter(e -> e.data() instanceof StepEvents.HoldReleased)
                        .map(Event::at)
                        .reduce((a, b) -> b)
                        .map(at -> Duration.between(at, now))
                        .filter(d -> !d.isNegative() && d.compareTo(APART) < 0)
                        .isPresent();
        if (tooQuick) {
            throw new Refusal(
                    "too-quick",
                    "Read each confirmation, then confirm it: two of them are at least " + APART.toMillis()
                            + " ms apart.",
                    "confirmation");
        }
        last.put(run, steady);
    }
}
