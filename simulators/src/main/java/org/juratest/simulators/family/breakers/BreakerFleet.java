package org.juratest.simulators.family.breakers;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;

/** The breakers of the valley with their gear, how they behave, and what tests of the past would have read. */
final class BreakerFleet {

    private static final int FIRST_ID = 1001;
    private static final int TRACE_SAMPLES = 48;
    private static final List<String> POLES = List.of("A", "B", "C");
    private static final Map<String, String> PATHS = paths();
    private static final int YEARS = 4;
    /** Full scale of the range that contacts were measured on, Ω. */
    private static final double RESISTANCE_RANGE = 1e-3;
    /** Full scale of the range that currents were injected on, A. */
    private static final double CURRENT_RANGE = 1000;

    private final Ground ground;
    private final SplittableRandom random;
    private final List<Breakers.Breaker> breakers = new ArrayList<>();
    private final List<Fleet.Device> devices = new ArrayList<>();
    private final Map<String, List<Fleet.PastTest>> past = new LinkedHashMap<>();
    private int serial = 2200;

    private BreakerFleet(Ground ground) {
        this.ground = ground;
        this.random = new SplittableRandom(ground.seed());
    }

    static FleetPart of(Ground ground) {
        BreakerFleet fleet = new BreakerFleet(ground);
        fleet.all();
        RecloserFleet.All reclosers = RecloserFleet.of(ground);
        fleet.devices.addAll(reclosers.devices());
        fleet.past.putAll(reclosers.past());
        MvBreakerFleet.All switching = MvBreakerFleet.of(ground);
        fleet.past.putAll(switching.past());
        ResidualFleet.All residual = ResidualFleet.of(ground);
        fleet.devices.addAll(residual.devices());
        fleet.past.putAll(residual.past());
        RelayFleet.All relays = RelayFleet.of(ground);
        fleet.past.putAll(relays.past());
        return new FleetPart(
                gear(ground),
                fleet.devices,
                fleet.past,
                Map.of(),
                new Breakers.Truth(
                        fleet.breakers,
                        reclosers.reclosers(),
                        switching.breakers(),
                        residual.residual(),
                        relays.relays()));
    }

