package org.juratest.server.run;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.server.TestServer;
import org.springframework.jdbc.core.simple.JdbcClient;

/** The rows of a run made event by event are those of the whole, for every beginning of every run there is. */
class RunRowsTest {

    @Test
    void rowsTakenOverAreThoseMadeAnew() {
        try (TestServer server = TestServer.start()) {
            RunStore store = server.context().getBean(RunStore.class);
            List<UUID> runs = server.context()
                    .getBean(JdbcClient.class)
                    .sql("SELECT id FROM run ORDER BY id")
                    .query(UUID.class)
                    .list();
            assertTrue(runs.size() > 2, "there are runs to look at");
            Set<String> kinds = new TreeSet<>();
            for (UUID run : runs) {
                List<Event> events = new ArrayList<>(store.events(run, -1));
                RunState state = RunState.EMPTY.after(events.get(0));
                RunRows rows = RunRows.of(state);
                for (Event event : events.subList(1, events.size())) {
                    state = state.after(event);
                    rows = RunRows.of(rows, List.of(event.data()), state);
                    kinds.add(event.data().type());
                    assertEquals(RunRows.of(state), rows, () -> "after " + event);
                    // A note in between, as a person writes one at any time.
                    EventData note = new StepEvents.Note("so far");
                    RunState noted = state.after(new Event(
                            UUID.randomUUID(),
                            run,
                            state.n() + 1,
                            event.prev() == null ? "0".repeat(64) : event.prev(),
                            Instant.now().truncatedTo(ChronoUnit.MICROS),
                            Actor.person("tavel"),
                            "here",
                            note));
                    assertEquals(RunRows.of(noted), RunRows.of(rows, List.of(note), noted));
                }
            }
            assertTrue(
                    kinds.containsAll(Set.of("energised", "outputOff", "readingTaken", "attemptClosed", "finished")),
                    kinds.toString());
        }
    }
}
