package org.juratest.simulators.family.lamps;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.Ports;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.Words;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;
import org.juratest.simulators.scpi.ScpiGear;
import org.juratest.simulators.scpi.ScpiServer;
import org.juratest.simulators.scpi.Watched;
import tools.jackson.core.type.TypeReference;

/** A lamp tester and a data port, with one signal of the valley behind them. */
public final class LampStandIns implements StandInFamily {

    private static final String FAMILY = "lamps";
    private static final String TESTER = "lamp-tester";
    private static final String LINK = "lamp-link";
    /** Where the signal of the tests stands. */
    public static final String POSITION = "TES-SIG-01";

    /** Its number. */
    public static final String SERIAL = "SL-77";

    private static final double DAYLIGHT = 0.35;

    /**
     * A lamp.
     *
     * @param gain lx for each step of its setting at 12 V
     * @param spots dark places on its glass: x and y from the middle and radius, all as shares of its radius
     */
    public record Lamp(double gain, int setting, boolean broken, List<List<Double>> spots) {
        Lamp with(int other) {
            return new Lamp(gain, other, broken, spots);
        }
    }

    @Override
    public String id() {
        return FAMILY;
    }

    @Override
    public List<String> roles() {
        return List.of(TESTER, LINK);
    }

    @Override
    public FleetPart part(Ground ground) {
        Map<String, Fleet.Accuracy> accuracy = Map.of("illuminance", new Fleet.Accuracy(2, 0, 0.01, "expandedK2"));
        List<Fleet.Gear> gear = List.of(
                ground.gear(
                        "lam-1",
                        "Lamp tester 1",
                        TESTER,
                        "Toldane",
                        "LT-1",
                        "TD-7001",
                        ground.ports().of(TESTER),
                        -30,
                        335,
                        accuracy,
                        Map.of("lamp voltage", 24.0),
                        "scpi-lamp-tester"),
                ground.gear(
                        "lnk-1",
                        "Lamp data port 1",
                        LINK,
                        "Toldane",
                        "LD-1",
                        "TD-7002",
                        ground.ports().of(LINK),
                        -30,
                        335,
                        Map.of(),
                        Map.of(),
                        "scpi-lamp-link"));
        Map<String, Lamp> lamps = new TreeMap<>();
        lamps.put("1.red", new Lamp(0.05, 100, false, List.of()));
        lamps.put("1.green", new Lamp(0.04, 100, false, List.of(List.of(0.4, 0.0, 0.12), List.of(-0.3, 0.3, 0.2))));
        lamps.put("2.red", new Lamp(0.05, 60, false, List.of()));
        lamps.put("2.green", new Lamp(0.04, 100, false, List.of()));
        String asset = "SIG-1001";
        Fleet.Device device = new Fleet.Device(
                asset,
                "TES",
                "signal-lamp",
                "Ulmeric",
                "SL-2",
                SERIAL,
                Map.of("lamps", "2", "sightDistance", "400 m"),
                POSITION,
                "Home signal",
                "",
                "",
                List.of(new Fleet.Stay(POSITION, ground.today().minusDays(400), null)),
                "");
        List<Fleet.PastReading> readings = new ArrayList<>();
        readings.add(reading("dark", "-", "level", 0.3));
        lamps.forEach((lane, lamp) -> readings.add(reading("bright", lane, "illuminance", 0.3 + lamp.gain * 102)));
        return new FleetPart(
                gear,
                List.of(device),
                Map.of(
                        asset,
                        List.of(new Fleet.PastTest(
                                ground.today().minusDays(380), "tavel", "SIG-LAMP", Map.of(), readings))),
                Map.of(),
                lamps);
    }

    private static Fleet.PastReading reading(String step, String lane, String point, double lux) {
        return new Fleet.PastReading(step, lane, point, lux, "lx", Map.of(), 3, "DONE", "", null);
    }

