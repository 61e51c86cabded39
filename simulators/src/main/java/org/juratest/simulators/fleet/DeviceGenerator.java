package org.juratest.simulators.fleet;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.SplittableRandom;

/**
 * What else stands in the valley: devices of the families that no stand-in behaves for yet, with their plates and where
 * they stood. Draws of its own, so that the breakers stay what they are.
 */
final class DeviceGenerator {

    private static final long OWN_DRAWS = 5;
    private static final int FIRST_ID = 1001;

    private final SplittableRandom random;
    private final LocalDate today;
    private final Map<String, Integer> ids = new HashMap<>();
    private final Map<String, Integer> places = new HashMap<>();
    private final List<Fleet.Device> devices = new ArrayList<>();

    private DeviceGenerator(long seed, LocalDate today) {
        this.random = new SplittableRandom(seed + OWN_DRAWS);
        this.today = today;
    }

    /** A model: its class, the mark in codes, and its plate as it would be typed. */
    private record Model(String assetClass, String mark, String maker, String name, Map<String, String> plate) {}

    private static Model model(String assetClass, String mark, String maker, String name, String... plate) {
        Map<String, String> values = new LinkedHashMap<>();
        for (int i = 0; i < plate.length; i += 2) {
            values.put(plate[i], plate[i + 1]);
        }
        return new Model(assetClass, mark, maker, name, values);
    }

