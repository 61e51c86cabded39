package org.juratest.core.signal;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;

/**
 * A frequency-modulated carrier in complex baseband, by quadrature demodulation.
 *
 * <p>The frequency error is the mean instantaneous frequency, fitted together with the modulation, so that a period
 * begun and not ended does not shift it. Peak deviation is that of everything up to 15 kHz that stands out as lines
 * (tone, its harmonics, sub-tone, hum), evaluated between the samples as well; noise, which would only ever add to a
 * peak, is stated beside it as residual FM. Where no lines carry the modulation (speech), the peaks are those of the
 * demodulated signal itself, noise included, and a warning says so.
 *
 * <p>A carrier that is on for a part of the record only is analysed over its longest stretch. Silence, and noise
 * without a carrier, give no figures. Samples that are not finite, and fewer than {@value #SHORTEST} s, are refused.
 */
public final class FmAnalysis {

    /** Shortest record, s. */
    public static final double SHORTEST = 0.05;
    /** Upper end of the modulation, Hz. */
    public static final double AUDIO = 15_000;
    /** Sub-audible tones lie between these, Hz (TIA-603, continuous tone-controlled squelch: 67.0 to 254.1 Hz). */
    public static final double SUB_FROM = 60;

    public static final double SUB_TO = 260;
    /** Least deviation of a sub-tone, Hz: what is weaker at these frequencies is hum. */
    private static final double SUB_LEAST = 30;
    /**
     * Deviation below which a line is rounding of the samples, Hz: 16 bits of a steady carrier make lines of some
     * tenths.
     */
    private static final double TONE_LEAST = 1;

    private static final double LOWEST = 20;
    /** How evenly a carrier stands: of noise alone, the power varies as much as its mean. */
    private static final double NO_CARRIER = 0.6;
    /** Share of the modulation's power that lines must carry for its peaks to be theirs. */
    private static final double CARRIED = 0.5;

    private static final int BETWEEN = 4;

    private final double rate;
    private final double[] demodulated;
    private final @Nullable Lines lines;
    private final double power;
    private final List<String> warnings;

    private FmAnalysis(double rate, double[] demodulated, @Nullable Lines lines, double power, List<String> warnings) {
        this.rate = rate;
        this.demodulated = demodulated;
        this.lines = lines;
        this.power = power;
        this.warnings = warnings;
    }

    /**
     * Analyses a record.
     *
     * @throws SignalException if it cannot be analysed
     */
    public static FmAnalysis of(Iq record) {
        record.check(SHORTEST);
        List<String> warnings = new ArrayList<>();
        double power = record.meanPower();
        if (Samples.silent(power)) {
            warnings.add("digital silence: there is no signal");
            return new FmAnalysis(record.rate(), new double[0], null, power, warnings);
        }
        if (Samples.clipped(record.i()) || Samples.clipped(record.q())) {
            warnings.add("clipped: samples stand at full scale");
        }
        Iq iq = Bursts.of(record, SHORTEST).stream()
                .max(Comparator.comparingInt(Iq::length))
                .orElse(record);
        if (iq.length() < record.length()) {
            warnings.add(String.format(
                    java.util.Locale.ROOT,
                    "the carrier is on for a part only: %.4g s of %.4g s are analysed",
                    iq.seconds(),
                    record.seconds()));
        }
        if (noCarrier(iq)) {
            warnings.add("no carrier: the samples are noise");
            return new FmAnalysis(record.rate(), new double[0], null, iq.meanPower(), warnings);
        }
        double[] hertz = iq.demodulated();
        double top = Math.min(AUDIO, 0.45 * iq.rate());
        Lines lines = Lines.of(hertz, iq.rate(), LOWEST, top);
        FmAnalysis analysis = new FmAnalysis(iq.rate(), hertz, lines, iq.meanPower(), warnings);
        if (analysis.tone().isEmpty()) {
            warnings.add("no tone stands out of the demodulated signal");
        }
        if (!analysis.carriedByLines()) {
            warnings.add("the peak deviation is that of the demodulated signal, noise included");
        } else if (analysis.subTone().isPresent()) {
            warnings.add("the peak deviation includes the sub-tone");
        }
        return analysis;
    }

    /**
     * Variance of the power over the square of its mean: 1 for noise, (2c+1)/(c+1)^2 for a carrier of c times the
     * noise.
     */
    static boolean noCarrier(Iq iq) {
        double sum = 0;
        double squares = 0;
        for (int n = 0; n < iq.length(); n++) {
            double p = iq.re(n) * iq.re(n) + iq.im(n) * iq.im(n);
            sum += p;
            squares += p * p;
        }
        double mean = sum / iq.length();
        return squares / iq.length() / (mean * mean) - 1 > NO_CARRIER;
    }

    /** What a person should know beside the figures. */
    public List<String> warnings() {
        return List.copyOf(warnings);
    }

    /** Power of the stretch that was analysed, dBFS: mean of I²+Q², 0 dBFS = 1. */
    public double dbfs() {
        return 10 * Math.log10(power);
    }

    /** Mean instantaneous frequency, Hz above nominal. */
    public OptionalDouble frequencyError() {
        return lines == null ? OptionalDouble.empty() : OptionalDouble.of(lines.offset());
    }

    /**
     * The difference of two samples' phases is the mean frequency between them, which is less than its peak: what it
     * has to be divided by.
     */
    private double sinc(double hertz) {
        double x = Math.PI * hertz / rate;
        return Math.sin(x) / x;
    }

    private List<Sine> all() {
        return lines == null ? List.of() : lines.all();
    }