    private static List<Fleet.Gear> gear(Ground ground) {
        Map<String, Fleet.Accuracy> injection = Map.of(
                "current",
                new Fleet.Accuracy(0.5, 0.1, 0, "expandedK2"),
                "time",
                new Fleet.Accuracy(0.01, 0, 0.002, "rectangular"));
        Map<String, Fleet.Accuracy> micro = Map.of("resistance", new Fleet.Accuracy(0.2, 0, 0.2e-6, "expandedK2"));
        Map<String, Fleet.Accuracy> analyser = Map.of(
                "time",
                new Fleet.Accuracy(0.01, 0, 0.0001, "rectangular"),
                "length",
                new Fleet.Accuracy(0.5, 0, 0.0001, "rectangular"),
                "speed",
                new Fleet.Accuracy(1, 0, 0.01, "rectangular"),
                "current",
                new Fleet.Accuracy(1, 0, 0.005, "rectangular"));
        Map<String, Fleet.Accuracy> relay = Map.of(
                "time",
                new Fleet.Accuracy(0.01, 0, 0.0005, "rectangular"),
                "current",
                new Fleet.Accuracy(0.1, 0, 0.0005, "rectangular"));
        Map<String, Fleet.Accuracy> residual = Map.of(
                "time",
                new Fleet.Accuracy(0.5, 0, 0.001, "rectangular"),
                "current",
                new Fleet.Accuracy(3, 0, 0.0001, "rectangular"),
                "voltage",
                new Fleet.Accuracy(5, 0, 0.5, "rectangular"));
        Map<String, Fleet.Accuracy> insulation = Map.of("resistance", new Fleet.Accuracy(3, 0, 0, "rectangular"));
        return List.of(
                ground.gear(
                        "inj-2",
                        "Injection set 2",
                        "current-source",
                        "Brennach",
                        "PI-5000",
                        "BR-3317",
                        ground.ports().of("current-source"),
                        -255,
                        110,
                        injection,
                        Map.of("current", 5000.0, "time", 36_000.0),
                        "scpi-injection"),
                ground.gear(
                        "mic-1",
                        "Micro-ohmmeter 1",
                        "micro-ohmmeter",
                        "Brennach",
                        "MO-10",
                        "BR-0825",
                        ground.ports().of("micro-ohmmeter"),
                        -115,
                        250,
                        micro,
                        Map.of("current", 10.0),
                        "scpi-micro-ohmmeter"),
                ground.gear(
                        "mic-2",
                        "Micro-ohmmeter 2",
                        "micro-ohmmeter",
                        "Brennach",
                        "MO-10",
                        "BR-0790",
                        0,
                        -420,
                        -55,
                        micro,
                        Map.of("current", 10.0),
                        "scpi-micro-ohmmeter"),
                ground.gear(
                        "brk-1",
                        "Breaker analyser",
                        "breaker-analyser",
                        "Brennach",
                        "BA-3",
                        "BR-7745",
                        ground.ports().of("breaker-analyser"),
                        -60,
                        305,
                        analyser,
                        Map.of("voltage", 300.0, "time", 2.0),
                        "scpi-breaker-analyser"),
                ground.gear(
                        "rcd-1",
                        "Residual-current tester",
                        "residual-tester",
                        "Brennach",
                        "RT-2",
                        "BR-2204",
                        ground.ports().of("residual-tester"),
                        -40,
                        325,
                        residual,
                        Map.of("current", 5.0, "time", 60.0),
                        "scpi-residual-tester"),
                ground.gear(
                        "rel-1",
                        "Relay test set",
                        "relay-test-set",
                        "Brennach",
                        "RT-6",
                        "BR-4410",
                        ground.ports().of("relay-test-set"),
                        -95,
                        270,
                        relay,
                        Map.of("current", 30.0, "voltage", 150.0, "time", 3600.0),
                        "scpi-relay-test-set"),
                ground.gear(
                        "rel-2",
                        "Relay port adapter",
                        "relay-data-port",
                        "Brennach",
                        "CP-1",
                        "BR-5021",
                        ground.ports().of("relay-data-port"),
                        -30,
                        335,
                        Map.of(),
                        Map.of(),
                        "modbus-relay"),
                ground.alone(
                        "ins-1",
                        "Insulation tester 1",
                        "insulation-tester",
                        "Toldane",
                        "IT-1",
                        "TD-5104",
                        -80,
                        285,
                        insulation),
                ground.alone(
                        "ins-2",
                        "Insulation tester 2",
                        "insulation-tester",
                        "Toldane",
                        "IT-1",
                        "TD-5119",
                        -190,
                        175,
                        insulation));
    }

    private static Map<String, String> paths() {
        Map<String, String> paths = new LinkedHashMap<>();
        List.of("A-B", "B-C", "C-A", "A-E", "B-E", "C-E", "A-LL", "B-LL", "C-LL")
                .forEach(p -> paths.put(p, p.substring(0, 1)));
        return paths;
    }

    private void all() {
        for (Fleet.Site site : ground.sites()) {
            int count = site.code().equals("MFR") ? 8 : 5 + random.nextInt(2);
            for (int number = 1; number <= count; number++) {
                breaker(site, number);
            }
        }
    }

    /** A model the valley uses: ratings in A, V, s; heating seconds of a pole that is right. */
    private record Kind(
            String maker, String model, String technology, String curve, Map<String, Double> ratings, double heating) {}

    private Kind kind(int number) {
        return switch (number % 4) {
            case 0 -> electronic("E250", "halmic-e250", 250, 160, 8);
            case 1 -> new Kind("Orvex", "M250", "thermal-magnetic", "orvex-m250", ratings(200, 200), 200);
            case 2 -> electronic("E630", "halmic-e630", 400, 320, 6);
            default -> new Kind("Orvex", "M160", "thermal-magnetic", "orvex-m160", ratings(100, 100), 146);
        };
    }

