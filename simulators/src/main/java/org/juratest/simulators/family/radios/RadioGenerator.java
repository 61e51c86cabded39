package org.juratest.simulators.family.radios;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;

/**
 * How the radios of the valley behave: most of them as they should, some whose crystal drifts, one that is deaf, one
 * with unequal bands. What tests in the past would have read follows from the same figures by closed forms, so that
 * today's test goes on where they end.
 */
final class RadioGenerator {

    private static final long OWN_DRAWS = 11;
    private static final String CLASS = "land-mobile-radio";
    /** Standard uncertainty of a lead's loss as it was characterised, dB. */
    private static final double PATH_U = 0.1;

    private final long seed;
    private final LocalDate today;
    private final Map<String, Map<String, List<Double>>> drifts = new TreeMap<>();

    private RadioGenerator(long seed, LocalDate today) {
        this.seed = seed;
        this.today = today;
    }

    static FleetPart of(Ground ground) {
        RadioGenerator generator = new RadioGenerator(ground.seed(), ground.today());
        List<Radios.Radio> radios = new ArrayList<>();
        ground.devices().stream()
                .filter(d -> d.assetClass().equals(CLASS) && !d.position().isEmpty())
                .forEach(d -> radios.add(generator.radio(d)));
        return new FleetPart(gear(ground), List.of(), Map.of(), generator.drifts, radios);
    }

    private static List<Fleet.Gear> gear(Ground ground) {
        Map<String, Fleet.Accuracy> radio = new TreeMap<>();
        radio.put("frequencyError", new Fleet.Accuracy(0, 0, 0.1, "expandedK2"));
        radio.put("power", new Fleet.Accuracy(6, 0, 0, "expandedK2"));
        radio.put("level", new Fleet.Accuracy(0, 0, 0.8, "expandedK2"));
        radio.put("deviation", new Fleet.Accuracy(1, 0, 5, "expandedK2"));
        radio.put("distortion", new Fleet.Accuracy(2, 0, 0.05, "expandedK2"));
        radio.put("ratio", new Fleet.Accuracy(0, 0, 0.5, "expandedK2"));
        radio.put("sound", new Fleet.Accuracy(2, 0, 0, "rectangular"));
        radio.put("current", new Fleet.Accuracy(1, 0, 0.002, "rectangular"));
        return List.of(
                ground.gear(
                        "rad-1",
                        "Radio test set 1",
                        "radio-test-set",
                        "Orbessa",
                        "TS-1",
                        "OB-1180",
                        ground.ports().of("radio-test-set"),
                        -45,
                        320,
                        radio,
                        Map.of("level", 10.0),
                        "scpi-radio-test-set"),
                ground.gear(
                        "dat-1",
                        "Data port 1",
                        "radio-data-port",
                        "Orbessa",
                        "DP-1",
                        "OB-2207",
                        ground.ports().of("radio-data-port"),
                        -45,
                        320,
                        Map.of(),
                        Map.of(),
                        "line-data-port"),
                ground.gear(
                        "gen-2",
                        "Signal generator 2",
                        "second-generator",
                        "Orbessa",
                        "SG-2",
                        "OB-3021",
                        ground.ports().of("second-generator"),
                        -88,
                        277,
                        radio,
                        Map.of("second level", 30.0),
                        "scpi-generator"),
                path(ground, "att-30", "Lead and attenuator, 30 dB 50 W", "OB-5530", -45, 320, 50),
                path(ground, "att-33", "Lead and attenuator, 30 dB 10 W", "OB-5533", -260, 105, 10));
    }

    /** A lead with its attenuator, characterised where radios are. */
    private static Fleet.Gear path(
            Ground ground, String id, String name, String number, int onDays, int toDays, double greatest) {
        List<List<Double>> points = List.of(
                List.of(30.0, 30.06),
                List.of(68.0, 30.12),
                List.of(136.0, 30.18),
                List.of(174.0, 30.22),
                List.of(230.0, 30.26),
                List.of(400.0, 30.35),
                List.of(470.0, 30.39),
                List.of(520.0, 30.41));
        return ground.alone(id, name, "rf-path", "Orbessa", "AT-30", number, onDays, toDays, Map.of())
                .with(new Fleet.Path(greatest, points, PATH_U));
    }

