package org.juratest.simulators.family.breakers;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.Ground;

/** The residual-current devices of the valley, and what tests of the past would have read. */
final class ResidualFleet {

    private static final String CLASS = "residual-current-device";
    private static final String PROCEDURE = "RCD-YEARLY";
    private static final long OWN_DRAWS = 0x5c1dL;
    private static final int EVERY_DAYS = 364;
    private static final int YEARS = 4;
    private static final int ALL = 20;
    private static final double STEPS = 18;
    private static final double[] HALVES = {0, 180};

    private ResidualFleet() {}

    /** Devices that come beside those of the ground, how they behave, and tests by asset. */
    record All(
            List<Fleet.Device> devices,
            List<ResidualDevices.ResidualDevice> residual,
            Map<String, List<Fleet.PastTest>> past) {}

    static All of(Ground ground) {
        List<Fleet.Device> devices = new ArrayList<>();
        List<ResidualDevices.ResidualDevice> today = new ArrayList<>();
        Map<String, List<Fleet.PastTest>> past = new TreeMap<>();
        SplittableRandom random = new SplittableRandom(ground.seed() * 151 + OWN_DRAWS);
        int sites = ground.sites().size();
        for (int n = 0; n < ALL; n++) {
            Fleet.Site site = ground.sites().get(n % sites);
            String position = String.format(Locale.ROOT, "%s-RCD-%02d", site.code(), n / sites + 1);
            // Each third one stands before others and waits for them.
            boolean selective = n % 5 == 4;
            ResidualDevices.ResidualDevice made = new ResidualDevices.ResidualDevice(
                    position,
                    selective ? 0.3 : 0.03,
                    selective,
                    0.6 + 0.2 * random.nextDouble(),
                    0.9 + 0.25 * random.nextDouble(),
                    0,
                    selective ? 12 + 40 * random.nextDouble() : 60 + 300 * random.nextDouble());
            LocalDate installed = ground.today().minusDays((long) EVERY_DAYS * YEARS - 25L - 17L * n);
            Fleet.Device device = device(made, site, installed, 7101 + n);
            devices.add(device);
            ResidualDevices.ResidualDevice now = now(made);
            today.add(now);
            past.put(device.asset(), past(made, now, installed, ground.today(), n, random.split()));
        }
        return new All(devices, today, past);
    }

    private static Fleet.Device device(
            ResidualDevices.ResidualDevice made, Fleet.Site site, LocalDate installed, int serial) {
        Map<String, String> plate = new TreeMap<>();
        plate.put("residualCurrent", made.selective() ? "300 mA" : "30 mA");
        plate.put("ratedCurrent", made.selective() ? "63" : "40");
        plate.put("ratedVoltage", "400");
        plate.put("poles", "4");
        plate.put("sensitivity", "A");
        plate.put("delay", made.selective() ? "selective" : "general");
        return new Fleet.Device(
                "RCD-" + serial,
                site.code(),
                CLASS,
                "Orvex",
                made.selective() ? "RS-63" : "R-40",
                "OX-" + (61_000 + 3 * serial),
                plate,
                made.position(),
                made.selective() ? "Board incomer" : "Sockets",
                "",
                "",
                List.of(new Fleet.Stay(made.position(), installed, null)),
                "",
                null);
    }

    private static ResidualDevices.ResidualDevice now(ResidualDevices.ResidualDevice made) {
        return switch (made.position()) {
            // Nobody operated it for a year: its first trip comes late, the next in time.
            case "PRA-RCD-02" -> made.with(made.share(), made.slowness(), 0.36);
            // Dust in the latch.
            case "VAU-RCD-01" -> made.with(made.share(), 13.5, 0);
            // A relay that has become nervous: it trips on what is no fault.
            case "MFR-RCD-01" -> made.with(0.44, made.slowness(), 0);
            default -> made.with(made.share(), made.slowness() * 1.06, 0);
        };
    }

    private static List<Fleet.PastTest> past(
            ResidualDevices.ResidualDevice made,
            ResidualDevices.ResidualDevice now,
            LocalDate installed,
            LocalDate today,
            int n,
            SplittableRandom random) {
        List<Fleet.PastTest> tests = new ArrayList<>();
        for (int year = 0; year < YEARS; year++) {
            LocalDate day = installed.plusDays(2 + (long) EVERY_DAYS * year);
            if (day.isBefore(today)) {
                double aged = Math.pow(year / (double) YEARS, 2);
                tests.add(test(
                        made.with(
                                made.share() + aged * (now.share() - made.share()),
                                made.slowness() + aged * (now.slowness() - made.slowness()),
                                0),
                        day,
                        n + year,
                        random));
            }
        }
        return tests;
    }

    private static Fleet.PastTest test(
            ResidualDevices.ResidualDevice then, LocalDate day, int who, SplittableRandom random) {
        List<Fleet.PastReading> told = new ArrayList<>();
        double rated = then.rated();
        for (int half = 0; half < 2; half++) {
            String lane = half == 0 ? "p" : "n";
            boolean holds = then.timeAt(rated / 2, HALVES[half]) > 1;
            double trips = then.timeAt(rated / 2, HALVES[half]);
            told.add(reading("half", lane, "time", holds ? 1000 : trips * 1000, "ms", facts(rated / 2, holds)));
        }
        for (int half = 0; half < 2; half++) {
            String lane = half == 0 ? "p" : "n";
            double touch = rated * then.earth() * scatter(random, 0.01);
            told.add(reading("once", lane, "touch", touch, "V", Map.of()));
            told.add(timed("once", lane, then, rated, HALVES[half], random));
        }
        for (int half = 0; half < 2; half++) {
            told.add(timed("five", half == 0 ? "p" : "n", then, 5 * rated, HALVES[half], random));
        }
        double step = rated * 0.9 / (STEPS - 1);
        for (int half = 0; half < 2; half++) {
            double at = 0.2 * rated + step * Math.ceil((then.share() - 0.2) * rated / step);
            told.add(reading("grows", half == 0 ? "p" : "n", "pickUp", at * 1000, "mA", Map.of("step", step)));
        }
        return new Fleet.PastTest(day, who % 2 == 0 ? "tavel" : "brevan", PROCEDURE, Map.of(), told);
    }

    private static Map<String, Double> facts(double current, boolean held) {
        return Map.of("current", current, "held", held ? 1.0 : 0.0);
    }

    private static Fleet.PastReading timed(
            String step,
            String lane,
            ResidualDevices.ResidualDevice then,
            double current,
            double degrees,
            SplittableRandom random) {
        double seconds = then.timeAt(current, degrees) * scatter(random, 0.04);
        return reading(step, lane, "time", seconds * 1000, "ms", facts(current, false));
    }

    private static double scatter(SplittableRandom random, double by) {
        return 1 + by * (random.nextDouble() - 0.5);
    }

    private static Fleet.PastReading reading(
            String step, String lane, String point, double value, String unit, Map<String, Double> facts) {
        double told = new java.math.BigDecimal(value)
                .round(new java.math.MathContext(3))
                .doubleValue();
        return new Fleet.PastReading(step, lane, point, told, unit, facts, 2, "DONE", "", null);
    }
}
