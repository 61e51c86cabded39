package org.juratest.formats.run;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Event;

/**
 * Checks the chain of one run's stored events. It finds any byte changed, an event taken out, put in or swapped, and,
 * by the head and count kept beside it, a cut tail. It cannot find that everything was rewritten, head included: only a
 * head printed earlier shows that.
 */
public final class EventChain {

    /**
     * The first place where the chain does not hold.
     *
     * @param n number of the event
     */
    public record Break(long n, String what) {}

    private EventChain() {}

    /**
     * What a chain says, and whether it holds: each body is read once.
     *
     * @param events up to the break, or all
     * @param broken the first break; empty if the chain holds
     */
    public record Walk(List<Event> events, Optional<Break> broken) {
        public Walk {
            events = List.copyOf(events);
        }
    }

    /**
     * @param bodies canonical bytes in the order of n
     * @param head hash of the last event as kept in the run's row
     * @param count number of events as kept there
     * @return empty if the chain holds
     */
    public static Optional<Break> check(UUID run, List<byte[]> bodies, String head, long count) {
        return walk(run, bodies, head, count).broken();
    }

    /**
     * @param bodies canonical bytes in the order of n
     * @param head hash of the last event as kept in the run's row
     * @param count number of events as kept there
     */
    public static Walk walk(UUID run, List<byte[]> bodies, String head, long count) {
        String prev = null;
        List<Event> events = new ArrayList<>(bodies.size());
        for (int n = 0; n < bodies.size(); n++) {
            byte[] body = bodies.get(n);
            Event event;
            try {
                event = EventCodec.read(body);
                if (!Arrays.equals(body, EventCodec.canonical(body))) {
                    return broken(events, n, "is not in canonical form");
                }
            } catch (RuntimeException e) {
                return broken(events, n, "cannot be read: " + e.getMessage());
            }
            Optional<Break> link = link(run, event, n, prev);
            if (link.isPresent()) {
                return new Walk(events, link);
            }
            events.add(event);
            prev = EventCodec.hash(body);
        }
        return new Walk(events, ended(bodies.size(), prev, head, count));
    }

    private static Walk broken(List<Event> events, int n, String what) {
        return new Walk(events, Optional.of(new Break(n, what)));
    }

    private static Optional<Break> link(UUID run, Event event, long n, @Nullable String prev) {
        if (!event.run().equals(run) || event.n() != n) {
            return Optional.of(new Break(n, "is event " + event.n() + " of run " + event.run()));
        }
        return prev == null || prev.equals(event.prev())
                ? Optional.empty()
                : Optional.of(new Break(n - 1, "does not have the hash that event " + n + " names"));
    }

    /**
     * Checks the links of a chain whose events are read already: each names the hash of the one before, the last has
     * the head. That the bytes are in canonical form, which no link depends on, only {@link #check} looks at.
     *
     * @param events read from {@code bodies}, in the same order
     */
    public static Optional<Break> links(UUID run, List<Event> events, List<byte[]> bodies, String head, long count) {
        String prev = null;
        for (int n = 0; n < events.size(); n++) {
            Event event = events.get(n);
            Optional<Break> link = link(run, event, n, prev);
            if (link.isPresent()) {
                return link;
            }
            prev = EventCodec.hash(bodies.get(n));
        }
        return ended(events.size(), prev, head, count);
    }

    private static Optional<Break> ended(int events, @Nullable String last, String head, long count) {
        if (events != count) {
            return Optional.of(new Break(events, "the run has " + events + " events, but its row counts " + count));
        }
        return head.equals(last)
                ? Optional.empty()
                : Optional.of(new Break(count - 1, "the last event does not have the hash kept in the run's row"));
    }
}
