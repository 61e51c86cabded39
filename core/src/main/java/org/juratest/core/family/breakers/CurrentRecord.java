package org.juratest.core.family.breakers;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.juratest.core.signal.MeanSquare;
import org.juratest.core.signal.SignalException;

/**
 * A record of an alternating current, with when it flowed. Nothing is taken for granted but that it comes and goes: not
 * how large it is, nor that it stays as large, nor that it has no offset.
 */
final class CurrentRecord {

    /** Of a cycle, between looks at how large the current is. */
    private static final int LOOKS = 32;
    /** Current that has not flowed for this part of a cycle has stopped. */
    private static final double GAP = 0.4;
    /** What flows for less than this part of a cycle is a spike. */
    private static final double SPIKE = 0.75;
    /** Of the largest current, below which there is none. */
    private static final double SMALLEST = 0.04;
    /** Times the noise, above which there is current. */
    private static final double OVER_NOISE = 4;

    /** Of a current, how much it is like itself a cycle later. */
    private static final double ALIKE = 0.4;

    private static final double LEAST_FREQUENCY = 10;
    private static final double MOST_FREQUENCY = 500;

    private final double[] time;
    private final double[] value;
    private final MeanSquare square;
    private final double cycle;
    private final List<Flow> flows;
    private double noise;
    private double offset;

    /**
     * While current flows.
     *
     * @param from s
     * @param to s
     * @param begun whether the record shows its beginning
     * @param ended likewise its end
     */
    record Flow(double from, double to, boolean begun, boolean ended) {
        double lasts() {
            return to - from;
        }
    }

    /**
     * @param time s, ascending
     * @param value A
     * @param frequency Hz; 0 where it is to be found
     * @throws SignalException if the record is too short or too coarse to tell
     */
    CurrentRecord(double[] time, double[] value, double frequency) {
        this.time = time;
        this.value = value;
        this.square = new MeanSquare(time, value);
        double line = frequency > 0 ? frequency : found(time, value);
        if (!(line >= LEAST_FREQUENCY && line <= MOST_FREQUENCY)) {
            throw new SignalException(
                    "no-frequency", "no frequency of the line from 10 to 500 Hz is found in this record");
        }
        this.cycle = 1 / line;
        double span = square.last() - square.first();
        if (span < 2 * cycle) {
            throw new SignalException("too-short", "the record is shorter than two cycles");
        }
        if ((time.length - 1) / span < 8 * line) {
            throw new SignalException("too-coarse", "the record has fewer than 8 samples a cycle");
        }
        this.flows = flowing();
    }

    /** s. */
    double cycle() {
        return cycle;
    }

    List<Flow> flows() {
        return flows;
    }

    MeanSquare square() {
        return square;
    }

    double[] time() {
        return time;
    }

    double[] value() {
        return value;
    }

    /** How much is read where no current flows, rms, A. */
    double noise() {
        return noise;
    }

    /** Crossings of zero, upwards, where the current is large. */
    private static double found(double[] time, double[] value) {
        double largest = 0;
        for (double v : value) {
            largest = Math.max(largest, Math.abs(v));
        }
        double low = -0.1 * largest;
        double high = 0.1 * largest;
        boolean below = false;
        double last = Double.NaN;
        double zero = Double.NaN;
        List<Double> periods = new ArrayList<>();
        for (int i = 1; i < value.length; i++) {
            if (value[i - 1] < 0 && value[i] >= 0) {
                zero = time[i - 1] + (time[i] - time[i - 1]) * value[i - 1] / (value[i - 1] - value[i]);
            }
            if (value[i] < low) {
                below = true;
            } else if (below && value[i] > high) {
                below = false;
                if (!Double.isNaN(last) && zero > last) {
                    periods.add(zero - last);
                }
                last = zero;
            }
        }
        if (periods.isEmpty()) {
            return Double.NaN;
        }
        // Pauses between operations are few: the middle one is a cycle.
        double[] sorted =
                periods.stream().mapToDouble(Double::doubleValue).sorted().toArray();
        return 1 / sorted[sorted.length / 2];
    }

