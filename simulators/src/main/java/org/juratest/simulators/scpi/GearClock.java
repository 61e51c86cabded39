package org.juratest.simulators.scpi;

/** The time of gear, which may go faster than the clock. */
public final class GearClock {

    private double factor = 1;
    private double then;
    private long since = System.nanoTime();

    /** From now on its time goes so much faster than the clock. */
    public synchronized void factor(double now) {
        then = time();
        since = System.nanoTime();
        factor = now;
    }

    public synchronized double factor() {
        return factor;
    }

    /** Seconds since it was made. */
    public synchronized double time() {
        return then + (System.nanoTime() - since) / 1e9 * factor;
    }
}
