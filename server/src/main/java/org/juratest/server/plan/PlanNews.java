package org.juratest.server.plan;

import jakarta.annotation.PostConstruct;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentSkipListSet;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.db.Listener;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.jdbc.autoconfigure.JdbcConnectionDetails;
import org.springframework.stereotype.Service;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** Tells screens what kinds of things changed in plans, jobs and rounds, whichever process changed them; they read what they show. */
@Service
class PlanNews {

  private static final Logger LOG = LoggerFactory.getLogger(PlanNews.class);
  private static final String CHANNEL = "juratest_plan";
  /** Said when anything may have changed unheard. */
  private static final String ANYTHING = "anything";
  private static final long TELL_MILLIS = 200;
  private static final long PRUNE_MILLIS = 10_000;

  private final List<SseEmitter> followers = new CopyOnWriteArrayList<>();
  private final Set<String> changed = new ConcurrentSkipListSet<>();
  private final Listener listener;
  /** Of its own: a screen that takes nothing any more must not keep what watches outputs waiting. */
  private final ScheduledExecutorService thread = Executors.newSingleThreadScheduledExecutor(r -> {
    Thread made = new Thread(r, "plan-news");
    made.setDaemon(true);
    return made;
  });

  PlanNews(JdbcConnectionDetails database) {
    this.listener = new Listener(database, CHANNEL, () -> changed.add(ANYTHING), changed::add);
  }

  /** What changed: names of tables, or {@code anything}. */
  record PlanChanged(Set<String> kinds) {
  }

  @PostConstruct
  void start() {
    listener.start();
    thread.scheduleWithFixedDelay(this::tell, TELL_MILLIS, TELL_MILLIS, TimeUnit.MILLISECONDS);
    thread.scheduleWithFixedDelay(this::prune, PRUNE_MILLIS, PRUNE_MILLIS, TimeUnit.MILLISECONDS);
  }

  @PreDestroy
  void stop() {
    listener.close();
    thread.shutdownNow();
    followers.forEach(SseEmitter::complete);
  }

  SseEmitter follow() {
    SseEmitter emitter = new SseEmitter(0L);
    followers.add(emitter);
    emitter.onCompletion(() -> followers.remove(emitter));
    emitter.onError(e -> followers.remove(emitter));
    send(emitter, SseEmitter.event().comment("here"));
    return emitter;
  }

  /** Many changes in a moment are told once. */
  private void tell() {
    if (changed.isEmpty()) {
      return;
    }
    Set<String> kinds = new TreeSet<>(changed);
    changed.removeAll(kinds);
    String text = CoreJson.mapper().writeValueAsString(new PlanChanged(kinds));
    followers.forEach(f -> send(f, SseEmitter.event().name("changed").data(text)));
  }

  /** A screen that died without a word is noticed when something is sent to it. */
  private void prune() {
    followers.forEach(f -> send(f, SseEmitter.event().comment("still there")));
  }

  private void send(SseEmitter emitter, SseEmitter.SseEventBuilder message) {
    try {
      emitter.send(message);
    } catch (IOException | RuntimeException e) {
      // Whatever it is, it must not end the telling of the others.
      LOG.debug("a screen has gone: {}", e.getMessage());
      followers.remove(emitter);
    }
  }
}
