package org.juratest.simulators.family.meters;

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
import org.juratest.simulators.scpi.LineGear;
import org.juratest.simulators.scpi.ScpiServer;
import org.juratest.simulators.scpi.Watched;

/** The gear for meters and transformers with what it is connected to, listening. */
public final class MeterStandIns implements StandInFamily.Running {

    private final Site site;
    private final Source source;
    private final MeterAdapter adapter;
    private final List<Watched> gear;
    private final Map<String, ScpiServer> servers = new LinkedHashMap<>();

    /** @param changed called when a device was changed over a line */
    public MeterStandIns(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException {
        site = new Site(fleet);
        source = new Source("BR-6120", site, log);
        gear = List.of(
                new Reference("BR-6012", site, log),
                source,
                new BurdenSource("BR-6033", site, log),
                new Analyser("BR-6208", site, log, changed));
        for (Watched one : gear) {
            listens(one.name(), one, ports, log);
        }
        adapter = new MeterAdapter("BR-7031", site);
        listens(MeterFamily.PORT, adapter, ports, log);
    }

    private void listens(String role, LineGear one, Ports ports, StandInLog log) throws IOException {
        servers.put(role, new ScpiServer(role, one, ports.of(role), log));
    }

    /** Where the gear of a role listens. */
    public int port(String role) {
        return Objects.requireNonNull(servers.get(role)).port();
    }

    @Override
    public Map<String, ScpiServer> lines() {
        return Map.copyOf(servers);
    }

    @Override
    public List<String> commands() {
        return List.of(
                "meter POSITION full|light|inductive|creep|starts|reactive|dial|missing|amperes|lag VALUE",
                "meter POSITION:PHASE ratio|error|resistance|load|knee|reversed|magnetised|drop|vtLoad VALUE",
                "contact-in on|off");
    }

    @Override
    public StandInFamily.Effect command(String[] words) {
        switch (words[0]) {
            case "meter" -> site.fault(words[1], words[2], Words.within(words[3], -1000, 1e6));
            case "contact-in" -> {
                source.contact(Words.on(words[1]));
                return StandInFamily.Effect.DONE;
            }
            default -> {
                return StandInFamily.Effect.NOT_OURS;
            }
        }
        return StandInFamily.Effect.CHANGED;
    }

    /** Whoever corrects an installation puts its wiring right; a meter that errs is exchanged. */
    @Override
    public @Nullable String repaired(String label) {
        Installations.Installation at = site.installation(label);
        if (at == null) {
            return null;
        }
        boolean wired = at.missing() > 0;
        for (int k = 0; k < at.transformers().size(); k++) {
            if (at.transformers().get(k).reversed()) {
                at = at.transformer(k, at.transformers().get(k).with("reversed", 0));
                wired = true;
            }
        }
        Installations.MeterTruth good = new Installations.MeterTruth(0.05, 0.1, 0.05, 0, 0.0005, 0.2, 0);
        site.change(wired ? at.missing(0) : at.meter(good));
        return wired
                ? "Wiring put right at the test block, secondaries shorted meanwhile"
                : "Meter exchanged for one of the same kind";
    }

    @Override
    public Fleet now(Fleet fleet) {
        return fleet.with(Installations.FAMILY, site.truth());
    }

    @Override
    public void factor(double factor) {
        gear.forEach(g -> g.factor(factor));
        adapter.factor(factor);
    }

    @Override
    public void emergency(boolean pressed) {
        gear.forEach(g -> g.emergency(pressed));
    }

    @Override
    public void close() throws IOException {
        for (ScpiServer server : servers.values()) {
            server.close();
        }
    }
}
