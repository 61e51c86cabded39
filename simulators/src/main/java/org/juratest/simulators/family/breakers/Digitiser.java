package org.juratest.simulators.family.breakers;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.SplittableRandom;

/**
 * The current between the leads, sample by sample: it begins on a point of the wave with its direct part, sinks a
 * little while it flows because nothing regulates it, is interrupted at a zero after the contacts parted, and comes
 * again when they close.
 */
final class Digitiser {

    /** Samples a second. */
    static final double RATE = 4800;

    private static final double LINE = 50;
    /** The loop is inductive: the direct part dies away with this constant, s. */
    private static final double DIES = 0.012;
    /** To this share an unregulated current sinks, with this constant, s. */
    private static final double SINKS_TO = 0.9;

    private static final double SINKS = 0.8;
    private static final int MOST = 3_000_000;
    private static final int PER_CYCLE = (int) (RATE / LINE);

    /** What rms is to flow at a time, A. */
    interface Wanted {
        double at(double seconds);
    }

    private final SplittableRandom random;
    private final Load load;
    private final Wanted wanted;
    private final double most;
    private final boolean sinks;
    private final double noise;
    private final double begun;
    private float[] samples = new float[4096];
    private int count;
    private double angle;
    private double since;
    private boolean flowing;
    private double ending;
    private double last;
    private final double[] squares = new double[PER_CYCLE];
    private double sum;
    private double whole;
    private double flowed;

    /**
     * @param degrees point on wave at which it is first switched on
     * @param most what the gear can drive through the load, A rms
     * @param range of the gear, A: its noise goes with it
     * @param begun the gear's time
     */
    Digitiser(
            Load load,
            Wanted wanted,
            double degrees,
            double most,
            double range,
            boolean sinks,
            double begun,
            SplittableRandom random) {
        this.load = load;
        this.wanted = wanted;
        this.most = most;
        this.sinks = sinks;
        this.noise = 0.0006 * range;
        this.begun = begun;
        this.random = random;
        this.angle = Math.toRadians(degrees);
        this.flowing = load.isClosed();
    }

    /** s so far. */
    double seconds() {
        return count / RATE;
    }

    /** True rms of the last cycle, A. */
    double rms() {
        return Math.sqrt(Math.max(0, sum) / PER_CYCLE);
    }

    /** True rms of all while it flowed, A. */
    double mean() {
        return flowed == 0 ? 0 : Math.sqrt(whole / flowed);
    }

    boolean isFull() {
        return count >= MOST;
    }

    /** Goes on to a time since the beginning, s. */
    void to(double seconds) {
        int until = (int) Math.min(MOST, seconds * RATE);
        while (count < until) {
            next();
        }
    }

    private void next() {
        double t = count / RATE;
        double step = 1 / RATE;
        double level = Math.min(most, wanted.at(t));
        if (sinks) {
            level *= SINKS_TO + (1 - SINKS_TO) * Math.exp(-since / SINKS);
        }
        boolean closed = load.isClosed();
        if (closed && !flowing) {
            flowing = true;
            since = 0;
            ending = 0;
            angle = random.nextDouble() * 2 * Math.PI;
        }
        if (closed) {
            // What flows past it is as much as when it opened, each time anew.
            ending = 0;
        }
        double current = 0;
        if (flowing) {
            if (!closed && ending == 0 && load.past() > 0) {
                ending = level * load.past();
            }
            double rms = !closed && load.past() > 0 ? ending : level;
            current = rms
                    * Math.sqrt(2)
                    * (Math.sin(angle + 2 * Math.PI * LINE * since) - Math.sin(angle) * Math.exp(-since / DIES));
            if (!closed && load.past() == 0 && (current == 0 || Math.signum(current) != Math.signum(last))) {
                flowing = false;
                current = 0;
            }
            since += step;
        }
        load.flows(closed && flowing ? level : 0, step, begun + t);
        last = current;
        double seen = current + noise * (random.nextDouble() + random.nextDouble() - 1);
        keep((float) seen);
        int slot = count % PER_CYCLE;
        sum += seen * seen - squares[slot];
        squares[slot] = seen * seen;
        if (flowing) {
            whole += seen * seen;
            flowed++;
        }
        count++;
    }

    private void keep(float value) {
        if (count == samples.length) {
            samples = Arrays.copyOf(samples, 2 * samples.length);
        }
        samples[count] = value;
    }

    /** All samples, 32-bit numbers, high byte first. */
    byte[] bytes() {
        ByteBuffer buffer = ByteBuffer.allocate(4 * count).order(ByteOrder.BIG_ENDIAN);
        for (int i = 0; i < count; i++) {
            buffer.putFloat(samples[i]);
        }
        return buffer.array();
    }
}
