package org.juratest.simulators.fleet;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.juratest.simulators.Ports;

/** Makes the demo valley from a seed and a day: the same seed and day give the same valley. */
public final class FleetGenerator {

    /** The seed of the demo. */
    public static final long SEED = 1670;

    private static final int FIRST_ID = 1001;
    private static final int TRACE_SAMPLES = 48;
    private static final List<String> POLES = List.of("A", "B", "C");
    private static final Map<String, String> PATHS = paths();
    private static final int YEARS = 4;

    private final SplittableRandom random;
    private final LocalDate today;
    private int serial = 2200;
    private int breakerCount;

    private FleetGenerator(long seed, LocalDate today) {
        this.random = new SplittableRandom(seed);
        this.today = today;
    }

    /** The valley of a seed and a day. */
    public static Fleet generate(long seed, LocalDate today, Ports ports) {
        FleetGenerator generator = new FleetGenerator(seed, today);
        List<Fleet.Site> sites = sites();
        List<Fleet.Gear> gear = generator.gear(ports);
        List<Fleet.Breaker> breakers = generator.breakers(sites);
        List<Fleet.Device> devices = DeviceGenerator.generate(seed, today);
        return new Fleet(
                seed, today, sites, people(), gear, breakers, devices, RadioGenerator.generate(seed, today, devices));
    }

    private static Map<String, String> paths() {
        Map<String, String> paths = new LinkedHashMap<>();
        List.of("A-B", "B-C", "C-A", "A-E", "B-E", "C-E", "A-LL", "B-LL", "C-LL")
                .forEach(p -> paths.put(p, p.substring(0, 1)));
        return paths;
    }

    private static List<Fleet.Site> sites() {
        return List.of(
                new Fleet.Site("TES", "Tessombe depot and workshop", 0.0, 410),
                new Fleet.Site("BRU", "Lac Brunon hydro station", 3.1, 520),
                new Fleet.Site("MFR", "Montfrel substation", 5.4, 690),
                new Fleet.Site("PRA", "Pravelle halt", 7.9, 930),
                new Fleet.Site("ORE", "Orsel tunnel, east portal", 10.2, 1210),
                new Fleet.Site("ORW", "Orsel tunnel, west portal", 12.6, 1340),
                new Fleet.Site("VAU", "Vaudrel clinic", 14.8, 1480),
                new Fleet.Site("COL", "Col de Vaudrel summit", 16.7, 1920));
    }

    /** What models of gear can be set to at most, by set-point: A, s, dBm. */
    private static final Map<String, Map<String, Double>> RANGES = Map.of(
            "PI-3000",
            Map.of("current", 3000.0, "time", 36_000.0),
            "MO-10",
            Map.of("current", 10.0),
            "TS-1",
            Map.of("level", 10.0),
            "SG-2",
            Map.of("second level", 30.0));

    /** Drivers by role of gear that can be talked to. */
    private static final Map<String, String> DRIVERS = Map.of(
            "current-source",
            "scpi-injection",
            "micro-ohmmeter",
            "scpi-micro-ohmmeter",
            "radio-test-set",
            "scpi-radio-test-set",
            "second-generator",
            "scpi-generator",
            "radio-data-port",
            "line-data-port");

    private static List<Fleet.Person> people() {
        return List.of(
                new Fleet.Person("tavel", "A. Tavel", "technician", "rack-rail-16"),
                new Fleet.Person("brevan", "J. Brevan", "technician", "tunnel-lamp-8"),
                new Fleet.Person("marvet", "C. Marvet", "technician", "ridge-pole-31"),
                new Fleet.Person("oster", "M. Oster", "supervisor", "penstock-42"),
                new Fleet.Person("ruvane", "P. Ruvane", "engineer", "gantry-post-57"),
                new Fleet.Person("corvise", "E. Corvise", "auditor", "ledger-stone-12"),
                new Fleet.Person("valdres", "H. Valdres", "administrator", "signal-box-90"));
    }

