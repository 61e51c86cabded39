package org.juratest.core.family.breakers;

import java.util.Arrays;
import java.util.Optional;
import org.hipparchus.stat.regression.OLSMultipleLinearRegression;
import org.hipparchus.stat.regression.SimpleRegression;
import org.juratest.core.signal.MeanSquare;
import org.juratest.core.signal.SignalException;

/**
 * The least current at which a device operates, found from a slow ramp of the current: true rms of the last whole cycle
 * before its contacts part.
 *
 * @param current A
 * @param parted when its contacts parted, s
 * @param by how that showed
 */
public record PickUp(double current, double parted, Detector by) {

    /** How the parting of contacts shows. */
    public enum Detector {
        /** The current falls at once: the device was most of what it flowed through. */
        FALL,
        /** The current goes on, but no longer grows: it flows past the open device. */
        LEVELLING
    }

    /** Of the current before, what it is less by after a fall. */
    private static final double FALLS = 0.15;
    /** Of how the current grew before, how it may still grow after it has levelled off. */
    private static final double LEVEL = 0.3;
    /** Levels that are looked at on each side of the knee, at least, and in all, at most. */
    private static final int LEAST_LEVELS = 8;

    private static final int MOST_LEVELS = 240;
    /** Levels on each side that are looked at together. */
    private static final int AROUND = 12;

    /**
     * By a detector.
     *
     * @param time s, ascending
     * @param value A
     * @param frequency of the line, Hz; 0 where it is to be found
     * @return empty where the detector finds nothing
     * @throws SignalException if the record is too short or too coarse
     */
    public static Optional<PickUp> of(double[] time, double[] value, double frequency, Detector by) {
        CurrentRecord record = new CurrentRecord(time, value, frequency);
        if (record.flows().isEmpty()) {
            return Optional.empty();
        }
        return by == Detector.FALL ? byFall(record) : byLevelling(record);
    }

    private static Optional<PickUp> byFall(CurrentRecord record) {
        double cycle = record.cycle();
        MeanSquare square = record.square();
        for (CurrentRecord.Flow flow : record.flows()) {
            double step = cycle / 8;
            for (double at = flow.from() + 2 * cycle; at + cycle <= square.last() && at <= flow.to(); at += step) {
                double before = square.rms(at - cycle, at);
                double after = square.rms(at, at + cycle);
                // A ramp never falls: what falls by so much within a cycle was interrupted.
                if (after < (1 - FALLS) * before && square.rms(at - 2 * cycle, at - cycle) > (1 - FALLS) * before) {
                    return Optional.of(parted(record, at, Detector.FALL));
                }
            }
        }
        return Optional.empty();
    }

    /**
     * The first sample from about {@code near} on that is no longer what it was a cycle before, as much larger as the
     * current grew.
     */
    private static PickUp parted(CurrentRecord record, double near, Detector by) {
        double cycle = record.cycle();
        MeanSquare square = record.square();
        double[] time = record.time();
        double[] value = record.value();
        double from = near - cycle / 2;
        double grown = square.rms(from - cycle, from) / square.rms(from - 2 * cycle, from - cycle);
        double growth = Double.isFinite(grown) ? Math.min(1.2, Math.max(0.9, grown)) : 1;
        double worst = 0;
        for (int i = square.before(from - cycle); i < time.length && time[i] < from; i++) {
            worst = Math.max(worst, off(record, i, growth));
        }
        double bar = Math.max(1.5 * worst, 0.01 * square.rms(from - cycle, from));
        double parted = near;
        int held = 0;
        int needed = Math.max(2, (int) Math.round(cycle / 40 * (time.length - 1) / (square.last() - square.first())));
        for (int i = square.before(from) + 1; i < time.length && time[i] < near + 1.5 * cycle; i++) {
            held = off(record, i, growth) > bar ? held + 1 : 0;
            if (held == needed) {
                parted = (time[i - needed + 1] + time[i - needed]) / 2;
                break;
            }
        }
        return new PickUp(square.rms(parted - cycle, parted), parted, by);
    }

