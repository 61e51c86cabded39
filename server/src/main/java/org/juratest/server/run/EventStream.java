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
import java.util.function.Consumer;
import org.juratest.core.bench.Conductor;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.trace.Trace;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.db.Listener;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.jdbc.autoconfigure.JdbcConnectionDetails;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Service;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Follows runs for the screens: events of any process by LISTEN, read from the table from the last one a screen has seen, so
 * that a gap heals by itself; progress of this process's own measurements, at most ten a second.
 */
@Service
class EventStream {

  private static final Logger LOG = LoggerFactory.getLogger(EventStream.class);
  private static final long PROGRESS_NANOS = 100_000_000L;

  private final RunStore store;
  private final Clock clock;
  private final Map<UUID, List<Follower>> followers = new ConcurrentHashMap<>();
  private final Listener listener;

  EventStream(RunStore store, JdbcConnectionDetails database, Clock clock) {
    this.clock = clock;
    this.store = store;
    this.listener = new Listener(database, RunStore.CHANNEL, () -> followers.keySet().forEach(this::tell), message -> tell(UUID.fromString(message.substring(0, 36))));
  }

  /**
   * What is measured at the moment.
   *
   * @param at      when it was read, ms since 1970 by the server's clock: for measuring how fast it gets to the eye, nothing else
   * @param picture to be drawn; empty where there is nothing
   */
  record Progress(double at, Map<String, Quantity> values, List<Line> picture) {
  }

  /** A short trace. */
  record Line(String name, String xUnit, String yUnit, double[] x, double[] y) {
    static Line of(Trace trace) {
      return new Line(trace.name(), trace.xUnit().symbol(), trace.yUnit().symbol(), trace.x(), trace.y());
    }
  }

  private static final class Follower {
    private final SseEmitter emitter = new SseEmitter(0L);
    private long seen;

    Follower(long seen) {
      this.seen = seen;
    }
  }

  @PostConstruct
  void start() {
    listener.start();
  }

  @PreDestroy
  void stop() {
    listener.close();
    followers.values().forEach(list -> list.forEach(f -> f.emitter.complete()));
  }

  /** Follows a run from after event {@code seen}. */
  SseEmitter follow(UUID run, long seen) {
    store.state(run);
    Follower follower = new Follower(seen);
    // Within compute, so that no list is pruned between being found and being added to.
    List<Follower> list = followers.compute(run, (r, there) -> {
      List<Follower> grown = there == null ? new CopyOnWriteArrayList<>() : there;
      grown.add(follower);
      return grown;
    });
    Runnable gone = () -> list.remove(follower);
    follower.emitter.onCompletion(gone);
    follower.emitter.onError(e -> gone.run());
    catchUp(run, follower);
    return follower.emitter;
  }

  private void catchUp(UUID run, Follower follower) {
    synchronized (follower) {
      for (byte[] body : store.bodies(run, follower.seen)) {
        if (!send(run, follower, SseEmitter.event().id(String.valueOf(follower.seen + 1)).name("event")
            .data(new String(body, StandardCharsets.UTF_8)))) {
          return;
        }
        follower.seen++;
      }
    }
  }

  private boolean send(UUID run, Follower follower, SseEmitter.SseEventBuilder message) {
    try {
      follower.emitter.send(message);
      return true;
    } catch (IOException | IllegalStateException e) {
      // The screen has gone; when it comes back it says what it saw last.
      LOG.debug("a follower of {} has gone: {}", run, e.getMessage());
      followers.getOrDefault(run, List.of()).remove(follower);
      return false;
    }
  }

  /** A sink for what one measurement reads at the moment; lets at most ten a second through. */
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

  /** Finds out who has gone: a screen that died without a word is only noticed when something is sent to it. */
  @Scheduled(fixedDelay = 10_000)
  void prune() {
    followers.forEach((run, list) -> list.forEach(f -> send(run, f, SseEmitter.event().comment("still there"))));
    followers.keySet().forEach(run -> followers.computeIfPresent(run, (r, list) -> list.isEmpty() ? null : list));
  }

  private void show(UUID run, Conductor.Progress progress) {
    List<Follower> list = followers.getOrDefault(run, List.of());
    if (!list.isEmpty()) {
      Instant now = clock.instant();
      double at = now.getEpochSecond() * 1e3 + now.getNano() / 1e6;
      String text = CoreJson.mapper().writeValueAsString(new Progress(at, progress.values(), progress.picture().stream().map(Line::of).toList()));
      list.forEach(f -> send(run, f, SseEmitter.event().name("progress").data(text)));
    }
  }

  private void tell(UUID run) {
    followers.getOrDefault(run, List.of()).forEach(f -> catchUp(run, f));
  }
}
