package org.juratest.simulators.family.breakers;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.Ground;

/** How the medium-voltage breakers of the valley behave, and what tests of the past would have read. */
final class MvBreakerFleet {

    private static final String CLASS = "mv-breaker";
    private static final String PROCEDURE = "MCB-4YEARLY";
    private static final long OWN_DRAWS = 0x5157L;
    private static final int EVERY_DAYS = 1461;
    private static final int MOST = 2;
    private static final double VOLTS = 110;
    private static final double SECONDS = 0.3;
    /** Samples that a trace of the past keeps. */
    private static final int KEPT = 500;

    private MvBreakerFleet() {}

    /** Breakers, and tests by asset. */
    record All(List<MvBreakers.MvBreaker> breakers, Map<String, List<Fleet.PastTest>> past) {}

    static All of(Ground ground) {
        List<MvBreakers.MvBreaker> all = new ArrayList<>();
        Map<String, List<Fleet.PastTest>> past = new TreeMap<>();
        List<Fleet.Device> devices = ground.devices().stream()
                .filter(d -> d.assetClass().equals(CLASS) && !d.position().isEmpty())
                .toList();
        for (int n = 0; n < devices.size(); n++) {
            Fleet.Device d = devices.get(n);
            SplittableRandom random = new SplittableRandom(
                    ground.seed() * 137 + OWN_DRAWS + d.position().hashCode());
            MvBreakers.MvBreaker made = made(d, random);
            all.add(today(made));
            past.put(d.asset(), past(made, d, ground.today(), n, random));
        }
        return new All(all, past);
    }

    private static MvBreakers.MvBreaker made(Fleet.Device d, SplittableRandom random) {
        List<Double> lag = new ArrayList<>();
        List<Double> contacts = new ArrayList<>();
        double base = 34 + 6 * random.nextDouble();
        for (int pole = 0; pole < 3; pole++) {
            lag.add(0.9 * random.nextDouble());
            contacts.add(base * (0.96 + 0.08 * random.nextDouble()));
        }
        return new MvBreakers.MvBreaker(
                d.position(),
                34.6 + 1.4 * random.nextDouble(),
                54.5 + 2.5 * random.nextDouble(),
                1,
                1,
                lag,
                contacts,
                120 + random.nextInt(900));
    }

    /** A little stiffer than made; three have something of their own. */
    private static MvBreakers.MvBreaker today(MvBreakers.MvBreaker made) {
        return switch (made.position()) {
            // One pole has become lazy: its link is worn.
            case "MFR-MCB-03" ->
                made.with(1.1, 1, List.of(made.lag().get(0), made.lag().get(1), 5.2));
            // Old grease in the latches.
            case "MFR-MCB-05" -> made.with(2.3, 1, made.lag());
            // The damper has lost its oil.
            case "MFR-MCB-06" -> made.with(1.1, 0.3, made.lag());
            default -> made.with(1.12, 0.97, made.lag());
        };
    }

    private static List<Fleet.PastTest> past(
            MvBreakers.MvBreaker made, Fleet.Device device, LocalDate today, int n, SplittableRandom random) {
        List<Fleet.PastTest> tests = new ArrayList<>();
        LocalDate installed = device.stays().get(device.stays().size() - 1).from();
        // Accepted when it was installed; one is due in these weeks, the others over the next years.
        LocalDate last = today.minusDays(EVERY_DAYS - 20L - 170L * n);
        MvBreakers.MvBreaker now = today(made);
        List<LocalDate> days = new ArrayList<>(List.of(installed.plusDays(3)));
        for (int k = MOST - 1; k >= 0; k--) {
            LocalDate day = last.minusDays((long) EVERY_DAYS * k);
            if (day.isAfter(installed.plusDays(200))) {
                days.add(day);
            }
        }
        for (int k = 0; k < days.size(); k++) {
            LocalDate day = days.get(k);
            double aged = Math.max(0, 1 - (today.toEpochDay() - day.toEpochDay()) / (365.25 * 5));
            List<Double> lag = new ArrayList<>();
            for (int pole = 0; pole < 3; pole++) {
                lag.add(made.lag().get(pole)
                        + aged * (now.lag().get(pole) - made.lag().get(pole)));
            }
            tests.add(test(
                    made.with(1 + aged * (now.friction() - 1), 1 + aged * (now.damper() - 1), lag),
                    day,
                    n + k,
                    made.operations() - (days.size() - k) * 30L,
                    random));
        }
        return tests;
    }

