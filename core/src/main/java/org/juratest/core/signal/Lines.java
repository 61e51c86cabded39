package org.juratest.core.signal;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * The lines of a signal: sines that stand out of its noise, fitted one after the other, strongest first, and then each
 * again with the others taken out, so that they do not bend one another. What the signal stands on is fitted with them,
 * so that a period begun and not ended does not count as an offset.
 */
final class Lines {

    private static final int MOST = 24;
    private static final int ROUNDS = 3;
    /** A line weaker than this against the strongest is nobody's business: -100 dB. */
    private static final double WEAKEST = 1e-10;

    private final List<Sine> found;
    private final double offset;
    private final double[] rest;

    private Lines(List<Sine> found, double offset, double[] rest) {
        this.found = found;
        this.offset = offset;
        this.rest = rest;
    }

    /**
     * @param from Hz
     * @param to Hz
     */
    static Lines of(double[] samples, double rate, double from, double to) {
        double offset = Samples.mean(samples);
        double[] rest = new double[samples.length];
        for (int n = 0; n < rest.length; n++) {
            rest[n] = samples[n] - offset;
        }
        List<Sine> lines = new ArrayList<>();
        while (lines.size() < MOST) {
            Spectrum.Peak peak = Spectrum.of(rest, rate).peak(from, to, 200);
            if (!(peak.aboveNoise() >= ToneAnalysis.STANDS_OUT)) {
                break;
            }
            Sine line = Sine.fit(rest, rate, peak.frequency());
            if (!lines.isEmpty() && !(line.power() > WEAKEST * lines.get(0).power())) {
                break;
            }
            offset += taken(rest, rate, line);
            lines.add(line);
        }
        for (int round = 0; round < ROUNDS && lines.size() > 1; round++) {
            for (int l = 0; l < lines.size(); l++) {
                lines.get(l).addTo(rest, rate, 0);
                Sine again = Sine.fit(rest, rate, lines.get(l).frequency());
                offset += taken(rest, rate, again);
                lines.set(l, again);
            }
        }
        lines.sort(Comparator.comparingDouble(Sine::power).reversed());
        return new Lines(lines, offset, rest);
    }

    private static double taken(double[] rest, double rate, Sine line) {
        line.takeFrom(rest, rate, 0);
        for (int n = 0; n < rest.length; n++) {
            rest[n] -= line.offset();
        }
        return line.offset();
    }

    /** Strongest first. */
    List<Sine> all() {
        return found;
    }

    /** What the signal stands on. */
    double offset() {
        return offset;
    }

    /** What is left of the samples. */
    double[] rest() {
        return rest;
    }
}