    private List<Fleet.Gear> gear(Ports ports) {
        Map<String, Fleet.Accuracy> injection = Map.of(
                "current",
                new Fleet.Accuracy(0.5, 0.1, 0, "expandedK2"),
                "time",
                new Fleet.Accuracy(0.01, 0, 0.002, "rectangular"));
        Map<String, Fleet.Accuracy> micro = Map.of("resistance", new Fleet.Accuracy(0.2, 0, 0.2e-6, "expandedK2"));
        Map<String, Fleet.Accuracy> radio = new TreeMap<>();
        radio.put("frequencyError", new Fleet.Accuracy(0, 0, 0.1, "expandedK2"));
        radio.put("power", new Fleet.Accuracy(6, 0, 0, "expandedK2"));
        radio.put("level", new Fleet.Accuracy(0, 0, 0.8, "expandedK2"));
        radio.put("deviation", new Fleet.Accuracy(1, 0, 5, "expandedK2"));
        radio.put("distortion", new Fleet.Accuracy(2, 0, 0.05, "expandedK2"));
        radio.put("ratio", new Fleet.Accuracy(0, 0, 0.5, "expandedK2"));
        radio.put("sound", new Fleet.Accuracy(2, 0, 0, "rectangular"));
        radio.put("current", new Fleet.Accuracy(1, 0, 0.002, "rectangular"));
        Map<String, Fleet.Accuracy> insulation = Map.of("resistance", new Fleet.Accuracy(3, 0, 0, "rectangular"));
        return List.of(
                gear(
                        "inj-2",
                        "Injection set 2",
                        "current-source",
                        "Brennach",
                        "PI-3000",
                        "BR-3317",
                        ports.of("current-source"),
                        -255,
                        110,
                        injection),
                gear(
                        "mic-1",
                        "Micro-ohmmeter 1",
                        "micro-ohmmeter",
                        "Brennach",
                        "MO-10",
                        "BR-0825",
                        ports.of("micro-ohmmeter"),
                        -115,
                        250,
                        micro),
                gear(
                        "mic-2",
                        "Micro-ohmmeter 2",
                        "micro-ohmmeter",
                        "Brennach",
                        "MO-10",
                        "BR-0790",
                        0,
                        -420,
                        -55,
                        micro),
                gear(
                        "ins-1",
                        "Insulation tester 1",
                        "insulation-tester",
                        "Toldane",
                        "IT-1",
                        "TD-5104",
                        0,
                        -80,
                        285,
                        insulation),
                gear(
                        "ins-2",
                        "Insulation tester 2",
                        "insulation-tester",
                        "Toldane",
                        "IT-1",
                        "TD-5119",
                        0,
                        -190,
                        175,
                        insulation),
                alone("mul-1", "Multimeter 1", "multimeter", "Toldane", "DM-6", "TD-2207", -140, 225),
                alone("mul-2", "Multimeter 2", "multimeter", "Toldane", "DM-6", "TD-2231", -30, 335),
                alone(
                        "ref-1",
                        "Reference standard, three-phase",
                        "reference-standard",
                        "Brennach",
                        "RS-005",
                        "BR-6012",
                        -210,
                        155),
                alone("brk-1", "Breaker analyser", "breaker-analyser", "Brennach", "BA-3", "BR-7745", -60, 305),
                alone("rel-1", "Relay test set", "relay-test-set", "Brennach", "RT-6", "BR-4410", -95, 270),
                alone("bat-1", "Battery tester", "battery-tester", "Toldane", "BT-2", "TD-3302", -170, 195),
                gear(
                        "rad-1",
                        "Radio test set 1",
                        "radio-test-set",
                        "Orbessa",
                        "TS-1",
                        "OB-1180",
                        ports.of("radio-test-set"),
                        -45,
                        320,
                        radio),
                gear(
                        "dat-1",
                        "Data port 1",
                        "radio-data-port",
                        "Orbessa",
                        "DP-1",
                        "OB-2207",
                        ports.of("radio-data-port"),
                        -45,
                        320,
                        Map.of()),
                gear(
                        "gen-2",
                        "Signal generator 2",
                        "second-generator",
                        "Orbessa",
                        "SG-2",
                        "OB-3021",
                        ports.of("second-generator"),
                        -88,
                        277,
                        radio),
                path("att-30", "Lead and attenuator, 30 dB 50 W", "OB-5530", -45, 320, 50),
                path("att-33", "Lead and attenuator, 30 dB 10 W", "OB-5533", -260, 105, 10),
                alone(
                        "gen-1",
                        "Signal generator and step attenuator",
                        "signal-generator",
                        "Orbessa",
                        "SG-1",
                        "OB-2988",
                        -130,
                        235),
                alone(
                        "opt-1",
                        "Optical power meter and source",
                        "optical-power-meter",
                        "Ulmeric",
                        "PM-2",
                        "UL-0931",
                        -120,
                        245),
                alone("net-1", "Network tester", "network-tester", "Ulmeric", "NT-1", "UL-2204", -300, 65),
                alone(
                        "def-1",
                        "Defibrillator analyser",
                        "defibrillator-analyser",
                        "Calvenne",
                        "DA-1",
                        "CV-0410",
                        -200,
                        165),
                alone("flo-1", "Flow analyser", "flow-analyser", "Calvenne", "FA-2", "CV-0588", -25, 340),
                alone(
                        "saf-1",
                        "Electrical safety tester",
                        "electrical-safety-tester",
                        "Calvenne",
                        "ES-3",
                        "CV-0721",
                        -150,
                        215));
    }

