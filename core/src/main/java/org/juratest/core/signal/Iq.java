package org.juratest.core.signal;

/**
 * Complex baseband: a carrier at its nominal frequency stands at 0 Hz.
 *
 * @param i in-phase samples, full scale 1
 * @param q quadrature samples, as many
 * @param rate of the samples, Hz
 */
public record Iq(double[] i, double[] q, double rate) {

    public Iq {
        if (i.length != q.length) {
            throw new SignalException(
                    "channels-differ", "there are " + i.length + " in-phase and " + q.length + " quadrature samples");
        }
        i = i.clone();
        q = q.clone();
    }

    @Override
    public double[] i() {
        return i.clone();
    }

    @Override
    public double[] q() {
        return q.clone();
    }

    public int length() {
        return i.length;
    }

    public double seconds() {
        return i.length / rate;
    }

    double re(int n) {
        return i[n];
    }

    double im(int n) {
        return q[n];
    }

    /** Part of it, {@code from} included, {@code to} excluded. */
    Iq part(int from, int to) {
        return new Iq(java.util.Arrays.copyOfRange(i, from, to), java.util.Arrays.copyOfRange(q, from, to), rate);
    }

    /** @throws SignalException as {@link Samples#check} does */
    void check(double shortest) {
        Samples.check(i, rate, shortest);
        Samples.check(q, rate, shortest);
    }

    /** Mean of I²+Q²; 1 is 0 dBFS. Zero for no samples. */
    public double meanPower() {
        return Samples.power(i) + Samples.power(q);
    }

    /** Mean power in dBFS, 0 dBFS = mean of I²+Q² of 1; negative infinity for silence. */
    public double dbfs() {
        return 10 * Math.log10(meanPower());
    }

    /**
     * Instantaneous frequency by quadrature demodulation, Hz, between each sample and the next: one value fewer than
     * samples.
     */
    double[] demodulated() {
        double[] hertz = new double[Math.max(0, i.length - 1)];
        double scale = rate / (2 * Math.PI);
        for (int n = 0; n < hertz.length; n++) {
            double re = i[n + 1] * i[n] + q[n + 1] * q[n];
            double im = q[n + 1] * i[n] - i[n + 1] * q[n];
            hertz[n] = Math.atan2(im, re) * scale;
        }
        return hertz;
    }
}
