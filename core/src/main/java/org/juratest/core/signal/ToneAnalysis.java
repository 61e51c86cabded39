package org.juratest.core.signal;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;

/**
 * A test tone and what is left once it is taken out. The tone is found, not assumed: the strongest line of the
 * spectrum, fitted in time by least squares. What is left is noise, hum and harmonics; its power in any band comes from
 * a spectrum that a pure tone no longer leaks into.
 *
 * <p>Digital silence has no tone, and neither has noise: where no line stands out, there is no figure. Samples that are
 * not finite, and fewer than {@value #SHORTEST} s, are refused.
 */
public final class ToneAnalysis {

    /** Shortest record, s: two periods of 40 Hz. */
    public static final double SHORTEST = 0.05;
    /** Lowest frequency of the whole band, Hz. */
    public static final double LOWEST = 20;
    /** The last harmonic that counts as distortion. */
    public static final int LAST_HARMONIC = 10;
    /** Band of speech, Hz. */
    public static final double VOICE_FROM = 300;

    public static final double VOICE_TO = 3400;
    /**
     * How far a line must stand above the mean of what is around it. Noise has a place that high once in e^25 / 48000,
     * one second in a hundred days.
     */
    static final double STANDS_OUT = 25;
    /** Around a line, Hz, what it is told from. */
    private static final double AROUND = 200;

    private final double rate;
    private final @Nullable Sine tone;
    private final Spectrum rest;
    private final double[] left;
    private final double[] samples;
    private final List<String> warnings;

    private ToneAnalysis(double rate, @Nullable Sine tone, double[] left, double[] samples, List<String> warnings) {
        this.rate = rate;
        this.tone = tone;
        this.rest = Spectrum.of(left, rate);
        this.left = left;
        this.samples = samples;
        this.warnings = List.copyOf(warnings);
    }

    /** A tone: Hz, and amplitude (peak) in the unit of the samples. */
    public record Tone(double frequency, double amplitude) {}

    /**
     * Analyses samples.
     *
     * @param given one channel, full scale 1 for warnings of clipping; not changed
     * @param rate Hz
     * @throws SignalException if they cannot be analysed
     */
    public static ToneAnalysis of(double[] given, double rate) {
        double[] samples = given.clone();
        Samples.check(samples, rate, SHORTEST);
        List<String> warnings = new ArrayList<>();
        double mean = Samples.mean(samples);
        double[] rest = new double[samples.length];
        for (int n = 0; n < rest.length; n++) {
            rest[n] = samples[n] - mean;
        }
        if (Samples.clipped(samples)) {
            warnings.add("clipped: samples stand at full scale");
        }
        if (Samples.silent(Samples.power(rest))) {
            warnings.add("digital silence: there is no signal");
            return new ToneAnalysis(rate, null, rest, samples, warnings);
        }
        Spectrum.Peak peak = Spectrum.peak(rest, rate, LOWEST, rate / 2, AROUND);
        if (!(peak.aboveNoise() >= STANDS_OUT)) {
            warnings.add("no tone stands out of the noise");
            return new ToneAnalysis(rate, null, rest, samples, warnings);
        }
        Sine tone = Sine.fit(rest, rate, peak.frequency());
        for (int n = 0; n < rest.length; n++) {
            rest[n] -= tone.offset();
        }
        tone.takeFrom(rest, rate, 0);
        return new ToneAnalysis(rate, tone, rest, samples, warnings);
    }

    /** The tone; null where there is none. */
    public @Nullable Tone tone() {
        return tone == null ? null : new Tone(tone.frequency(), tone.amplitude());
    }

    /** What a person should know beside the figures. */
    public List<String> warnings() {
        return warnings;
    }

    /** Half the sample rate, Hz: the upper end of the whole band. */
    public double nyquist() {
        return rate / 2;
    }

    /** Power of what is left in a band, weighted; full scale is 1. */
    public double restPower(double from, double to, Weighting weighting) {
        return rest.power(from, to, weighting::power);
    }

    /**
     * SINAD, 10 log10((S+N+D)/(N+D)), dB: all three in one band and with one weighting. Empty where there is no tone,
     * the tone lies outside the band, or nothing at all is left of it.
     */
    public OptionalDouble sinad(double from, double to, Weighting weighting) {
        Sine found = tone;
        if (found == null || !(found.frequency() >= from && found.frequency() <= to)) {
            return OptionalDouble.empty();
        }
        double left = restPower(from, to, weighting);
        return left > 0
                ? OptionalDouble.of(10 * Math.log10(1 + found.power() * weighting.power(found.frequency()) / left))
                : OptionalDouble.empty();
    }

