package org.juratest.core.signal;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.DoubleUnaryOperator;
import org.jtransforms.fft.DoubleFFT_1D;
import org.visnow.jlargearrays.ConcurrencyUtils;

/**
 * Power spectrum of a record by sine tapers (K. S. Riedel, A. Sidorenko, "Minimum bias multiple taper spectral
 * estimation", IEEE Trans. Signal Processing 43 (1995) 188, eq. 2.5): all tapers come from one transform of the record
 * padded to twice its length, as differences of its values k apart. Together they weight the record almost evenly, so
 * that the power of noise is found with hardly more spread than by Parseval's sum, while a strong line leaks with the
 * fourth power of the distance only.
 *
 * <p>A few samples at the end may go unused, so that the transform has a length it is fast at.
 */
final class Spectrum {

    /** Half width over which tapers may smear, Hz, where the record is long enough. */
    private static final double SMEAR = 10;

    private static final int FEWEST = 3;
    private static final int MOST = 12;
    private static final int KEPT = 12;

    static {
        // One measurement is one thread; the library would take every core for a long record.
        ConcurrencyUtils.setNumberOfThreads(1);
    }

    /** Values beyond both ends, as the transform goes on there, so that no place asked for is outside. */
    private static final int MARGIN = 16;

    private final double[] re;
    private final double[] im;
    private final double[] densities;
    private final int padded;
    private final int used;
    private final double rate;
    private final boolean complex;
    private final int tapers;

    private Spectrum(double[] re, double[] im, int padded, int used, double rate, boolean complex) {
        this.re = continued(re, padded, complex, 1);
        this.im = continued(im, padded, complex, -1);
        this.padded = padded;
        this.used = used;
        this.rate = rate;
        this.complex = complex;
        double most = 2 * SMEAR * used / rate - 1;
        this.tapers = (int) Math.max(FEWEST, Math.min(MOST, most));
        this.densities = new double[places()];
        java.util.Arrays.fill(densities, Double.NaN);
    }

    /**
     * Fills in the margins.
     *
     * @param values a transform between two margins
     * @param mirrored sign of a value on the other side of 0, or of half the rate, for real samples
     */
    private static double[] continued(double[] values, int padded, boolean complex, int mirrored) {
        int length = values.length - 2 * MARGIN;
        for (int k = 0; k < MARGIN; k++) {
            int before = Math.floorMod(-1 - k, padded);
            int after = Math.floorMod(length + k, padded);
            values[MARGIN - 1 - k] = complex ? values[MARGIN + before] : mirrored * values[MARGIN + 1 + k];
            values[MARGIN + length + k] = complex ? values[MARGIN + after] : mirrored * values[MARGIN + length - 2 - k];
        }
        return values;
    }

    /** Of real samples, at least 8. */
    static Spectrum of(double[] samples, double rate) {
        int used = used(samples.length);
        int padded = 2 * (used + 1);
        double[] work = new double[padded];
        System.arraycopy(samples, 0, work, 1, used);
        transform(padded).realForward(work);
        double[] re = new double[padded / 2 + 1 + 2 * MARGIN];
        double[] im = new double[padded / 2 + 1 + 2 * MARGIN];
        re[MARGIN] = work[0];
        re[MARGIN + padded / 2] = work[1];
        for (int m = 1; m < padded / 2; m++) {
            re[MARGIN + m] = work[2 * m];
            im[MARGIN + m] = work[2 * m + 1];
        }
        return new Spectrum(re, im, padded, used, rate, false);
    }

    /** Of complex baseband, at least 8 samples. */
    static Spectrum of(Iq iq) {
        int used = used(iq.length());
        int padded = 2 * (used + 1);
        double[] work = new double[2 * padded];
        for (int n = 0; n < used; n++) {
            work[2 * n + 2] = iq.re(n);
            work[2 * n + 3] = iq.im(n);
        }
        transform(padded).complexForward(work);
        double[] re = new double[padded + 2 * MARGIN];
        double[] im = new double[padded + 2 * MARGIN];
        for (int m = 0; m < padded; m++) {
            re[MARGIN + m] = work[2 * m];
            im[MARGIN + m] = work[2 * m + 1];
        }
        return new Spectrum(re, im, padded, used, iq.rate(), true);
    }

