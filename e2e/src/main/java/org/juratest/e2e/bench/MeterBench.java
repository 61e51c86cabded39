package org.juratest.e2e.bench;

import java.util.Locale;
import org.juratest.core.family.meters.ThreePhase;
import org.juratest.core.family.meters.WiringCheck;

/** Speed of what a wiring is found by. */
final class MeterBench {

    private static final double SECONDS = 0.2;
    private static final double AIM = 0.02;

    private MeterBench() {}

    static void run() {
        System.out.println("Meters: phasors and wirings from 0.2 s of three voltages and three currents, median of 9");
        for (double rate : new double[] {6400, 51_200}) {
            double[][] voltages = waves(rate, 325, 0);
            double[][] currents = waves(rate, 7, -25);
            double phasors = BreakerBench.median(() -> ThreePhase.of(rate, voltages, currents));
            double whole = BreakerBench.median(() -> {
                ThreePhase found = ThreePhase.of(rate, voltages, currents);
                if (!WiringCheck.fitting(found, WiringCheck.Assumed.USUAL)
                        .get(0)
                        .right()) {
                    throw new IllegalStateException("a right wiring was not found");
                }
            });
            Bench.line(
                    String.format(Locale.ROOT, "wiring check at %.0f samples a second", rate),
                    String.format(
                            Locale.ROOT,
                            "%.1f ms, %.2f of 20 ms, %.2f x the phasors alone",
                            whole * 1000,
                            whole / AIM,
                            whole / phasors));
        }
    }

    private static double[][] waves(double rate, double peak, double degrees) {
        double[][] all = new double[3][(int) (SECONDS * rate)];
        for (int w = 0; w < 3; w++) {
            for (int k = 0; k < all[w].length; k++) {
                all[w][k] = peak * Math.cos(2 * Math.PI * 50.02 * k / rate + Math.toRadians(degrees - 120.0 * w));
            }
        }
        return all;
    }
}
