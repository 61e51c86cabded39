package org.juratest.server.web;

import java.io.IOException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.juratest.core.run.Refusal;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * A screen that follows something by server-sent events, on a thread of its own: whoever has news wakes it and goes on.
 * What it is told is what is new when it gets to it, so a screen that takes nothing misses what has been passed by
 * meanwhile and keeps nobody waiting.
 */
public final class Follower {

    private static final Logger LOG = LoggerFactory.getLogger(Follower.class);
    /** Screens a process tells at the same time. */
    private static final int MOST = 300;
    /** A screen that died without a word is only noticed when something is sent to it. */
    private static final long STILL_THERE_SECONDS = 10;

    private static final Semaphore PLACES = new Semaphore(MOST);
    private static final ExecutorService THREADS = Executors.newCachedThreadPool(task -> {
        Thread thread = new Thread(task, "news");
        thread.setDaemon(true);
        return thread;
    });

    /** Sends what is new. */
    public interface News {
        void send(SseEmitter emitter) throws IOException;
    }

    private final SseEmitter emitter = new SseEmitter(0L);
    private final News news;
    private final Runnable gone;
    private boolean awake = true;
    private boolean over;

    private Follower(News news, Runnable gone) {
        this.news = news;
        this.gone = gone;
    }

    /**
     * Begins to follow.
     *
     * @param gone called once when the screen has gone
     * @throws Refusal if too many follow already
     */
    public static Follower start(News news, Runnable gone) {
        if (!PLACES.tryAcquire()) {
            throw new Refusal(
                    "too-many-screens",
                    "Too many screens follow this server at the moment. Close some, or try again in a moment.");
        }
        Follower follower = new Follower(news, gone);
        follower.emitter.onCompletion(follower::end);
        follower.emitter.onError(e -> follower.end());
        CompletableFuture.runAsync(follower::follow, THREADS).whenComplete((done, failed) -> PLACES.release());
        return follower;
    }

    public SseEmitter emitter() {
        return emitter;
    }

    /** There is something new; returns at once. */
    public synchronized void wake() {
        awake = true;
        notifyAll();
    }

    /** Follows no longer. */
    public synchronized void end() {
        over = true;
        notifyAll();
    }

    private void follow() {
        try {
            for (Boolean woken = waited(); woken != null; woken = waited()) {
                if (woken) {
                    news.send(emitter);
                } else {
                    emitter.send(SseEmitter.event().comment("still there"));
                }
            }
            emitter.complete();
        } catch (IOException | RuntimeException e) {
            // The screen has gone, or the database: when it comes back it says what it saw last.
            LOG.debug("a screen is told nothing any more: {}", e.getMessage());
            emitter.completeWithError(e);
        } finally {
            end();
            gone.run();
        }
    }

    /**
     * Waits for news: whether there are any, false where the time for a sign of life has come; absent where it is over.
     */
    private synchronized @org.jspecify.annotations.Nullable Boolean waited() {
        long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(STILL_THERE_SECONDS);
        while (!awake && !over && System.nanoTime() < end) {
            try {
                wait(Math.max(1, (end - System.nanoTime()) / 1_000_000));
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return null;
            }
        }
        boolean woken = awake;
        awake = false;
        return over ? null : (Boolean) woken;
    }
}
