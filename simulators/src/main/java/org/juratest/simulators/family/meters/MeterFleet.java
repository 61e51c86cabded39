package org.juratest.simulators.family.meters;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.juratest.simulators.family.meters.Installations.Installation;
import org.juratest.simulators.family.meters.Installations.Lead;
import org.juratest.simulators.family.meters.Installations.MeterTruth;
import org.juratest.simulators.family.meters.Installations.Transformer;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;

/** The measuring installations of the valley, how they behave, and what tests of the past would have read. */
final class MeterFleet {

    private static final String METER = "energy-meter";
    private static final String TRANSFORMER = "current-transformer";
    private static final String VOLTAGE = "voltage-transformer";
    private static final long OWN_DRAWS = 0x3e7eL;
    private static final List<String> PHASES = List.of("L1", "L2", "L3");
    /** Lanes of the creep test, by class: the time it takes is another one for each. */
    private static final Map<String, String> CLASSES = Map.of("0.2 S", "c02s", "0.5 S", "c05s", "1", "c1", "2", "c2");

    private static final int YEARS = 4;
    private static final int FIRST_ID = 7301;
    /** Supplies by transformers on the low-voltage side: where they are, what they feed. */
    private static final List<String[]> SUPPLIES = List.of(
            new String[] {"TES", "Workshop supply"},
            new String[] {"TES", "Traction auxiliaries"},
            new String[] {"VAU", "Clinic, main supply"},
            new String[] {"VAU", "Clinic, laundry"},
            new String[] {"VAU", "Clinic, kitchen"},
            new String[] {"COL", "Winch house"},
            new String[] {"COL", "Summit station"},
            new String[] {"ORE", "Tunnel ventilation"},
            new String[] {"ORE", "Tunnel lighting"},
            new String[] {"ORE", "Portal building"});

    private final Ground ground;
    private final List<Fleet.Device> devices = new ArrayList<>();
    private final List<Installation> installations = new ArrayList<>();
    private final List<Transformer> alone = new ArrayList<>();
    private final Map<String, List<Fleet.PastTest>> past = new TreeMap<>();

    private MeterFleet(Ground ground) {
        this.ground = ground;
    }

    static FleetPart of(Ground ground) {
        MeterFleet fleet = new MeterFleet(ground);
        fleet.supplies();
        List<Fleet.Device> meters = new ArrayList<>(fleet.devices);
        ground.devices().stream()
                .filter(d -> d.assetClass().equals(METER) && !d.position().isEmpty())
                .forEach(meters::add);
        for (int n = 0; n < meters.size(); n++) {
            fleet.installed(meters.get(n), n);
        }
        List<Fleet.Device> cores = ground.devices().stream()
                .filter(d -> d.assetClass().equals(TRANSFORMER) && !d.position().isEmpty())
                .toList();
        for (int n = 0; n < cores.size(); n++) {
            fleet.core(cores.get(n), n);
        }
        List<Fleet.Device> voltages = ground.devices().stream()
                .filter(d -> d.assetClass().equals(VOLTAGE) && !d.position().isEmpty())
                .toList();
        for (int n = 0; n < voltages.size(); n++) {
            fleet.voltage(voltages.get(n), n);
        }
        return new FleetPart(
                gear(ground),
                fleet.devices,
                fleet.past,
                Map.of(),
                new Installations.Truth(fleet.installations, fleet.alone));
    }

