package org.juratest.simulators.family.radios;

import java.io.IOException;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.scpi.ScpiServer;

/** Test set, data port and a second generator with the radios behind them, listening. */
public final class RadioStandIns implements AutoCloseable {

    private final RadioBench bench;
    private final RadioTestSet set;
    private final SecondGenerator second;
    private final DataPort port;
    private final ScpiServer setServer;
    private final ScpiServer portServer;
    private final ScpiServer secondServer;

    /**
     * @param setPort 0 for any free one; likewise the data port's and the second generator's
     * @param changed told when a radio's setting was changed
     */
    public RadioStandIns(Fleet fleet, int setPort, int dataPort, int secondPort, StandInLog log, Runnable changed)
            throws IOException {
        bench = new RadioBench(fleet);
        set = new RadioTestSet("OB-1180", bench, log);
        second = new SecondGenerator("OB-3021", bench, log);
        port = new DataPort("OB-2207", bench, log, changed::run);
        setServer = new ScpiServer("radio-test-set", set, setPort, log);
        portServer = new ScpiServer("data-port", port, dataPort, log);
        secondServer = new ScpiServer("second-generator", second, secondPort, log);
    }

    public RadioBench bench() {
        return bench;
    }

    public int setPort() {
        return setServer.port();
    }

    public int dataPort() {
        return portServer.port();
    }

    public int secondPort() {
        return secondServer.port();
    }

    /** The line of one of them; null if it is none of these. */
    public @org.jspecify.annotations.Nullable ScpiServer line(String gear) {
        return switch (gear) {
            case "radio-test-set" -> setServer;
            case "data-port" -> portServer;
            case "second-generator" -> secondServer;
            default -> null;
        };
    }

    public void factor(double factor) {
        set.factor(factor);
        second.factor(factor);
        port.factor(factor);
    }

    public void emergency(boolean pressed) {
        set.emergency(pressed);
        second.emergency(pressed);
    }

    @Override
    public void close() throws IOException {
        setServer.close();
        portServer.close();
        secondServer.close();
    }
}