    private static Fleet.PastTest test(
            MvBreakers.MvBreaker then, LocalDate day, int who, long counter, SplittableRandom random) {
        List<Fleet.PastReading> told = new ArrayList<>();
        told.add(reading("counter", "-", "n", counter, "1", Map.of()));
        for (int pole = 0; pole < 3; pole++) {
            double ohms = then.microhms().get(pole) * (1 + 0.01 * (random.nextDouble() - 0.5));
            told.add(reading(
                    "contact",
                    "ABC".substring(pole, pole + 1),
                    "r",
                    rounded(ohms),
                    "uOhm",
                    Map.of("current", 10.0, "range", 1e-3)));
        }
        Mechanism mechanism = new Mechanism(then, random.split());
        operation(told, "open", mechanism.run(false, true, true, VOLTS, SECONDS));
        operation(told, "close", mechanism.run(true, false, true, VOLTS, SECONDS));
        closedAndOpened(told, mechanism.run(true, true, true, VOLTS, SECONDS));
        told.add(reading("counterAfter", "-", "n", counter + 4, "1", Map.of()));
        return new Fleet.PastTest(day, who % 2 == 0 ? "tavel" : "brevan", PROCEDURE, Map.of(), told);
    }

    private static void operation(List<Fleet.PastReading> told, String step, Mechanism.Run run) {
        double first = Double.POSITIVE_INFINITY;
        double last = 0;
        for (int pole = 0; pole < 3; pole++) {
            double at = run.moments()[pole][0];
            first = Math.min(first, at);
            last = Math.max(last, at);
            told.add(reading(step, "-", "pole" + (pole + 1), rounded(at * 1000), "ms", Map.of()));
        }
        told.add(reading(step, "-", "slowest", rounded(last * 1000), "ms", Map.of()));
        told.add(reading(step, "-", "spread", rounded((last - first) * 1000), "ms", Map.of()));
        told.add(reading(step, "-", "speed", rounded(run.speed()), "m/s", Map.of()));
        told.add(traced(step, "stroke", rounded(stroke(run.travel())), "mm", "Travel", "mm", run.travel()));
        told.add(traced(step, "coilPeak", rounded(highest(run.coil())), "A", "Coil current", "A", run.coil()));
        told.add(reading(step, "-", "latch", rounded(run.struck() * 1000), "ms", Map.of()));
    }

    private static void closedAndOpened(List<Fleet.PastReading> told, Mechanism.Run run) {
        double made = Double.POSITIVE_INFINITY;
        double parted = 0;
        double firstParted = Double.POSITIVE_INFINITY;
        for (double[] pole : run.moments()) {
            made = Math.min(made, pole[0]);
            parted = Math.max(parted, pole[1]);
            firstParted = Math.min(firstParted, pole[1]);
        }
        String step = "closeOpen";
        told.add(traced(step, step, rounded((parted - made) * 1000), "ms", "Travel", "mm", run.travel()));
        told.add(traced(step, "spread", rounded((parted - firstParted) * 1000), "ms", "Coil current", "A", run.coil()));
    }

    private static double stroke(float[] travel) {
        return Math.abs(travel[travel.length - 1] - travel[0]);
    }

    private static double highest(float[] values) {
        double most = 0;
        for (float v : values) {
            most = Math.max(most, v);
        }
        return most;
    }

    private static double rounded(double value) {
        return new java.math.BigDecimal(value)
                .round(new java.math.MathContext(4))
                .doubleValue();
    }

    private static Fleet.PastReading reading(
            String step, String lane, String point, double value, String unit, Map<String, Double> facts) {
        return new Fleet.PastReading(step, lane, point, value, unit, facts, 3, "DONE", "", null);
    }

    /** With what was recorded, thinned. */
    private static Fleet.PastReading traced(
            String step, String point, double value, String unit, String name, String of, float[] recorded) {
        List<List<Double>> samples = new ArrayList<>();
        int every = Math.max(1, recorded.length / KEPT);
        for (int i = 0; i < recorded.length; i += every) {
            samples.add(List.of(rounded(i / Mechanism.RATE - Mechanism.BEFORE), rounded(recorded[i])));
        }
        return new Fleet.PastReading(
                step, "-", point, value, unit, Map.of(), 3, "DONE", "", new Fleet.PastTrace(name, "s", of, samples));
    }
}