    private static List<Fleet.Gear> gear(Ground ground) {
        Map<String, Fleet.Accuracy> reference = Map.of(
                "energy", new Fleet.Accuracy(0.05, 0, 0, "expandedK2"),
                "power", new Fleet.Accuracy(0.05, 0, 0.01, "expandedK2"),
                "apparent power", new Fleet.Accuracy(0.05, 0, 0.01, "expandedK2"),
                "voltage", new Fleet.Accuracy(0.05, 0, 0.005, "expandedK2"),
                "current", new Fleet.Accuracy(0.3, 0, 0.0005, "expandedK2"),
                "frequency", new Fleet.Accuracy(0, 0, 0.002, "rectangular"),
                "number", new Fleet.Accuracy(0, 0, 0.002, "rectangular"),
                // Of two inputs against each other: what they have in common falls out.
                "ratio", new Fleet.Accuracy(0.01, 0, 0, "expandedK2"),
                "minutes", new Fleet.Accuracy(0, 0, 0.3, "expandedK2"));
        Map<String, Fleet.Accuracy> transformers = Map.of(
                "resistance", new Fleet.Accuracy(0.1, 0, 1e-5, "expandedK2"),
                "voltage", new Fleet.Accuracy(0.1, 0, 0.001, "expandedK2"),
                "current", new Fleet.Accuracy(0.2, 0, 1e-5, "expandedK2"),
                "number", new Fleet.Accuracy(0.1, 0, 0, "expandedK2"),
                "minutes", new Fleet.Accuracy(0, 0, 1, "expandedK2"));
        return List.of(
                gear(
                        ground,
                        "ref-1",
                        "Reference standard, three-phase",
                        MeterFamily.REFERENCE,
                        "RS-005",
                        "BR-6012",
                        reference,
                        Map.of(),
                        "scpi-reference-standard"),
                gear(
                        ground,
                        "src-1",
                        "Three-phase source with reference",
                        MeterFamily.SOURCE,
                        "TS-3",
                        "BR-6120",
                        reference,
                        Map.of("voltage", 480.0, "current", 120.0, "time", 36_000.0),
                        "scpi-load-source"),
                gear(
                        ground,
                        "bur-1",
                        "Burden set",
                        MeterFamily.BURDEN,
                        "BS-1",
                        "BR-6033",
                        transformers,
                        Map.of("current", 10.0, "time", 600.0),
                        "scpi-burden-set"),
                gear(
                        ground,
                        "cta-1",
                        "Transformer analyser",
                        MeterFamily.ANALYSER,
                        "TA-2",
                        "BR-6208",
                        transformers,
                        Map.of("voltage", 2000.0, "current", 10.0, "time", 3600.0),
                        "scpi-transformer-analyser"),
                gear(
                        ground,
                        "hed-1",
                        "Optical head with adapter",
                        MeterFamily.PORT,
                        "OH-1",
                        "BR-7031",
                        Map.of(),
                        Map.of(),
                        "mode-c-meter"));
    }

    private static Fleet.Gear gear(
            Ground ground,
            String id,
            String name,
            String role,
            String model,
            String number,
            Map<String, Fleet.Accuracy> accuracy,
            Map<String, Double> range,
            String driver) {
        return ground.gear(
                id, name, role, "Brennach", model, number, ground.ports().of(role), -210, 155, accuracy, range, driver);
    }

    private void supplies() {
        Map<String, Integer> places = new TreeMap<>();
        for (int n = 0; n < SUPPLIES.size(); n++) {
            String site = SUPPLIES.get(n)[0];
            String position =
                    String.format(Locale.ROOT, "%s-MET-%02d", site, places.merge(site, 1, (was, one) -> was + one));
            Map<String, String> plate = new TreeMap<>(Map.of(
                    "service", "3-phase 4-wire",
                    "connection", "by transformers",
                    "accuracyClass", "0.5 S",
                    "ratedVoltage", "400",
                    "ratedCurrent", "5",
                    "maximumCurrent", "6",
                    "meterConstant", "2000",
                    "phaseVoltage", "230"));
            plate.putAll(
                    Map.of("ctPrimary", "200", "ctSecondary", "5", "ctBurden", "5", "testBlock", "TB-4, covers 2"));
            plate.put("site", "Board is live behind the cover. Ask at the desk for the key.");
            // Nobody knows what its transformers are rated for: their plates are painted over.
            if (position.equals("VAU-MET-02")) {
                plate.remove("ctBurden");
            }
            plate.put("reactiveConstant", "2000");
            plate.put("demandInterval", "15");
            // Nobody ever saw the primary side of its transformers: their ratio is left to be measured.
            if (position.equals("ORE-MET-02")) {
                plate.remove("ctPrimary");
            }
            // Without a neutral: measured by two elements.
            if (position.equals("ORE-MET-03")) {
                plate.put("service", "3-phase 3-wire");
                plate.put("form", "Two elements, second wire common");
            }
            LocalDate installed = ground.today().minusDays(365L * YEARS + 20 + 11L * n);
            devices.add(new Fleet.Device(
                    "MET-" + (FIRST_ID + n),
                    site,
                    METER,
                    "Dramelin",
                    "EM-3L",
                    "DR-" + (40_210 + 7 * n),
                    plate,
                    position,
                    SUPPLIES.get(n)[1],
                    "",
                    "",
                    List.of(new Fleet.Stay(position, installed, null)),
                    "",
                    null));
        }
    }

