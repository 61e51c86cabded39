package org.juratest.core.family.breakers;

import org.juratest.core.signal.MeanSquare;
import org.juratest.core.signal.SignalException;

/**
 * One pulse of current, as it flowed.
 *
 * @param symmetrical true rms of its alternating part over the last whole cycle before it ended, A
 * @param peak largest instantaneous value, A
 * @param offset direct part in its first cycle, of the peak of the alternating part, %
 * @param flowed how long it flowed, s
 */
record PulseWave(double symmetrical, double peak, double offset, double flowed) {

    /** Of the peak, below which nothing flows. */
    private static final double FLOWS = 0.02;

    /**
     * Looks at one. Where nothing flowed its peak is that of the noise.
     *
     * @param frequency of the line, Hz
     * @throws SignalException if there are fewer than two samples, or one is not finite
     */
    static PulseWave of(double[] time, double[] value, double frequency) {
        MeanSquare square = new MeanSquare(time, value);
        double cycle = 1 / frequency;
        double peak = 0;
        for (double v : value) {
            peak = Math.max(peak, Math.abs(v));
        }
        // A pulse that trips at once is shorter than a cycle: nothing is asked of its shape.
        int first = 0;
        while (first < value.length - 1 && Math.abs(value[first]) <= FLOWS * peak) {
            first++;
        }
        int last = value.length - 1;
        while (last > first && Math.abs(value[last]) <= FLOWS * peak) {
            last--;
        }
        if (last == first) {
            return new PulseWave(0, peak, 0, 0);
        }
        double begun = time[Math.max(0, first - 1)];
        double to = time[Math.min(time.length - 1, last + 1)];
        double from = Math.max(begun, to - cycle);
        double direct = mean(time, value, square, from, to);
        double whole = square.over(from, to);
        double symmetrical = Math.sqrt(Math.max(0, whole - direct * direct));
        double offset = mean(time, value, square, begun, Math.min(to, begun + cycle));
        return new PulseWave(symmetrical, peak, 100 * Math.abs(offset) / (symmetrical * Math.sqrt(2)), to - begun);
    }

    private static double mean(double[] time, double[] value, MeanSquare square, double from, double to) {
        double sum = 0;
        int n = 0;
        for (int i = square.before(from) + 1; i < time.length && time[i] <= to; i++) {
            sum += value[i];
            n++;
        }
        return n == 0 ? 0 : sum / n;
    }
}
