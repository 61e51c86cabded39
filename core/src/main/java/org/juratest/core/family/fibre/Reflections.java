package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What reflects along a fibre: where the trace rises and comes down again. */
final class Reflections {

    /** How high a reflection stands out at least, dB, and in how many standard deviations of the noise. */
    private static final double LEAST = 0.1;

    private static final double SIGMAS = 6;
    /** A rise that is one of its own within the time another takes to settle, dB. */
    private static final double AGAIN = 0.5;
    /** Lengths after which a receiver may have settled, in pulses. */
    private static final double[] SETTLED = {1.1, 1.3, 1.6, 2, 3, 5, 8, 12, 20};

    private final Levels levels;
    private final int end;
    private final int pulse;

    /**
     * A part of the trace that is not backscatter.
     *
     * @param from the sample it rises at
     * @param to the first sample that has settled
     * @param top level of the peak, dB
     * @param highest level of all its samples, dB
     * @param equal how many samples have the highest level, where they are three or more, or it is the receiver's
     * @param second sample at which something else rises before it has settled; absent where nothing does
     */
    record Zone(int from, int to, double top, double highest, int equal, @Nullable Integer second) {}

    Reflections(Levels levels, int end) {
        this.levels = levels;
        this.end = end;
        this.pulse = levels.trace().pulseSamples();
    }

    /** The port of the instrument, at the front: always there, though it may not reflect. */
    Zone port() {
        return zone(0, end);
    }

    /** The reflection of the end, or its fall. */
    Zone last() {
        int to = Math.min(levels.size(), end + Math.max(2, 2 * pulse));
        return new Zone(end, to, top(end, to), highest(end, to), equal(end, to), null);
    }

    /** Zones between the port and the end. */
    List<Zone> between(Zone port) {
        List<Zone> zones = new ArrayList<>();
        int settled = port.to;
        int window = Math.max(8, 2 * pulse);
        for (int i = settled + 3; i < end - 2; i++) {
            int before = Math.max(settled, i - window);
            double base = levels.mean(before, i);
            double rise = Math.max(LEAST, SIGMAS * levels.sigma(i));
            if (levels.at(i) > base + rise && comesDown(i, rise)) {
                int from = i;
                double quiet = Math.max(2 * levels.sigma(i), 0.02);
                double level = levels.mean(before, Math.max(before + 1, i - 2));
                while (from - 1 > settled && levels.at(from - 1) > level + quiet && i - from < pulse) {
                    from--;
                }
                Zone zone = zone(from, end);
                zones.add(zone);
                settled = zone.to;
                i = settled + 2;
            }
        }
        return zones;
    }

    /** Whether what rises at a sample is gone some pulses later: a step upwards stays. */
    private boolean comesDown(int i, double rise) {
        int peak = i;
        for (int j = i; j < Math.min(end, i + pulse + 4); j++) {
            peak = levels.at(j) > levels.at(peak) ? j : peak;
        }
        int from = Math.min(end - 1, peak + 2 * pulse + 4);
        int to = Math.min(end, from + Math.max(6, pulse));
        double after = to - from < 3
                ? levels.at(from)
                : Levels.median(Arrays.copyOfRange(levels.trace().level(), from, to));
        return levels.at(peak) - after > rise;
    }

    private Zone zone(int from, int limit) {
        int to = settled(from, limit);
        return new Zone(from, to, top(from, to), highest(from, to), equal(from, to), second(from, to));
    }

    private int settled(int from, int limit) {
        int some = Math.max(3, pulse / 4);
        int best = Math.min(limit, from + pulse + 2);
        double bestOff = Double.MAX_VALUE;
        for (double pulses : SETTLED) {
            int z = from + (int) Math.ceil(pulses * pulse) + 1;
            int after = Math.min(limit, z + some + Math.max(10, 2 * pulse));
            if (after - z - some < 6) {
                break;
            }
            Levels.Line line = levels.line(z + some, after);
            double off = Math.abs(levels.mean(z, z + some) - line.at(levels.x(z + (some - 1) / 2.0)));
            double sigma = Math.sqrt(levels.meanVariance(z, z + some) + line.varianceAt(levels.x(z + some / 2.0)));
            if (off <= Math.max(3 * sigma, 0.01)) {
                return z;
            }
            if (off < bestOff) {
                bestOff = off;
                best = z;
            }
        }
        return best;
    }

    /** Level of the peak: of its samples near the highest the mean power, so that noise does not lift it. */
    private double top(int from, int to) {
        double highest = highest(from, to);
        double near = Math.max(0.2, 4 * levels.sigma(Math.max(0, from - 1)));
        double sum = 0;
        int count = 0;
        for (int i = from; i < to; i++) {
            if (levels.at(i) > highest - near) {
                sum += Math.pow(10, (levels.at(i) - highest) / 5);
                count++;
            }
        }
        return count == 0 ? highest : highest + 5 * Math.log10(sum / count);
    }

    private double highest(int from, int to) {
        double highest = -Double.MAX_VALUE;
        for (int i = from; i < to; i++) {
            highest = Math.max(highest, levels.at(i));
        }
        return highest;
    }

    private int equal(int from, int to) {
        double highest = highest(from, to);
        int count = 0;
        for (int i = from; i < to; i++) {
            count += levels.at(i) == highest ? 1 : 0;
        }
        return count >= 3 || highest >= levels.trace().top() ? count : 0;
    }

    /** Another rise before it has settled: after the peak has stopped rising, or as a second step on top of it. */
    private @Nullable Integer second(int from, int to) {
        double lowest = Double.MAX_VALUE;
        boolean risen = false;
        double highest = levels.at(from);
        int still = 0;
        for (int i = from + 1; i < to; i++) {
            double level = levels.at(i);
            if (!risen) {
                still = level > highest + 0.05 ? 0 : still + 1;
                risen = still >= 2;
                highest = Math.max(highest, level);
                lowest = level;
            } else if (level > lowest + Math.max(AGAIN, SIGMAS * levels.sigma(i))) {
                return i;
            }
            lowest = Math.min(lowest, level);
        }
        return null;
    }
}
