package org.juratest.core.family.breakers;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.function.DoubleUnaryOperator;

/** Currents of known figures, put together from pieces. */
final class MadeCurrent {

    private final double rate;
    private final double frequency;
    private final Random random;
    private double noise;
    private final List<Double> samples = new ArrayList<>();

    MadeCurrent(double rate, double frequency, long seed) {
        this.rate = rate;
        this.frequency = frequency;
        this.random = new Random(seed);
    }

    /** rms of the noise on everything that comes now, A. */
    MadeCurrent noise(double rms) {
        noise = rms;
        return this;
    }

    /** s so far. */
    double now() {
        return samples.size() / rate;
    }

    /** Nothing flows for some time, s. */
    MadeCurrent pause(double seconds) {
        return piece(seconds, t -> 0);
    }

    /** A sine whose rms is a function of the time since it began, from a point on wave on, radians. */
    MadeCurrent sine(double seconds, double from, DoubleUnaryOperator rms) {
        return piece(seconds, t -> rms.applyAsDouble(t) * Math.sqrt(2) * Math.sin(from + 2 * Math.PI * frequency * t));
    }

    MadeCurrent piece(double seconds, DoubleUnaryOperator current) {
        double begin = now();
        int n = (int) Math.round((begin + seconds) * rate) - samples.size();
        for (int i = 0; i < n; i++) {
            samples.add(current.applyAsDouble(i / rate) + noise * random.nextGaussian());
        }
        return this;
    }

    double[] time() {
        double[] time = new double[samples.size()];
        for (int i = 0; i < time.length; i++) {
            time[i] = i / rate;
        }
        return time;
    }

    double[] value() {
        return samples.stream().mapToDouble(Double::doubleValue).toArray();
    }
}