    /** How far a sample is from what a cycle before makes one expect. */
    private static double off(CurrentRecord record, int i, double growth) {
        double[] time = record.time();
        double[] value = record.value();
        double then = time[i] - record.cycle();
        int k = record.square().before(then);
        double part = k + 1 < time.length ? (then - time[k]) / (time[k + 1] - time[k]) : 0;
        double before = value[k] + (k + 1 < time.length ? part * (value[k + 1] - value[k]) : 0);
        return Math.abs(value[i] - growth * before);
    }

    /** Where two straight lines that meet fit the rms of the cycles best, the second of them nearly level. */
    private static Optional<PickUp> byLevelling(CurrentRecord record) {
        double cycle = record.cycle();
        MeanSquare square = record.square();
        CurrentRecord.Flow flow = record.flows().stream()
                .max((a, b) -> Double.compare(a.lasts(), b.lasts()))
                .orElseThrow();
        int cycles = (int) (flow.lasts() / cycle);
        int wide = Math.max(1, (cycles + MOST_LEVELS - 1) / MOST_LEVELS);
        int n = cycles / wide;
        if (n < 2 * LEAST_LEVELS) {
            return Optional.empty();
        }
        double[] level = new double[n];
        for (int k = 0; k < n; k++) {
            level[k] = square.rms(flow.from() + k * wide * cycle, flow.from() + (k + 1) * wide * cycle);
        }
        Hinge best = null;
        int at = 0;
        // The first place counts: a device that closes again by itself lets the current grow once more.
        for (int k = AROUND; k <= n - LEAST_LEVELS && (best == null || k < at + AROUND); k++) {
            double[] here = Arrays.copyOfRange(level, k - AROUND, Math.min(n, k + AROUND));
            Hinge hinge = Hinge.at(here, AROUND);
            if (levelsOff(here, hinge) && (best == null || hinge.rest < best.rest)) {
                best = hinge;
                at = k;
            }
        }
        if (best == null) {
            return Optional.empty();
        }
        double[] here = Arrays.copyOfRange(level, at - AROUND, Math.min(n, at + AROUND));
        for (double step : new double[] {0.25, 0.05}) {
            double about = best.knee;
            for (int k = -5; k <= 5; k++) {
                best = best.orBetter(Hinge.at(here, about + k * step));
            }
        }
        double parted = flow.from() + (at - AROUND + best.knee) * wide * cycle;
        return Optional.of(new PickUp(square.rms(parted - cycle, parted), parted, Detector.LEVELLING));
    }

    private static boolean levelsOff(double[] level, Hinge hinge) {
        double noise = Math.sqrt(hinge.rest / level.length);
        boolean levels = hinge.before > 0 && Math.abs(hinge.after) <= LEVEL * hinge.before;
        boolean grew = hinge.before * AROUND > 6 * noise;
        // A ramp that never bends is one line as well as two.
        return levels && grew && straight(level) > 4 * hinge.rest + 1e-18;
    }

    /** What one straight line leaves, as a sum of squares. */
    private static double straight(double[] level) {
        SimpleRegression line = new SimpleRegression();
        for (int k = 0; k < level.length; k++) {
            line.addData(k, level[k]);
        }
        return line.getSumSquaredErrors();
    }

    /**
     * Two lines that meet.
     *
     * @param knee where, in levels
     * @param before how much it grows a level, A
     * @param after likewise
     * @param rest sum of squares that is left
     */
    private record Hinge(double knee, double before, double after, double rest) {

        /** Least squares of level = a + b x + c max(0, x - knee), level k standing for the middle of its cycles. */
        static Hinge at(double[] level, double knee) {
            double[][] x = new double[level.length][];
            for (int k = 0; k < level.length; k++) {
                x[k] = new double[] {k + 0.5, Math.max(0, k + 0.5 - knee)};
            }
            OLSMultipleLinearRegression lines = new OLSMultipleLinearRegression();
            lines.newSampleData(level, x);
            double[] c = lines.estimateRegressionParameters();
            return new Hinge(knee, c[1], c[1] + c[2], lines.calculateResidualSumOfSquares());
        }

        Hinge orBetter(Hinge other) {
            return other.rest < rest ? other : this;
        }
    }
}
