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
import tools.jackson.core.type.TypeReference;

/** A reflectometer and a camera, with the links of the valley behind them. */
public final class FibreStandIns implements StandInFamily {

    private static final String REFLECTOMETER = "reflectometer";
    private static final String CAMERA = "fibre-camera";

    @Override
    public String id() {
        return Links.FAMILY;
    }

    @Override
    public List<String> roles() {
        return List.of(REFLECTOMETER, CAMERA);
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
                        "scpi-fibre-camera"));
        List<Links.Link> links = Links.of(ground);
        return new FleetPart(gear, List.of(), LinkHistory.of(ground, links), Map.of(), links);
    }

    @Override
    public Running start(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException {
        return new Listening(fleet, ports, log);
    }

    private static final class Listening implements Running {

        private final LinkBench bench;
        private final Reflectometer reflectometer;
        private final FaceCamera camera;
        private final ScpiServer first;
        private final ScpiServer second;

        Listening(Fleet fleet, Ports ports, StandInLog log) throws IOException {
            // A fleet of an earlier version has no links.
            bench = new LinkBench(
                    fleet.truth().containsKey(Links.FAMILY)
                            ? fleet.truth(Links.FAMILY, new TypeReference<List<Links.Link>>() {})
                            : List.of());
            reflectometer = new Reflectometer("OB-4107", bench, log);
            camera = new FaceCamera("OB-4212", bench, log);
            first = new ScpiServer(REFLECTOMETER, reflectometer, ports.of(REFLECTOMETER), log);
            second = new ScpiServer(CAMERA, camera, ports.of(CAMERA), log);
        }

        @Override
        public Map<String, ScpiServer> lines() {
            return Map.of(REFLECTOMETER, first, CAMERA, second);
        }

        @Override
        public void factor(double factor) {
            reflectometer.factor(factor);
            camera.factor(factor);
        }

        @Override
        public void emergency(boolean pressed) {
            reflectometer.emergency(pressed);
            camera.emergency(pressed);
        }

        @Override
        public List<String> commands() {
            return List.of("fibre-clean POSITION:FIBRE[:far]");
        }

        @Override
        public Effect command(String[] words) {
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
            first.close();
            second.close();
        }
    }
}
