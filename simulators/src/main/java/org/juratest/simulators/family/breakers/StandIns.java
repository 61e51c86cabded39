package org.juratest.simulators.family.breakers;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.Ports;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.Words;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.scpi.ScpiServer;
import org.juratest.simulators.scpi.Watched;

/** The gear of the demo with the plant behind it, listening. */
public final class StandIns implements StandInFamily.Running {

    private final Plant plant;
    private final InjectionSet injection;
    private final MicroOhmmeter micro;
    private final BreakerAnalyser analyser;
    private final EarthTester residual;
    private final RelaySet relaySet;
    private final RelayPort relayPort;
    /** By what they are called. */
    private final Map<String, ScpiServer> servers = new LinkedHashMap<>();

    /**
     * @param ports by role
     * @param changed called when a device was changed over a line
     */
    public StandIns(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException {
        plant = new Plant(fleet);
        injection = new InjectionSet("BR-3317", plant, log);
        micro = new MicroOhmmeter("BR-0825", plant, log);
        analyser = new BreakerAnalyser("BR-7745", plant, log);
        residual = new EarthTester("BR-2204", plant, log);
        relaySet = new RelaySet("BR-4410", plant, log);
        relayPort = new RelayPort("BR-5021", plant, fleet, ports.of(BreakerStandIns.RELAY_PORT), log, changed);
        servers.put("injection", new ScpiServer("injection", injection, ports.of(BreakerStandIns.SOURCE), log));
        Map<String, Watched> others = new LinkedHashMap<>();
        others.put(BreakerStandIns.MICRO, micro);
        others.put(BreakerStandIns.ANALYSER, analyser);
        others.put(BreakerStandIns.RESIDUAL, residual);
        others.put(BreakerStandIns.RELAY, relaySet);
        for (Map.Entry<String, Watched> other : others.entrySet()) {
            String role = other.getKey();
            servers.put(role, new ScpiServer(role, other.getValue(), ports.of(role), log));
        }
    }

    public Plant plant() {
        return plant;
    }

    public int injectionPort() {
        return port("injection");
    }

    public int microPort() {
        return port(BreakerStandIns.MICRO);
    }

    /** Where the communication port of the relays listens. */
    public int relayPort() {
        return relayPort.port();
    }

    private int port(String line) {
        return Objects.requireNonNull(servers.get(line)).port();
    }

    @Override
    public Map<String, ScpiServer> lines() {
        return Map.copyOf(servers);
    }

    @Override
    public List<String> commands() {
        return List.of(
                "slow LABEL FACTOR",
                "low LABEL FACTOR",
                "delay LABEL FACTOR",
                "recloser LABEL fast|delayed|pickup|sticks|past VALUE",
                "switching POSITION friction|damper|lagA|lagB|lagC VALUE",
                "residual POSITION share|slow|sticks|earth VALUE",
                "relay POSITION pickup|slow|turned|slope|setting|multiplier|angle|difference|restraint VALUE",
                "contact LABEL FACTOR",
                "poor LABEL MILLIOHMS",
                "open LABEL on|off",
                "lead LABEL TRUE-LABEL");
    }

    @Override
    public StandInFamily.Effect command(String[] words) {
        switch (words[0]) {
            case "slow" -> plant.slowness(words[1], Words.within(words[2], 0.01, 100));
            case "recloser" -> plant.recloser(words[1], words[2], Words.within(words[3], 0, 100));
            case "switching" -> plant.switching(words[1], words[2], Words.within(words[3], 0, 20));
            case "residual" -> plant.residual(words[1], words[2], Words.within(words[3], 0, 5000));
            case "relay" -> plant.relay(words[1], words[2], Words.within(words[3], -180, 180));
            case "delay" -> plant.delay(words[1], Words.within(words[2], 0.1, 10));
            case "low" -> plant.magnet(words[1], Words.within(words[2], 0.1, 3));
            case "contact" -> plant.contact(words[1], Words.within(words[2], 0.01, 100));
            case "poor" -> plant.poor(words[1], Words.within(words[2], 0, 1e6));
            case "open" -> plant.open(words[1], Words.on(words[2]));
            case "lead" -> plant.lead(words[1], words[2]);
            default -> {
                return StandInFamily.Effect.NOT_OURS;
            }
        }
        boolean aged = List.of("slow", "low", "delay", "contact", "recloser", "switching", "residual", "relay")
                .contains(words[0]);
        return aged ? StandInFamily.Effect.CHANGED : StandInFamily.Effect.DONE;
    }

    /** Insulation falls by half every 10 K (what apparatus is taken to do): it is kept at 20 degC. */
    @Override
    public @Nullable Double shows(String role, String label, double temperature) {
        if (role.equals("operations-counter")) {
            return plant.counter(label.contains(":") ? label.substring(0, label.indexOf(':')) : label);
        }
        Double megohms = role.equals("insulation-tester") ? plant.megohms(label) : null;
        return megohms == null ? null : (Double) (1e6 * megohms * Math.pow(2, (20 - temperature) / 10));
    }

    @Override
    public @Nullable String repaired(String label) {
        String phase = label.contains(".") ? label.substring(0, label.lastIndexOf('.')) : label;
        if (plant.hasPhase(phase)) {
            plant.recloser(phase, "fast", 1.01);
            plant.recloser(phase, "delayed", 1.01);
            plant.recloser(phase, "pickup", 1);
            plant.recloser(phase, "sticks", 0);
            return "Timing piston cleaned and adjusted, oil changed";
        }
        MvBreakers.MvBreaker breaker = plant.switching(label);
        if (breaker != null) {
            plant.switching(breaker.position(), "friction", 1.02);
            plant.switching(breaker.position(), "damper", 1);
            for (String lag : List.of("lagA", "lagB", "lagC")) {
                plant.switching(breaker.position(), lag, 0.3);
            }
            return "Latches cleaned and greased, poles adjusted to one another";
        }
        ResidualDevices.ResidualDevice device = plant.residual(label);
        if (device != null) {
            plant.residual(device.position(), "share", 0.7);
            plant.residual(device.position(), "slow", 1);
            plant.residual(device.position(), "sticks", 0);
            return "Device exchanged for one of the same kind";
        }
        Relays.Relay relay = plant.relay(label);
        if (relay != null) {
            plant.relay(relay.position(), "pickup", 1);
            plant.relay(relay.position(), "turned", 0);
            return "Input calibrated, voltage phases put right";
        }
        if (!plant.has(label)) {
            return null;
        }
        plant.slowness(label, 1.02);
        plant.magnet(label, 1);
        plant.delay(label, 1);
        return "Mechanism exercised ten times, latch cleaned and greased";
    }

    @Override
    public Fleet now(Fleet fleet) {
        return fleet.with(
                Breakers.FAMILY,
                new Breakers.Truth(
                        plant.breakers(), plant.reclosers(), plant.switching(), plant.residual(), plant.relays()));
    }

    @Override
    public void factor(double factor) {
        injection.factor(factor);
        micro.factor(factor);
        analyser.factor(factor);
        residual.factor(factor);
        relaySet.factor(factor);
    }

    @Override
    public void emergency(boolean pressed) {
        injection.emergency(pressed);
        micro.emergency(pressed);
        analyser.emergency(pressed);
        residual.emergency(pressed);
        relaySet.emergency(pressed);
    }

    @Override
    public void close() throws IOException {
        relayPort.close();
        for (ScpiServer server : servers.values()) {
            server.close();
        }
    }
}
