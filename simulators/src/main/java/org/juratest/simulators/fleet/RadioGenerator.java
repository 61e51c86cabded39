package org.juratest.simulators.fleet;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;

/**
 * How the radios of the valley behave: most of them as they should, some whose crystal drifts, one that is deaf, one
 * with unequal bands. What tests in the past would have read follows from the same figures by closed forms, so that
 * today's test goes on where they end.
 */
final class RadioGenerator {

    private static final long OWN_DRAWS = 11;
    private static final String CLASS = "land-mobile-radio";

    private final long seed;
    private final LocalDate today;

    private RadioGenerator(long seed, LocalDate today) {
        this.seed = seed;
        this.today = today;
    }

    static List<Fleet.Radio> generate(long seed, LocalDate today, List<Fleet.Device> devices) {
        RadioGenerator generator = new RadioGenerator(seed, today);
        List<Fleet.Radio> radios = new ArrayList<>();
        devices.stream()
                .filter(d -> d.assetClass().equals(CLASS) && !d.position().isEmpty())
                .forEach(d -> radios.add(generator.radio(d)));
        return radios;
    }

    private Fleet.Radio radio(Fleet.Device device) {
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
        Map<String, Fleet.RadioBand> bands = new LinkedHashMap<>();
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
        Fleet.Radio radio = new Fleet.Radio(
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
                idle,
                Map.of());
        Map<String, List<Double>> history = history(radio, start, perYear, Math.max(1, years));
        if (device.plate().containsKey("antennaLine")) {
            double rated = radio.bands().values().iterator().next().rated();
            history.put("line/forward/-", List.of(0.94 * rated, 0.0, 0.01 * rated));
            history.put("line/reflected/-", List.of(0.012 * rated, 0.0006 * rated, 0.0005 * rated));
        }
        return radio.withHistory(history);
    }

    private static Fleet.RadioBand band(Fleet.Device device, String lane, SplittableRandom random) {
        double low = 1e6 * Double.parseDouble(device.plate().get(lane + "Low"));
        double high = 1e6 * Double.parseDouble(device.plate().get(lane + "High"));
        double rated = Double.parseDouble(device.plate().get(lane + "Power"));
        double powerDb = 0.7 * (random.nextDouble() - 0.6);
        double gain = 0.97 + 0.06 * random.nextDouble();
        double deaf = 1.4 * random.nextDouble() - 0.7;
        double tilt = 0.5 * (random.nextDouble() - 0.5);
        int best = 124 + random.nextInt(9);
        switch (device.position() + ":" + lane) {
            case "MFR-RAD-01:vhf" -> deaf = 6.5;
            case "COL-RAD-06:uhf" -> {
                powerDb = -0.75;
                gain = 0.91;
                tilt = -1.6;
            }
            case "TES-RAD-02:vhf", "TES-RAD-02:uhf" -> {
                powerDb = -0.45;
                gain = 1.05;
                best = 84;
                tilt = 1.1;
            }
            default -> {}
        }
        return new Fleet.RadioBand(
                low,
                high,
                rated,
                powerDb,
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
    private static Map<String, List<Double>> history(Fleet.Radio radio, double start, double perYear, double years) {
        Map<String, List<Double>> points = new TreeMap<>();
        String first = radio.bands().keySet().iterator().next();
        points.put("txCarrier/error/" + first, List.of(start, perYear, 0.04));
        double middle = radio.bands().get(first).middle();
        points.put(
                "txCarrier/hertz/" + first, List.of(start * middle / 1e6, perYear * middle / 1e6, 0.04 * middle / 1e6));
        radio.bands().forEach((lane, b) -> {
            double now = b.rated() * Math.pow(10, b.powerDb() / 10);
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
            double slope = b.deafDb() > 3 ? 0.1 : (0.7 * b.deafDb() + 0.3) / years;
            put(points, "rxSensitivity/level/" + lane, -121.0 + Math.min(0.3, b.deafDb() * 0.3), slope, 0.2);
            put(points, "rxSquelch/open/" + lane, -122.4 + Math.min(0.3, b.deafDb() * 0.3), slope, 0.3);
            put(points, "rxSquelch/close/" + lane, -125.8 + Math.min(0.3, b.deafDb() * 0.3), slope, 0.3);
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
                put(points, "rxDigital/level/" + lane, -120.3 + Math.min(0.3, b.deafDb() * 0.3), slope, 0.3);
                put(points, "rxDigital/floor/" + lane, 0.002, 0, 0.0003);
            }
        });
        return points;
    }

    private static void put(Map<String, List<Double>> points, String key, double start, double perYear, double spread) {
        points.put(key, List.of(start, perYear, spread));
    }
}
