package org.juratest.core.family.fibre;

import java.util.Arrays;

/**
 * Where the fibre ends on a trace, and what is behind it. What is not backscatter for as long as several pulses is
 * behind the end: echoes there are shorter.
 *
 * @param at sample at which the end's reflection rises, or the level begins to fall; the number of samples where no end
 *     is seen
 * @param seen whether the end lies within the trace
 * @param reflective whether it reflects
 * @param fades whether the backscatter only goes under in the noise there
 * @param noise level below which eight of ten samples of noise lie, dB; NaN where no noise is seen
 */
record FibreEnd(int at, boolean seen, boolean reflective, boolean fades, double noise) {

    /** Share of samples by which a stretch is told: an echo in it is shorter than the rest. */
    private static final double SHARE = 0.8;
    /** Pulses in a stretch. */
    private static final int PULSES = 8;

    private static final int LEAST = 128;
    /** Samples by which noise can be told. */
    private static final int SHORTEST = 64;
    /** A fall within what is taken for noise, dB. */
    private static final double FALLEN = 3;

    private static final int ROUNDS = 40;
    /** How far above the noise backscatter stands at least, dB. */
    private static final double ABOVE = 1.5;
    /** Scatter of samples from which on they are taken for noise, dB. */
    private static final double NOISY = 0.3;

    static FibreEnd find(Levels levels) {
        int n = levels.size();
        int block = Math.min(n / 8, Math.max(LEAST, PULSES * levels.trace().pulseSamples()));
        int tail = Math.min(n / 2, Math.max(2 * block, n / 20));
        if (isFibre(levels, n - tail, n)) {
            return new FibreEnd(n, false, false, false, Double.NaN);
        }
        // A trace that was broken off soon behind the end: the noise is the last part of what is looked at only.
        for (int part = tail / 2; part >= SHORTEST; part /= 2) {
            tail = share(levels, n - part, n) < share(levels, n - tail, n) - FALLEN ? part : tail;
        }
        double noise = share(levels, n - tail, n);
        double least = noise + Math.max(ABOVE, 2 * spread(levels, n - tail, n, block));
        int last = lastOfFibre(levels, block, least);
        if (last < 0) {
            return new FibreEnd(0, true, false, true, noise);
        }
        return near(levels, Math.max(0, (last - 1) * block), block, noise);
    }

    /** Whether samples at the end of the trace are still backscatter: quiet, and falling as a fibre does. */
    private static boolean isFibre(Levels levels, int from, int to) {
        int half = (from + to) / 2;
        double fall = levels.mean(from, half) - levels.mean(half, to);
        double sigma = Math.sqrt(levels.meanVariance(from, half) + levels.meanVariance(half, to));
        double perKm = fall / (levels.x(half) - levels.x(from));
        return levels.sigma(half) < NOISY && fall > 6 * sigma && perKm > 0.05 && perKm < 5;
    }

    private static double share(Levels levels, int from, int to) {
        double[] some = Arrays.copyOfRange(levels.trace().level(), from, to);
        Arrays.sort(some);
        return some[(int) (SHARE * (some.length - 1))];
    }

    /** How much the figure of a stretch differs between stretches of noise. */
    private static double spread(Levels levels, int from, int to, int block) {
        double least = Double.MAX_VALUE;
        double most = -Double.MAX_VALUE;
        for (int i = from; i + block <= to; i += block) {
            double share = share(levels, i, i + block);
            least = Math.min(least, share);
            most = Math.max(most, share);
        }
        return Math.min(1, most - least) / 2;
    }

    /** The stretch before the first two that are noise; -1 where the first is. */
    private static int lastOfFibre(Levels levels, int block, double least) {
        int blocks = levels.size() / block;
        int quiet = 0;
        for (int b = 0; b < blocks; b++) {
            quiet = share(levels, b * block, (b + 1) * block) > least ? 0 : quiet + 1;
            if (quiet == 2) {
                return b - 2;
            }
        }
        return blocks - 1 - quiet;
    }

    /** Where it begins to fall or rise, some stretches from a sample that is still fibre. */
    private static FibreEnd near(Levels levels, int from, int block, double noise) {
        int pulse = levels.trace().pulseSamples();
        double reference = Levels.median(Arrays.copyOfRange(levels.trace().level(), from, from + block));
        double drop = Math.min(3, Math.max(0.5, (reference - noise) / 2));
        int fallen = fallen(levels, from, pulse, reference - drop);
        // Roughly at first, as there may be a splice on the way there; then against the level just before it.
        int edge = edge(levels, from, fallen, reference, drop / 2);
        for (int round = 0; round < ROUNDS; round++) {
            int to = Math.max(from, edge - pulse - 2);
            int before = Math.max(0, to - Math.max(24, 2 * pulse));
            if (to - before < 6) {
                break;
            }
            reference = Levels.median(Arrays.copyOfRange(levels.trace().level(), before, to));
            int next = edge(levels, from, fallen, reference, Math.max(3 * levels.sigma(from), 0.03));
            if (next == edge) {
                break;
            }
            edge = next;
        }
        boolean reflective = false;
        for (int i = edge; i < fallen; i++) {
            reflective |= levels.at(i) > reference + Math.max(5 * levels.sigma(from), 0.1);
        }
        return new FibreEnd(edge, true, reflective, !reflective && reference - noise < 1.5, noise);
    }

    /** The first sample from which on nearly all are below a level for as long as a pulse. */
    private static int fallen(Levels levels, int from, int pulse, double below) {
        int span = Math.max(8, pulse);
        int count = 0;
        for (int i = from; i < levels.size(); i++) {
            count += levels.at(i) < below ? 1 : 0;
            if (i - span >= from) {
                count -= levels.at(i - span) < below ? 1 : 0;
            }
            if (i >= from + span - 1 && count >= 0.8 * span) {
                int first = i - span + 1;
                while (first < i && levels.at(first) >= below) {
                    first++;
                }
                return first;
            }
        }
        return levels.size();
    }

    /** Backwards from where it has fallen: over the reflection, if there is one, to the level before. */
    private static int edge(Levels levels, int from, int fallen, double reference, double quiet) {
        int i = Math.min(fallen, levels.size() - 1);
        // What is well below belongs to the fall.
        while (i > from && levels.at(i) < reference - quiet) {
            i--;
        }
        int high = i;
        double peak = Math.max(5 * levels.sigma(from), 0.1);
        if (levels.at(high) <= reference + peak) {
            // The way down may pass the level of the fibre between two samples.
            high = levels.at(Math.max(from, high - 1)) > reference + peak ? high - 1 : high;
        }
        if (levels.at(high) <= reference + peak) {
            return i + 1;
        }
        int below = 0;
        int first = high;
        for (int j = high; j > from && below < 2; j--) {
            if (levels.at(j) > reference + quiet) {
                first = j;
                below = 0;
            } else {
                below++;
            }
        }
        return first;
    }
}
