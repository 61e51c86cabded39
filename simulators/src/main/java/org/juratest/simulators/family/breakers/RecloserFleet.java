package org.juratest.simulators.family.breakers;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.Ground;

/** The reclosers of the valley: six on the ridge line, which the ground has, and two hydraulic ones of this family. */
final class RecloserFleet {

    private static final long OWN_DRAWS = 2700;
    private static final String CLASS = "recloser";

    private RecloserFleet() {}

    /** Reclosers, the devices that come beside those of the ground, and tests by asset. */
    record All(
            List<Fleet.Device> devices, List<Reclosers.Recloser> reclosers, Map<String, List<Fleet.PastTest>> past) {}

    static All of(Ground ground) {
        List<Fleet.Device> own = new ArrayList<>();
        own.add(hydraulic(ground, "ORE-REC-01", "ORE", "Tunnel feeder, east", 9301, 100));
        own.add(hydraulic(ground, "COL-REC-01", "COL", "Summit feeder", 9302, 70));
        List<Reclosers.Recloser> all = new ArrayList<>();
        List<Fleet.Device> devices = new ArrayList<>(ground.devices().stream()
                .filter(d -> d.assetClass().equals(CLASS) && !d.position().isEmpty())
                .toList());
        devices.addAll(own);
        Map<String, List<Fleet.PastTest>> past = new TreeMap<>();
        for (int n = 0; n < devices.size(); n++) {
            Fleet.Device d = devices.get(n);
            SplittableRandom random = new SplittableRandom(
                    ground.seed() * 131 + OWN_DRAWS + d.position().hashCode());
            Reclosers.Recloser recloser = recloser(d, random);
            all.add(recloser);
            past.put(d.asset(), RecloserHistory.of(recloser, d, ground.today(), n));
        }
        return new All(own, all, past);
    }

    private static Fleet.Device hydraulic(
            Ground ground, String position, String site, String title, int serial, int coil) {
        Map<String, String> plate = new TreeMap<>();
        plate.put("ratedVoltage", "15");
        plate.put("ratedCurrent", "200");
        plate.put("breakingCurrent", "4");
        plate.put("coil", String.valueOf(coil));
        plate.put("pickUp", String.valueOf(2 * coil));
        plate.put("controller", "hydraulic");
        LocalDate from = ground.today().minusDays(1500);
        return new Fleet.Device(
                "REC-" + serial,
                site,
                CLASS,
                "Tarnivol",
                "RH-15",
                "TV-" + (48_000 + serial),
                plate,
                position,
                title,
                "",
                "",
                List.of(new Fleet.Stay(position, from, null)),
                "",
                "tarnivol-rh15");
    }

    private static Reclosers.Recloser recloser(Fleet.Device d, SplittableRandom random) {
        boolean hydraulic = d.plate().getOrDefault("controller", "").equals("hydraulic");
        double minimum =
                Double.parseDouble(d.plate().getOrDefault("pickUp", "280").replaceAll("[^0-9.]", ""));
        Map<String, Reclosers.Phase> phases = new TreeMap<>();
        for (String phase : List.of("A", "B", "C")) {
            phases.put(
                    phase,
                    new Reclosers.Phase(
                            0.98 + 0.05 * random.nextDouble(),
                            0.97 + 0.06 * random.nextDouble(),
                            0.98 + 0.04 * random.nextDouble(),
                            0,
                            0));
        }
        switch (d.position()) {
            // A fast curve that has become slow: old oil in the timing piston.
            case "ORE-REC-01" -> phases.put("B", new Reclosers.Phase(1.42, 1.04, 1.01, 0, 0));
            // Its first operation after a long rest sticks, and what it opens is bridged by the tester's leads.
            case "COL-REC-01" -> phases.put("C", new Reclosers.Phase(1.0, 1.01, 1.02, 0.16, 1));
            default -> {}
        }
        return new Reclosers.Recloser(
                d.position(),
                hydraulic ? "hydraulic" : "electronic",
                minimum,
                1,
                hydraulic ? 0.5 : 0.4,
                2,
                4,
                hydraulic ? List.of(2.0, 2.0, 2.0) : List.of(0.5, 2.0, 5.0),
                hydraulic ? 6 : 2,
                phases);
    }
}
