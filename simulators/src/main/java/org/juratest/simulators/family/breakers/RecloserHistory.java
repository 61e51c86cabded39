package org.juratest.simulators.family.breakers;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import org.juratest.simulators.fleet.Fleet;

/** What the two-yearly checks of a recloser read: it aged evenly from what its maker made to what it is today. */
final class RecloserHistory {

    private static final String PROCEDURE = "REC-2YEARLY";
    private static final int EVERY_DAYS = 730;
    private static final int MOST = 3;
    /** A year in which nothing was wrong with it yet. */
    private static final double YEARS = 5;

    private static final double RANGE = 3000;
    private static final List<Integer> LEVELS = List.of(2, 4, 8);

    private RecloserHistory() {}

    static List<Fleet.PastTest> of(Reclosers.Recloser recloser, Fleet.Device device, LocalDate today, int n) {
        List<Fleet.PastTest> tests = new ArrayList<>();
        LocalDate installed = device.stays().get(device.stays().size() - 1).from();
        // Some are due in these weeks, the others one after the other over the next two years.
        LocalDate last = today.minusDays(EVERY_DAYS - 12L - 85L * n);
        SplittableRandom random = new SplittableRandom(recloser.position().hashCode() * 7919L);
        long counter = 60 + random.nextInt(200);
        for (int k = MOST - 1; k >= 0; k--) {
            LocalDate day = last.minusDays((long) EVERY_DAYS * k);
            if (day.isAfter(installed)) {
                double aged = Math.max(0, 1 - (today.toEpochDay() - day.toEpochDay()) / (365.25 * YEARS));
                tests.add(test(recloser, day, n + k, aged, counter, random));
                counter += 36 + 9 + random.nextInt(30);
            }
        }
        return tests;
    }

    private static Fleet.PastTest test(
            Reclosers.Recloser recloser, LocalDate day, int who, double aged, long counter, SplittableRandom random) {
        List<Fleet.PastReading> told = new ArrayList<>();
        told.add(reading("counterBefore", "", "n", counter, "1", Map.of()));
        recloser.phases().forEach((phase, truth) -> {
            double pickUp = recloser.minimumTrip() * (1 + aged * (truth.pickUp() - 1)) * scatter(random, 0.006);
            told.add(reading("pickUp", phase, "pickUp", rounded(pickUp), "A", Map.of("range", RANGE)));
        });
        recloser.phases().forEach((phase, truth) -> {
            for (int level = 0; level < LEVELS.size(); level++) {
                String lane = phase + "." + (level + 1);
                double current = LEVELS.get(level) * recloser.minimumTrip() * 0.97 * scatter(random, 0.01);
                double multiple = current / (recloser.minimumTrip() * (1 + aged * (truth.pickUp() - 1)));
                double fast =
                        recloser.fastDial() * RecloserPhase.fast(multiple) * (1 + aged * (truth.fastSlowness() - 1))
                                + 0.005;
                double delayed = recloser.delayedDial()
                                * RecloserPhase.delayed(multiple)
                                * (1 + aged * (truth.delayedSlowness() - 1))
                        + 0.005;
                Map<String, Double> facts = Map.of("current", rounded(current), "range", RANGE);
                told.add(reading("sequence", lane, "operations", recloser.operations(), "1", Map.of()));
                told.add(reading("sequence", lane, "fast", rounded(fast * scatter(random, 0.012)), "s", facts));
                told.add(reading("sequence", lane, "delayed", rounded(delayed * scatter(random, 0.008)), "s", facts));
            }
        });
        told.add(reading("counterAfter", "", "n", counter + 36 + 3, "1", Map.of()));
        return new Fleet.PastTest(day, who % 2 == 0 ? "tavel" : "brevan", PROCEDURE, Map.of(), told);
    }

    private static double scatter(SplittableRandom random, double by) {
        return 1 + by * (random.nextDouble() + random.nextDouble() - 1);
    }

    private static double rounded(double value) {
        return new java.math.BigDecimal(value)
                .round(new java.math.MathContext(4))
                .doubleValue();
    }

    private static Fleet.PastReading reading(
            String step, String lane, String point, double value, String unit, Map<String, Double> facts) {
        return new Fleet.PastReading(step, lane.isEmpty() ? "-" : lane, point, value, unit, facts, 8, "DONE", "", null);
    }
}
