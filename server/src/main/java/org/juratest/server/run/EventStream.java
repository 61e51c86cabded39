package org.juratest.server.run;

import jakarta.annotation.PostConstruct;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.Conductor;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.trace.Trace;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.db.Listener;
import org.juratest.server.web.Follower;
import org.springframework.boot.jdbc.autoconfigure.JdbcConnectionDetails;
import org.springframework.stereotype.Service;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Follows runs for the screens: events of any process by LISTEN, read from the table from the last one a screen has
 * seen, so that a gap heals by itself; progress of this process's own measurements, at most ten a second, of which a
 * slow screen gets the latest. Who measures and who listens only wakes the followers; each reads and sends on a thread
 * of its own.
 */
@Service
class EventStream {

    private static final long PROGRESS_NANOS = 100_000_000L;

    private final RunStore store;
    private final Clock clock;
    private final Map<UUID, List<Seen>> followers = new ConcurrentHashMap<>();
    private final Listener listener;

    EventStream(RunStore store, JdbcConnectionDetails database, Clock clock) {
        this.clock = clock;
        this.store = store;
        this.listener = new Listener(
                database,
                RunStore.CHANNEL,
                () -> followers.keySet().forEach(this::tell),
                message -> tell(UUID.fromString(message.substring(0, 36))));
    }

    /**
     * What is measured at the moment.
     *
     * @param at when it was read, ms since 1970 by the server's clock: for measuring how fast it gets to the eye,
     *     nothing else
     * @param picture to be drawn; empty where there is nothing
     */
    record Progress(double at, Map<String, Quantity> values, List<Line> picture) {}

    /** A short trace. */
    record Line(String name, String xUnit, String yUnit, double[] x, double[] y) {
        static Line of(Trace trace) {
            return new Line(trace.name(), trace.xUnit().symbol(), trace.yUnit().symbol(), trace.x(), trace.y());
        }
    }

    /** How far a screen has followed a run, and the latest progress it was not told yet. */
    private final class Seen implements Follower.News {
        private final UUID run;
        private final AtomicReference<@Nullable Progress> latest = new AtomicReference<>();
        private long n;
        private @Nullable Follower follower;

        Seen(UUID run, long n) {
            this.run = run;
            this.n = n;
        }

        @Override
        public void send(SseEmitter emitter) throws IOException {
            for (byte[] body : store.bodies(run, n)) {
                emitter.send(SseEmitter.event()
                        .id(String.valueOf(n + 1))
                        .name("event")
                        .data(new String(body, StandardCharsets.UTF_8)));
                n++;
            }
            Progress progress = latest.getAndSet(null);
            if (progress != null) {
                emitter.send(SseEmitter.event()
                        .name("progress")
                        .data(CoreJson.mapper().writeValueAsString(progress)));
            }
        }

        void wake() {
            Follower there = follower;
            if (there != null) {
                there.wake();
            }
        }
    }

    @PostConstruct
    void start() {
        listener.start();
    }

    @PreDestroy
    void stop() {
        listener.close();
        followers
                .values()
                .forEach(list -> list.forEach(s -> {
                    if (s.follower != null) {
                        s.follower.end();
                    }
                }));
    }

    /** Follows a run from after event {@code seen}. */
    SseEmitter follow(UUID run, long seen) {
        store.state(run);
        Seen screen = new Seen(run, seen);
        // Within compute, so that no list is pruned between being found and being added to.
        followers.compute(run, (r, there) -> {
            List<Seen> grown = there == null ? new CopyOnWriteArrayList<>() : there;
            grown.add(screen);
            return grown;
        });
        try {
            Follower follower = Follower.start(screen, () -> gone(screen));
            screen.follower = follower;
            follower.wake();
            return follower.emitter();
        } catch (RuntimeException e) {
            gone(screen);
            throw e;
        }
    }

    private void gone(Seen screen) {
        followers.computeIfPresent(screen.run, (r, list) -> {
            list.remove(screen);
            return list.isEmpty() ? null : list;
        });
    }

    /** A sink for what one measurement reads at the moment; lets at most ten a second through, and waits for nobody. */
    Consumer<Conductor.Progress> progress(UUID run) {
        long[] last = {System.nanoTime() - PROGRESS_NANOS};
        return values -> {
            long now = System.nanoTime();
            if (now - last[0] >= PROGRESS_NANOS) {
                last[0] = now;
                show(run, values);
            }
        };
    }

    private void show(UUID run, Conductor.Progress progress) {
        List<Seen> list = followers.getOrDefault(run, List.of());
        if (!list.isEmpty()) {
            Instant now = clock.instant();
            Progress shown = new Progress(
                    now.getEpochSecond() * 1e3 + now.getNano() / 1e6,
                    progress.values(),
                    progress.picture().stream().map(Line::of).toList());
            list.forEach(s -> {
                s.latest.set(shown);
                s.wake();
            });
        }
    }

    private void tell(UUID run) {
        followers.getOrDefault(run, List.of()).forEach(Seen::wake);
    }
}
