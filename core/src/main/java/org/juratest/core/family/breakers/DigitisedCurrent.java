package org.juratest.core.family.breakers;

import java.util.Arrays;
import java.util.Map;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/**
 * A current as it was digitised, as evidence that other programs of the trade read: the whole of it while it flowed,
 * nothing of the pauses between.
 *
 * @param time of each sample, s, ascending
 * @param current A
 * @param frequency of the line, Hz
 */
public record DigitisedCurrent(double[] time, double[] current, double frequency) {

    /** Name of the trace it is kept as. */
    public static final String NAME = "Digitised current";
    /** Fact that tells its line frequency, Hz. */
    private static final String FREQUENCY = "frequency";
    /** Kept before it begins to flow and after it ends, cycles. */
    private static final double AROUND = 2;
    /** Of its largest sample, below which it does not flow. */
    private static final double NONE = 0.02;

    public DigitisedCurrent {
        if (time.length != current.length || time.length == 0) {
            throw new IllegalArgumentException(time.length + " times for " + current.length + " samples");
        }
        time = time.clone();
        current = current.clone();
    }

    @Override
    public double[] time() {
        return time.clone();
    }

    @Override
    public double[] current() {
        return current.clone();
    }

    /** What is kept of it: samples while it flows and two cycles around; at most what a trace holds. */
    Trace kept() {
        double largest = 0;
        for (double v : current) {
            largest = Math.max(largest, Math.abs(v));
        }
        double around = AROUND / frequency;
        boolean[] keep = new boolean[time.length];
        double until = Double.NEGATIVE_INFINITY;
        for (int i = 0; i < time.length; i++) {
            until = Math.abs(current[i]) > NONE * largest ? time[i] + around : until;
            keep[i] = time[i] <= until;
        }
        double from = Double.POSITIVE_INFINITY;
        int n = 0;
        for (int i = time.length - 1; i >= 0; i--) {
            from = Math.abs(current[i]) > NONE * largest ? time[i] - around : from;
            keep[i] |= time[i] >= from && from < Double.POSITIVE_INFINITY;
            n += keep[i] ? 1 : 0;
        }
        // A record of no current is evidence as well.
        if (n == 0) {
            Arrays.fill(keep, true);
            n = time.length;
        }
        n = Math.min(n, Trace.MOST);
        double[] x = new double[n];
        double[] y = new double[n];
        for (int i = 0, to = 0; to < n; i++) {
            if (keep[i]) {
                x[to] = time[i];
                y[to++] = current[i];
            }
        }
        return new Trace(NAME, Unit.SECOND, Unit.AMPERE, x, y);
    }

    /** Facts beside the trace: it is for files, not for drawing. */
    Map<String, String> facts() {
        return Map.of(FREQUENCY, Double.toString(frequency), AttemptEvents.Captured.FOR, AttemptEvents.Captured.FILES);
    }

    /** Whether a capture is such a one. */
    public static boolean is(AttemptEvents.Captured captured) {
        return captured.mediaType().equals(RunState.TRACE_TYPE)
                && captured.name().equals(NAME)
                && captured.facts().containsKey(FREQUENCY);
    }

    /**
     * Out of what was kept.
     *
     * @throws IllegalArgumentException if the capture is none
     */
    public static DigitisedCurrent of(Trace trace, AttemptEvents.Captured captured) {
        if (!is(captured)) {
            throw new IllegalArgumentException("\"" + captured.name() + "\" is no digitised current");
        }
        return new DigitisedCurrent(
                trace.x(), trace.y(), Double.parseDouble(captured.facts().get(FREQUENCY)));
    }
}