    private Radios.Radio radio(Fleet.Device device) {
        SplittableRandom random =
                new SplittableRandom(seed + OWN_DRAWS + device.position().hashCode());
        double years = ChronoUnit.DAYS.between(
                        device.stays().get(device.stays().size() - 1).from(), today)
                / 365.25;
        double spacing = 1000 * Double.parseDouble(device.plate().getOrDefault("channelSpacing", "12.5"));
        double outer = Double.parseDouble(device.plate().getOrDefault("outerDeviation", "0"));
        double microphone = Double.parseDouble(device.plate().getOrDefault("microphone", "10")) / 1000;
        // A crystal ages one way, faster when it is new; some never settle.
        double perYear =
                switch (device.position()) {
                    case "TES-RAD-02", "MFR-RAD-02" -> 0.62;
                    case "COL-RAD-05" -> -0.55;
                    default -> 0.18 * (random.nextDouble() - 0.5);
                };
        // Where two drifting ones have got to by today: one over its limit since its last test, one close to it.
        double start =
                switch (device.position()) {
                    case "TES-RAD-02" -> 2.85 - perYear * years;
                    case "MFR-RAD-02" -> 2.2 - perYear * years;
                    case "COL-RAD-05" -> -2.3 - perYear * years;
                    default -> 0.5 * (random.nextDouble() - 0.5);
                };
        Map<String, Radios.RadioBand> bands = new LinkedHashMap<>();
        Map<String, Integer> settings = new TreeMap<>();
        settings.put("reference", 128);
        for (String lane : List.of("vhf", "uhf")) {
            if (device.plate().containsKey(lane + "Low")) {
                bands.put(lane, band(device, lane, random));
                for (String place : List.of("low", "mid", "high")) {
                    settings.put("power." + lane + "." + place, 160);
                }
                settings.put("deviation." + lane, 128);
                settings.put("balance." + lane, 128);
                settings.put("frontEnd." + lane, 128);
            }
        }
        double idle = device.plate().get("use").equals("portable") ? 0.075 : 0.22;
        double supply = device.plate().get("use").equals("portable") ? 7.4 : 13.2;
        double ppm = start + perYear * years;
        Radios.Radio radio = new Radios.Radio(
                device.asset(),
                device.position(),
                device.maker(),
                device.model(),
                device.serial(),
                device.plate().get("firmware"),
                "TESSOMBE-" + device.position().substring(0, 3) + "-4",
                bands,
                ppm,
                settings,
                spacing,
                outer,
                microphone,
                0.5,
                supply,
                idle);
        Map<String, List<Double>> history = history(radio, start, perYear, Math.max(1, years));
        if (device.plate().containsKey("antennaLine")) {
            double rated = radio.bands().values().iterator().next().rated();
            history.put("line/forward/-", List.of(0.94 * rated, 0.0, 0.01 * rated));
            history.put("line/reflected/-", List.of(0.012 * rated, 0.0006 * rated, 0.0005 * rated));
        }
        drifts.put(device.asset(), history);
        return radio;
    }

    private static Radios.RadioBand band(Fleet.Device device, String lane, SplittableRandom random) {
        double low = 1e6 * Double.parseDouble(device.plate().get(lane + "Low"));
        double high = 1e6 * Double.parseDouble(device.plate().get(lane + "High"));
        double rated = Double.parseDouble(device.plate().get(lane + "Power"));
        double powerDecibels = 0.7 * (random.nextDouble() - 0.6);
        double gain = 0.97 + 0.06 * random.nextDouble();
        double deaf = 1.4 * random.nextDouble() - 0.7;
        double tilt = 0.5 * (random.nextDouble() - 0.5);
        int best = 124 + random.nextInt(9);
        switch (device.position() + ":" + lane) {
            case "MFR-RAD-01:vhf" -> deaf = 6.5;
            case "COL-RAD-06:uhf" -> {
                powerDecibels = -0.75;
                gain = 0.91;
                tilt = -1.6;
            }
            case "TES-RAD-02:vhf", "TES-RAD-02:uhf" -> {
                powerDecibels = -0.45;
                gain = 1.05;
                best = 84;
                tilt = 1.1;
            }
            default -> {}
        }
        return new Radios.RadioBand(
                low,
                high,
                rated,
                powerDecibels,
                gain,
                0.004 + 0.008 * random.nextDouble(),
                tilt,
                0.94 + 0.05 * random.nextDouble(),
                11 + 4 * random.nextDouble(),
                deaf,
                0.012 + 0.012 * random.nextDouble(),
                best);
    }