    /** Gear whose values are read off and entered by hand. */
    private Fleet.Gear alone(
            String id, String name, String role, String maker, String model, String number, int onDays, int toDays) {
        return gear(id, name, role, maker, model, number, 0, onDays, toDays, Map.of());
    }

    /** A lead with its attenuator, characterised where radios are. */
    private Fleet.Gear path(String id, String name, String number, int onDays, int toDays, double greatest) {
        List<List<Double>> points = List.of(
                List.of(30.0, 30.06),
                List.of(68.0, 30.12),
                List.of(136.0, 30.18),
                List.of(174.0, 30.22),
                List.of(230.0, 30.26),
                List.of(400.0, 30.35),
                List.of(470.0, 30.39),
                List.of(520.0, 30.41));
        Fleet.Gear alone = gear(id, name, "rf-path", "Orbessa", "AT-30", number, 0, onDays, toDays, Map.of());
        return new Fleet.Gear(
                alone.id(),
                alone.name(),
                alone.role(),
                alone.maker(),
                alone.model(),
                alone.serial(),
                alone.host(),
                alone.port(),
                alone.calibratedOn(),
                alone.calibratedTo(),
                alone.certificate(),
                alone.accuracy(),
                new Fleet.Path(greatest, points),
                Map.of(),
                null);
    }

    private Fleet.Gear gear(
            String id,
            String name,
            String role,
            String maker,
            String model,
            String number,
            int port,
            int onDays,
            int toDays,
            Map<String, Fleet.Accuracy> accuracy) {
        LocalDate on = today.plusDays(onDays);
        return new Fleet.Gear(
                id,
                name,
                role,
                maker,
                model,
                number,
                "127.0.0.1",
                port,
                on,
                today.plusDays(toDays),
                "C-" + on.getYear() + "-" + number.substring(3),
                new TreeMap<>(accuracy),
                null,
                RANGES.getOrDefault(model, Map.of()),
                DRIVERS.get(role));
    }

