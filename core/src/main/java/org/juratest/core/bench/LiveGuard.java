package org.juratest.core.bench;

import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.run.OutputEvents;
import org.jspecify.annotations.Nullable;

/**
 * Watches over a live output: while the lease of the driving screen is valid it feeds the gear's watchdog, otherwise it
 * makes safe. {@link #tick} is called every {@value #CHECK_MILLIS} ms; a tick that hangs feeds nothing, and the gear then
 * goes off by its own watchdog.
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

  /** Reads the lease, wherever it is kept. */
  public interface LeaseSource {
    /** @throws Exception if it cannot be read; that makes safe */
    Lease read() throws Exception;
  }

  /**
   * @param valid         the driving screen was heard within its lease, and the run is still this process's
   * @param stopRequested who asked for a stop; absent if nobody did
   */
  public record Lease(boolean valid, @Nullable String stopRequested) {
  }

  private final LeaseSource leases;
  private final Energising port;
  private final StopSignal stop;
  private long lastFed;
  private boolean fedBefore;
  private boolean over;

  public LiveGuard(LeaseSource leases, Energising port, StopSignal stop) {
    this.leases = leases;
    this.port = port;
    this.stop = stop;
  }

  /**
   * Checks once.
   *
   * @param nanos now, on a monotonic clock
   * @return whether the guard goes on watching
   */
  public boolean tick(long nanos) {
    if (over || stop.requested()) {
      return end();
    }
    Lease lease;
    try {
      lease = leases.read();
    } catch (Exception e) {
      return safe(OutputEvents.OffReason.ERROR, "the lease of the screen could not be read: " + e.getMessage());
    }
    if (lease.stopRequested() != null) {
      return safe(OutputEvents.OffReason.STOPPED, lease.stopRequested());
    }
    if (!lease.valid()) {
      return safe(OutputEvents.OffReason.SCREEN_LOST, "the screen that drives the run was not heard for 2 s");
    }
    if (!fedBefore || nanos - lastFed >= FEED_NANOS) {
      try {
        port.feedWatchdog();
      } catch (GearException e) {
        stop.request(e);
        return end();
      }
      lastFed = nanos;
      fedBefore = true;
    }
    return true;
  }

  private boolean safe(OutputEvents.OffReason reason, String words) {
    stop.request(reason, words);
    return end();
  }

  private boolean end() {
    if (!over) {
      over = true;
      port.makeSafe();
    }
    return false;
  }
}
