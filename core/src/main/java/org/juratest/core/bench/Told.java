package org.juratest.core.bench;

import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.function.Supplier;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/** A journal in memory: what is written goes into a list for somebody else to store. */
class Told implements Journal {

    /** Stands for the hash of the event before, where nothing is chained yet. */
    private static final String UNCHAINED = "00";

    private final Supplier<UUID> ids;
    private final List<EventData> events = new ArrayList<>();
    private final FileAttempts.Keeper keeper;
    private RunState state;

    Told(RunState state, Supplier<UUID> ids, FileAttempts.Keeper keeper) {
        this.state = state;
        this.keeper = keeper;
        this.ids = ids;
    }

    List<EventData> events() {
        return events;
    }

    @Override
    public RunState append(EventData... more) {
        for (EventData data : more) {
            Event last = state.events().get(state.events().size() - 1);
            state = state.after(new Event(
                    ids.get(), last.run(), state.n() + 1, UNCHAINED, last.at(), Actor.process("told"), "told", data));
            events.add(data);
        }
        return state;
    }

    @Override
    public RunState state() {
        return state;
    }

    @Override
    public String keep(Trace trace) {
        return keeper.keep(trace);
    }

    @Override
    public String keep(double[] samples, double rate) {
        throw new UnsupportedOperationException("nothing is heard here");
    }

    @Override
    public String keep(byte[] bytes, String mediaType) {
        return keeper.keep(bytes, mediaType);
    }
}
