package org.juratest.core.signal;

import java.util.Arrays;
import java.util.Random;
import java.util.function.DoubleUnaryOperator;

/** Signals in closed form. */
final class Made {

    static final double RATE = 48_000;

    private Made() {}

    static double[] samples(double seconds, double rate, DoubleUnaryOperator of) {
        double[] samples = new double[(int) Math.round(seconds * rate)];
        for (int n = 0; n < samples.length; n++) {
            samples[n] = of.applyAsDouble(n / rate);
        }
        return samples;
    }

    static DoubleUnaryOperator sine(double hertz, double amplitude, double phase) {
        return t -> amplitude * Math.sin(2 * Math.PI * hertz * t + phase);
    }

    /** Noise of a root mean square, exact over its samples. */
    static double[] noise(int count, double rms, long seed) {
        Random random = new Random(seed);
        double[] noise = new double[count];
        double sum = 0;
        for (int n = 0; n < count; n++) {
            noise[n] = random.nextGaussian();
            sum += noise[n] * noise[n];
        }
        for (int n = 0; n < count; n++) {
            noise[n] *= rms / Math.sqrt(sum / count);
        }
        return noise;
    }

    static double[] plus(double[] a, double[] b) {
        double[] sum = a.clone();
        for (int n = 0; n < sum.length; n++) {
            sum[n] += b[n];
        }
        return sum;
    }

    /** A carrier whose frequency is the derivative of a phase given in closed form, turns by time in s. */
    static Iq carrier(double seconds, double rate, double amplitude, DoubleUnaryOperator turns) {
        return new Iq(
                samples(seconds, rate, t -> amplitude * Math.cos(2 * Math.PI * turns.applyAsDouble(t))),
                samples(seconds, rate, t -> amplitude * Math.sin(2 * Math.PI * turns.applyAsDouble(t))),
                rate);
    }

    /** Turns of a tone of a deviation (peak, Hz). */
    static DoubleUnaryOperator tone(double hertz, double deviation, double phase) {
        return t -> deviation / (2 * Math.PI * hertz) * (Math.sin(2 * Math.PI * hertz * t + phase) - Math.sin(phase));
    }

    /** With complex noise of a power, exact. */
    static Iq noisy(Iq iq, double power, long seed) {
        double each = Math.sqrt(power / 2);
        return new Iq(
                plus(iq.i(), noise(iq.length(), each, seed)),
                plus(iq.q(), noise(iq.length(), each, seed + 1)),
                iq.rate());
    }

    /**
     * Four-level keying.
     *
     * @param level deviation of the inner symbols, Hz
     * @param pulse by time in symbols, 1 at 0 and 0 at every other whole number once decided as the shaping wants
     * @param reach symbols on each side that a pulse lasts
     * @param fractions of a symbol by which the first stands late
     * @param pace symbols come this much faster, 1 = nominal
     */
    static Iq keyed(
            boolean[] bits,
            double level,
            DoubleUnaryOperator pulse,
            int reach,
            double rate,
            double offset,
            double late,
            double pace) {
        int symbols = bits.length / 2;
        double period = rate / Fsk4Analysis.SYMBOL_RATE / pace;
        int count = (int) (symbols * period);
        int finer = 8;
        double[] i = new double[count];
        double[] q = new double[count];
        double phase = 0;
        for (int n = 0; n < count; n++) {
            i[n] = 0.5 * Math.cos(phase);
            q[n] = 0.5 * Math.sin(phase);
            for (int f = 0; f < finer; f++) {
                double at = (n + (f + 0.5) / finer) / period - 0.5 - late;
                double hertz = offset;
                for (int k = Math.max(0, (int) Math.ceil(at - reach));
                        k <= Math.min(symbols - 1, (int) Math.floor(at + reach));
                        k++) {
                    int symbol = (bits[2 * k] ? -1 : 1) * (bits[2 * k + 1] ? 3 : 1);
                    hertz += level * symbol * pulse.applyAsDouble(at - k);
                }
                phase += 2 * Math.PI * hertz / rate / finer;
            }
        }
        return new Iq(i, q, rate);
    }

    static boolean[] prbs(int count, int phase) {
        return Arrays.copyOfRange(ShiftRegister.bits(phase + count), phase, phase + count);
    }

    static double sinc(double x) {
        return x == 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    }

    /** Raised cosine in time, roll-off 0.2. */
    static double raisedCosine(double t) {
        double b = 0.2;
        double bottom = 1 - 4 * b * b * t * t;
        return Math.abs(bottom) < 1e-9 ? Math.PI / 4 * sinc(1 / (2 * b)) : sinc(t) * Math.cos(Math.PI * b * t) / bottom;
    }

    /**
     * Raised cosine that was divided by sinc in frequency (TIA-102.BAAA, 9.5), by its integral: decided after averaging
     * over a symbol.
     */
    static double c4fm(double t) {
        double b = 0.2;
        double sum = 0;
        int steps = 240;
        double top = (1 + b) / 2;
        for (int n = 0; n < steps; n++) {
            double f = (n + 0.5) / steps * top;
            double h = f < (1 - b) / 2 ? 1 : 0.5 * (1 + Math.cos(Math.PI / b * (f - (1 - b) / 2)));
            sum += h / sinc(f) * Math.cos(2 * Math.PI * f * t) * 2 * top / steps;
        }
        return sum;
    }

    /** Root raised cosine in time by its integral, roll-off 0.2, gain of one at 0. */
    static double rootRaisedCosine(double t) {
        double b = 0.2;
        double sum = 0;
        int steps = 240;
        double top = (1 + b) / 2;
        for (int n = 0; n < steps; n++) {
            double f = (n + 0.5) / steps * top;
            double h = f < (1 - b) / 2 ? 1 : 0.5 * (1 + Math.cos(Math.PI / b * (f - (1 - b) / 2)));
            sum += Math.sqrt(h) * Math.cos(2 * Math.PI * f * t) * 2 * top / steps;
        }
        return sum;
    }

    /** A function by a table, so that an integral is not done for every sample. */
    static DoubleUnaryOperator tabled(DoubleUnaryOperator of, int reach) {
        int finer = 256;
        double[] table = samples(2 * reach, finer, t -> of.applyAsDouble(t - reach));
        return t -> {
            double place = (t + reach) * finer;
            int below = (int) Math.floor(place);
            return below < 0 || below + 1 >= table.length
                    ? 0
                    : table[below] + (place - below) * (table[below + 1] - table[below]);
        };
    }
}