    private static Kind electronic(String model, String curve, double rated, double setting, double delay) {
        Map<String, Double> ratings = ratings(rated, setting);
        ratings.put("longTimeDelay", delay);
        ratings.put("shortTimePickUp", 6 * setting);
        ratings.put("shortTimeDelay", 0.2);
        ratings.put("instantaneousPickUp", 10 * setting);
        ratings.put("shortTimeSquare", rated > 300 ? 1.0 : 0.0);
        ratings.put("groundFault", 1.0);
        ratings.put("groundPickUp", 0.4 * setting);
        ratings.put("groundDelay", 0.2);
        ratings.put("groundSquare", 0.0);
        // 36 tr at 1 x setting, in the middle of the maker's -20/+5 %.
        return new Kind("Halmic", model, "electronic", curve, ratings, 36 * delay * 0.92);
    }

    private static Map<String, Double> ratings(double rated, double setting) {
        Map<String, Double> ratings = new TreeMap<>();
        ratings.put("poles", 3.0);
        ratings.put("ratedCurrent", rated);
        ratings.put("ratedVoltage", 400.0);
        ratings.put("longTimeSetting", setting);
        return ratings;
    }

    /** How a breaker ages: per year, as a share of the value when new. */
    private record Ageing(
            Map<String, Double> contact,
            Map<String, Double> slowness,
            double insulation,
            int repairYear,
            String repairPole) {}

    private void breaker(Fleet.Site site, int number) {
        Kind kind = kind(number);
        String position = String.format(Locale.ROOT, "%s-CBK-%02d", site.code(), number);
        boolean example = position.equals("MFR-CBK-07");
        String number4 = example ? "48-2291" : "4" + random.nextInt(5, 9) + "-" + (serial += random.nextInt(3, 40));
        Ageing ageing = ageing(position);
        Map<String, Breakers.Pole> fresh = new TreeMap<>();
        double base = 180 + random.nextDouble() * 50;
        for (String pole : POLES) {
            fresh.put(
                    pole,
                    new Breakers.Pole(
                            0.97 + random.nextDouble() * 0.08,
                            base * (0.96 + random.nextDouble() * 0.08),
                            1500 * Math.exp(random.nextDouble() * 1.6)));
        }
        if (example) {
            // The breaker of the example: pole C's contact has risen four years running and is marginal by now.
            fresh.put("A", new Breakers.Pole(0.97, 196, 3200));
            fresh.put("B", new Breakers.Pole(1.0, 200, 2100));
            fresh.put("C", new Breakers.Pole(1.02, 204, 5400));
        }
        // Weeks since the last test: about a quarter are due in these weeks, a few of them over, the rest lie later in
        // the year.
        int weeks = random.nextInt(4) == 0 ? 50 + random.nextInt(5) : 6 + random.nextInt(43);
        int days = random.nextInt(7);
        LocalDate installed = example
                ? ground.today().minusWeeks(52L * YEARS).plusDays(2)
                : ground.today().minusWeeks(weeks + 52L * (YEARS - 1)).minusDays(days);
        List<Fleet.PastTest> tests = new ArrayList<>();
        for (int year = 0; year < YEARS; year++) {
            tests.add(test(kind, fresh, ageing, year, installed.plusWeeks(52L * year)));
        }
        double now = java.time.temporal.ChronoUnit.DAYS.between(installed, ground.today()) / 364.0;
        Map<String, Breakers.Pole> poles = new TreeMap<>();
        fresh.forEach((pole, p) -> poles.put(pole, aged(pole, p, ageing, now)));
        if (example) {
            poles.put(
                    "B",
                    new Breakers.Pole(
                            1.8, poles.get("B").microhms(), poles.get("B").megohms()));
        }
        if (position.equals("PRA-CBK-02")) {
            // A spring that has lost its force: it would trip at an inrush.
            Breakers.Pole was = poles.get("A");
            poles.put("A", was.magnet(0.78));
        }
        if (position.equals("BRU-CBK-02")) {
            // The unit's own time has drifted: short time and ground fault come late, whichever pole carries them.
            poles.replaceAll((pole, p) -> p.delay(1.6));
        }
        String asset = "CBK-" + (FIRST_ID + breakers.size());
        breakers.add(new Breakers.Breaker(position, kind.technology, kind.ratings, kind.heating, poles));
        Map<String, String> plate = new TreeMap<>();
        kind.ratings.forEach((key, value) -> plate.put(
                key,
                new BigDecimal(Double.toString(value)).stripTrailingZeros().toPlainString()
                        + (key.equals("poles") || key.endsWith("Square") || key.equals("groundFault")
                                ? ""
                                : key.equals("ratedVoltage") ? " V" : key.endsWith("Delay") ? " s" : " A")));
        devices.add(new Fleet.Device(
                asset,
                site.code(),
                "lv-breaker",
                kind.maker,
                kind.model,
                number4,
                plate,
                position,
                "",
                "",
                "",
                List.of(new Fleet.Stay(position, installed, null)),
                "",
                kind.curve));
        past.put(asset, tests);
    }