    /** SINAD from {@value #LOWEST} Hz to half the sample rate, unweighted. */
    public OptionalDouble sinad() {
        return sinad(LOWEST, nyquist(), Weighting.NONE);
    }

    /** SINAD from 300 to 3400 Hz, unweighted. */
    public OptionalDouble sinadVoice() {
        return sinad(VOICE_FROM, VOICE_TO, Weighting.NONE);
    }

    /**
     * Total distortion with noise, per cent: root of (N+D)/(S+N+D), the inverse of {@link #sinad}. Empty where that is.
     */
    public OptionalDouble distortion(double from, double to, Weighting weighting) {
        OptionalDouble sinad = sinad(from, to, weighting);
        return sinad.isPresent() ? OptionalDouble.of(100 * Math.pow(10, -sinad.getAsDouble() / 20)) : sinad;
    }

    /**
     * Total harmonic distortion, per cent: root of the sum of the squares of harmonics 2 to {@value #LAST_HARMONIC}
     * below half the sample rate, over the fundamental (IEEE 1057, 3.1.100 as a share; IEC 60268-3, 14.12.3). A
     * harmonic is the line at just its multiple, of whatever is left of the samples, under a raised cosine; noise
     * within two cells of the record counts with it. Empty where there is no tone, or no harmonic lies below half the
     * rate.
     */
    public OptionalDouble harmonicDistortion() {
        Sine found = tone;
        if (found == null || !(2 * found.frequency() < nyquist())) {
            return OptionalDouble.empty();
        }
        double squares = 0;
        for (int k = 2; k <= LAST_HARMONIC && k * found.frequency() < nyquist(); k++) {
            double amplitude = amplitudeAt(k * found.frequency());
            squares += amplitude * amplitude;
        }
        return OptionalDouble.of(100 * Math.sqrt(squares) / found.amplitude());
    }

    /** Amplitude (peak) of a line in what is left, under a raised cosine over the record. */
    private double amplitudeAt(double frequency) {
        double turn = 2 * Math.PI * frequency / rate;
        double window = 2 * Math.PI / left.length;
        double real = 0;
        double imaginary = 0;
        for (int n = 0; n < left.length; n++) {
            double weighted = left[n] * (1 - Math.cos(window * n));
            real += weighted * Math.cos(turn * n);
            imaginary += weighted * Math.sin(turn * n);
        }
        return 2 * Math.hypot(real, imaginary) / left.length;
    }

    /**
     * Distortion with noise over the fundamental, per cent: root of (N+D)/S from {@value #LOWEST} Hz to half the sample
     * rate. Empty where there is no tone.
     */
    public OptionalDouble distortionWithNoise() {
        Sine found = tone;
        return found == null
                ? OptionalDouble.empty()
                : OptionalDouble.of(100 * Math.sqrt(restPower(LOWEST, nyquist(), Weighting.NONE) / found.power()));
    }

    /**
     * A spectrum to be drawn, in dB below the tone (or below full scale where there is none): columns of equal width,
     * each with its highest density taken as a line.
     *
     * @param to Hz
     * @param columns number of columns
     * @return three rows of that many values: frequency (Hz), all there is, what is left of it
     */
    public double[][] drawn(double to, int columns) {
        double[][] rows = new double[3][columns];
        double top = tone == null ? 1 : Math.max(tone.power(), Double.MIN_NORMAL);
        double mean = Samples.mean(samples);
        Spectrum whole = Spectrum.of(Arrays.stream(samples).map(s -> s - mean).toArray(), rate);
        double step = whole.step();
        for (int c = 0; c < columns; c++) {
            double from = to * c / columns;
            double until = to * (c + 1) / columns;
            rows[0][c] = (from + until) / 2;
            rows[1][c] = highest(whole, from, until, step, top);
            rows[2][c] = highest(rest, from, until, step, top);
        }
        return rows;
    }

    private static double highest(Spectrum spectrum, double from, double to, double step, double top) {
        double best = 0;
        for (int j = (int) Math.ceil(from / step); j * step < to && j < spectrum.places(); j++) {
            // The tapers spread a line over about as many places as there are of them.
            best = Math.max(best, spectrum.density(j) * step * spectrum.width());
        }
        return 10 * Math.log10(Math.max(best / top, 1e-15));
    }
}
