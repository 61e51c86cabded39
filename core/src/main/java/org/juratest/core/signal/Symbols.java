package org.juratest.core.signal;

/** Symbols read off a demodulated signal, with their timing and their levels. */
final class Symbols {

    private static final double[] LEVELS = {-3, -1, 1, 3};
    private static final int BLOCK = 96;
    private static final int PHASES = 24;
    private static final int NEIGHBOURS = 2;
    /** In half distances of levels. */
    private static final double ANOTHER = 1.6;
    /** Root mean square of the four levels. */
    private static final double RMS = Math.sqrt(5);

    private final double[] values;
    private final int[] decided;
    private final double level;
    private final double offset;
    private final double rateError;
    private final Fsk4Analysis.Shaping shaping;

    private Symbols(
            double[] values,
            int[] decided,
            double level,
            double offset,
            double rateError,
            Fsk4Analysis.Shaping shaping) {
        this.values = values;
        this.decided = decided;
        this.level = level;
        this.offset = offset;
        this.rateError = rateError;
        this.shaping = shaping;
    }

    /** @param hertz demodulated and filtered, as many values as demodulation gives */
    static Symbols of(double[] hertz, double rate, Fsk4Analysis.Shaping shaping) {
        double period = rate / Fsk4Analysis.SYMBOL_RATE;
        int blocks = Math.max(1, (int) (hertz.length / period / BLOCK));
        double[] places = new double[blocks];
        double before = Double.NaN;
        for (int b = 0; b < blocks; b++) {
            double start = b * BLOCK * period;
            double phase = phase(hertz, period, start);
            // Nearest to the last one: timing that drifts past a symbol does not jump back.
            before = b == 0 ? phase : before + Math.IEEEremainder(phase - before, period);
            places[b] = before;
        }
        double slope = slope(places);
        double mean = Samples.mean(places);
        // places[b] = first + slope b: over a block of symbols the timing moves by slope samples.
        double step = period + slope / BLOCK;
        double first = mean - slope * (blocks - 1) / 2.0;
        first -= Math.floor((first + 0.5) / step) * step;
        int count = (int) Math.floor((hertz.length - 0.5 - first) / step) + 1;
        double[] values = new double[Math.max(1, count)];
        for (int k = 0; k < values.length; k++) {
            values[k] = at(hertz, first + k * step);
        }
        double[] fit = levels(values);
        return new Symbols(values, decide(values, fit), fit[0], fit[1], (period / step - 1) * 1e6, shaping);
    }

    private static double slope(double[] y) {
        double middle = (y.length - 1) / 2.0;
        double top = 0;
        double bottom = 0;
        for (int n = 0; n < y.length; n++) {
            top += (n - middle) * y[n];
            bottom += (n - middle) * (n - middle);
        }
        return bottom > 0 ? top / bottom : 0;
    }

    /**
     * Place of the first symbol in a block, in samples from its start: where symbols stand closest to four even levels.
     */
    private static double phase(double[] hertz, double period, double start) {
        double[] costs = new double[PHASES];
        int best = 0;
        for (int p = 0; p < PHASES; p++) {
            costs[p] = cost(hertz, period, start + p * period / PHASES);
            best = costs[p] < costs[best] ? p : best;
        }
        double left = costs[(best + PHASES - 1) % PHASES];
        double right = costs[(best + 1) % PHASES];
        double curve = left - 2 * costs[best] + right;
        double shift = curve > 0 ? 0.5 * (left - right) / curve : 0;
        return (best + shift) * period / PHASES;
    }

    private static double cost(double[] hertz, double period, double start) {
        int count = 0;
        double[] block = new double[BLOCK];
        for (int k = 0; k < BLOCK && start + k * period <= hertz.length - 1; k++) {
            block[count++] = at(hertz, start + k * period);
        }
        double[] values = java.util.Arrays.copyOf(block, count);
        if (count < 8) {
            return Double.MAX_VALUE;
        }
        double[] fit = levels(values);
        return missed(values, decide(values, fit), fit) / (fit[0] * fit[0]);
    }

    /** Value between samples, by Lagrange's polynomial through the six around it; the ends count on. */
    private static double at(double[] samples, double place) {
        int base = (int) Math.floor(place) - 2;
        double sum = 0;
        for (int a = 0; a < 6; a++) {
            double weight = 1;
            for (int b = 0; b < 6; b++) {
                if (a != b) {
                    weight *= (place - base - b) / (a - b);
                }
            }
            sum += weight * samples[Math.max(0, Math.min(samples.length - 1, base + a))];
        }
        return sum;
    }

