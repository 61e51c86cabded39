package org.juratest.e2e.bench;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.SplittableRandom;
import org.juratest.core.family.breakers.Operations;
import org.juratest.core.family.breakers.Switching;
import org.juratest.core.family.breakers.SwitchingRecord;
import org.juratest.core.signal.MeanSquare;
import org.juratest.e2e.breakers.InjectionRig;

/** Speed of what breakers and reclosers are judged by. */
final class BreakerBench {

    private static final int SAMPLES = 1_000_000;
    private static final double RATE = 10_000;
    private static final int ROUNDS = 9;
    private static final double AIM_ANALYSIS = 0.2;
    private static final double AIM_SEQUENCE = 30;

    private BreakerBench() {}

    private static double[] times() {
        double[] time = new double[SAMPLES];
        for (int i = 0; i < SAMPLES; i++) {
            time[i] = i / RATE;
        }
        return time;
    }

    /** Four operations in a hundred seconds, with noise. */
    private static double[] currents(double[] time) {
        SplittableRandom random = new SplittableRandom(5);
        double[] value = new double[SAMPLES];
        for (int i = 0; i < SAMPLES; i++) {
            double within = time[i] % 25;
            boolean flows = within > 2 && within < 9;
            value[i] = (flows ? 800 * Math.sin(2 * Math.PI * 50 * time[i]) : 0) + random.nextGaussian();
        }
        return value;
    }

    /** Median of several, s. */
    static double median(Runnable what) {
        List<Double> each = new ArrayList<>();
        for (int i = 0; i < ROUNDS; i++) {
            long begin = System.nanoTime();
            what.run();
            each.add((System.nanoTime() - begin) / 1e9);
        }
        each.sort(null);
        return each.get(ROUNDS / 2);
    }

    static void run() throws IOException {
        System.out.println("Breakers: currents and operations as they are analysed, median of " + ROUNDS);
        double[] time = times();
        double[] value = currents(time);
        double bare = median(() -> new MeanSquare(time, value).rms(0, 100));
        double whole = median(() -> {
            if (Operations.of(time, value, 50).all().size() != 4) {
                throw new IllegalStateException("a sequence was not found");
            }
        });
        Bench.line(
                "operations in " + SAMPLES + " samples of a current",
                String.format(
                        Locale.ROOT,
                        "%.0f ms, %.2f of 200 ms, %.1f x one rms of them all",
                        whole * 1000,
                        whole / AIM_ANALYSIS,
                        whole / bare));
        SwitchingRecord record = operation();
        double switching = median(() -> Switching.of(record, 6).orElseThrow());
        Bench.line(
                "one operation of three poles, 40,000 samples a channel",
                String.format(Locale.ROOT, "%.1f ms", switching * 1000));
        try (InjectionRig rig = new InjectionRig("ORE-REC-01", "rec-2yearly-2", 100)) {
            long begin = System.nanoTime();
            for (String level : List.of("1", "2", "3")) {
                rig.measure("sequence", "A." + level);
            }
            double seconds = (System.nanoTime() - begin) / 1e9;
            Bench.line(
                    "a recloser to its lock-out at three levels, time factor 100",
                    String.format(Locale.ROOT, "%.1f s, %.2f of 30 s", seconds, seconds / AIM_SEQUENCE));
        }
    }

    private static SwitchingRecord operation() {
        int n = 40_000;
        float[] travel = new float[n];
        float[] coil = new float[n];
        float[][] contacts = new float[3][n];
        for (int i = 0; i < n; i++) {
            double t = i / 40_000.0 - 0.02;
            travel[i] = (float) (t < 0.03 ? 14 : t > 0.045 ? 0 : 14 * (0.045 - t) / 0.015);
            coil[i] = (float) (t < 0 || t > 0.05 ? 0 : 2 * (1 - Math.exp(-t / 0.01)));
            for (float[] pole : contacts) {
                pole[i] = t < 0.034 ? 1 : 0;
            }
        }
        return new SwitchingRecord(40_000, contacts, travel, coil);
    }
}