    private static final Model MOTOR = model(
            "traction-motor",
            "MOT",
            "Hestrand",
            "TM-90",
            "ratedPower",
            "90 kW",
            "ratedVoltage",
            "750",
            "ratedCurrent",
            "132",
            "bars",
            "185",
            "ratedSpeed",
            "1450");
    private static final Model ACCESS_POINT = model(
            "access-point",
            "WAP",
            "Ulmeric",
            "AP-6",
            "bands",
            "2.4 and 5 GHz",
            "transmitPower",
            "100",
            "firmware",
            "6.2.1");
    private static final Model SWITCH =
            model("switch", "SWI", "Ulmeric", "S-24", "ports", "24", "uplink", "10", "firmware", "3.11");
    private static final Model VALVE = model(
            "shut-off-valve",
            "SOV",
            "Hestrand",
            "BV-900",
            "nominalSize",
            "900",
            "travel",
            "320",
            "springLow",
            "0.8",
            "springHigh",
            "2.4",
            "failAction",
            "closes");
    private static final Model HYDRO = model(
            "hydro-generator",
            "HYD",
            "Tarnivol",
            "HG-2400",
            "ratedPower",
            "2400",
            "ratedVoltage",
            "6.3",
            "ratedSpeed",
            "600",
            "insulationClass",
            "F");
    private static final Model RELAY = model(
            "protection-relay",
            "REL",
            "Tarnivol",
            "PR-5",
            "ratedCurrent",
            "1",
            "ratedVoltage",
            "100",
            "auxiliaryVoltage",
            "110",
            "functions",
            "50/51, 67, 87",
            "pickUpSetting",
            "0.8",
            "timeMultiplier",
            "0.2",
            "characteristicAngle",
            "45",
            "differentialSetting",
            "0.2",
            "differentialSlope",
            "30",
            "firmware",
            "4.08");
    private static final Model CT_300 = model(
            "current-transformer",
            "CT",
            "Dramelin",
            "IT-24",
            "primaryCurrent",
            "300",
            "secondaryCurrent",
            "1",
            "accuracyClass",
            "0.5 S",
            "burden",
            "5",
            "securityFactor",
            "5",
            "highestVoltage",
            "24");
    private static final Model CT_600 = model(
            "current-transformer",
            "CT",
            "Dramelin",
            "IT-24P",
            "primaryCurrent",
            "600",
            "secondaryCurrent",
            "1",
            "accuracyClass",
            "5P",
            "burden",
            "15",
            "securityFactor",
            "20",
            "highestVoltage",
            "24");
    private static final Model VT = model(
            "voltage-transformer",
            "VT",
            "Dramelin",
            "UT-24",
            "primaryVoltage",
            "20",
            "secondaryVoltage",
            "100",
            "accuracyClass",
            "0.5",
            "burden",
            "30",
            "voltageFactor",
            "1.9");
    private static final Model METER = model(
            "energy-meter",
            "MET",
            "Dramelin",
            "EM-3",
            "service",
            "3-phase 4-wire",
            "connection",
            "by transformers",
            "accuracyClass",
            "0.5 S",
            "ratedVoltage",
            "100",
            "ratedCurrent",
            "1",
            "maximumCurrent",
            "2",
            "meterConstant",
            "20000",
            "phaseVoltage",
            "57.7",
            "ctPrimary",
            "300",
            "ctSecondary",
            "1",
            "ctBurden",
            "5",
            "vtPrimary",
            "20",
            "vtSecondary",
            "100",
            "testBlock",
            "TB-4, covers 2");
    private static final Model HOUSE_METER = model(
            "energy-meter",
            "MET",
            "Dramelin",
            "EM-1",
            "service",
            "3-phase 4-wire",
            "connection",
            "direct",
            "accuracyClass",
            "1",
            "ratedVoltage",
            "230",
            "ratedCurrent",
            "5",
            "maximumCurrent",
            "100",
            "meterConstant",
            "1000",
            "phaseVoltage",
            "230");
    private static final Model MV_BREAKER = model(
            "mv-breaker",
            "MCB",
            "Tarnivol",
            "VB-24",
            "ratedVoltage",
            "24",
            "ratedCurrent",
            "630",
            "breakingCurrent",
            "16",
            "openingTime",
            "35",
            "closingTime",
            "55",
            "medium",
            "vacuum",
            "controlVoltage",
            "110");
    private static final Model RECLOSER = model(
            "recloser",
            "REC",
            "Tarnivol",
            "RC-27",
            "ratedVoltage",
            "27",
            "ratedCurrent",
            "400",
            "breakingCurrent",
            "12.5",
            "pickUp",
            "280",
            "earthPickUp",
            "40",
            "controller",
            "RC-C4");
    private static final Model CABLE = model(
            "mv-cable",
            "CAB",
            "Dramelin",
            "X-240",
            "ratedVoltage",
            "12",
            "length",
            "1.24 km",
            "conductorArea",
            "240",
            "conductor",
            "aluminium",
            "insulation",
            "XLPE",
            "laid",
            "1998");
    private static final Model FIBRE = model(
            "fibre-link",
            "FIB",
            "Ulmeric",
            "SM-24",
            "fibres",
            "24",
            "length",
            "2.46",
            "kind",
            "single-mode",
            "wavelength",
            "1310",
            "lossBudget",
            "3.5",
            "connectors",
            "angled");
    private static final Model GENERATOR = model(
            "generator-set",
            "GEN",
            "Tarnivol",
            "DG-250",
            "ratedPower",
            "250",
            "ratedVoltage",
            "400",
            "frequency",
            "50",
            "speed",
            "1500",
            "governing",
            "G2",
            "fuel",
            "diesel");
    private static final Model TRANSFER = model(
            "transfer-switch",
            "ATS",
            "Halmic",
            "T400",
            "ratedCurrent",
            "400",
            "ratedVoltage",
            "400",
            "poles",
            "4",
            "transferDelay",
            "3");
    private static final Model UPS =
            model("ups", "UPS", "Halmic", "U-20", "ratedPower", "20", "ratedVoltage", "400", "autonomy", "30");
    private static final Model BATTERY = model(
            "battery-string",
            "BAT",
            "Tarnivol",
            "VR-100",
            "capacity",
            "100",
            "cells",
            "24",
            "cellVoltage",
            "2",
            "kind",
            "valve-regulated lead-acid",
            "hourRate",
            "10");
    private static final Model FEEDER = model(
            "leaky-feeder",
            "LKY",
            "Orbessa",
            "LF-12",
            "length",
            "620",
            "impedance",
            "50",
            "highestFrequency",
            "470",
            "jackets",
            "6");
    private static final Model DEFIBRILLATOR = model(
            "defibrillator",
            "DEF",
            "Calvenne",
            "DX-2",
            "protection",
            "internally powered",
            "appliedPart",
            "CF",
            "maximumEnergy",
            "200",
            "firmware",
            "2.4");
    private static final Model PUMP = model(
            "infusion-pump",
            "INF",
            "Calvenne",
            "VP-1",
            "protection",
            "II",
            "appliedPart",
            "CF",
            "highestFlow",
            "1200",
            "occlusionPressure",
            "60");
    private static final Model MONITOR = model(
            "patient-monitor",
            "MON",
            "Calvenne",
            "PM-7",
            "protection",
            "I",
            "appliedPart",
            "CF",
            "measures",
            "ECG, pressure, oxygen saturation, temperature");
    private static final Model BASE_RADIO = model(
            "land-mobile-radio",
            "RAD",
            "Orbessa",
            "BR-25",
            "use",
            "fixed",
            "uhfLow",
            "400",
            "uhfHigh",
            "470",
            "uhfPower",
            "25",
            "channelSpacing",
            "12.5",
            "microphone",
            "30",
            "antennaLine",
            "24",
            "firmware",
            "R7.3");
    private static final Model HAND_RADIO = model(
            "land-mobile-radio",
            "RAD",
            "Orbessa",
            "HR-52",
            "use",
            "portable",
            "vhfLow",
            "136",
            "vhfHigh",
            "174",
            "vhfPower",
            "5",
            "uhfLow",
            "400",
            "uhfHigh",
            "470",
            "uhfPower",
            "4",
            "channelSpacing",
            "12.5",
            "microphone",
            "10",
            "outerDeviation",
            "1944",
            "subTone",
            "123",
            "firmware",
            "R7.1");
    private static final Model MOBILE_RADIO = model(
            "land-mobile-radio",
            "RAD",
            "Orbessa",
            "MR-25",
            "use",
            "mobile",
            "vhfLow",
            "136",
            "vhfHigh",
            "174",
            "vhfPower",
            "25",
            "uhfLow",
            "400",
            "uhfHigh",
            "470",
            "uhfPower",
            "20",
            "channelSpacing",
            "12.5",
            "microphone",
            "10",
            "outerDeviation",
            "1800",
            "subTone",
            "123",
            "firmware",
            "R6.8");
    private static final Model ONE_BAND_RADIO = model(
            "land-mobile-radio",
            "RAD",
            "Orbessa",
            "HR-5",
            "use",
            "portable",
            "vhfLow",
            "136",
            "vhfHigh",
            "174",
            "vhfPower",
            "5",
            "channelSpacing",
            "12.5",
            "microphone",
            "10",
            "subTone",
            "123",
            "firmware",
            "R4.2");
    private static final Model HF_SET =
            model("hf-set", "HFS", "Orbessa", "HF-100", "bandLow", "1.6", "bandHigh", "30", "transmitPower", "100");
    private static final Model BEACON = model(
            "distress-beacon",
            "BCN",
            "Orbessa",
            "DB-1",
            "frequency",
            "406.04",
            "homing",
            "121.5",
            "transmitPower",
            "5",
            "batteryLife",
            "1825",
            "identity",
            "1D0C6F2A40");
    private static final Model DRIVE = model(
            "safety-drive",
            "DRV",
            "Hestrand",
            "SD-75",
            "ratedPower",
            "75",
            "ratedVoltage",
            "400",
            "ratedSpeed",
            "1480",
            "functions",
            "STO, SS1-r, SLS, SBC",
            "checksum",
            "7A3F-19C2");

