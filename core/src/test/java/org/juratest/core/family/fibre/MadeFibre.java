package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;

/**
 * A fibre as physics has it, and the trace of it: what each metre sends back, taken over the length of a pulse, with
 * noise of the receiver in linear power. Written from the definitions, and from nothing of the analysis.
 */
final class MadeFibre {

    private static final double BACKSCATTER = -80;
    private static final double INDEX = 1.468;

    private final double spacing;
    private final double pulse;
    private double attenuation = 0.34;
    private double noise;
    private long seed = 1;
    private double end = 10_000;
    private double endReflectance = Double.NaN;
    private double port = -45;
    private double clip = Double.MAX_VALUE;
    private double range = 15_000;
    private double response;
    private double wavelength = 1550;
    private final List<double[]> events = new ArrayList<>();

    /**
     * @param spacing of samples, m
     * @param pulse ns
     */
    MadeFibre(double spacing, double pulse) {
        this.spacing = spacing;
        this.pulse = pulse;
    }

    MadeFibre wavelength(double nanometres) {
        wavelength = nanometres;
        return this;
    }

    MadeFibre attenuation(double perKm) {
        attenuation = perKm;
        return this;
    }

    /** Noise in dB below the level of the backscatter at the front, on the scale of the trace. */
    MadeFibre noise(double below, long withSeed) {
        noise = Math.pow(10, -below / 5);
        seed = withSeed;
        return this;
    }

    MadeFibre end(double at, double reflectance) {
        end = at;
        endReflectance = reflectance;
        return this;
    }

    MadeFibre port(double reflectance) {
        port = reflectance;
        return this;
    }

    MadeFibre range(double metres) {
        range = metres;
        return this;
    }

    /** A receiver of limited bandwidth: its time constant in samples; its noise goes through it as well. */
    MadeFibre response(double samples) {
        response = samples;
        return this;
    }

    /** Cuts peaks off at so many dB above the backscatter at the front. */
    MadeFibre clipAt(double above) {
        clip = above;
        return this;
    }

    MadeFibre splice(double at, double loss) {
        events.add(new double[] {at, loss, Double.NaN});
        return this;
    }

    MadeFibre connector(double at, double loss, double reflectance) {
        events.add(new double[] {at, loss, reflectance});
        return this;
    }

    /** An echo: a reflection that loses nothing. */
    MadeFibre echo(double at, double reflectance) {
        return connector(at, 0, reflectance);
    }

    private static double power(double decibels) {
        return Math.pow(10, decibels / 10);
    }

    /** Round-trip time of a sample, ns. */
    private double sampleTime() {
        return 2 * INDEX * spacing / OtdrTrace.LIGHT * 1e9;
    }

    /** Power that each sample's piece of fibre sends back of a pulse of power 1. */
    private double[][] sentBack() {
        int n = (int) (range / spacing);
        double[] scattered = new double[n];
        double[] reflected = new double[n];
        double oneWay = 0;
        for (int i = 0; i < n && i * spacing < end - spacing / 2; i++) {
            double x = i * spacing;
            for (double[] e : events) {
                if (Math.abs(x - e[0]) < spacing / 2) {
                    reflected[i] += Double.isNaN(e[2]) ? 0 : power(e[2] - 2 * oneWay);
                    oneWay += e[1];
                }
            }
            if (i == 0) {
                reflected[0] += Double.isNaN(port) ? 0 : power(port);
            }
            scattered[i] = power(BACKSCATTER - 2 * oneWay) * sampleTime();
            oneWay += attenuation * spacing / 1000;
        }
        int last = (int) Math.round(end / spacing);
        if (last < n && !Double.isNaN(endReflectance)) {
            reflected[last] += power(endReflectance - 2 * oneWay);
        }
        return new double[][] {scattered, reflected};
    }

    /** Return loss at the front by its definition: all that comes back of continuous light, the port left out. */
    double returnLoss() {
        double[][] back = sentBack();
        double sum = -(Double.isNaN(port) ? 0 : power(port));
        for (int i = 0; i < back[0].length; i++) {
            sum += back[0][i] + back[1][i];
        }
        return -10 * Math.log10(sum);
    }

    OtdrTrace trace() {
        double[][] back = sentBack();
        int n = back[0].length;
        int width = (int) Math.max(1, Math.round(pulse / sampleTime()));
        double front = power(BACKSCATTER) * sampleTime() * width;
        Random random = new Random(seed);
        double[] level = new double[n];
        double held = 0;
        double kept = response > 0 ? Math.exp(-1 / response) : 0;
        for (int i = 0; i < n; i++) {
            double sum = 0;
            for (int j = Math.max(0, i - width + 1); j <= i; j++) {
                sum += back[0][j] + back[1][j];
            }
            held = kept * held + (1 - kept) * (sum / front + noise * random.nextGaussian());
            double shown = held;
            double decibels = Math.min(clip, Math.max(-50, 5 * Math.log10(Math.max(1e-30, shown))));
            // As files have it: thousandths below a top.
            level[i] = Math.round((decibels - 30) * 1000) / 1000.0;
        }
        return new OtdrTrace(wavelength, pulse, 0, spacing, INDEX, BACKSCATTER, level, clip < 1000 ? clip - 30 : 0);
    }
}
