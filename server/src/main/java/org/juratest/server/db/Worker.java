package org.juratest.server.db;

import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.transaction.TransactionException;

/**
 * A thread of its own that looks again and again whether there is something to do in the database. What fails is told
 * and tried again at the next look.
 */
public final class Worker {

    /** How long the end of the server waits for what is being done, s. */
    private static final long ENDING_SECONDS = 10;

    private static final Logger LOG = LoggerFactory.getLogger(Worker.class);

    private final String name;
    private final Runnable work;
    private final ScheduledExecutorService thread;

    /** @param name of the thread, and of what it does */
    public Worker(String name, Runnable work) {
        this.name = name;
        this.work = work;
        this.thread = Executors.newSingleThreadScheduledExecutor(r -> {
            Thread made = new Thread(r, name);
            made.setDaemon(true);
            return made;
        });
    }

    /** Begins to look, so many milliseconds after each look. */
    public void start(long millis) {
        thread.scheduleWithFixedDelay(this::look, millis, millis, TimeUnit.MILLISECONDS);
    }

    /** Looks as soon as it can. */
    public void now() {
        thread.execute(this::look);
    }

    private void look() {
        try {
            work.run();
        } catch (DataAccessException | TransactionException e) {
            LOG.warn("{} found no database: {}", name, e.getMessage());
        } catch (RuntimeException e) {
            // Told, and tried again at the next look: an exception would end all looks.
            LOG.error("{} could not be done", name, e);
        }
    }

    /** Whether it has been told to end: what it does in portions ends with the one at hand. */
    public boolean isEnding() {
        return thread.isShutdown();
    }

    /** Ends with the transaction at hand, before connections are closed under it. */
    public void stop() {
        thread.shutdown();
        try {
            if (!thread.awaitTermination(ENDING_SECONDS, TimeUnit.SECONDS)) {
                thread.shutdownNow();
            }
        } catch (InterruptedException e) {
            thread.shutdownNow();
            Thread.currentThread().interrupt();
        }
    }
}