    static List<Fleet.Device> generate(long seed, LocalDate today) {
        DeviceGenerator g = new DeviceGenerator(seed, today);
        g.place("TES", MOTOR, 12, "Bogie %d");
        g.place("TES", ACCESS_POINT, 5, "Hall, bay %d");
        g.place("TES", HAND_RADIO, 4, "Locker %d");
        g.place("BRU", VALVE, 1, "Penstock");
        g.place("BRU", HYDRO, 1, "Unit 1");
        g.place("BRU", RELAY, 6, "Panel %d");
        g.parts("BRU-MES-01", "BRU", CT_300, "current transformer L");
        g.parts("BRU-MES-01", "BRU", VT, "voltage transformer L");
        g.part("BRU-MES-01", "BRU", METER, "meter");
        g.place("BRU", CT_600, 9, "Generator, core %d");
        g.place("BRU", METER, 1, "Station supply");
        g.place("MFR", MV_BREAKER, 8, "Bay %d");
        g.place("MFR", RECLOSER, 6, "Ridge line, pole %d0");
        for (String whole : List.of("MFR-MES-01", "MFR-MES-02")) {
            g.parts(whole, "MFR", CT_300, "current transformer L");
            g.parts(whole, "MFR", VT, "voltage transformer L");
            g.part(whole, "MFR", METER, "meter");
        }
        g.place("MFR", CT_600, 6, "Bay protection, core %d");
        g.place("MFR", METER, 4, "Feeder %d");
        g.place("MFR", RELAY, 4, "Bay %d");
        g.place("MFR", HAND_RADIO, 2, "Locker %d");
        g.place("PRA", HOUSE_METER, 10, "Stand %d");
        g.link("PRA", "ORE", "2.46", 24, "To the east portal");
        g.place("PRA", ACCESS_POINT, 1, "Waiting room");
        g.place("PRA", DEFIBRILLATOR, 1, "Rescue post");
        g.place("PRA", HAND_RADIO, 1, "Counter");
        g.place("ORE", GENERATOR, 1, "Machine room");
        g.place("ORE", TRANSFER, 2, "Board %d");
        g.place("ORE", CABLE, 3, "Tunnel, phase set %d");
        g.link("ORE", "ORW", "2.46", 24, "Tunnel, duct 1");
        g.link("ORE", "ORW", "2.46", 24, "Tunnel, duct 2");
        g.place("ORE", RELAY, 2, "Panel %d");
        g.place("ORE", DEFIBRILLATOR, 1, "Rescue post");
        g.place("ORE", BEACON, 1, "Rescue post");
        g.place("ORE", HAND_RADIO, 1, "Portal office");
        g.place("ORW", UPS, 2, "Battery room");
        g.place("ORW", BATTERY, 4, "Battery room, rack %d");
        g.place("ORW", FEEDER, 2, "Bore %d");
        g.place("ORW", TRANSFER, 1, "Board 1");
        g.place("ORW", HOUSE_METER, 2, "Stand %d");
        g.place("ORW", HAND_RADIO, 1, "Portal office");
        g.place("VAU", DEFIBRILLATOR, 10, "Trolley %d");
        g.place("VAU", PUMP, 14, "Pool, shelf %d");
        g.place("VAU", MONITOR, 10, "Bed %d");
        g.place("VAU", GENERATOR, 1, "Cellar");
        g.place("VAU", TRANSFER, 2, "Board %d");
        g.place("VAU", UPS, 1, "Theatre");
        g.place("VAU", BATTERY, 2, "Theatre, rack %d");
        g.place("VAU", ACCESS_POINT, 3, "Floor %d");
        g.place("COL", BASE_RADIO, 4, "Mast, rack %d");
        g.place("COL", HAND_RADIO, 4, "Rescue post, hook %d");
        g.place("COL", DRIVE, 2, "Winch %d");
        g.place("COL", BEACON, 3, "Rescue post, shelf %d");
        g.place("COL", HF_SET, 1, "Rescue post");
        g.place("COL", DEFIBRILLATOR, 1, "Rescue post");
        g.place("COL", BATTERY, 1, "Mast");
        List.of("TES", "BRU", "MFR", "PRA", "ORE", "ORW", "VAU", "COL")
                .forEach(site -> g.place(site, SWITCH, 1, "Rack"));
        g.place("TES", MOBILE_RADIO, 5, "Railcar %d");
        g.place("BRU", HAND_RADIO, 2, "Locker %d");
        g.place("ORE", ONE_BAND_RADIO, 2, "Spare %d");
        g.place("ORW", ONE_BAND_RADIO, 2, "Spare %d");
        g.place("VAU", HAND_RADIO, 2, "Reception, hook %d");
        g.link("TES", "BRU", "3.15", 24, "To the hydro station");
        g.link("TES", "TES", "1.1", 12, "Hall to signal box");
        g.link("BRU", "MFR", "2.32", 12, "To the substation");
        g.link("MFR", "PRA", "2.55", 24, "To the halt");
        g.link("MFR", "ORE", "4.84", 12, "Express to the east portal");
        g.link("ORE", "VAU", "4.68", 12, "Express to the clinic");
        g.link("ORE", "VAU", "4.62", 24, "To the clinic");
        g.link("ORW", "VAU", "2.21", 12, "To the clinic");
        g.link("VAU", "COL", "1.96", 12, "To the summit");
        g.exchanged("PRA-MET-03", HOUSE_METER, 430, "certification ended");
        g.exchanged("VAU-INF-05", PUMP, 210, "");
        g.exchanged("COL-RAD-03", BASE_RADIO, 95, "");
        g.exchanged("ORW-BAT-02", BATTERY, 620, "capacity under 80 %");
        g.moved("MFR-REC-05", "MFR-REC-02", RECLOSER, 300);
        return g.devices;
    }

