package org.juratest.core.bench;

import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Hand;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.run.OutputEvents;

/**
 * Watches over a run while it is busy, from its first measurement to its last, gaps included: while the lease of the
 * driving screen is valid and nobody has asked for a stop it feeds the watchdog of the gear in use, otherwise it makes
 * safe. {@link #tick} is called every {@value #CHECK_MILLIS} ms; a tick that hangs feeds nothing, and the gear then
 * goes off by its own watchdog. Its clock is monotonic.
 */
public final class LiveGuard {

    /** Time between two ticks, ms. */
    public static final long CHECK_MILLIS = 100;
    /** Time between two feedings, ns. */
    static final long FEED_NANOS = 500_000_000L;
    /** What the gear's watchdog is set to, s. */
    public static final double WATCHDOG_SECONDS = 2.0;
    /** How long a beat of the screen keeps its lease, ms. */
    public static final long LEASE_MILLIS = 2000;

    /** Reads the lease, wherever it is kept, and renews what this process holds. */
    public interface LeaseSource {
        /** @throws Exception if it cannot be read; that makes safe */
        Lease read() throws Exception;
    }

    /**
     * @param valid the driving screen was heard within its lease, and run and gear are still this process's
     * @param stopRequested who asked for a stop; absent if nobody did
     */
    public record Lease(boolean valid, @Nullable String stopRequested) {}

    /** Gear in use: to be fed once its watchdog is set. */
    private record Watched(Energising port, Gate gate, double factor, boolean fed) {}

    private final LeaseSource leases;
    private final StopSignal stop;
    private volatile @Nullable Watched watched;
    private volatile @Nullable Hand heldBy;
    private long lastFed;
    private boolean fedBefore;
    private boolean over;

    public LiveGuard(LeaseSource leases, StopSignal stop) {
        this.leases = leases;
        this.stop = stop;
    }

    /** Gear is in use from now on: it is made safe when this guard ends, but not fed yet. */
    public void watch(Energising port, Gate gate) {
        watched = new Watched(port, gate, 1, false);
    }

    /** The watchdog of the gear in use is set: it is fed from now on. */
    void feed(double factor) {
        Watched now = watched;
        if (now != null) {
            watched = new Watched(now.port, now.gate, factor, true);
        }
    }

    /** From now on the output stays on only while a hand holds it; null: by itself. */
    void heldBy(@Nullable Hand hand) {
        heldBy = hand;
    }

    /** No gear is in use any more; the next is watched when it is. */
    public void unwatch() {
        watched = null;
    }

    /**
     * Reads the lease at once, right before an output goes on; where a hand holds it, it has to be there as well.
     *
     * @throws org.juratest.core.method.StopException if it does not hold, or a stop was asked for
     */
    public void check() {
        look();
        Hand hand = heldBy;
        if (hand != null && !hand.isHeld(System.nanoTime())) {
            stop.request(OutputEvents.OffReason.STOPPED, "it was let go before it was on");
        }
        stop.check();
    }

    /** Asks for a stop where the lease does not hold; whether it does. */
    private boolean look() {
        if (stop.requested()) {
            return false;
        }
        Lease lease;
        try {
            lease = leases.read();
        } catch (Exception e) {
            stop.request(OutputEvents.OffReason.ERROR, "the lease of the screen could not be read: " + e.getMessage());
            return false;
        }
        if (lease.stopRequested() != null) {
            stop.request(OutputEvents.OffReason.STOPPED, lease.stopRequested());
            return false;
        }
        if (!lease.valid()) {
            stop.request(OutputEvents.OffReason.SCREEN_LOST, "the screen that drives the run was not heard for 2 s");
            return false;
        }
        return true;
    }

    /**
     * Checks once.
     *
     * @param nanos now, on a monotonic clock
     * @return whether the guard goes on watching
     */
    public boolean tick(long nanos) {
        if (over || !look()) {
            return end();
        }
        Hand hand = heldBy;
        if (hand != null && hand.isLost(nanos)) {
            stop.request(OutputEvents.OffReason.STOPPED, "nobody was heard to hold the output any more");
            return end();
        }
        Watched now = watched;
        if (now == null) {
            return true;
        }
        if (now.gate.isOverdue(nanos, now.factor)) {
            stop.request(OutputEvents.OffReason.TIME_LIMIT, "the output was on for longer than was announced");
            return end();
        }
        return !now.fed || (fedBefore && nanos - lastFed < FEED_NANOS) || fed(now, nanos);
    }

    private boolean fed(Watched now, long nanos) {
        try {
            now.port.feedWatchdog();
        } catch (GearException e) {
            if (watched != now) {
                // The measurement ended while it was fed: a port that is closed has no watchdog to feed.
                return true;
            }
            stop.request(e);
            return end();
        }
        lastFed = nanos;
        fedBefore = true;
        return true;
    }

    private boolean end() {
        over = true;
        Watched now = watched;
        if (now != null) {
            watched = null;
            now.gate.close();
            now.port.makeSafe();
        }
        return false;
    }
}