    private static double plate(Fleet.Device d, String key, double otherwise) {
        String text = d.plate().get(key);
        return text == null ? otherwise : Double.parseDouble(text.replaceAll("[^0-9.]", ""));
    }

    /** Draws for what came later, so that what is older stays as it was. */
    private SplittableRandom random(Fleet.Device d, String what) {
        return new SplittableRandom(ground.seed() * 157 + OWN_DRAWS + (d.position() + what).hashCode());
    }

    private SplittableRandom random(Fleet.Device d) {
        return new SplittableRandom(
                ground.seed() * 157 + OWN_DRAWS + d.position().hashCode());
    }

    private static double about(SplittableRandom random, double middle, double by) {
        return middle + by * (2 * random.nextDouble() - 1);
    }

    // ---- installations

    private void installed(Fleet.Device d, int n) {
        SplittableRandom random = random(d);
        double rated = plate(d, "ratedCurrent", 5);
        boolean direct = "direct".equals(d.plate().get("connection"));
        double spread = direct ? 0.4 : 0.15;
        MeterTruth made = new MeterTruth(
                about(random, 0.05, spread),
                about(random, 0.1, spread),
                about(random, 0, spread / 2),
                0,
                direct ? 0.002 : 0.0006,
                about(random(d, "more"), 0.4, 0.3),
                0);
        List<Transformer> transformers = new ArrayList<>();
        for (String phase : direct ? List.<String>of() : PHASES) {
            double secondary = plate(d, "ctSecondary", 1);
            double burden = plate(d, "ctBurden", 5);
            transformers.add(new Transformer(
                    d.position() + ":" + phase,
                    plate(d, "ctPrimary", 40 * secondary) / secondary,
                    secondary,
                    about(random, 0, 0.3),
                    about(random, 12, 8),
                    secondary > 2 ? 0.25 : 3.4,
                    about(random, 0.6, 0.1) * burden / secondary / secondary,
                    about(random, 14, 6),
                    secondary > 2 ? 24 : 90,
                    secondary > 2 ? 0.12 : 0.02,
                    false,
                    false));
        }
        List<Double> amperes = new ArrayList<>();
        double load = direct ? about(random, 8, 4) : rated * about(random, 0.45, 0.2);
        for (int k = 0; k < 3; k++) {
            amperes.add(load * about(random, 1, 0.08));
        }
        Installation now = today(new Installation(
                d.position(),
                plate(d, "phaseVoltage", 230),
                rated,
                plate(d, "meterConstant", 1000),
                amperes,
                about(random, 18, 8),
                0,
                Math.round(about(random, 60_000, 40_000)),
                made,
                transformers,
                wires(d),
                leads(d)));
        installations.add(now);
        past.put(d.asset(), pastTests(d, made, now, n, random));
    }

    private static int wires(Fleet.Device d) {
        String service = String.valueOf(d.plate().get("service"));
        return service.endsWith("2-wire") ? 2 : service.endsWith("3-wire") ? 3 : 4;
    }

    private List<Lead> leads(Fleet.Device d) {
        List<Lead> leads = new ArrayList<>();
        if (d.plate().containsKey("vtPrimary")) {
            SplittableRandom random = random(d, "leads");
            for (int k = 0; k < PHASES.size(); k++) {
                leads.add(new Lead(about(random, 0.04, 0.02), about(random, 0.6, 0.4), about(random, 14, 3), 0.87));
            }
        }
        return leads;
    }

    /** What is wrong today, of which tests of the past saw nothing or little. */
    private static Installation today(Installation made) {
        MeterTruth meter = made.meter();
        return switch (made.position()) {
            // Its transformer was changed in spring, and put back the other way round.
            case "TES-MET-02" -> made.transformer(1, made.transformers().get(1).with("reversed", 1));
            // A fuse in its voltage lead.
            case "PRA-MET-07" -> made.missing(3);
            // Counts by itself.
            case "PRA-MET-05" -> made.meter(meter.with("creep", 45));
            // Slow where the current lags much.
            case "VAU-MET-03" -> made.meter(meter.with("inductive", -1.6));
            // Somebody hung a second meter into the loop.
            case "COL-MET-02" -> made.transformer(2, made.transformers().get(2).with("load", 0.34));
            // On another tap than its plate says.
            case "ORE-MET-01" -> made.transformer(0, made.transformers().get(0).with("ratio", 30));
            // Drifts, and will leave its class.
            case "PRA-MET-02" -> made.meter(meter.with("full", 1.32));
            case "PRA-MET-09" -> made.meter(meter.with("full", -1.1));
            // A terminal in the lead of its voltage transformer has come loose.
            case "MFR-MET-04" -> made.lead(2, made.leads().get(2).with("drop", 0.42));
            // Its register goes on too little for the pulses it gives.
            case "VAU-MET-01" -> made.meter(meter.with("dial", -2));
            default -> made;
        };
    }

