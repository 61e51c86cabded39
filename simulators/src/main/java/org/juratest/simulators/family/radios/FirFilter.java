package org.juratest.simulators.family.radios;

/** A low pass or band pass of the stand-in's own, by a Hamming-windowed sinc. */
final class FirFilter {

    private final double[] taps;

    private FirFilter(double[] taps) {
        this.taps = taps;
    }

    static FirFilter lowPass(double cutOff, double rate, int half) {
        double[] taps = new double[2 * half + 1];
        double sum = 0;
        for (int n = -half; n <= half; n++) {
            double x = 2 * Math.PI * cutOff / rate * n;
            taps[n + half] = (n == 0 ? 1 : Math.sin(x) / x) * (0.54 + 0.46 * Math.cos(Math.PI * n / half));
            sum += taps[n + half];
        }
        for (int n = 0; n < taps.length; n++) {
            taps[n] /= sum;
        }
        return new FirFilter(taps);
    }

    /** What the wider low pass lets through and the narrower does not. */
    static FirFilter bandPass(double from, double to, double rate, int half) {
        FirFilter wide = lowPass(to, rate, half);
        FirFilter narrow = lowPass(from, rate, half);
        double[] taps = wide.taps.clone();
        for (int n = 0; n < taps.length; n++) {
            taps[n] -= narrow.taps[n];
        }
        return new FirFilter(taps);
    }

    int reach() {
        return taps.length - 1;
    }

    /** As many values as there are samples beyond its reach. */
    double[] of(double[] samples) {
        double[] out = new double[samples.length - reach()];
        for (int n = 0; n < out.length; n++) {
            double sum = 0;
            for (int t = 0; t < taps.length; t++) {
                sum += taps[t] * samples[n + t];
            }
            out[n] = sum;
        }
        return out;
    }

    /** Root of the sum of squares: by how much it changes white noise. */
    double noiseGain() {
        double sum = 0;
        for (double tap : taps) {
            sum += tap * tap;
        }
        return Math.sqrt(sum);
    }
}
