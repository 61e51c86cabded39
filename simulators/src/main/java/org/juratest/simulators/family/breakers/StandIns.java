package org.juratest.simulators.family.breakers;

import java.io.IOException;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.scpi.ScpiServer;

/** The gear of the demo with the plant behind it, listening. */
public final class StandIns implements AutoCloseable {

    private final Plant plant;
    private final InjectionSet injection;
    private final MicroOhmmeter micro;
    private final ScpiServer injectionServer;
    private final ScpiServer microServer;

    /** @param injectionPort 0 for any free one; likewise the micro-ohmmeter's */
    public StandIns(Fleet fleet, int injectionPort, int microPort, StandInLog log) throws IOException {
        plant = new Plant(fleet);
        injection = new InjectionSet("BR-3317", plant, log);
        micro = new MicroOhmmeter("BR-0825", plant, log);
        injectionServer = new ScpiServer("injection", injection, injectionPort, log);
        microServer = new ScpiServer("micro-ohmmeter", micro, microPort, log);
    }

    public Plant plant() {
        return plant;
    }

    public int injectionPort() {
        return injectionServer.port();
    }

    public int microPort() {
        return microServer.port();
    }

    /**
     * The line of a gear.
     *
     * @throws IllegalArgumentException if there is no such gear
     */
    public ScpiServer line(String gear) {
        return switch (gear) {
            case "injection" -> injectionServer;
            case "micro-ohmmeter" -> microServer;
            default ->
                throw new IllegalArgumentException("there is no gear \"" + gear
                        + "\"; injection, micro-ohmmeter, radio-test-set, data-port or second-generator");
        };
    }

    public void factor(double factor) {
        injection.factor(factor);
        micro.factor(factor);
    }

    public double factor() {
        return injection.factor();
    }

    public void emergency(boolean pressed) {
        injection.emergency(pressed);
        micro.emergency(pressed);
    }

    @Override
    public void close() throws IOException {
        injectionServer.close();
        microServer.close();
    }
}
