package org.juratest.server.run;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Consequences;
import org.juratest.core.run.Deriving;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.Output;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Rules;
import org.juratest.core.run.RunState;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.db.UuidV7;

/** New events at the end of a run, chained and folded, not stored yet. */
public final class Tail {

    /** An event with its canonical bytes and their hash. */
    record Made(Event event, byte[] body, String hash) {}

    private final UUID run;
    private final String origin;
    private final Deriving deriving;
    private final List<Made> made = new ArrayList<>();
    private RunState state;
    private @Nullable String head;
    private boolean changed;

    /**
     * @param head hash of the last event of {@code before}; absent if it has none
     * @param origin id of this installation
     */
    public Tail(UUID run, RunState before, @Nullable String head, String origin) {
        this(run, before, head, origin, Deriving.NONE);
    }

    /**
     * Likewise.
     *
     * @param deriving computes what steps derive by a method
     */
    public Tail(UUID run, RunState before, @Nullable String head, String origin, Deriving deriving) {
        this.run = run;
        this.deriving = deriving;
        this.state = before;
        this.head = head;
        this.origin = origin;
    }

    /**
     * Adds one event, if it fits what has happened. What changes anything that an armed step rests on is followed by
     * its falling back to safe, whoever adds it.
     *
     * @throws org.juratest.core.run.Refusal if it does not fit
     */
    public void add(Actor by, EventData data, Instant when) {
        boolean armed = state.output().mode() == Output.Mode.ARMED;
        if (state.isOpened()) {
            Rules.admit(state, by, data);
        }
        append(by, data, when);
        String change = Rules.disarms(data);
        if (armed && change != null && state.output().mode() == Output.Mode.ARMED) {
            append(Actor.process(origin), new OutputEvents.Disarmed(change + " after the step was armed"), when);
        }
    }

    private void append(Actor by, EventData data, Instant when) {
        // Time never runs back within a run, whatever is done to the server's clock.
        Instant last = state.events().isEmpty()
                ? Instant.MIN
                : state.events().get(state.events().size() - 1).at();
        Instant now = when.truncatedTo(ChronoUnit.MICROS);
        Instant at = now.isBefore(last) ? last : now;
        Event event = new Event(UuidV7.at(at), run, state.n() + 1, head, at, by, origin, data);
        byte[] body = EventCodec.write(event);
        state = state.after(event);
        head = EventCodec.hash(body);
        made.add(new Made(event, body, head));
        changed |= Consequences.canFollow(data);
    }

    /** Adds what follows by itself from the events added since the last time, until nothing does. */
    public void follow(Instant when) {
        if (!changed) {
            return;
        }
        changed = false;
        for (List<EventData> next = Consequences.of(state, UuidV7::now, deriving);
                !next.isEmpty();
                next = Consequences.of(state, UuidV7::now, deriving)) {
            next.forEach(data -> append(Actor.process(origin), data, when));
        }
    }

    public RunState state() {
        return state;
    }

    List<Made> made() {
        return made;
    }

    @Nullable
    String head() {
        return head;
    }

    boolean isEmpty() {
        return made.isEmpty();
    }
}