    private Optional<Sine> strongest(double from, double to, double least) {
        return all().stream()
                .filter(l ->
                        l.frequency() >= from && l.frequency() < to && l.amplitude() / sinc(l.frequency()) >= least)
                .findFirst();
    }

    private ToneAnalysis.Tone corrected(Sine line) {
        return new ToneAnalysis.Tone(line.frequency(), line.amplitude() / sinc(line.frequency()));
    }

    /** The strongest line above the sub-audible ones: Hz, and its deviation (peak) in Hz, at least 1 Hz. */
    public Optional<ToneAnalysis.Tone> tone() {
        return strongest(SUB_TO, AUDIO, TONE_LEAST).map(this::corrected);
    }

    /** The strongest sub-audible line: Hz, and its deviation (peak) in Hz. */
    public Optional<ToneAnalysis.Tone> subTone() {
        return strongest(SUB_FROM, SUB_TO, SUB_LEAST).map(this::corrected);
    }

    private boolean carriedByLines() {
        double carried = all().stream().mapToDouble(Sine::power).sum();
        Lines found = lines;
        double left =
                found == null ? 0 : Spectrum.of(found.rest(), rate).power(LOWEST, Math.min(AUDIO, rate / 2), f -> 1);
        return carried > CARRIED * (carried + left);
    }

    /** Peak deviation above the mean, Hz, not negative. */
    public OptionalDouble deviationPositive() {
        return lines == null ? OptionalDouble.empty() : OptionalDouble.of(peaks()[0]);
    }

    /** Peak deviation below the mean, Hz, not negative. */
    public OptionalDouble deviationNegative() {
        return lines == null ? OptionalDouble.empty() : OptionalDouble.of(peaks()[1]);
    }

    private double[] peaks() {
        double[] wave = carriedByLines() ? modelled() : lowPassed();
        double high = 0;
        double low = 0;
        for (double value : wave) {
            high = Math.max(high, value);
            low = Math.min(low, value);
        }
        return new double[] {high, -low};
    }

    private double[] modelled() {
        double[] wave = new double[demodulated.length * BETWEEN];
        for (Sine line : all()) {
            double up = 1 / sinc(line.frequency());
            new Sine(line.frequency(), line.a() * up, line.b() * up, 0).addTo(wave, rate * BETWEEN, 0);
        }
        return wave;
    }

    /** The demodulated signal about its mean, up to 15 kHz; its ends, where the filter has only one side, left out. */
    private double[] lowPassed() {
        double[] wave = demodulated.clone();
        double mean = frequencyError().orElse(0);
        for (int n = 0; n < wave.length; n++) {
            wave[n] -= mean;
        }
        return rate / 2 <= AUDIO ? wave : Fir.lowPass(AUDIO, rate).inside(wave);
    }

    /** Root mean square of what is neither tone, harmonic of it, nor sub-tone, up to 15 kHz, Hz: noise and hum. */
    public OptionalDouble residualFm() {
        return residual(LOWEST, Math.min(AUDIO, rate / 2), Weighting.NONE);
    }

    /**
     * Root mean square of what is neither tone, harmonic, nor sub-tone in a band, Hz.
     *
     * @param weighting counts power
     */
    public OptionalDouble residual(double from, double to, Weighting weighting) {
        Lines found = lines;
        if (found == null) {
            return OptionalDouble.empty();
        }
        double[] rest = found.rest().clone();
        double near = 2 * rate / demodulated.length;
        Optional<ToneAnalysis.Tone> tone = tone();
        Optional<ToneAnalysis.Tone> sub = subTone();
        for (Sine line : found.all()) {
            boolean harmonic = tone.isPresent()
                    && Math.abs(line.frequency()
                                    - tone.get().frequency()
                                            * Math.rint(line.frequency()
                                                    / tone.get().frequency()))
                            < near
                    && line.frequency() > tone.get().frequency() / 2;
            boolean subAudible =
                    sub.isPresent() && Math.abs(line.frequency() - sub.get().frequency()) < near;
            if (!harmonic && !subAudible) {
                line.addTo(rest, rate, 0);
            }
        }
        return OptionalDouble.of(rms(rest, from, to, weighting));
    }

    /**
     * Root mean square of all that stands on an unmodulated carrier in a band, Hz: noise, and every line of hum and
     * whine in it, also the strongest, which {@link #residual} takes for the tone. Empty where there is no carrier.
     *
     * @param from lower end of the band, Hz
     * @param to upper end, Hz
     * @param weighting counts power
     */
    public OptionalDouble unmodulated(double from, double to, Weighting weighting) {
        Lines found = lines;
        if (found == null) {
            return OptionalDouble.empty();
        }
        double[] wave = found.rest().clone();
        found.all().forEach(line -> line.addTo(wave, rate, 0));
        return OptionalDouble.of(rms(wave, from, to, weighting));
    }

    private double rms(double[] wave, double from, double to, Weighting weighting) {
        return Math.sqrt(
                Spectrum.of(wave, rate).power(from, to, f -> weighting.power(f) / Math.pow(f > 0 ? sinc(f) : 1, 2)));
    }

    /**
     * The demodulated signal without its mean and its sub-audible tone, as an audio signal in Hz: for distortion, and
     * to be listened to. Empty where there is no carrier.
     */
    public double[] audio() {
        double[] audio = demodulated.clone();
        double mean = frequencyError().orElse(0);
        for (int n = 0; n < audio.length; n++) {
            audio[n] -= mean;
        }
        all().stream()
                .filter(l -> l.frequency() >= SUB_FROM && l.frequency() < SUB_TO)
                .forEach(l -> l.takeFrom(audio, rate, 0));
        return audio;
    }

    public double rate() {
        return rate;
    }
}
