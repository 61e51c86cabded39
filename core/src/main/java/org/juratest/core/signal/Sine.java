package org.juratest.core.signal;

/**
 * A sine {@code a cos(2 pi f t) + b sin(2 pi f t) + offset}, t in s from the first sample.
 *
 * @param frequency Hz
 * @param a amplitude of the cosine
 * @param b amplitude of the sine
 * @param offset what it stands on
 */
record Sine(double frequency, double a, double b, double offset) {

    /** Steps after which the recurrence for the sine is begun anew, so that its rounding does not add up. */
    private static final int RENEWED = 512;

    private static final int MOST_STEPS = 12;
    /**
     * Of a cycle over the whole record: a change of frequency this small goes into cosine and sine by its first order,
     * and what that leaves out is 140 dB below the sine.
     */
    private static final double SETTLED = 1e-4;

    double amplitude() {
        return Math.hypot(a, b);
    }

    double power() {
        return (a * a + b * b) / 2;
    }

    /** Takes the wave, without its offset, off samples of which the first stands at {@code start} s. */
    void takeFrom(double[] samples, double rate, double start) {
        addTo(samples, rate, start, -1);
    }

    /** Adds the wave, without its offset. */
    void addTo(double[] samples, double rate, double start) {
        addTo(samples, rate, start, 1);
    }

    private void addTo(double[] samples, double rate, double start, double sign) {
        double turn = 2 * Math.PI * frequency / rate;
        double stepCos = Math.cos(turn);
        double stepSin = Math.sin(turn);
        for (int first = 0; first < samples.length; first += RENEWED) {
            double phase = turn * first + 2 * Math.PI * frequency * start;
            double cos = Math.cos(phase);
            double sin = Math.sin(phase);
            int end = Math.min(samples.length, first + RENEWED);
            for (int n = first; n < end; n++) {
                samples[n] += sign * (a * cos + b * sin);
                double next = cos * stepCos - sin * stepSin;
                sin = sin * stepCos + cos * stepSin;
                cos = next;
            }
        }
    }

    /**
     * Least-squares fit with unknown frequency, from a first guess (IEEE Std 1057-2017, 4.6.2, four-parameter fit): the
     * frequency is improved by the derivative in time until it no longer moves.
     *
     * @param guess Hz, within half a cycle over the record of the truth
     */
    static Sine fit(double[] samples, double rate, double guess) {
        double seconds = samples.length / rate;
        double f = guess;
        double[] x = {0, 0, 0, 0};
        for (int step = 0; step < MOST_STEPS; step++) {
            Sums sums = Sums.of(samples, rate, f);
            double[] first = sums.threeParameters();
            x = sums.fourParameters(first[0], first[1]);
            double change = Math.max(-0.5 / seconds, Math.min(0.5 / seconds, x[3] / (2 * Math.PI)));
            f = Math.max(0.1 / seconds, f + change);
            if (Math.abs(change) * seconds < SETTLED) {
                break;
            }
        }
        // The time of the fit counts from the middle; its cosine and sine are turned to the first sample.
        double turned = -2 * Math.PI * f * (samples.length - 1) / 2 / rate;
        double cos = Math.cos(turned);
        double sin = Math.sin(turned);
        return new Sine(f, x[0] * cos + x[1] * sin, x[1] * cos - x[0] * sin, x[2]);
    }

    /**
     * Sums over a record of products of cosine, sine, time (s, from the middle) and samples; the letters are those
     * factors.
     */
    private static final class Sums {

        private double n;
        private double c;
        private double s;
        private double cs;
        private double ss;
        private double tt;
        private double tc;
        private double ts;
        private double tcs;
        private double tss;
        private double ttcs;
        private double ttss;
        private double y;
        private double yc;
        private double ys;
        private double tyc;
        private double tys;

        static Sums of(double[] samples, double rate, double f) {
            Sums sums = new Sums();
            double middle = (samples.length - 1) / 2.0;
            double turn = 2 * Math.PI * f / rate;
            sums.n = samples.length;
            for (int first = 0; first < samples.length; first += RENEWED) {
                sums.add(samples, first, Math.min(samples.length, first + RENEWED), middle, 1 / rate, turn);
            }
            return sums;
        }

