package org.juratest.simulators.family.meters;

import java.io.IOException;
import java.util.List;
import org.juratest.simulators.Ports;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;

/** A reference standard, a source, a burden set, an analyser of transformers and an adapter for reading meters. */
public final class MeterFamily implements StandInFamily {

    static final String REFERENCE = "reference-standard";
    static final String SOURCE = "load-source";
    static final String BURDEN = "burden-set";
    static final String ANALYSER = "transformer-analyser";
    static final String PORT = "meter-port";

    @Override
    public String id() {
        return Installations.FAMILY;
    }

    @Override
    public FleetPart part(Ground ground) {
        return MeterFleet.of(ground);
    }

    @Override
    public List<String> roles() {
        return List.of(REFERENCE, SOURCE, BURDEN, ANALYSER, PORT);
    }

    @Override
    public Running start(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException {
        return new MeterStandIns(fleet, ports, log, changed);
    }
}
