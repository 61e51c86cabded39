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
import org.jspecify.annotations.Nullable;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.db.Listener;
import org.juratest.server.web.Follower;
import org.springframework.boot.jdbc.autoconfigure.JdbcConnectionDetails;
import org.springframework.stereotype.Service;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Tells screens what kinds of things changed in plans, jobs and rounds, whichever process changed them; they read what
 * they show.
 */
@Service
class PlanNews {

    private static final String CHANNEL = "juratest_plan";
    /** Said when anything may have changed unheard. */
    private static final String ANYTHING = "anything";

    private static final long TELL_MILLIS = 200;

    private final List<PastJob> screens = new CopyOnWriteArrayList<>();
    private final Set<String> changed = new ConcurrentSkipListSet<>();
    private final Listener listener;
    private final ScheduledExecutorService thread = Executors.newSingleThreadScheduledExecutor(r -> {
        Thread made = new Thread(r, "plan-news");
        made.setDaemon(true);
        return made;
    });

    PlanNews(JdbcConnectionDetails database) {
        this.listener = new Listener(database, CHANNEL, () -> changed.add(ANYTHING), changed::add);
    }

    /** What changed: names of tables, or {@code anything}. */
    record PlanChanged(Set<String> kinds) {}

    /** What a screen has not been told yet. */
    private static final class PastJob implements Follower.News {
        private final Set<String> kinds = new ConcurrentSkipListSet<>();
        private @Nullable Follower follower;
        private boolean here;

        @Override
        public void send(SseEmitter emitter) throws IOException {
            if (!here) {
                here = true;
                emitter.send(SseEmitter.event().comment("here"));
            }
            Set<String> now = new TreeSet<>(kinds);
            kinds.removeAll(now);
            if (!now.isEmpty()) {
                emitter.send(SseEmitter.event()
                        .name("changed")
                        .data(CoreJson.mapper().writeValueAsString(new PlanChanged(now))));
            }
        }
    }

    @PostConstruct
    void start() {
        listener.start();
        thread.scheduleWithFixedDelay(this::tell, TELL_MILLIS, TELL_MILLIS, TimeUnit.MILLISECONDS);
    }

    @PreDestroy
    void stop() {
        listener.close();
        thread.shutdownNow();
        screens.forEach(s -> {
            if (s.follower != null) {
                s.follower.end();
            }
        });
    }

    SseEmitter follow() {
        PastJob told = new PastJob();
        Follower follower = Follower.start(told, () -> screens.remove(told));
        told.follower = follower;
        screens.add(told);
        follower.wake();
        return follower.emitter();
    }

    /** Many changes in a moment are told once. */
    private void tell() {
        if (changed.isEmpty()) {
            return;
        }
        Set<String> kinds = new TreeSet<>(changed);
        changed.removeAll(kinds);
        screens.forEach(s -> {
            s.kinds.addAll(kinds);
            if (s.follower != null) {
                s.follower.wake();
            }
        });
    }
}
