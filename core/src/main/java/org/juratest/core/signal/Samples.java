package org.juratest.core.signal;

/** What every analysis asks of its samples before it begins. */
final class Samples {

    /** Mean power, full scale = 1, at and below which there is digital silence: no converter reaches so low. */
    private static final double SILENCE = 1e-16;
    /** From here on a sample counts as at full scale: the top code of a 16-bit converter, less one. */
    private static final double FULL = 1 - 2.0 / 32768;
    /** Samples in a row at full scale that a signal which just reaches it does not show. */
    private static final int CLIPPED_RUN = 3;

    private Samples() {}

    /**
     * @param shortest s
     * @throws SignalException if a sample is not finite, the rate makes no sense, or there are too few
     */
    static void check(double[] samples, double rate, double shortest) {
        if (!(rate >= 1 && rate <= 1e9)) {
            throw new SignalException("bad-rate", "a sample rate of " + rate + " Hz makes no sense");
        }
        for (int i = 0; i < samples.length; i++) {
            if (!(Math.abs(samples[i]) <= Double.MAX_VALUE)) {
                throw new SignalException("not-finite", "sample " + i + " is not a number: " + samples[i]);
            }
        }
        if (!(samples.length / rate >= shortest)) {
            throw new SignalException(
                    "too-short",
                    String.format(
                            java.util.Locale.ROOT,
                            "%d samples are %.4g s; at least %s s are needed",
                            samples.length,
                            samples.length / rate,
                            shortest));
        }
    }

    static double mean(double[] samples) {
        double sum = 0;
        for (double sample : samples) {
            sum += sample;
        }
        return sum / samples.length;
    }

    /** Mean of the squares; 0 for none. */
    static double power(double[] samples) {
        double sum = 0;
        for (double sample : samples) {
            sum += sample * sample;
        }
        return samples.length == 0 ? 0 : sum / samples.length;
    }

    static boolean silent(double power) {
        return !(power > SILENCE);
    }

    static boolean clipped(double[] samples) {
        int run = 0;
        for (double sample : samples) {
            run = Math.abs(sample) >= FULL ? run + 1 : 0;
            if (run == CLIPPED_RUN) {
                return true;
            }
        }
        return false;
    }
}
