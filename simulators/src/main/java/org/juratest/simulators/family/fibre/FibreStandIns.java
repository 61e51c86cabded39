package org.juratest.simulators.family.fibre;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.juratest.simulators.Ports;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;
import org.juratest.simulators.scpi.ScpiServer;
import org.juratest.simulators.scpi.Watched;
import tools.jackson.core.type.TypeReference;

/** Reflectometer, loss set and cameras, with the links and cables of the valley behind them. */
public final class FibreStandIns implements StandInFamily {

    private static final String REFLECTOMETER = "reflectometer";
    private static final String CAMERA = "fibre-camera";
    private static final String LOSS = "loss-tester";
    private static final String POLARITY = "polarity-unit";
    private static final String ARRAY = "array-camera";

    /** What is behind them. */
    record Truth(List<Links.Link> links, List<Cables.Cable> cables) {}

    @Override
    public String id() {
        return Links.FAMILY;
    }

    @Override
    public List<String> roles() {
        return List.of(REFLECTOMETER, CAMERA, LOSS, POLARITY, ARRAY);
    }

    @Override
    public FleetPart part(Ground ground) {
        Map<String, Fleet.Accuracy> accuracy = new TreeMap<>();
        accuracy.put("loss", new Fleet.Accuracy(0, 0, 0.03, "expandedK2"));
        accuracy.put("reflectance", new Fleet.Accuracy(0, 0, 2, "expandedK2"));
        accuracy.put("position", new Fleet.Accuracy(0.003, 0, 1, "expandedK2"));
        accuracy.put("power", new Fleet.Accuracy(0, 0, 0.5, "expandedK2"));
        List<Fleet.Gear> gear = List.of(
                ground.gear(
                        "otd-1",
                        "Reflectometer 1",
                        REFLECTOMETER,
                        "Orbessa",
                        "RF-4",
                        "OB-4107",
                        ground.ports().of(REFLECTOMETER),
                        -300,
                        65,
                        accuracy,
                        Map.of(),
                        "scpi-reflectometer"),
                ground.gear(
                        "cam-1",
                        "Inspection camera 1",
                        CAMERA,
                        "Orbessa",
                        "IC-2",
                        "OB-4212",
                        ground.ports().of(CAMERA),
                        -120,
                        245,
                        Map.of(),
                        Map.of(),
                        "scpi-fibre-camera"),
                ground.gear(
                        "los-1",
                        "Loss set 1",
                        LOSS,
                        "Orbessa",
                        "LS-24",
                        "OB-4350",
                        ground.ports().of(LOSS),
                        -90,
                        275,
                        lossSet(),
                        Map.of(),
                        "scpi-loss-tester"),
                ground.gear(
                        "pol-1",
                        "Polarity detector 1",
                        POLARITY,
                        "Orbessa",
                        "PD-32",
                        "OB-4351",
                        ground.ports().of(POLARITY),
                        -90,
                        275,
                        Map.of(),
                        Map.of(),
                        "scpi-polarity-unit"),
                ground.gear(
                        "cam-2",
                        "Array camera 1",
                        ARRAY,
                        "Orbessa",
                        "AC-3",
                        "OB-4402",
                        ground.ports().of(ARRAY),
                        -60,
                        305,
                        Map.of(),
                        Map.of(),
                        "scpi-array-camera"));
        List<Links.Link> links = Links.of(ground);
        Cables.All cables = Cables.of(ground);
        Map<String, List<Fleet.PastTest>> past = new TreeMap<>(LinkHistory.of(ground, links));
        past.putAll(CableHistory.of(cables));
        return new FleetPart(gear, cables.devices(), past, Map.of(), new Truth(links, cables.cables()));
    }

    private static Map<String, Fleet.Accuracy> lossSet() {
        Map<String, Fleet.Accuracy> accuracy = new TreeMap<>();
        accuracy.put("power", new Fleet.Accuracy(0, 0, 0.2, "expandedK2"));
        accuracy.put("loss", new Fleet.Accuracy(0, 0, 0.05, "expandedK2"));
        accuracy.put("returnLoss", new Fleet.Accuracy(0, 0, 1, "expandedK2"));
        accuracy.put("distance", new Fleet.Accuracy(0, 0, 0.1, "expandedK2"));
        return accuracy;
    }

    @Override
    public Running start(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException {
        return new Listening(fleet, ports, log);
    }

    private static final class Listening implements Running {

        private final LinkBench bench;
        private final LossSet loss;
        private final ArrayCamera array;
        private final List<Watched> all;
        private final Map<String, ScpiServer> servers = new TreeMap<>();

        Listening(Fleet fleet, Ports ports, StandInLog log) throws IOException {
            // A fleet of an earlier version has none.
            Truth truth = fleet.truth().containsKey(Links.FAMILY)
                    ? fleet.truth(Links.FAMILY, new TypeReference<Truth>() {})
                    : new Truth(List.of(), List.of());
            bench = new LinkBench(truth.links());
            CableBench cables = new CableBench(truth.cables());
            Reflectometer reflectometer = new Reflectometer("OB-4107", bench, log);
            FaceCamera camera = new FaceCamera("OB-4212", bench, log);
            loss = new LossSet("OB-4350", bench, cables, log);
            array = new ArrayCamera("OB-4402", cables, log);
            PolarityDetector polarity = new PolarityDetector("OB-4351", cables, log);
            all = List.of(reflectometer, camera, loss, polarity, array);
            List<String> roles = List.of(REFLECTOMETER, CAMERA, LOSS, POLARITY, ARRAY);
            for (int i = 0; i < roles.size(); i++) {
                servers.put(roles.get(i), new ScpiServer(roles.get(i), all.get(i), ports.of(roles.get(i)), log));
            }
        }

        @Override
        public Map<String, ScpiServer> lines() {
            return Map.copyOf(servers);
        }

        @Override
        public void factor(double factor) {
            all.forEach(gear -> gear.factor(factor));
        }

        @Override
        public void emergency(boolean pressed) {
            all.forEach(gear -> gear.emergency(pressed));
        }

        @Override
        public List<String> commands() {
            return List.of("fibre-clean POSITION:FIBRE[:far]", "fibre-drift DB", "fibre-focus UM");
        }

        @Override
        public Effect command(String[] words) {
            if (words.length == 2 && words[0].equals("fibre-drift")) {
                loss.drift(Double.parseDouble(words[1]));
                return Effect.DONE;
            }
            if (words.length == 2 && words[0].equals("fibre-focus")) {
                array.sharpest(Double.parseDouble(words[1]));
                return Effect.DONE;
            }
            if (!words[0].equals("fibre-clean")) {
                return Effect.NOT_OURS;
            }
            if (words.length != 2) {
                throw new IllegalArgumentException("it is told what is wiped: POSITION:FIBRE[:far]");
            }
            LinkBench.End end = bench.at(words[1]);
            if (end == null) {
                throw new IllegalArgumentException("there is no fibre " + words[1]);
            }
            bench.clean(end);
            return Effect.DONE;
        }

        @Override
        public Fleet now(Fleet fleet) {
            return fleet;
        }

        @Override
        public void close() throws IOException {
            for (ScpiServer server : servers.values()) {
                server.close();
            }
        }
    }
}
