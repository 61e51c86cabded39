package org.juratest.simulators.family.breakers;

/**
 * A pole of a low-voltage breaker under short pulses: its magnet acts at once, its electronic unit after the delay that
 * is set, its bimetal remembers.
 */
final class PulsedPole implements Load {

    /** From the current to the parting of contacts, s. */
    private static final double OPENS = 0.011;
    /** The magnet needs this much of a cycle of the current, s. */
    private static final double ACTS = 0.006;

    private final Plant.Pole pole;
    private boolean closed = true;
    private double pulled;
    /** Of the delay of the unit, what is over. */
    private double waited;

    private double opening = Double.POSITIVE_INFINITY;

    PulsedPole(Plant.Pole pole) {
        this.pole = pole;
    }

    @Override
    public double ohms() {
        return pole.loop();
    }

    @Override
    public boolean isClosed() {
        return closed && !pole.open();
    }

    @Override
    public void closedByHand(double now) {
        closed = true;
        pulled = 0;
        waited = 0;
        opening = Double.POSITIVE_INFINITY;
    }

    @Override
    public void flows(double rms, double seconds, double now) {
        if (!closed) {
            return;
        }
        pulled = rms >= pole.magnetic() ? pulled + seconds : 0;
        if (pulled >= ACTS && Double.isInfinite(opening)) {
            opening = OPENS - ACTS;
        }
        double delay = pole.delayed(rms);
        waited = Double.isInfinite(delay) ? 0 : waited + seconds / delay;
        if (!Double.isInfinite(opening)) {
            opening -= seconds;
            closed = opening > 0;
        } else if (waited >= 1 || rms > 0 && pole.element().timeToTrip(rms, now) <= 0) {
            closed = false;
        }
        if (rms > 0) {
            pole.element().heated(rms, seconds, now + seconds);
        }
    }
}