    private int next(Map<String, Integer> counter, String key, int first) {
        return counter.merge(key, first, (was, one) -> was + 1);
    }

    private String position(String site, Model model) {
        return String.format(Locale.ROOT, "%s-%s-%02d", site, model.mark, next(places, site + model.mark, 1));
    }

    private void place(String site, Model model, int count, String title) {
        for (int n = 1; n <= count; n++) {
            String position = position(site, model);
            add(
                    site,
                    model,
                    position,
                    String.format(Locale.ROOT, title, n),
                    "",
                    "",
                    List.of(new Fleet.Stay(position, installed(), null)));
        }
    }

    /** A link from one site to another. */
    private void link(String site, String to, String length, int fibres, String title) {
        String position = position(site, FIBRE);
        Map<String, String> plate = new LinkedHashMap<>(FIBRE.plate);
        plate.put("length", length);
        plate.put("fibres", Integer.toString(fibres));
        plate.put("index1310", "1.4676");
        plate.put("index1550", "1.4682");
        plate.put("cable", "CBL-" + position.substring(0, 3) + position.substring(position.length() - 3));
        plate.put("lossBudget", budget(Double.parseDouble(length)));
        plate.put("route", RouteGenerator.route(site, to, Double.parseDouble(length), position));
        Model model = new Model(FIBRE.assetClass, FIBRE.mark, FIBRE.maker, "SM-" + fibres, plate);
        add(site, model, position, title, "", "", List.of(new Fleet.Stay(position, installed(), null)));
    }

