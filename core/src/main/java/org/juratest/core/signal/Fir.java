package org.juratest.core.signal;

/**
 * A linear-phase filter with a finite response, applied by convolution.
 *
 * @param taps odd in number, symmetric
 */
record Fir(double[] taps) {

    /** Width of the fall from pass to stop, as a share of the sample rate, per tap (Blackman window, about 75 dB). */
    private static final double BLACKMAN = 5.5;

    /** A low pass: -6 dB at the cut-off, falling over a sixth of it. */
    static Fir lowPass(double cutOff, double rate) {
        return lowPass(cutOff, cutOff / 6, rate);
    }

    /** A low pass by a windowed sinc: -6 dB at the cut-off, falling over a width. */
    static Fir lowPass(double cutOff, double width, double rate) {
        int half = (int) Math.ceil(BLACKMAN * rate / width / 2);
        double[] taps = new double[2 * half + 1];
        double sum = 0;
        for (int n = -half; n <= half; n++) {
            double x = 2 * cutOff / rate * n;
            double sinc = n == 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
            double turn = Math.PI * n / (half + 1);
            taps[n + half] = sinc * (0.42 + 0.5 * Math.cos(turn) + 0.08 * Math.cos(2 * turn));
            sum += taps[n + half];
        }
        for (int n = 0; n < taps.length; n++) {
            taps[n] /= sum;
        }
        return new Fir(taps);
    }

    /** The mean over a time. */
    static Fir average(double samples) {
        int half = (int) Math.ceil((samples - 1) / 2);
        double[] taps = new double[2 * half + 1];
        java.util.Arrays.fill(taps, 1 / samples);
        if (half > 0) {
            taps[0] = (samples - (2 * half - 1)) / 2 / samples;
            taps[2 * half] = taps[0];
        }
        return new Fir(taps);
    }

    /**
     * A root-raised-cosine filter with a gain of one at 0 Hz, over eight symbols on each side.
     *
     * @param samples a symbol
     * @param rollOff 0 to 1, excluded
     */
    static Fir rootRaisedCosine(double samples, double rollOff) {
        int half = (int) Math.ceil(8 * samples);
        double[] taps = new double[2 * half + 1];
        double sum = 0;
        for (int n = -half; n <= half; n++) {
            double t = n / samples;
            double four = 4 * rollOff * t;
            double tap;
            if (n == 0) {
                tap = 1 - rollOff + 4 * rollOff / Math.PI;
            } else if (Math.abs(Math.abs(four) - 1) < 1e-9) {
                double quarter = Math.PI / (4 * rollOff);
                tap = rollOff
                        / Math.sqrt(2)
                        * ((1 + 2 / Math.PI) * Math.sin(quarter) + (1 - 2 / Math.PI) * Math.cos(quarter));
            } else {
                tap = (Math.sin(Math.PI * t * (1 - rollOff)) + four * Math.cos(Math.PI * t * (1 + rollOff)))
                        / (Math.PI * t * (1 - four * four));
            }
            taps[n + half] = tap;
            sum += tap;
        }
        for (int n = 0; n < taps.length; n++) {
            taps[n] /= sum;
        }
        return new Fir(taps);
    }

    int half() {
        return taps.length / 2;
    }

    /** As many values as samples; beyond the ends the first and the last sample count on. */
    double[] held(double[] samples) {
        double[] out = new double[samples.length];
        int half = half();
        int last = samples.length - 1;
        for (int n = 0; n < out.length; n++) {
            double sum = 0;
            for (int t = 0; t < taps.length; t++) {
                sum += taps[t] * samples[Math.max(0, Math.min(last, n + t - half))];
            }
            out[n] = sum;
        }
        return out;
    }

    /** Only the values that every tap has a sample for; none where the samples are fewer than the taps. */
    double[] inside(double[] samples) {
        int count = Math.max(0, samples.length - taps.length + 1);
        double[] out = new double[count];
        for (int n = 0; n < count; n++) {
            double sum = 0;
            for (int t = 0; t < taps.length; t++) {
                sum += taps[t] * samples[n + t];
            }
            out[n] = sum;
        }
        return out;
    }
}
