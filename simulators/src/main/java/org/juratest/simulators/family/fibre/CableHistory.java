package org.juratest.simulators.family.fibre;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.juratest.simulators.fleet.Fleet;

/** How the cables of the valley were when they were accepted: sound and clean, every fibre at its own place. */
final class CableHistory {

    private static final String PROCEDURE = "MPC-ACCEPT";
    /** dBm of the source through the cords, and dB that comes back from the open end of them. */
    private static final double THROUGH = -7.2;

    private static final double OPEN_END = -14.7;
    private static final double CORD = 3.1;

    private CableHistory() {}

    /** Tests by asset. Places where cables are laid one after the other have none. */
    static Map<String, List<Fleet.PastTest>> of(Cables.All all) {
        Map<String, List<Fleet.PastTest>> past = new TreeMap<>();
        for (int i = 0; i < all.cables().size(); i++) {
            Fleet.Device device = all.devices().get(i);
            if (!Cables.isTestPlace(device.position())) {
                past.put(
                        device.asset(),
                        List.of(new Fleet.PastTest(
                                device.stays().get(0).from(),
                                i % 2 == 0 ? "brevan" : "tavel",
                                PROCEDURE,
                                Map.of(),
                                readings(all.cables().get(i), device.plate().get("kind")))));
            }
        }
        return past;
    }

    private static List<Fleet.PastReading> readings(Cables.Cable cable, String kind) {
        List<Fleet.PastReading> told = new ArrayList<>();
        told.add(one("facesNear", "", "failing", 0, "1"));
        told.add(one("facesFar", "", "failing", 0, "1"));
        List<String> wavelengths = "multimode".equals(kind) ? List.of("850", "1300") : List.of("1310", "1550");
        SplittableRandom random = new SplittableRandom(cable.position().hashCode());
        for (int n = 1; n <= cable.fibres(); n++) {
            for (String wavelength : wavelengths) {
                String lane = n + "." + wavelength;
                told.add(one("returnReference", lane, "level", OPEN_END + 0.05 * random.nextDouble(), "dB"));
                told.add(one("returnReference", lane, "distance", CORD, "m"));
                told.add(one("lossReference", lane, "power", THROUGH + 0.05 * random.nextDouble(), "dBm"));
            }
        }
        for (String point : List.of("crossed", "missing", "doubled")) {
            told.add(one("polarity", "", point, 0, "1"));
        }
        for (int n = 1; n <= cable.fibres(); n++) {
            for (String wavelength : wavelengths) {
                String lane = n + "." + wavelength;
                double loss = cable.loss().get(n - 1) - 0.04 + 0.05 * random.nextDouble();
                double returned = cable.returnLoss().get(n - 1) + 0.6 * random.nextDouble();
                told.add(one("losses", lane, "loss", rounded(loss), "dB"));
                told.add(one("losses", lane, "returnLoss", rounded(returned), "dB"));
            }
        }
        return told;
    }

    private static double rounded(double db) {
        return Math.round(db * 1000) / 1000.0;
    }

    private static Fleet.PastReading one(String step, String lane, String point, double value, String unit) {
        return new Fleet.PastReading(
                step, lane.isEmpty() ? "-" : lane, point, value, unit, Map.of(), 1, "DONE", "", null);
    }
}