    private Ageing ageing(String position) {
        Map<String, Double> contact = new TreeMap<>();
        Map<String, Double> slowness = new TreeMap<>();
        for (String pole : POLES) {
            contact.put(pole, 0.004 + random.nextDouble() * 0.015);
            slowness.put(pole, (random.nextDouble() - 0.45) * 0.02);
        }
        int repairYear = -1;
        String repairPole = "";
        switch (position) {
            case "MFR-CBK-07" -> contact.putAll(Map.of("A", 0.003, "B", 0.004, "C", 0.105));
            case "PRA-CBK-03" -> contact.put("A", 0.2);
            case "COL-CBK-02" -> slowness.put("C", 0.065);
            case "ORE-CBK-01", "BRU-CBK-03", "COL-CBK-05" -> {
                repairYear = 2;
                repairPole = "B";
                slowness.put("B", 0.34);
            }
            case "VAU-CBK-01" -> contact.put("B", 0.127);
            default -> {}
        }
        return new Ageing(contact, slowness, 0.03 + random.nextDouble() * 0.05, repairYear, repairPole);
    }

    private static Breakers.Pole aged(String pole, Breakers.Pole fresh, Ageing ageing, double years) {
        boolean repaired = pole.equals(ageing.repairPole) && years > ageing.repairYear;
        double slowYears = repaired ? (years - ageing.repairYear) * 0.1 : years;
        return new Breakers.Pole(
                fresh.slowness() * (1 + ageing.slowness.get(pole) * slowYears),
                fresh.microhms() * (1 + ageing.contact.get(pole) * years),
                fresh.megohms() * Math.exp(-ageing.insulation * years));
    }