    /** Transforms by length: their tables of sines take longer to make than a transform takes. */
    private static final Map<Integer, DoubleFFT_1D> TRANSFORMS = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<Integer, DoubleFFT_1D> eldest) {
            return size() > KEPT;
        }
    };

    private static DoubleFFT_1D transform(int length) {
        synchronized (TRANSFORMS) {
            return TRANSFORMS.computeIfAbsent(length, DoubleFFT_1D::new);
        }
    }

    /** The largest number of samples for which twice that and two has no factor above five. */
    private static int used(int samples) {
        if (samples < 8) {
            throw new SignalException("too-short", samples + " samples are too few for a spectrum");
        }
        int used = samples;
        while (!smooth(used + 1)) {
            used--;
        }
        return used;
    }

    private static boolean smooth(int n) {
        int rest = n;
        for (int factor : new int[] {2, 3, 5}) {
            while (rest % factor == 0) {
                rest /= factor;
            }
        }
        return rest == 1;
    }

    /** Distance of its places, Hz. */
    double step() {
        return rate / (used + 1);
    }

    /** How many places it has: from 0 to half the rate, or for complex samples as many below 0. */
    int places() {
        return complex ? used + 1 : (used + 1) / 2 + 1;
    }

    /** Over how many places a line spreads. */
    int width() {
        return tapers + 1;
    }

    private double re(int m) {
        return re[m + MARGIN];
    }

    private double im(int m) {
        return im[m + MARGIN];
    }

    /**
     * Density at a place, in power per Hz: of both sides of 0 together for real samples, of one for complex ones.
     *
     * @param j place, negative for frequencies below 0
     */
    double density(int j) {
        int at = complex ? Math.floorMod(j, densities.length) : j;
        if (Double.isNaN(densities[at])) {
            densities[at] = tapered(at);
        }
        return densities[at];
    }

    private double tapered(int j) {
        double sum = 0;
        for (int k = 1; k <= tapers; k++) {
            double dRe = re(2 * j + k) - re(2 * j - k);
            double dIm = im(2 * j + k) - im(2 * j - k);
            sum += dRe * dRe + dIm * dIm;
        }
        return (complex ? 1 : 2) * sum / tapers / padded / rate;
    }

    /**
     * Power between two frequencies, each place weighted.
     *
     * @param from Hz; may be negative for complex samples
     * @param to Hz
     * @param weight of power, by frequency in Hz
     */
    double power(double from, double to, DoubleUnaryOperator weight) {
        double step = step();
        double half = rate / 2;
        double sum = 0;
        for (int j = (int) Math.floor(from / step); j <= (int) Math.ceil(to / step); j++) {
            double lower = Math.max(Math.max(from, (j - 0.5) * step), complex ? -half : 0);
            double upper = Math.min(Math.min(to, (j + 0.5) * step), half);
            if (upper > lower) {
                sum += density(j) * (upper - lower) * weight.applyAsDouble(j * step);
            }
        }
        return sum;
    }

    /** The line that stands out most. */
    record Peak(double frequency, double aboveNoise) {}

    /** Places on both sides of a line that belong to it, bins. */
    private static final double OWN = 4;

    /**
     * The strongest line of real samples between two frequencies, under a Hann window, by a parabola through the
     * logarithms of three places half a bin apart.
     *
     * @param near Hz on both sides that the noise it is told from is taken from
     */
    Peak peak(double from, double to, double near) {
        double[] squares = new double[padded / 2 + 1];
        for (int m = 2; m < padded / 2 - 1; m++) {
            squares[m] = hann(re(m), im(m), re(m - 2) + re(m + 2), im(m - 2) + im(m + 2));
        }
        return strongest(squares, from, to, near, step() / 2, (int) (2 * OWN));
    }

    /**
     * The same by a transform of the samples as they are, half as long as that of a spectrum: its places are a whole
     * bin apart, so that the frequency is found less closely.
     */
    static Peak peak(double[] samples, double rate, double from, double to, double near) {
        int length = used(samples.length) + 1;
        if (length > samples.length) {
            length = used(samples.length - 1) + 1;
        }
        double[] work = java.util.Arrays.copyOf(samples, length);
        transform(length).realForward(work);
        double[] squares = new double[length / 2 + 1];
        for (int m = 2; m < length / 2 - 1; m++) {
            squares[m] = hann(
                    work[2 * m], work[2 * m + 1], work[2 * m - 2] + work[2 * m + 2], work[2 * m - 1] + work[2 * m + 3]);
        }
        return strongest(squares, from, to, near, rate / length, (int) OWN);
    }

    private static double hann(double re, double im, double besideRe, double besideIm) {
        double r = re / 2 - besideRe / 4;
        double i = im / 2 - besideIm / 4;
        return r * r + i * i;
    }

    /** @param step distance of places, Hz */
    private static Peak strongest(double[] squares, double from, double to, double near, double step, int own) {
        int lowest = own / 2;
        int highest = squares.length - 1 - lowest;
        int best = -1;
        for (int m = Math.max(lowest, (int) Math.ceil(from / step));
                m <= Math.min(highest, (int) Math.floor(to / step));
                m++) {
            best = best < 0 || squares[m] > squares[best] ? m : best;
        }
        if (best < 1 || best >= squares.length - 1) {
            return new Peak(Double.NaN, 0);
        }
        double left = Math.log(squares[best - 1]);
        double mid = Math.log(squares[best]);
        double right = Math.log(squares[best + 1]);
        double curve = left - 2 * mid + right;
        double shift = curve < 0 ? Math.max(-1, Math.min(1, 0.5 * (left - right) / curve)) : 0;
        int reach = (int) Math.ceil(near / step);
        return new Peak(
                (best + shift) * step,
                squares[best]
                        / noise(squares, best, Math.max(lowest, best - reach), Math.min(highest, best + reach), own));
    }

    /** Mean of what stands around a line, its own width left out; the largest number where nothing does. */
    private static double noise(double[] squares, int best, int from, int to, int own) {
        double sum = 0;
        int count = 0;
        for (int m = from; m <= to; m++) {
            if (Math.abs(m - best) > own) {
                sum += squares[m];
                count++;
            }
        }
        return count == 0 ? Double.MAX_VALUE : Math.max(sum / count, Double.MIN_NORMAL);
    }
}