    @Override
    public Running start(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException {
        return new Signal(fleet, ports, log, changed);
    }

    private static final class Signal implements Running {

        private final Map<String, Lamp> lamps;
        private final Tester tester;
        private final ScpiServer testerLine;
        private final ScpiServer linkLine;

        Signal(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException {
            lamps = new TreeMap<>(fleet.truth(FAMILY, new TypeReference<Map<String, Lamp>>() {}));
            tester = new Tester(this, log);
            testerLine = new ScpiServer(TESTER, tester, ports.of(TESTER), log);
            linkLine = new ScpiServer(LINK, new Link(this, changed), ports.of(LINK), log);
        }

        synchronized @Nullable Lamp at(String label) {
            int colon = label.indexOf(':');
            return colon < 0 || !label.substring(0, colon).equals(POSITION)
                    ? null
                    : lamps.get(label.substring(colon + 1));
        }

        synchronized void set(String lane, int setting) {
            Lamp lamp = lamps.get(lane);
            if (lamp == null || setting < 0 || setting > 255) {
                throw ScpiError.outOfRange("there is no " + lane + " at " + setting);
            }
            lamps.put(lane, lamp.with(setting));
        }

        synchronized String setting(String lane) {
            Lamp lamp = lamps.get(lane);
            if (lamp == null) {
                throw ScpiError.outOfRange("there is no " + lane);
            }
            return lamp.setting + ",0,255";
        }

        @Override
        public Map<String, ScpiServer> lines() {
            return Map.of(TESTER, testerLine, LINK, linkLine);
        }

        @Override
        public void factor(double factor) {
            tester.factor(factor);
        }

        @Override
        public void emergency(boolean pressed) {
            tester.emergency(pressed);
        }

        @Override
        public List<String> commands() {
            return List.of("lamp LANE broken|whole");
        }

        @Override
        public synchronized Effect command(String[] words) {
            if (!words[0].equals("lamp")) {
                return Effect.NOT_OURS;
            }
            Lamp lamp = lamps.get(words[1]);
            if (lamp == null) {
                throw new IllegalArgumentException("there is no lamp \"" + words[1] + "\"");
            }
            lamps.put(
                    words[1],
                    new Lamp(lamp.gain, lamp.setting, Words.on(words[2].equals("broken") ? "on" : "off"), lamp.spots));
            return Effect.CHANGED;
        }

        @Override
        public synchronized Fleet now(Fleet fleet) {
            return fleet.with(FAMILY, lamps);
        }

        @Override
        public void close() throws IOException {
            testerLine.close();
            linkLine.close();
        }
    }

    private static final class Tester extends Watched {

        private static final int WIDTH = 96;

        private final Signal signal;
        private final SplittableRandom random = new SplittableRandom(5);
        private double volts = 1;

        Tester(Signal signal, StandInLog log) {
            super(TESTER, "Toldane,LT-1,TD-7001,1.0", log);
            this.signal = signal;
            commands()
                    .command("SOURce:VOLTage", a -> volts = ScpiCommands.number(a, 0, 24))
                    .query("MEASure:ILLuminance", () -> ScpiCommands.nr3(illuminance()))
                    .query("MEASure:CURRent", () -> ScpiCommands.nr3(shines() ? 0.35 * volts / 12 : 0))
                    .query("CAMera:FORMat", () -> WIDTH + "," + ScpiCommands.nr3(0.5))
                    .query("CAMera:DATA", () -> ScpiCommands.block(picture()));
        }

        private boolean shines() {
            Lamp lamp = signal.at(label());
            return isOn() && lamp != null && !lamp.broken;
        }

        private double illuminance() {
            Lamp lamp = signal.at(label());
            double own = shines() && lamp != null ? lamp.gain * lamp.setting * Math.pow(volts / 12, 2) : 0;
            return DAYLIGHT + own * (1 + 0.001 * (random.nextDouble() - 0.5));
        }

        private byte[] picture() {
            Lamp lamp = signal.at(label());
            byte[] grey = new byte[WIDTH * WIDTH];
            double radius = 0.42 * WIDTH;
            for (int n = 0; n < grey.length; n++) {
                double x = (n % WIDTH - (WIDTH - 1) / 2.0) / radius;
                double y = (n / WIDTH - (WIDTH - 1) / 2.0) / radius;
                boolean glass = shines() && Math.hypot(x, y) < 1;
                boolean spot = lamp != null
                        && lamp.spots.stream().anyMatch(s -> Math.hypot(x - s.get(0), y - s.get(1)) < s.get(2));
                grey[n] = (byte) ((glass ? spot ? 12 : 214 - 40 * Math.hypot(x, y) : 6) + random.nextInt(5));
            }
            return grey;
        }

        @Override
        protected void started() {
            volts = Math.max(volts, 0);
        }

        @Override
        protected void ended() {
            volts = 1;
        }

        @Override
        protected void running() {
            // It stays on until it is told otherwise, or its watchdog is not fed.
        }
    }

    private static final class Link extends ScpiGear {

        private String label = "";

        Link(Signal signal, Runnable changed) {
            super("Toldane,LD-1,TD-7002,1.0");
            commands()
                    .command("ROUTe:LABel", a -> label = ScpiCommands.string(a))
                    .query("DEVice:IDN", () -> label.startsWith(POSITION) ? "Ulmeric,SL-2," + SERIAL + ",R1" : ",,,");
            lanes().forEach((word, lane) -> commands().query("DEVice:BRIG:" + word, () -> signal.setting(lane)));
            commands().command("DEVice:BRIG", a -> {
                String[] parts = a.split(",", -1);
                signal.set(parts[0], (int) ScpiCommands.number(parts[1], 0, 255));
                changed.run();
            });
        }

        private static Map<String, String> lanes() {
            Map<String, String> lanes = new LinkedHashMap<>();
            for (String lane : List.of("1.red", "1.green", "2.red", "2.green")) {
                lanes.put(lane.replace(".", "").toUpperCase(java.util.Locale.ROOT), lane);
            }
            return lanes;
        }

        @Override
        protected void reset() {
            label = "";
        }

        @Override
        protected void controllerGone() {
            label = "";
        }
    }
}
