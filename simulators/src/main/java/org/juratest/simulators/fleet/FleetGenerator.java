package org.juratest.simulators.fleet;

import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.juratest.simulators.Ports;

/** Makes the demo valley from a seed and a day: the same seed and day give the same valley. */
public final class FleetGenerator {

    /** The seed of the demo. */
    public static final long SEED = 1670;

    /** Where the valley usually lies. */
    public static final ZoneId ZONE = ZoneId.of("CET");

    private FleetGenerator() {}

    /** What a family brings, given what there is already. */
    public interface Bringer {
        String id();

        FleetPart part(Ground ground);
    }

    /** The valley of a seed and a day where it usually lies, with what families bring to it. */
    public static Fleet generate(long seed, LocalDate today, Ports ports, List<? extends Bringer> families) {
        return generate(seed, today, ZONE, ports, families);
    }

    /** The valley of a seed and a day, with what families bring to it. */
    public static Fleet generate(
            long seed, LocalDate today, ZoneId zone, Ports ports, List<? extends Bringer> families) {
        List<Fleet.Device> others = DeviceGenerator.generate(seed, today);
        Ground ground = new Ground(seed, today, sites(), others, ports);
        List<Fleet.Gear> gear = new ArrayList<>();
        List<Fleet.Device> devices = new ArrayList<>();
        Map<String, List<Fleet.PastTest>> past = new LinkedHashMap<>();
        Map<String, Map<String, List<Double>>> drifts = new TreeMap<>();
        Map<String, Object> truth = new TreeMap<>();
        for (Bringer family : families) {
            FleetPart part = family.part(ground);
            gear.addAll(part.gear());
            devices.addAll(part.devices());
            past.putAll(part.past());
            drifts.putAll(part.drifts());
            if (part.truth() != null) {
                truth.put(family.id(), part.truth());
            }
        }
        gear.addAll(alone(ground));
        devices.addAll(others);
        Fleet fleet = new Fleet(seed, today, zone.getId(), sites(), people(), gear, devices, past, drifts, Map.of());
        for (Map.Entry<String, Object> own : truth.entrySet()) {
            fleet = fleet.with(own.getKey(), own.getValue());
        }
        return fleet;
    }

    static final List<Fleet.Site> SITES = List.of(
            new Fleet.Site("TES", "Tessombe depot and workshop", 0.0, 410),
            new Fleet.Site("BRU", "Lac Brunon hydro station", 3.1, 520),
            new Fleet.Site("MFR", "Montfrel substation", 5.4, 690),
            new Fleet.Site("PRA", "Pravelle halt", 7.9, 930),
            new Fleet.Site("ORE", "Orsel tunnel, east portal", 10.2, 1210),
            new Fleet.Site("ORW", "Orsel tunnel, west portal", 12.6, 1340),
            new Fleet.Site("VAU", "Vaudrel clinic", 14.8, 1480),
            new Fleet.Site("COL", "Col de Vaudrel summit", 16.7, 1920));

    private static List<Fleet.Site> sites() {
        return SITES;
    }

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

    /** Gear of families whose values are read off and entered by hand. */
    private static List<Fleet.Gear> alone(Ground ground) {
        return List.of(
                ground.alone("mul-1", "Multimeter 1", "multimeter", "Toldane", "DM-6", "TD-2207", -140, 225, Map.of()),
                ground.alone("mul-2", "Multimeter 2", "multimeter", "Toldane", "DM-6", "TD-2231", -30, 335, Map.of()),
                ground.alone(
                        "bat-1", "Battery tester", "battery-tester", "Toldane", "BT-2", "TD-3302", -170, 195, Map.of()),
                ground.alone(
                        "gen-1",
                        "Signal generator and step attenuator",
                        "signal-generator",
                        "Orbessa",
                        "SG-1",
                        "OB-2988",
                        -130,
                        235,
                        Map.of()),
                ground.alone(
                        "opt-1",
                        "Optical power meter and source",
                        "optical-power-meter",
                        "Ulmeric",
                        "PM-2",
                        "UL-0931",
                        -120,
                        245,
                        Map.of()),
                ground.alone(
                        "net-1", "Network tester", "network-tester", "Ulmeric", "NT-1", "UL-2204", -300, 65, Map.of()),
                ground.alone(
                        "def-1",
                        "Defibrillator analyser",
                        "defibrillator-analyser",
                        "Calvenne",
                        "DA-1",
                        "CV-0410",
                        -200,
                        165,
                        Map.of()),
                ground.alone(
                        "flo-1", "Flow analyser", "flow-analyser", "Calvenne", "FA-2", "CV-0588", -25, 340, Map.of()),
                ground.alone(
                        "saf-1",
                        "Electrical safety tester",
                        "electrical-safety-tester",
                        "Calvenne",
                        "ES-3",
                        "CV-0721",
                        -150,
                        215,
                        Map.of()));
    }
}
