package org.juratest.core.method;

import java.time.Duration;
import org.jspecify.annotations.Nullable;
import org.juratest.core.port.GearException;
import org.juratest.core.run.OutputEvents;

/** Carries a stop from whoever asks for one to the thread that measures. The first request stands. */
public final class StopSignal {

    private record Request(OutputEvents.OffReason reason, String words, @Nullable GearException fault) {}

    private final Hand hand = new Hand();
    private @Nullable Request request;
    private boolean all;

    /** The hand of the person who holds the output, where it is held by hand. */
    public Hand hand() {
        return hand;
    }

    public void request(OutputEvents.OffReason reason, String words) {
        request(new Request(reason, words, null));
    }

    /** Stops because gear is gone. */
    public void request(GearException fault) {
        request(new Request(OutputEvents.OffReason.GEAR_LOST, String.valueOf(fault.getMessage()), fault));
    }

    private synchronized void request(Request first) {
        if (request == null) {
            request = first;
            notifyAll();
        }
    }

    /** Whatever would follow is not to be begun either; also where the measurement itself has ended already. */
    public synchronized void stopAll() {
        all = true;
    }

    public synchronized boolean stopsAll() {
        return all;
    }

    public synchronized boolean requested() {
        return request != null;
    }

    /** @throws StopException if a stop was requested */
    public synchronized void check() {
        if (request != null) {
            throw new StopException(request.reason, request.words, request.fault);
        }
    }

    /**
     * Switches something on, unless a stop was requested. Whoever requests one meanwhile waits until it is on, so that
     * what he switches off after it stays off.
     *
     * @throws StopException if a stop was requested; nothing was switched on
     */
    public synchronized void switchOn(Runnable on) {
        check();
        on.run();
    }

    /**
     * Waits, unless a stop comes first.
     *
     * @throws StopException if a stop was requested
     */
    public synchronized void pause(Duration duration) {
        long end = System.nanoTime() + duration.toNanos();
        try {
            for (long left = duration.toNanos(); left > 0 && request == null; left = end - System.nanoTime()) {
                wait(Math.max(1, left / 1_000_000));
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            request(OutputEvents.OffReason.SERVER_STOP, "the server is stopping");
        }
        check();
    }
}
