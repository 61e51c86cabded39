package org.juratest.simulators.family.breakers;

import java.util.SplittableRandom;

/**
 * A phase of a recloser: adds up how far its curve has run with the current it has, opens, closes again by itself as
 * often as it is made to, then stays open.
 */
final class RecloserPhase implements Load {

    /** Leads and contacts, Ohm. */
    private static final double OHMS = 0.0012;
    /** Of a series coil: the smaller its current, the more turns it has; V. */
    private static final double COIL_VOLTS = 0.35;
    /** A rest after which its first operation may stick, s. */
    private static final double REST = 3600;

    private static final double LEAST_MULTIPLE = 1.35;

    private final Reclosers.Recloser recloser;
    private Reclosers.Phase truth;
    private final SplittableRandom random;
    private boolean closed = true;
    private boolean locked;
    private double run;
    private double openFor;
    private int done;
    private double scatter = 1;
    private double lastFlow = -1e9;
    private boolean rested = true;
    private int counter;

    RecloserPhase(Reclosers.Recloser recloser, Reclosers.Phase truth, long seed) {
        this.recloser = recloser;
        this.truth = truth;
        this.random = new SplittableRandom(seed);
        this.counter = 40 + random.nextInt(300);
    }

    Reclosers.Phase truth() {
        return truth;
    }

    void becomes(Reclosers.Phase now) {
        truth = now;
    }

    /** Operations so far, as its counter shows. */
    int counter() {
        return counter;
    }

    @Override
    public double ohms() {
        return OHMS + (recloser.control().equals("hydraulic") ? COIL_VOLTS / recloser.minimumTrip() : 0);
    }

    @Override
    public boolean isClosed() {
        return closed;
    }

    @Override
    public double past() {
        return truth.past();
    }

    @Override
    public void closedByHand(double now) {
        double idle = now - lastFlow;
        done = Math.max(0, done - (int) (idle / recloser.reset()));
        rested |= idle > REST;
        closed = true;
        locked = false;
        run = 0;
        openFor = 0;
    }

    @Override
    public void flows(double rms, double seconds, double now) {
        if (!closed) {
            openFor += seconds;
            if (!locked
                    && openFor
                            >= recloser.open()
                                    .get(Math.min(done, recloser.open().size()) - 1)) {
                closed = true;
                run = 0;
            }
            return;
        }
        if (rms > 0) {
            lastFlow = now;
        }
        double multiple = rms / (recloser.minimumTrip() * truth.pickUp());
        if (multiple <= 1) {
            run = Math.max(0, run - seconds / 10);
            return;
        }
        // Once it moves it does not stop half way: just above its least current it is as quick as at LEAST_MULTIPLE.
        run += seconds / (scatter * time(Math.max(LEAST_MULTIPLE, multiple)));
        if (run >= 1) {
            closed = false;
            openFor = 0;
            done++;
            counter++;
            rested = false;
            locked = done >= recloser.operations();
            scatter = 1 + 0.012 * (random.nextDouble() - 0.5);
        }
    }

    /** How long it takes at a multiple of its least current: what its maker drew the curves by. */
    private double time(double multiple) {
        boolean fast = done < recloser.fast();
        double designed = fast ? recloser.fastDial() * fast(multiple) : recloser.delayedDial() * delayed(multiple);
        return designed * (fast ? truth.fastSlowness() : truth.delayedSlowness()) + (rested ? truth.sticks() : 0);
    }

    /** The maker's fast curve, s. */
    static double fast(double multiple) {
        return 0.13 / (Math.pow(multiple, 1.6) - 1) + 0.032;
    }

    /** The maker's delayed curve at a dial of 1, s. */
    static double delayed(double multiple) {
        return 19.61 / (Math.pow(multiple, 2) - 1) + 0.491;
    }
}