    private List<Fleet.PastTest> pastTests(
            Fleet.Device d, MeterTruth made, Installation now, int n, SplittableRandom random) {
        List<Fleet.PastTest> tests = new ArrayList<>();
        LocalDate installed = d.stays().get(d.stays().size() - 1).from();
        LocalDate last = ground.today().minusDays(340L - 11L * (n % 30));
        LocalDate accepted = installed.plusDays(3);
        LocalDate oldest = last.minusDays(364L * (YEARS - 1));
        if (accepted.isBefore(oldest)) {
            // Load points are tried every five years: the last time, which for some is long ago.
            accepted = ground.today().minusDays(1400L - 23L * (n % 30));
        }
        tests.add(loadPoints(d, made, accepted, n, random));
        for (int year = YEARS - 1; year >= 0; year--) {
            LocalDate day = last.minusDays(364L * year);
            if (day.isAfter(installed.plusDays(10)) && !day.equals(accepted)) {
                double aged = year == 0 ? 0.8 : Math.max(0, 0.8 - 0.27 * year);
                // What happened at once this year did not show before.
                MeterTruth then = now.meter().creep() > 0 || now.meter().inductive() < -1
                        ? made
                        : made.towards(now.meter(), aged);
                tests.add(siteTest(d, now, then, day, n + year, random));
            }
        }
        tests.sort(java.util.Comparator.comparing(Fleet.PastTest::day));
        return tests;
    }

    private static String who(int n) {
        return n % 2 == 0 ? "tavel" : "brevan";
    }

    private static Fleet.PastTest siteTest(
            Fleet.Device d, Installation now, MeterTruth then, LocalDate day, int who, SplittableRandom random) {
        List<Fleet.PastReading> told = new ArrayList<>();
        double register = Math.max(100, now.register() - 12.0 * (who % 7 + 1) * 100);
        told.add(reading("before", "-", "taken", register, "kW.h", Map.of("digit", 0.01), 7));
        told.add(reading("wiring", "-", "changes", 0, "1", Map.of(), 4));
        told.add(reading("wiring", "-", "powerFactor", Math.cos(Math.toRadians(now.lag())), "1", Map.of(), 3));
        double current = now.amperes().get(0) * about(random, 1, 0.15);
        double powerFactor = Math.cos(Math.toRadians(now.lag()));
        double error = then.error(current / now.rated(), powerFactor) + about(random, 0, 0.04);
        Map<String, Double> with = Map.of("current", current, "powerFactor", powerFactor, "pulses", 10.0);
        told.add(reading("error", "-", "error", error, "%", with, 3));
        told.add(reading("error", "-", "spread", about(random, 0.04, 0.02), "%", Map.of(), 3));
        for (int k = 0; k < now.transformers().size(); k++) {
            if (!now.clamped(k)) {
                continue;
            }
            Transformer t = now.transformers().get(k);
            double nominal = plate(d, "ctPrimary", 40 * t.nominal()) / t.nominal();
            double seen = t.error() + about(random, 0, 0.3);
            if (d.plate().containsKey("ctPrimary")) {
                told.add(reading("ctRatio", PHASES.get(k), "error", seen, "%", Map.of(), 3));
            } else {
                told.add(reading("ctRatio", PHASES.get(k), "ratio", nominal / (1 + seen / 100), "1", Map.of(), 4));
            }
            told.add(reading("ctRatio", PHASES.get(k), "phase", t.minutes() + about(random, 0, 4), "1", Map.of(), 3));
            double burden = Math.min(t.loadOhms(), nominal > 100 ? 3.6 : 0.15) * t.nominal() * t.nominal();
            told.add(reading(
                    "ctBurden", PHASES.get(k), "vaNominal", burden * about(random, 1, 0.01), "V.A", Map.of(), 3));
        }
        for (int k = 0; k < now.leads().size(); k++) {
            if (now.clamped(k) || now.wires() > 3) {
                Lead lead = now.leads().get(k);
                // What came loose was tight before.
                double drop = Math.min(lead.percent(), 0.06) * about(random, 1, 0.03);
                told.add(reading("leadDrop", PHASES.get(k), "drop", -drop, "%", Map.of(), 2));
                told.add(reading("leadDrop", PHASES.get(k), "phase", lead.minutes(), "1", Map.of(), 2));
                told.add(reading("vtBurden", PHASES.get(k), "vaNominal", lead.va(), "V.A", Map.of(), 3));
            }
        }
        told.add(reading("after", "-", "taken", register + 0.2, "kW.h", Map.of("digit", 0.01), 7));
        return new Fleet.PastTest(day, who(who), "MET-SITE", Map.of(), told);
    }