    private List<Flow> flowing() {
        double step = cycle / LOOKS;
        double begin = square.first();
        int looks = (int) Math.max(1, (square.last() - begin) / step);
        double[] level = new double[looks];
        for (int k = 0; k < looks; k++) {
            double at = begin + (k + 0.5) * step;
            level[k] = square.rms(at - cycle / 4, at + cycle / 4);
        }
        double[] sorted = level.clone();
        Arrays.sort(sorted);
        double largest = sorted[(int) Math.min(looks - 1L, Math.round(looks * 0.999))];
        double least = sorted[looks / 50];
        if (!(likeness() > ALIKE)) {
            return List.of();
        }
        // Where the least is a good part of the largest, it flows all the time.
        double bound = least > largest / OVER_NOISE / 1.5
                ? largest * SMALLEST
                : Math.max(OVER_NOISE * least, SMALLEST * largest);
        List<int[]> runs = new ArrayList<>();
        for (int k = 0; k < looks; k++) {
            if (level[k] > bound) {
                int from = k;
                while (k + 1 < looks && level[k + 1] > bound) {
                    k++;
                }
                int[] before = runs.isEmpty() ? null : runs.get(runs.size() - 1);
                if (before != null && from - before[1] < GAP * LOOKS) {
                    before[1] = k;
                } else {
                    runs.add(new int[] {from, k});
                }
            }
        }
        runs.removeIf(r -> r[1] - r[0] + 1 < SPIKE * LOOKS);
        quiet(runs, begin, step);
        List<Flow> found = new ArrayList<>();
        for (int[] r : runs) {
            double from = begin + r[0] * step;
            double to = begin + (r[1] + 1) * step;
            boolean begun = from - begin > cycle / 4;
            boolean ended = square.last() - to > cycle / 4;
            double bar = bar(from, to);
            found.add(new Flow(
                    begun ? edge(from, bar, 1) : square.first(),
                    ended ? edge(to, bar, -1) : square.last(),
                    begun,
                    ended));
        }
        return found;
    }

    /** How much the record is like itself a cycle later: a current is, noise is not. NaN where there is nothing. */
    private double likeness() {
        double mean = Arrays.stream(value).average().orElse(0);
        double both = 0;
        double alone = 0;
        for (int i = 0; i < time.length; i++) {
            int k = square.before(time[i] - cycle);
            if (time[i] - cycle >= time[0]) {
                both += (value[i] - mean) * (value[k] - mean);
                alone += (value[i] - mean) * (value[i] - mean);
            }
        }
        return both / alone;
    }

    /** What is read where nothing flows. */
    private void quiet(List<int[]> runs, double begin, double step) {
        double sum = 0;
        double squares = 0;
        long n = 0;
        int run = 0;
        double guard = cycle / 2;
        for (int i = 0; i < time.length; i++) {
            while (run < runs.size() && time[i] > begin + (runs.get(run)[1] + 1) * step + guard) {
                run++;
            }
            if (run == runs.size() || time[i] < begin + runs.get(run)[0] * step - guard) {
                sum += value[i];
                squares += value[i] * value[i];
                n++;
            }
        }
        offset = n == 0 ? 0 : sum / n;
        noise = n == 0 ? 0 : Math.sqrt(Math.max(0, squares / n - offset * offset));
    }

    /** Above this a sample shows current, A. */
    private double bar(double from, double to) {
        double most = 0;
        for (int i = square.before(from); i < time.length && time[i] <= to; i++) {
            most = Math.max(most, Math.abs(value[i] - offset));
        }
        return Math.max(5 * noise, 0.02 * most);
    }

    /** The beginning ({@code way} 1) or the end (-1) of a flow near {@code about}, to a fraction of a sample. */
    private double edge(double about, double bar, int way) {
        int i = square.before(about - way * cycle / 2);
        int end = square.before(about + way * cycle / 2);
        // One sample alone may be a spike.
        while (i != end && !(above(i, bar) && above(i + way, bar))) {
            i += way;
        }
        int outer = i - way;
        int inner = square.before(time[i] + way * cycle / 40) + (way > 0 ? 1 : 0);
        if (outer < 0 || outer >= time.length || inner < 0 || inner >= time.length || inner == i) {
            return time[i];
        }
        double here = Math.abs(value[i] - offset);
        double slope = (Math.abs(value[inner] - offset) - here) / Math.abs(time[inner] - time[i]);
        double zero = slope > 0 ? here / slope : Double.POSITIVE_INFINITY;
        // From zero it grows as a sine does; switched on within a cycle it is there at once.
        return here <= 3 * bar && zero < cycle / 8 ? time[i] - way * zero : (time[i] + time[outer]) / 2;
    }

    private boolean above(int i, double bar) {
        return i >= 0 && i < value.length && Math.abs(value[i] - offset) > bar;
    }
}