        /**
         * A stretch of the record; sums in variables of its own, as a field for each of them would cost more than all
         * the arithmetic.
         */
        private void add(double[] samples, int first, int end, double middle, double period, double turn) {
            double stepCos = Math.cos(turn);
            double stepSin = Math.sin(turn);
            double cos = Math.cos(turn * (first - middle));
            double sin = Math.sin(turn * (first - middle));
            double sumC = 0;
            double sumS = 0;
            double sumCs = 0;
            double sumSs = 0;
            double sumTt = 0;
            double sumTc = 0;
            double sumTs = 0;
            double sumTcs = 0;
            double sumTss = 0;
            double sumTtcs = 0;
            double sumTtss = 0;
            double sumY = 0;
            double sumYc = 0;
            double sumYs = 0;
            double sumTyc = 0;
            double sumTys = 0;
            for (int k = first; k < end; k++) {
                double t = (k - middle) * period;
                double square = t * t;
                double value = samples[k];
                double sinSin = sin * sin;
                double cosSin = cos * sin;
                double valueCos = value * cos;
                double valueSin = value * sin;
                sumC += cos;
                sumS += sin;
                sumCs += cosSin;
                sumSs += sinSin;
                sumTt += square;
                sumTc += t * cos;
                sumTs += t * sin;
                sumTcs += t * cosSin;
                sumTss += t * sinSin;
                sumTtcs += square * cosSin;
                sumTtss += square * sinSin;
                sumY += value;
                sumYc += valueCos;
                sumYs += valueSin;
                sumTyc += t * valueCos;
                sumTys += t * valueSin;
                double next = cos * stepCos - sin * stepSin;
                sin = sin * stepCos + cos * stepSin;
                cos = next;
            }
            c += sumC;
            s += sumS;
            cs += sumCs;
            ss += sumSs;
            tt += sumTt;
            tc += sumTc;
            ts += sumTs;
            tcs += sumTcs;
            tss += sumTss;
            ttcs += sumTtcs;
            ttss += sumTtss;
            y += sumY;
            yc += sumYc;
            ys += sumYs;
            tyc += sumTyc;
            tys += sumTys;
        }

        /** Cosine, sine and offset at the frequency as it is. */
        double[] threeParameters() {
            return solve(new double[][] {{n - ss, cs, c, yc}, {cs, ss, s, ys}, {c, s, n, y}});
        }

        /**
         * Cosine, sine, offset and change of angular frequency, rad/s, that go best together near these amplitudes; the
         * sum of t is 0, so that of t cos cos is that of -t sin sin.
         */
        double[] fourParameters(double a, double b) {
            // The fourth base is t (b cos - a sin), the derivative by 2 pi f.
            double byCos = -b * tss - a * tcs;
            double bySin = b * tcs - a * tss;
            double byOne = b * tc - a * ts;
            double own = b * b * (tt - ttss) - 2 * a * b * ttcs + a * a * ttss;
            return solve(new double[][] {
                {n - ss, cs, c, byCos, yc},
                {cs, ss, s, bySin, ys},
                {c, s, n, byOne, y},
                {byCos, bySin, byOne, own, b * tyc - a * tys}
            });
        }
    }

    /** Gauss elimination with pivoting; zeros where the equations do not determine anything. */
    private static double[] solve(double[][] rows) {
        int n = rows.length;
        for (int col = 0; col < n; col++) {
            int pivot = col;
            for (int r = col + 1; r < n; r++) {
                pivot = Math.abs(rows[r][col]) > Math.abs(rows[pivot][col]) ? r : pivot;
            }
            double[] swap = rows[col];
            rows[col] = rows[pivot];
            rows[pivot] = swap;
            if (rows[col][col] == 0) {
                return new double[n];
            }
            for (int r = col + 1; r < n; r++) {
                double factor = rows[r][col] / rows[col][col];
                for (int c = col; c <= n; c++) {
                    rows[r][c] -= factor * rows[col][c];
                }
            }
        }
        double[] x = new double[n];
        for (int r = n - 1; r >= 0; r--) {
            double rest = rows[r][n];
            for (int c = r + 1; c < n; c++) {
                rest -= rows[r][c] * x[c];
            }
            x[r] = rest / rows[r][r];
        }
        return x;
    }
}