    private Fleet.PastTest test(Kind kind, Map<String, Breakers.Pole> fresh, Ageing ageing, int year, LocalDate day) {
        // A mountain valley: about 12 degC in the switch rooms over the year, colder in winter.
        double season = -8 * Math.cos(2 * Math.PI * (day.getDayOfYear() - 20) / 365.0);
        double temperature = Math.round((12 + season + noise(1.5)) * 2) / 2.0;
        Map<String, Double> megohms = new TreeMap<>();
        PATHS.forEach((path, pole) -> megohms.put(
                path,
                rounded(
                        aged(pole, fresh.get(pole), ageing, year).megohms()
                                * Math.pow(2, (20 - temperature) / 10)
                                * (1 + noise(0.06)),
                        3)));
        List<Fleet.PastReading> insulation = new ArrayList<>();
        megohms.forEach((path, value) ->
                insulation.add(reading("insulation", path, "r", value, "MOhm", Map.of(), 30, "DONE", "", null)));
        List<Fleet.PastReading> contact = new ArrayList<>();
        List<Fleet.PastReading> contactEnd = new ArrayList<>();
        List<Fleet.PastReading> trips = new ArrayList<>();
        for (String pole : POLES) {
            Breakers.Pole then = aged(pole, fresh.get(pole), ageing, year);
            contact.add(contact("contact", pole, rounded(then.microhms() * (1 + noise(0.006)), 4)));
            contactEnd.add(contact("contactAgain", pole, rounded(then.microhms() * (0.995 + noise(0.006)), 4)));
            trips.add(trip(kind, pole, then.slowness(), ""));
            if (year == ageing.repairYear && pole.equals(ageing.repairPole)) {
                trips.add(trip(
                        kind,
                        pole,
                        fresh.get(pole).slowness(),
                        "Mechanism exercised ten times, latch cleaned and greased"));
            }
        }
        List<Fleet.PastReading> all = new ArrayList<>(insulation);
        all.addAll(contact);
        all.addAll(trips);
        all.addAll(contactEnd);
        return new Fleet.PastTest(
                day,
                year % 2 == 0 ? "tavel" : "brevan",
                "CBK-YEARLY",
                Map.of("equipmentTemperature", new Fleet.Typed(temperature, "Cel")),
                all);
    }

    private static Fleet.PastReading reading(
            String step,
            String lane,
            String point,
            double value,
            String unit,
            Map<String, Double> facts,
            double seconds,
            String off,
            String repaired,
            Fleet.@Nullable PastTrace trace) {
        return new Fleet.PastReading(step, lane, point, value, unit, facts, seconds, off, repaired, trace);
    }

    private static Fleet.PastReading contact(String step, String pole, double microhms) {
        Map<String, Double> facts = Map.of("current", 10.0, "range", RESISTANCE_RANGE);
        return reading(step, pole, "r", microhms, "uOhm", facts, 3, "DONE", "", null);
    }

    private Fleet.PastReading trip(Kind kind, String pole, double slowness, String repaired) {
        double current = 3 * kind.ratings.get("longTimeSetting") * (1 + noise(0.002));
        double square = Math.pow(current / kind.ratings.get("longTimeSetting"), 2);
        double seconds = kind.technology.equals("electronic")
                ? kind.heating * slowness / square
                : kind.heating * slowness * Math.log(square / (square - 1.15 * 1.15));
        double tripped = rounded(seconds * (1 + noise(0.012)), 5);
        double held = rounded(current, 5);
        return reading(
                "longTime",
                pole,
                "time",
                tripped,
                "s",
                Map.of("current", held, "range", CURRENT_RANGE),
                tripped,
                "TRIPPED",
                repaired,
                new Fleet.PastTrace("Injected current", "s", "A", trace(held, tripped)));
    }

    /**
     * The current as the set's regulator holds it: a little high at first, then steady but for ripple. Draws of its
     * own, so that the fleet stays what it was.
     */
    private static List<List<Double>> trace(double current, double seconds) {
        Random ripple = new Random(Double.doubleToLongBits(current + seconds));
        List<List<Double>> samples = new ArrayList<>();
        for (int i = 1; i <= TRACE_SAMPLES; i++) {
            double at = seconds * i / (TRACE_SAMPLES + 1);
            double value = current * (1 + 0.004 * Math.exp(-at / 2) + 0.0006 * (ripple.nextDouble() - 0.5));
            samples.add(List.of(rounded(at, 5), rounded(value, 5)));
        }
        return samples;
    }

    private double noise(double deviation) {
        // Sum of uniforms: near enough to normal, and bounded, so that no draw is absurd.
        return deviation
                * (random.nextDouble() + random.nextDouble() + random.nextDouble() + random.nextDouble() - 2)
                * Math.sqrt(3);
    }

    private static double rounded(double value, int digits) {
        return new java.math.BigDecimal(Double.toString(value))
                .round(new java.math.MathContext(digits))
                .doubleValue();
    }
}