    /**
     * Half the distance of levels, and what they stand about: decided and fitted in turn, beginning with four equally
     * frequent ones.
     */
    private static double[] levels(double[] values) {
        double mean = Samples.mean(values);
        double[] fit = {Math.sqrt(Math.max(Samples.power(values) - mean * mean, Double.MIN_NORMAL)) / RMS, mean};
        for (int round = 0; round < 6; round++) {
            fit = fitted(values, decide(values, fit), fit);
        }
        return fit;
    }

    /** Least squares of value = level * symbol + offset; the last fit where all symbols are the same. */
    private static double[] fitted(double[] values, int[] symbols, double[] last) {
        double n = values.length;
        double sl = 0;
        double sll = 0;
        double sy = 0;
        double sly = 0;
        for (int k = 0; k < values.length; k++) {
            sl += symbols[k];
            sll += (double) symbols[k] * symbols[k];
            sy += values[k];
            sly += symbols[k] * values[k];
        }
        double bottom = n * sll - sl * sl;
        if (!(bottom > 0)) {
            return last;
        }
        double level = (n * sly - sl * sy) / bottom;
        return level > 0 ? new double[] {level, (sy - level * sl) / n} : last;
    }

    private static int[] decide(double[] values, double[] fit) {
        int[] symbols = new int[values.length];
        for (int k = 0; k < values.length; k++) {
            double scaled = (values[k] - fit[1]) / fit[0];
            symbols[k] = (int) LEVELS[scaled < -2 ? 0 : scaled < 0 ? 1 : scaled < 2 ? 2 : 3];
        }
        return symbols;
    }

    private static double missed(double[] values, int[] symbols, double[] fit) {
        double sum = 0;
        for (int k = 0; k < values.length; k++) {
            double error = values[k] - fit[1] - fit[0] * symbols[k];
            sum += error * error;
        }
        return sum / values.length;
    }

    /**
     * How much of a symbol is left in its neighbours: squares of the errors' projections on the two symbols before and
     * after.
     */
    double smeared() {
        double sum = 0;
        for (int lag = -NEIGHBOURS; lag <= NEIGHBOURS; lag++) {
            double top = 0;
            double bottom = 0;
            for (int k = NEIGHBOURS; k < values.length - NEIGHBOURS; k++) {
                double error = (values[k] - offset) / level - decided[k];
                top += error * decided[k + lag];
                bottom += (double) decided[k + lag] * decided[k + lag];
            }
            sum += lag == 0 ? 0 : Math.pow(top / Math.max(bottom, 1), 2);
        }
        return sum;
    }

    /** The bits decided, first bit first. */
    boolean[] bits() {
        return bits(1);
    }

    /** The bits as if the signal stood upside down. */
    boolean[] inverted() {
        return bits(-1);
    }

    private boolean[] bits(int sign) {
        boolean[] bits = new boolean[2 * decided.length];
        for (int k = 0; k < decided.length; k++) {
            int symbol = sign * decided[k];
            bits[2 * k] = symbol < 0;
            bits[2 * k + 1] = Math.abs(symbol) == 3;
        }
        return bits;
    }

    /**
     * The same with levels fitted to the symbols that were sent, as the sequence tells them, not to those decided:
     * noise pulls decided levels apart. A symbol that stands nearer to another level than to its own was sent wrong,
     * and tells nothing of where levels are.
     */
    Symbols trained(Prbs9.Lock lock) {
        double[] own = new double[values.length];
        int[] sent = new int[values.length];
        int count = 0;
        for (int k = (lock.from() + 1) / 2; k < lock.to() / 2; k++) {
            int symbol = (Prbs9.bit(lock.phase() + 2 * k) ? -1 : 1) * (Prbs9.bit(lock.phase() + 2 * k + 1) ? 3 : 1);
            if (Math.abs((values[k] - offset) / level - symbol) < ANOTHER) {
                sent[count] = symbol;
                own[count++] = values[k];
            }
        }
        double[] fit = fitted(
                java.util.Arrays.copyOf(own, count), java.util.Arrays.copyOf(sent, count), new double[] {level, offset
                });
        return new Symbols(values, decided, fit[0], fit[1], rateError, shaping);
    }

    int count() {
        return values.length;
    }

    double level() {
        return level;
    }

    double offset() {
        return offset;
    }

    double rateError() {
        return rateError;
    }

    double fidelity() {
        return 100 * Math.sqrt(missed(values, decided, new double[] {level, offset})) / (level * RMS);
    }

    Fsk4Analysis.Shaping shaping() {
        return shaping;
    }

    double[] centred() {
        double[] centred = values.clone();
        for (int k = 0; k < centred.length; k++) {
            centred[k] -= offset;
        }
        return centred;
    }
}