    /** By point: what it read when the radio was new, how it moves a year, and the spread of a reading. */
    private static Map<String, List<Double>> history(Radios.Radio radio, double start, double perYear, double years) {
        Map<String, List<Double>> points = new TreeMap<>();
        String first = radio.bands().keySet().iterator().next();
        points.put("txCarrier/error/" + first, List.of(start, perYear, 0.04));
        double middle = radio.bands().get(first).middle();
        points.put(
                "txCarrier/hertz/" + first, List.of(start * middle / 1e6, perYear * middle / 1e6, 0.04 * middle / 1e6));
        radio.bands().forEach((lane, b) -> {
            double now = b.rated() * Math.pow(10, b.powerDecibels() / 10);
            double then = 1.05 * now;
            double ageing = 0.05 * now / years;
            double edge = Math.pow(10, -0.02);
            put(points, "txPower/low/" + lane, then * edge, -ageing, 0.005 * now);
            put(points, "txPower/mid/" + lane, then, -ageing, 0.005 * now);
            put(points, "txPower/high/" + lane, then * edge, -ageing, 0.005 * now);
            put(points, "txPower/lowPower/" + lane, 0.2 * then, -0.2 * ageing, 0.002 * now);
            double most = radio.spacing() >= 20_000 ? 5000 : 2500;
            double limit = 0.92 * most * b.limiter();
            double wanted = 0.6 * most * b.deviationGain();
            double test = wanted / Math.pow(1 + Math.pow(wanted / limit, 8), 0.125);
            put(points, "txDeviation/pos/" + lane, test * (1 + b.imbalance()), 0, 4);
            put(points, "txDeviation/neg/" + lane, test * (1 - b.imbalance()), 0, 4);
            put(points, "txLimiting/pos/" + lane, limit * (1.03 + b.imbalance()), 0, 6);
            put(points, "txLimiting/neg/" + lane, limit * (1.03 - b.imbalance()), 0, 6);
            put(points, "txDistortion/distortion/" + lane, 100 * (0.4 * b.imbalance() + 0.0035), 0.03, 0.05);
            put(points, "txHum/hum/" + lane, 20 * Math.log10(b.noiseHz() / 1060 * 0.72) + 1.2, 0.1, 0.2);
            put(points, "txSubTone/frequency/" + lane, 123.02, 0, 0.01);
            put(points, "txSubTone/deviation/" + lane, 0.15 * most, 0, 2);
            put(points, "txAdjacent/lower/" + lane, -69.4, 0.1, 0.4);
            put(points, "txAdjacent/upper/" + lane, -69.2, 0.1, 0.4);
            // The deaf one became so since its last test.
            double slope = b.deafDecibels() > 3 ? 0.1 : (0.7 * b.deafDecibels() + 0.3) / years;
            put(points, "rxSensitivity/level/" + lane, -121.0 + Math.min(0.3, b.deafDecibels() * 0.3), slope, 0.2);
            put(points, "rxSquelch/open/" + lane, -122.4 + Math.min(0.3, b.deafDecibels() * 0.3), slope, 0.3);
            put(points, "rxSquelch/close/" + lane, -125.8 + Math.min(0.3, b.deafDecibels() * 0.3), slope, 0.3);
            put(points, "rxSound/distortion/" + lane, 100 * b.soundBend() * 1.05, 0.02, 0.05);
            put(points, "rxSound/level/" + lane, 0.5, 0, 0.004);
            put(points, "current/idle/" + lane, radio.idleAmperes(), 0.0004, 0.001);
            put(points, "current/receive/" + lane, 3.2 * radio.idleAmperes(), 0.001, 0.003);
            put(
                    points,
                    "current/transmit/" + lane,
                    0.25 + then / (0.48 * radio.supplyVolts()),
                    -ageing / (0.48 * radio.supplyVolts()),
                    0.005);
            if (radio.outer() > 0) {
                put(points, "txDigital/deviation/" + lane, radio.outer() * b.deviationGain(), 0, 4);
                put(points, "txDigital/fidelity/" + lane, 2.6 + 40 * b.imbalance(), 0.02, 0.08);
                put(points, "txDigital/rate/" + lane, start, perYear, 0.8);
                put(points, "rxDigital/level/" + lane, -120.3 + Math.min(0.3, b.deafDecibels() * 0.3), slope, 0.3);
                put(points, "rxDigital/floor/" + lane, 0.002, 0, 0.0003);
            }
        });
        return points;
    }

    private static void put(Map<String, List<Double>> points, String key, double start, double perYear, double spread) {
        points.put(key, List.of(start, perYear, spread));
    }
}