    private static Fleet.PastTest loadPoints(
            Fleet.Device d, MeterTruth then, LocalDate day, int who, SplittableRandom random) {
        List<Fleet.PastReading> told = new ArrayList<>();
        double rated = plate(d, "ratedCurrent", 5);
        told.add(reading("before", "-", "taken", 20 + who, "kW.h", Map.of("digit", 0.01), 7));
        told.add(reading("creep", CLASSES.get(d.plate().get("accuracyClass")), "pulses", 0, "1", Map.of(), 1));
        String lane = "direct".equals(d.plate().get("connection")) ? "direct" : "ct";
        told.add(reading("start", lane, "pulses", 2, "1", Map.of(), 1));
        double[] unity = {0.05, 0.2, 1, 1.5};
        double most = plate(d, "maximumCurrent", 6) / rated;
        for (int k = 0; k < unity.length; k++) {
            told.add(point("unity", "abcd".substring(k, k + 1), then, Math.min(unity[k], most), 1, rated, random));
        }
        for (int k = 0; k < 2; k++) {
            double share = k == 0 ? 0.1 : 1;
            told.add(point("inductive", "ab".substring(k, k + 1), then, share, 0.5, rated, random));
            told.add(point("capacitive", "ab".substring(k, k + 1), then, share, 0.8, rated, random));
        }
        for (String phase : wires(d) < 4 ? List.<String>of() : PHASES) {
            told.add(point("single", phase, then, 1, 1, rated, random));
        }
        told.add(reading("after", "-", "taken", 21 + who, "kW.h", Map.of("digit", 0.01), 7));
        return new Fleet.PastTest(day, who(who), "MET-LOAD", Map.of(), told);
    }

    private static Fleet.PastReading point(
            String step,
            String lane,
            MeterTruth then,
            double share,
            double powerFactor,
            double rated,
            SplittableRandom random) {
        return reading(
                step,
                lane,
                "error",
                then.error(share, powerFactor) + about(random, 0, 0.03),
                "%",
                Map.of("current", share * rated, "powerFactor", powerFactor, "pulses", 10.0),
                3);
    }

    private static Fleet.PastReading reading(
            String step, String lane, String point, double value, String unit, Map<String, Double> facts, int digits) {
        double told = new java.math.BigDecimal(value)
                .round(new java.math.MathContext(digits))
                .doubleValue();
        return new Fleet.PastReading(step, lane, point, told, unit, facts, 20, "DONE", "", null);
    }

    // ---- transformers by themselves

    private void core(Fleet.Device d, int n) {
        SplittableRandom random = random(d);
        boolean protection = String.valueOf(d.plate().get("accuracyClass")).contains("P");
        Transformer made = new Transformer(
                d.position(),
                plate(d, "primaryCurrent", 300) / plate(d, "secondaryCurrent", 1),
                plate(d, "secondaryCurrent", 1),
                about(random, 0, protection ? 0.5 : 0.2),
                about(random, 15, 8),
                about(random, protection ? 4.2 : 2.9, 0.15),
                about(random, 3, 0.5),
                about(random, 15, 5),
                // The analyser's own demagnetising reaches far enough for both.
                about(random, protection ? 118 : 62, 3),
                about(random, protection ? 0.028 : 0.018, 0.002),
                false,
                false);
        Transformer now = d.position().equals("BRU-CT-05") ? made.with("knee", 0.82 * made.kneeVolts()) : made;
        alone.add(now);
        List<Fleet.PastTest> tests = new ArrayList<>();
        LocalDate installed = d.stays().get(d.stays().size() - 1).from();
        tests.add(alone(made, installed.plusDays(4), n, random));
        LocalDate again = ground.today().minusDays(200L + 37L * n);
        if (again.isAfter(installed.plusDays(900))) {
            tests.add(alone(made, again, n + 1, random));
        }
        past.put(d.asset(), tests);
    }

