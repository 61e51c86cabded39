package org.juratest.simulators.family.breakers;

import java.io.IOException;
import java.util.List;
import org.juratest.simulators.Ports;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;

/**
 * An injection set, a micro-ohmmeter, an analyser, a tester of residual currents and a relay test set, with the
 * breakers of the valley behind them.
 */
public final class BreakerStandIns implements StandInFamily {

    static final String SOURCE = "current-source";
    static final String MICRO = "micro-ohmmeter";
    static final String ANALYSER = "breaker-analyser";
    static final String RESIDUAL = "residual-tester";
    static final String RELAY = "relay-test-set";
    static final String RELAY_PORT = "relay-data-port";

    @Override
    public String id() {
        return Breakers.FAMILY;
    }

    @Override
    public FleetPart part(Ground ground) {
        return BreakerFleet.of(ground);
    }

    @Override
    public List<String> roles() {
        return List.of(SOURCE, MICRO, ANALYSER, RESIDUAL, RELAY, RELAY_PORT);
    }

    @Override
    public Running start(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException {
        return new StandIns(fleet, ports, log, changed);
    }
}
