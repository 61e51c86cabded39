package org.juratest.server.run;

import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.StepEvents;

/** Confirmations that make safe, against two clocks that the test sets. */
class ConfirmationsTest {

    private static final Instant BEGIN = Instant.parse("2026-11-27T08:00:00Z");
    /** Near the largest number there is: a monotonic clock may pass it. */
    private final AtomicLong steady = new AtomicLong(Long.MAX_VALUE - 200_000_000L);

    private final Confirmations confirmations = new Confirmations(steady::get);

    private static List<Event> with(UUID run, Instant... confirmed) {
        List<Event> events = new ArrayList<>();
        events.add(event(run, 0, BEGIN.minusSeconds(60), new StepEvents.Note("opened")));
        for (Instant at : confirmed) {
            events.add(event(run, events.size(), at, new StepEvents.HoldReleased("isolate", "open")));
        }
        return events;
    }

    private static Event event(UUID run, long n, Instant at, EventData data) {
        return new Event(
                UUID.randomUUID(), run, n, n == 0 ? null : "0".repeat(64), at, Actor.person("tavel"), "here", data);
    }

    @ParameterizedTest
    @CsvSource({"0,299", "-3600000,299", "3600000,299", "-3600000,0", "3600000,0"})
    void twoThatComeTooSoonAreRefusedWhateverTheClockWasSetTo(long setByMillis, long passedMillis) {
        UUID run = UUID.randomUUID();
        confirmations.confirmed(with(run), BEGIN);
        steady.addAndGet(passedMillis * 1_000_000);
        Instant now = BEGIN.plusMillis(passedMillis + setByMillis);
        Refusal refused = assertThrows(Refusal.class, () -> confirmations.confirmed(with(run, BEGIN), now));
        assertEquals("too-quick", refused.code());
        assertTrue(String.valueOf(refused.getMessage()).contains("300 ms"), refused.getMessage());
    }

    @Test
    void thoseThatAreReadAreTakenAlsoOfAnotherRunAtTheSameTime() {
        UUID run = UUID.randomUUID();
        UUID other = UUID.randomUUID();
        confirmations.confirmed(with(run), BEGIN);
        confirmations.confirmed(with(other), BEGIN);
        steady.addAndGet(300_000_000L);
        assertDoesNotThrow(() -> confirmations.confirmed(with(run, BEGIN), BEGIN.plusMillis(300)));
    }

    @Test
    void oneThatAnotherProcessTookCountsByItsTime() {
        UUID run = UUID.randomUUID();
        List<Event> elsewhere = with(run, BEGIN);
        assertThrows(Refusal.class, () -> confirmations.confirmed(elsewhere, BEGIN.plusMillis(120)));
        assertDoesNotThrow(() -> confirmations.confirmed(elsewhere, BEGIN.plusMillis(300)));
    }

    @Test
    void aRefusedOneDoesNotPutTheNextOff() {
        UUID run = UUID.randomUUID();
        confirmations.confirmed(with(run), BEGIN);
        for (long at = 50; at < 300; at += 50) {
            steady.addAndGet(50_000_000L);
            Instant now = BEGIN.plusMillis(at);
            assertThrows(Refusal.class, () -> confirmations.confirmed(with(run, BEGIN), now));
        }
        steady.addAndGet(50_000_000L);
        assertDoesNotThrow(() -> confirmations.confirmed(with(run, BEGIN), BEGIN.plusMillis(300)));
    }
}
