package org.juratest.simulators.family.breakers;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.Ground;

/** How the protection relays of the valley behave, and what tests of the past would have read. */
final class RelayFleet {

    private static final String CLASS = "protection-relay";
    private static final String PROCEDURE = "REL-2YEARLY";
    private static final long OWN_DRAWS = 0x4e1aL;
    private static final int EVERY_DAYS = 730;
    private static final int MOST = 3;
    private static final double YEARS = 6;
    private static final int[] MULTIPLES = {2, 5, 10};

    private RelayFleet() {}

    /** Relays, and tests by asset. */
    record All(List<Relays.Relay> relays, Map<String, List<Fleet.PastTest>> past) {}

    static All of(Ground ground) {
        List<Relays.Relay> all = new ArrayList<>();
        Map<String, List<Fleet.PastTest>> past = new TreeMap<>();
        List<Fleet.Device> devices = ground.devices().stream()
                .filter(d -> d.assetClass().equals(CLASS) && !d.position().isEmpty())
                .toList();
        for (int n = 0; n < devices.size(); n++) {
            Fleet.Device d = devices.get(n);
            SplittableRandom random = new SplittableRandom(
                    ground.seed() * 139 + OWN_DRAWS + d.position().hashCode());
            Relays.Relay made = made(d, random);
            Relays.Relay now = today(made);
            all.add(now);
            past.put(d.asset(), past(made, now, d, ground.today(), n, random));
        }
        return new All(all, past);
    }

    private static double plate(Fleet.Device d, String key) {
        return Double.parseDouble(String.valueOf(d.plate().get(key)).replaceAll("[^0-9.]", ""));
    }

    private static Relays.Relay made(Fleet.Device d, SplittableRandom random) {
        return new Relays.Relay(
                d.position(),
                plate(d, "pickUpSetting"),
                plate(d, "timeMultiplier"),
                plate(d, "characteristicAngle"),
                plate(d, "differentialSetting"),
                plate(d, "differentialSlope") / 100,
                0.99 + 0.02 * random.nextDouble(),
                0.95 + 0.01 * random.nextDouble(),
                0.985 + 0.03 * random.nextDouble(),
                2 * random.nextDouble() - 1,
                0.98 + 0.04 * random.nextDouble());
    }

    private static Relays.Relay today(Relays.Relay made) {
        return switch (made.position()) {
            // Its input has drifted: it picks up late, and so it is slow near its setting.
            case "MFR-REL-02" -> made.with(1.08, made.slowness(), made.turned(), made.steeper());
            // A changed voltage phase in the panel: it looks the other way by a part.
            case "BRU-REL-03" -> made.with(made.pickUp(), made.slowness(), 11, made.steeper());
            // Somebody set it otherwise after a nuisance trip, and wrote it down nowhere.
            case "BRU-REL-05" -> made.setTo("multiplier", 0.25);
            default -> made;
        };
    }

    private static List<Fleet.PastTest> past(
            Relays.Relay made, Relays.Relay now, Fleet.Device device, LocalDate today, int n, SplittableRandom random) {
        List<Fleet.PastTest> tests = new ArrayList<>();
        LocalDate installed = device.stays().get(device.stays().size() - 1).from();
        List<LocalDate> days = new ArrayList<>(List.of(installed.plusDays(4)));
        LocalDate last = today.minusDays(EVERY_DAYS - 10L - 55L * n);
        for (int k = MOST - 1; k >= 0; k--) {
            LocalDate day = last.minusDays((long) EVERY_DAYS * k);
            if (day.isAfter(installed.plusDays(150))) {
                days.add(day);
            }
        }
        for (int k = 0; k < days.size(); k++) {
            double aged = Math.max(0, 1 - (today.toEpochDay() - days.get(k).toEpochDay()) / (365.25 * YEARS));
            tests.add(test(
                    made.with(
                            made.pickUp() + aged * (now.pickUp() - made.pickUp()),
                            made.slowness(),
                            made.turned() + (aged > 0.9 ? now.turned() - made.turned() : 0),
                            made.steeper()),
                    days.get(k),
                    n + k,
                    random));
        }
        return tests;
    }

    private static Fleet.PastTest test(Relays.Relay then, LocalDate day, int who, SplittableRandom random) {
        List<Fleet.PastReading> told = new ArrayList<>();
        for (String phase : List.of("A", "B", "C")) {
            double pickUp = then.setting() * then.pickUp() * scatter(random, 0.006);
            double step = then.setting() / 100;
            told.add(reading("pickUp", phase, "pickUp", pickUp, "A", Map.of("step", step)));
            told.add(reading("pickUp", phase, "dropOff", pickUp * then.ratio(), "A", Map.of("step", step)));
            told.add(reading("pickUp", phase, "ratio", then.ratio(), "1", Map.of("step", 0.01)));
        }
        for (String phase : List.of("A", "B", "C")) {
            for (int m = 0; m < MULTIPLES.length; m++) {
                double current = MULTIPLES[m] * then.setting();
                double time = then.timeAt(current) * scatter(random, 0.008);
                told.add(reading("time", phase + "." + (m + 1), "time", time, "s", Map.of("current", current)));
            }
        }
        double centre = then.angle() + then.turned();
        Map<String, Double> within = Map.of("resolution", 0.5);
        told.add(reading("directional", "-", "from", centre - 88, "1", within));
        told.add(reading("directional", "-", "to", centre + 88, "1", within));
        told.add(reading("directional", "-", "centre", centre, "1", within));
        told.add(reading("directional", "-", "width", 176, "1", within));
        return new Fleet.PastTest(day, who % 2 == 0 ? "tavel" : "brevan", PROCEDURE, Map.of(), told);
    }

    private static double scatter(SplittableRandom random, double by) {
        return 1 + by * (random.nextDouble() - 0.5);
    }

    private static Fleet.PastReading reading(
            String step, String lane, String point, double value, String unit, Map<String, Double> facts) {
        double told = new java.math.BigDecimal(value)
                .round(new java.math.MathContext(4))
                .doubleValue();
        return new Fleet.PastReading(step, lane, point, told, unit, facts, 2, "DONE", "", null);
    }
}