    private List<Fleet.Breaker> breakers(List<Fleet.Site> sites) {
        List<Fleet.Breaker> breakers = new ArrayList<>();
        for (Fleet.Site site : sites) {
            int count = site.code().equals("MFR") ? 8 : 5 + random.nextInt(2);
            for (int number = 1; number <= count; number++) {
                breakers.add(breaker(site, number));
            }
        }
        return breakers;
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

    private Fleet.Breaker breaker(Fleet.Site site, int number) {
        Kind kind = kind(number);
        String position = String.format(Locale.ROOT, "%s-CBK-%02d", site.code(), number);
        boolean example = position.equals("MFR-CBK-07");
        String number4 = example ? "48-2291" : "4" + random.nextInt(5, 9) + "-" + (serial += random.nextInt(3, 40));
        Ageing ageing = ageing(position);
        Map<String, Fleet.Pole> fresh = new TreeMap<>();
        double base = 180 + random.nextDouble() * 50;
        for (String pole : POLES) {
            fresh.put(
                    pole,
                    new Fleet.Pole(
                            0.97 + random.nextDouble() * 0.08,
                            base * (0.96 + random.nextDouble() * 0.08),
                            1500 * Math.exp(random.nextDouble() * 1.6)));
        }
        if (example) {
            // The breaker of the example: pole C's contact has risen four years running and is marginal by now.
            fresh.put("A", new Fleet.Pole(0.97, 196, 3200));
            fresh.put("B", new Fleet.Pole(1.0, 200, 2100));
            fresh.put("C", new Fleet.Pole(1.02, 204, 5400));
        }
        // Weeks since the last test: about a quarter are due in these weeks, a few of them over, the rest lie later in
        // the year.
        int weeks = random.nextInt(4) == 0 ? 50 + random.nextInt(5) : 6 + random.nextInt(43);
        int days = random.nextInt(7);
        LocalDate installed = example
                ? today.minusWeeks(52L * YEARS).plusDays(2)
                : today.minusWeeks(weeks + 52L * (YEARS - 1)).minusDays(days);
        List<Fleet.PastTest> tests = new ArrayList<>();
        for (int year = 0; year < YEARS; year++) {
            tests.add(test(kind, fresh, ageing, year, installed.plusWeeks(52L * year)));
        }
        double now = java.time.temporal.ChronoUnit.DAYS.between(installed, today) / 364.0;
        Map<String, Fleet.Pole> poles = new TreeMap<>();
        fresh.forEach((pole, p) -> poles.put(pole, aged(pole, p, ageing, now)));
        if (example) {
            poles.put(
                    "B",
                    new Fleet.Pole(
                            1.8, poles.get("B").microhms(), poles.get("B").megohms()));
        }
        return new Fleet.Breaker(
                "CBK-" + (FIRST_ID + breakerCount++),
                position,
                site.code(),
                kind.maker,
                kind.model,
                number4,
                kind.technology,
                kind.curve,
                kind.ratings,
                kind.heating,
                installed,
                poles,
                tests);
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

    private static Fleet.Pole aged(String pole, Fleet.Pole fresh, Ageing ageing, double years) {
        boolean repaired = pole.equals(ageing.repairPole) && years > ageing.repairYear;
        double slowYears = repaired ? (years - ageing.repairYear) * 0.1 : years;
        return new Fleet.Pole(
                fresh.slowness() * (1 + ageing.slowness.get(pole) * slowYears),
                fresh.microhms() * (1 + ageing.contact.get(pole) * years),
                fresh.megohms() * Math.exp(-ageing.insulation * years));
    }

    private Fleet.PastTest test(Kind kind, Map<String, Fleet.Pole> fresh, Ageing ageing, int year, LocalDate day) {
        // A mountain valley: about 12 degC in the switch rooms over the year, colder in winter.
        double season = -8 * Math.cos(2 * Math.PI * (day.getDayOfYear() - 20) / 365.0);
        double temperature = Math.round((12 + season + noise(1.5)) * 2) / 2.0;
        Map<String, Double> insulation = new TreeMap<>();
        PATHS.forEach((path, pole) -> insulation.put(
                path,
                rounded(
                        aged(pole, fresh.get(pole), ageing, year).megohms()
                                * Math.pow(2, (20 - temperature) / 10)
                                * (1 + noise(0.06)),
                        3)));
        Map<String, Double> contact = new TreeMap<>();
        Map<String, Double> contactEnd = new TreeMap<>();
        List<Fleet.Trip> trips = new ArrayList<>();
        for (String pole : POLES) {
            Fleet.Pole then = aged(pole, fresh.get(pole), ageing, year);
            contact.put(pole, rounded(then.microhms() * (1 + noise(0.006)), 4));
            contactEnd.put(pole, rounded(then.microhms() * (0.995 + noise(0.006)), 4));
            trips.add(trip(kind, pole, then.slowness(), ""));
            if (year == ageing.repairYear && pole.equals(ageing.repairPole)) {
                trips.add(trip(
                        kind,
                        pole,
                        fresh.get(pole).slowness(),
                        "Mechanism exercised ten times, latch cleaned and greased"));
            }
        }
        return new Fleet.PastTest(
                day, year % 2 == 0 ? "tavel" : "brevan", temperature, insulation, contact, contactEnd, trips);
    }

    private Fleet.Trip trip(Kind kind, String pole, double slowness, String repaired) {
        double current = 3 * kind.ratings.get("longTimeSetting") * (1 + noise(0.002));
        double square = Math.pow(current / kind.ratings.get("longTimeSetting"), 2);
        double seconds = kind.technology.equals("electronic")
                ? kind.heating * slowness / square
                : kind.heating * slowness * Math.log(square / (square - 1.15 * 1.15));
        double tripped = rounded(seconds * (1 + noise(0.012)), 5);
        return new Fleet.Trip(pole, rounded(current, 5), tripped, repaired, trace(rounded(current, 5), tripped));
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
        return new java.math.BigDecimal(value)
                .round(new java.math.MathContext(digits))
                .doubleValue();
    }
}
