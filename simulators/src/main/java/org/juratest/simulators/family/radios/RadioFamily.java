package org.juratest.simulators.family.radios;

import java.io.IOException;
import java.util.List;
import org.juratest.simulators.Ports;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;

/** A radio test set, a data port and a second generator, with the radios of the valley behind them. */
public final class RadioFamily implements StandInFamily {

    private static final String SET = "radio-test-set";
    private static final String DATA = "radio-data-port";
    private static final String SECOND = "second-generator";

    @Override
    public String id() {
        return Radios.FAMILY;
    }

    @Override
    public FleetPart part(Ground ground) {
        return RadioGenerator.of(ground);
    }

    @Override
    public List<String> roles() {
        return List.of(SET, DATA, SECOND);
    }

    @Override
    public Running start(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException {
        return new RadioStandIns(fleet, ports.of(SET), ports.of(DATA), ports.of(SECOND), log, changed);
    }
}
