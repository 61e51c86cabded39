package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/** Where the backscatter steps, up or down, between reflections. */
final class Steps {

    /** A step in so many standard deviations of the noise is looked at. */
    private static final double SIGMAS = 6;
    /** The least step that is looked at, dB. */
    private static final double LEAST = 0.015;
    /** How far the longest mean goes on either side, m. */
    private static final double LONGEST = 1000;
    /** How far the fibre's slope may be off within that, dB/km. */
    private static final double SLOPE_OFF = 0.01;

    private static final int MOST = 400;

    private final Levels levels;
    private final int pulse;

    /** @param at sample; @param z step over its standard deviation */
    private record Candidate(int at, double z) {}

    Steps(Levels levels) {
        this.levels = levels;
        this.pulse = levels.trace().pulseSamples();
    }

    /**
     * Samples at which there may be a step, in order, from one sample on and before another. Short means come first, as
     * they tell the place best; longer ones find what is too small for them, and away from what is known.
     */
    List<Integer> between(int from, int to) {
        List<Integer> chosen = new ArrayList<>();
        int longest = (int) Math.max(16, LONGEST / levels.trace().spacing());
        for (int m = Math.max(4, pulse); m <= longest && from + m < to; m *= 3) {
            List<Candidate> found = new ArrayList<>();
            scale(from, to, m, found);
            found.sort(Comparator.comparingDouble(Candidate::z).reversed());
            int apart = Math.max(m, pulse + 3);
            for (Candidate c : found) {
                if (chosen.size() < MOST && chosen.stream().noneMatch(k -> Math.abs(k - c.at) <= apart)) {
                    chosen.add(c.at);
                }
            }
        }
        return chosen.stream().sorted().toList();
    }

    /** Peaks of the difference of two means of m samples, with a pulse between them. */
    private void scale(int from, int to, int m, List<Candidate> found) {
        int least = Math.max(4, Math.min(m, pulse));
        int best = -1;
        double bestZ = 0;
        for (int i = from + least; i + pulse + least <= to; i++) {
            double z = z(from, to, m, i);
            if (z > bestZ) {
                bestZ = z;
                best = i;
            }
            // A peak is one where nothing higher comes within its own length.
            if (best >= 0 && (i - best >= m || i + pulse + least == to)) {
                found.add(new Candidate(best, bestZ));
                best = -1;
                bestZ = 0;
            }
        }
    }

    /** How sure a step is at a sample; 0 where it is not. */
    private double z(int from, int to, int m, int i) {
        int a = Math.max(from, i - m);
        int b = Math.min(to, i + pulse + m);
        double apart = levels.x((i + pulse + b) / 2.0) - levels.x((a + i) / 2.0);
        double step = levels.mean(i + pulse, b) - levels.mean(a, i) - levels.slope() * apart;
        double size = Math.abs(step) - SLOPE_OFF * apart;
        if (size < LEAST) {
            return 0;
        }
        double z = size / Math.sqrt(levels.meanVariance(a, i) + levels.meanVariance(i + pulse, b));
        return z < SIGMAS ? 0 : z;
    }

    /**
     * The sample at which a step begins: where two lines with the change between them fit best, be it in one sample or
     * over the length of a pulse, in which the power of one goes over into that of the other.
     *
     * @param before line in front of the step
     * @param after line behind it
     * @param from first sample that may be looked at
     * @param to the one behind the last
     */
    int refine(int at, Levels.Line before, Levels.Line after, int from, int to) {
        int coarse = Math.max(1, pulse / 24);
        int best = search(at, 2 * pulse + 2, coarse, before, after, from, to);
        return coarse == 1 ? best : search(best, coarse, 1, before, after, from, to);
    }

    private int search(int at, int reach, int by, Levels.Line before, Levels.Line after, int from, int to) {
        int left = Math.max(from, at - reach - pulse);
        int right = Math.min(to, at + reach + 2 * pulse + 2);
        int best = at;
        double least = Double.MAX_VALUE;
        for (int k = Math.max(left + 1, at - reach); k <= Math.min(right - 1, at + reach); k += by) {
            for (int ramp = 1; ramp <= pulse; ramp += Math.max(1, pulse - 1)) {
                double sum = misfit(k, ramp, before, after, left, right, by);
                if (sum < least) {
                    least = sum;
                    best = k;
                }
            }
        }
        return best;
    }

    private double misfit(int k, int ramp, Levels.Line before, Levels.Line after, int from, int to, int by) {
        double sum = 0;
        for (int i = from; i < to; i += by) {
            double expected;
            double one = before.at(levels.x(i));
            if (i < k) {
                expected = one;
            } else {
                double other = after.at(levels.x(i));
                double share = Math.min(1, (i - k + 1.0) / ramp);
                expected =
                        share == 1 ? other : one + 5 * Math.log10(1 - share + share * Math.pow(10, (other - one) / 5));
            }
            double off = levels.at(i) - expected;
            sum += off * off;
        }
        return sum;
    }
}
