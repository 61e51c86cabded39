package org.juratest.core.family.radios;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.signal.FmAnalysis;
import org.juratest.core.signal.ToneAnalysis;
import org.juratest.core.trace.Trace;

/** Test tones, and pictures of what came of them. */
final class Audio {

    /** The test tone of the trade, Hz. */
    static final double TONE = 1000;
    /** Band in which sound is judged, Hz: both stated, with 750 us de-emphasis. */
    static final double FROM = 300;

    static final double TO = 3000;
    /** Greatest voltage a microphone input is given, V. */
    static final double MOST = 2;

    private static final double NEAR = 0.01;
    private static final int TRIES = 5;
    private static final int COLUMNS = 240;
    private static final double DRAWN_TO = 4000;
    private static final double HEARD = 1.0;
    /** Five turns of the test tone, s. */
    private static final double WAVE = 0.005;

    private Audio() {}

    /**
     * Turns up the sound at the microphone until a tone has a deviation; the carrier is on.
     *
     * @param from voltage to begin with, V rms
     * @return the voltage, V rms; empty if it cannot be reached
     */
    static Optional<Double> modulate(RadioSetup rig, double hertz, double deviation, double from) {
        double volts = from;
        for (int tried = 0; tried < TRIES; tried++) {
            rig.tester().speak(hertz, volts);
            rig.settle();
            FmAnalysis found = FmAnalysis.of(rig.capture(0.1).iq());
            double now = found.tone().map(ToneAnalysis.Tone::amplitude).orElse(0.0);
            rig.show(Map.of("deviation", new Quantity(now, Unit.HERTZ)));
            if (!(now > 0)) {
                return Optional.empty();
            }
            if (Math.abs(now / deviation - 1) <= NEAR) {
                return Optional.of(volts);
            }
            volts = Math.min(MOST, volts * deviation / now);
        }
        return Optional.empty();
    }

    /** The tone and what is left of it, dB below the tone, to be drawn. */
    static List<Trace> spectrum(ToneAnalysis analysis) {
        double[][] rows = analysis.drawn(Math.min(DRAWN_TO, analysis.nyquist()), COLUMNS);
        return List.of(
                RadioSetup.trace("Spectrum", Unit.HERTZ, Unit.DECIBEL, rows[0], rows[1]),
                RadioSetup.trace("What is left of the tone", Unit.HERTZ, Unit.DECIBEL, rows[0], rows[2]));
    }

    /** Some milliseconds of the demodulated signal, to be drawn. */
    static Trace deviation(FmAnalysis analysis, double seconds) {
        double[] audio = analysis.audio();
        int every = 1;
        int count = Math.min(audio.length, (int) (seconds * analysis.rate()));
        double[] x = new double[Math.max(1, count / every)];
        double[] y = new double[x.length];
        for (int n = 0; n < x.length; n++) {
            x[n] = n * every / analysis.rate() * 1e3;
            y[n] = audio.length == 0 ? 0 : audio[n * every];
        }
        return RadioSetup.trace("Deviation", Unit.MILLISECOND, Unit.HERTZ, x, y);
    }

    /** Some milliseconds of what a receiver gives, to be drawn. */
    static Trace wave(double[] volts, double rate) {
        double[] x = new double[Math.min(volts.length, (int) (WAVE * rate))];
        for (int n = 0; n < x.length; n++) {
            x[n] = n / rate * 1e3;
        }
        return RadioSetup.trace("Sound", Unit.MILLISECOND, Unit.VOLT, x, Arrays.copyOf(volts, x.length));
    }

    /** Keeps what a demodulator or a receiver gave, at half of full scale. */
    static void keep(RadioSetup rig, String name, double[] samples, double rate) {
        int count = Math.min(samples.length, (int) (HEARD * rate));
        int fewer = rate >= 90_000 ? 2 : 1;
        double most = 0;
        for (int n = 0; n < count; n++) {
            most = Math.max(most, Math.abs(samples[n]));
        }
        if (!(most > 0)) {
            return;
        }
        double[] kept = new double[count / fewer];
        for (int n = 0; n < kept.length; n++) {
            // Two into one by their mean: what lies above the kept band is far above speech.
            double value = fewer == 1 ? samples[n] : (samples[2 * n] + samples[2 * n + 1]) / 2;
            kept[n] = 0.5 * value / most;
        }
        rig.bench().sound(name, kept, rate / fewer);
    }

    /** Root mean square of samples. */
    static double rms(double[] samples) {
        double sum = 0;
        for (double sample : samples) {
            sum += sample * sample;
        }
        return samples.length == 0 ? 0 : Math.sqrt(sum / samples.length);
    }

    static RadioTester.Modulation fm() {
        return RadioTester.Modulation.FM;
    }
}