    private static Fleet.PastTest alone(Transformer then, LocalDate day, int who, SplittableRandom random) {
        List<Fleet.PastReading> told = new ArrayList<>();
        double cold = then.resistance() * about(random, 1, 0.004);
        told.add(reading("winding", "-", "resistance", cold, "Ohm", Map.of(), 4));
        told.add(reading("winding", "-", "corrected", cold * (234.5 + 75) / (234.5 + 20), "Ohm", Map.of(), 4));
        told.add(reading("demag", "-", "done", 1, "1", Map.of(), 1));
        List<List<Double>> curve = new ArrayList<>();
        for (int k = 0; k < 24; k++) {
            double volts = 200 * Math.pow(0.01, 1 - k / 23.0);
            double amperes = then.magnetising(volts);
            if (amperes <= 1) {
                curve.add(List.of(rounded(amperes, 4), rounded(volts, 4)));
            }
        }
        told.add(new Fleet.PastReading(
                "excitation",
                "-",
                "knee",
                rounded(then.kneeVolts() * about(random, KNEE, 0.01), 4),
                "V",
                Map.of(),
                20,
                "DONE",
                "",
                new Fleet.PastTrace("Excitation", "A", "V", curve)));
        told.add(reading("ratio", "-", "deviation", -then.error() + about(random, 0, 0.02), "%", Map.of(), 3));
        told.add(reading("ratio", "-", "polarity", 1, "1", Map.of(), 1));
        told.add(reading("insulation", "-", "insulation", about(random, 900, 200), "MOhm", Map.of(), 3));
        told.add(reading("demagAgain", "-", "done", 1, "1", Map.of(), 1));
        return new Fleet.PastTest(day, who(who), "CT-ALONE", Map.of(), told);
    }

    /** A voltage transformer: its winding, its ratio and which way round it is. */
    private void voltage(Fleet.Device d, int n) {
        SplittableRandom random = random(d);
        Transformer made = new Transformer(
                d.position(),
                plate(d, "primaryVoltage", 20) * 1000 / plate(d, "secondaryVoltage", 100),
                plate(d, "secondaryVoltage", 100),
                about(random, 0.1, 0.2),
                about(random, 6, 6),
                about(random, 0.3, 0.06),
                0,
                0,
                190,
                0.2,
                false,
                false);
        // Turns of its primary have gone together: the ratio has moved, the class is left.
        Transformer now = d.position().equals("MFR-VT-05") ? made.with("error", 0.9) : made;
        alone.add(now);
        List<Fleet.PastTest> tests = new ArrayList<>();
        LocalDate installed = d.stays().get(d.stays().size() - 1).from();
        tests.add(voltage(made, installed.plusDays(6), n, random));
        LocalDate again = ground.today().minusDays(240L + 41L * n);
        if (again.isAfter(installed.plusDays(900))) {
            tests.add(voltage(made, again, n + 1, random));
        }
        past.put(d.asset(), tests);
    }

    private static Fleet.PastTest voltage(Transformer then, LocalDate day, int who, SplittableRandom random) {
        double cold = then.resistance() * about(random, 1, 0.004);
        List<Fleet.PastReading> told = List.of(
                reading("winding", "-", "resistance", cold, "Ohm", Map.of(), 4),
                reading("winding", "-", "corrected", cold * (234.5 + 75) / (234.5 + 20), "Ohm", Map.of(), 4),
                reading("ratio", "-", "deviation", then.error() + about(random, 0, 0.02), "%", Map.of(), 3),
                reading("ratio", "-", "phase", then.minutes() + about(random, 0, 0.4), "1", Map.of(), 3),
                reading("ratio", "-", "polarity", 1, "1", Map.of(), 1),
                reading("insulation", "-", "insulation", about(random, 900, 200), "MOhm", Map.of(), 3));
        return new Fleet.PastTest(day, who(who), "VT-ALONE", Map.of(), told);
    }

    /** Where 10 % more voltage takes half as much current again, as a share of {@link Transformer#kneeVolts}. */
    private static final double KNEE = 0.915;

    private static double rounded(double value, int digits) {
        return new java.math.BigDecimal(value)
                .round(new java.math.MathContext(digits))
                .doubleValue();
    }
}