    /** Two connectors, the patch point and splices, and the fibre itself, with some to spare, dB. */
    private static String budget(double km) {
        return String.format(Locale.ROOT, "%.1f", 2.6 + 0.36 * km);
    }

    /** Three of a kind, one a phase. */
    private void parts(String whole, String site, Model model, String part) {
        for (int phase = 1; phase <= 3; phase++) {
            part(whole, site, model, part + phase);
        }
    }

    private void part(String whole, String site, Model model, String part) {
        String position = position(site, model);
        add(site, model, position, "", whole, part, List.of(new Fleet.Stay(position, installed(), null)));
    }

    private LocalDate installed() {
        return today.minusDays(500 + random.nextInt(2800));
    }

    private void add(
            String site,
            Model model,
            String position,
            String title,
            String partOf,
            String part,
            List<Fleet.Stay> stays) {
        devices.add(new Fleet.Device(
                model.mark + "-" + next(ids, model.mark, FIRST_ID),
                site,
                model.assetClass,
                model.maker,
                model.name,
                serial(),
                model.plate,
                position,
                title,
                partOf,
                part,
                stays,
                ""));
    }

    private String serial() {
        return String.format(
                Locale.ROOT, "%c%c-%05d", 'A' + random.nextInt(26), 'A' + random.nextInt(26), random.nextInt(100_000));
    }

    private int at(String position) {
        for (int i = 0; i < devices.size(); i++) {
            if (devices.get(i).position().equals(position)) {
                return i;
            }
        }
        throw new IllegalArgumentException("nothing stands at " + position);
    }

    private Fleet.Device since(Fleet.Device d, List<Fleet.Stay> stays) {
        return new Fleet.Device(
                d.asset(),
                d.site(),
                d.assetClass(),
                d.maker(),
                d.model(),
                d.serial(),
                d.plate(),
                d.position(),
                d.title(),
                d.partOf(),
                d.part(),
                stays,
                d.retired());
    }

    /** What stands there came some days ago; another stood there before, and is retired or in the store now. */
    private void exchanged(String position, Model model, int daysAgo, String retired) {
        int at = at(position);
        Fleet.Device now = devices.get(at);
        LocalDate day = today.minusDays(daysAgo);
        devices.set(at, since(now, List.of(new Fleet.Stay(position, day, null))));
        devices.add(new Fleet.Device(
                model.mark + "-" + next(ids, model.mark, FIRST_ID),
                now.site(),
                model.assetClass,
                model.maker,
                model.name,
                serial(),
                model.plate,
                "",
                "",
                "",
                "",
                List.of(new Fleet.Stay(position, day.minusDays(1400 + random.nextInt(900)), day)),
                retired));
    }

    /** What stands at one position came from another, where a new one stands since. */
    private void moved(String to, String from, Model model, int daysAgo) {
        LocalDate day = today.minusDays(daysAgo);
        int at = at(to);
        Fleet.Device mover = devices.get(at);
        LocalDate came = day.minusDays(1500);
        devices.set(at, since(mover, List.of(new Fleet.Stay(from, came, day), new Fleet.Stay(to, day, null))));
        int there = at(from);
        devices.set(there, since(devices.get(there), List.of(new Fleet.Stay(from, day, null))));
        devices.add(new Fleet.Device(
                model.mark + "-" + next(ids, model.mark, FIRST_ID),
                mover.site(),
                model.assetClass,
                model.maker,
                model.name,
                serial(),
                model.plate,
                "",
                "",
                "",
                "",
                List.of(new Fleet.Stay(to, came.minusDays(200), day)),
                "struck by lightning"));
    }
}
