package org.juratest.simulators.family.fibre;

import java.util.Comparator;
import java.util.List;
import java.util.Random;
import org.jspecify.annotations.Nullable;

/**
 * What comes back of light that is sent into a fibre.
 *
 * @param link absent for an open lead
 * @param fibre from 1 on
 * @param far whether it is sent in at the far end
 * @param dirty whether there is dirt on the connector it goes in by
 * @param loose whether that does not seat
 * @param wavelength nm
 * @param pulse ns
 * @param spacing m between samples
 * @param points how many samples
 * @param seconds of averaging
 * @param number of the shot: each has noise of its own
 */
record Shot(
        Links.@Nullable Link link,
        int fibre,
        boolean far,
        boolean dirty,
        boolean loose,
        int wavelength,
        double pulse,
        double spacing,
        int points,
        double seconds,
        long number) {

    /** Group index. */
    static final double INDEX = 1.468;
    /** Backscatter of 1 ns, dB. */
    static final double SCATTER = -80;
    /** How far the backscatter at a good connection stands below the top of the scale, dB. */
    static final double FRONT = 22;
    /** Length of the lead it is used with, m. */
    static final double LEAD = 150;

    private static final double LIGHT = 299_792_458;
    /** How far above the noise of one second the backscatter of 100 ns stands, dB on the trace. */
    private static final double REACH = 16;

    private static final long SEED = 4711;

    /** What is met on the way: where, what is lost there as seen from this end, what reflects. */
    private record Met(double at, double loss, @Nullable Double reflectance) {}

    private List<Met> met() {
        Links.Link own = java.util.Objects.requireNonNull(link);
        double share = wavelength <= 1310 ? 0 : Math.min(1.3, (wavelength - 1310) / 240.0);
        return own.joints().stream()
                .filter(j -> j.only() == 0 || j.only() == fibre)
                .map(j -> {
                    // Splices of one closure are not all alike; each fibre has its own.
                    double each = j.only() != 0 || j.reflectance() != null
                            ? 1
                            : 0.6 + 0.8 * new Random(Math.round(j.at() * 10) * 97 + fibre).nextDouble();
                    double loss =
                            (j.loss1310() + share * (j.loss1550() - j.loss1310())) * each + (far ? -1 : 1) * j.unlike();
                    return new Met(far ? own.length() - j.at() : j.at(), loss, j.reflectance());
                })
                .sorted(Comparator.comparingDouble(Met::at))
                .toList();
    }

    /** Samples as 16-bit numbers, 0.001 dB below the top of the scale. */
    short[] codes() {
        double perKm = wavelength <= 1310 ? 0.338 : wavelength <= 1550 ? 0.192 : 0.208;
        double[] scattered = new double[points];
        double[] reflected = new double[points];
        double lost = 0;
        reflected[0] = power(-46);
        double sampleNs = 2 * INDEX * spacing / LIGHT * 1e9;
        int leadEnd = (int) Math.round(LEAD / spacing);
        double end = LEAD + (link == null ? 0 : link.length());
        List<Met> met = link == null ? List.of() : met();
        int next = 0;
        for (int i = 0; i < points; i++) {
            double x = i * spacing;
            if (i == leadEnd && link != null) {
                reflected[i] += power((loose ? -24 : dirty ? -36 : -63) - 2 * lost);
                lost += loose ? 2.1 : dirty ? 0.9 : 0.24;
            }
            while (next < met.size() && LEAD + met.get(next).at <= x) {
                Met one = met.get(next++);
                reflected[i] += one.reflectance == null ? 0 : power(one.reflectance - 2 * lost);
                lost += one.loss;
            }
            if (x >= end) {
                reflected[i] += power((link == null ? -14.5 : -47) - 2 * lost);
                break;
            }
            scattered[i] = power(SCATTER - 2 * lost) * sampleNs;
            lost += perKm * spacing / 1000;
        }
        return codes(scattered, reflected, sampleNs);
    }

    /** A pulse takes in what a stretch sends back; then noise, and the scale of the trace. */
    private short[] codes(double[] scattered, double[] reflected, double sampleNs) {
        int width = (int) Math.max(1, Math.round(pulse / sampleNs));
        double front = power(SCATTER) * sampleNs * width;
        double noise = Math.pow(10, -(REACH + 5 * Math.log10(pulse / 100) + 2.5 * Math.log10(seconds)) / 5);
        Random random = new Random(SEED + number);
        short[] out = new short[points];
        double within = 0;
        for (int i = 0; i < points; i++) {
            within += scattered[i] + reflected[i] - (i >= width ? scattered[i - width] + reflected[i - width] : 0);
            double shown = Math.max(0, within) / front + noise * random.nextGaussian();
            double below = FRONT - 5 * Math.log10(Math.max(1e-12, shown));
            out[i] = (short) Math.round(Math.max(0, Math.min(65.535, below)) * 1000);
        }
        return out;
    }

    private static double power(double decibels) {
        return Math.pow(10, decibels / 10);
    }
}
