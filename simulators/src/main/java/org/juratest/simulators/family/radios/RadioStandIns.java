package org.juratest.simulators.family.radios;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.Words;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.scpi.ScpiServer;

/** Test set, data port and a second generator with the radios behind them, listening. */
public final class RadioStandIns implements StandInFamily.Running {

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

    @Override
    public Map<String, ScpiServer> lines() {
        return Map.of("radio-test-set", setServer, "data-port", portServer, "second-generator", secondServer);
    }

    @Override
    public List<String> commands() {
        return List.of("radio POSITION FAULT VALUE", "radio-lead POSITION TRUE-POSITION", "antenna POSITION on|off");
    }

    @Override
    public StandInFamily.Effect command(String[] words) {
        switch (words[0]) {
            case "radio" -> bench.fault(words[1], words[2], Words.within(words[3], -100, 100));
            case "radio-lead" -> bench.lead(words[1], words[2]);
            case "antenna" -> bench.antennaOff(words[1], !Words.on(words[2]));
            default -> {
                return StandInFamily.Effect.NOT_OURS;
            }
        }
        return StandInFamily.Effect.DONE;
    }

    @Override
    public Fleet now(Fleet fleet) {
        return fleet.with(Radios.FAMILY, bench.truths(Radios.of(fleet)));
    }

    @Override
    public void factor(double factor) {
        set.factor(factor);
        second.factor(factor);
        port.factor(factor);
    }

    @Override
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
