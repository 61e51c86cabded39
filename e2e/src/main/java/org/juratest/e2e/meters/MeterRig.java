package org.juratest.e2e.meters;

import java.io.IOException;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.e2e.rig.GearRig;
import org.juratest.simulators.Ports;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.meters.MeterFamily;
import org.juratest.simulators.fleet.Fleet;

/** A run on a measuring installation or a transformer of the valley. */
public final class MeterRig extends GearRig {

    private static final Map<String, String> UNITS = Map.ofEntries(
            Map.entry("ratedVoltage", "V"),
            Map.entry("phaseVoltage", "V"),
            Map.entry("meterConstant", "/(kW.h)"),
            Map.entry("reactiveConstant", "/(kvar.h)"),
            Map.entry("demandInterval", "min"),
            Map.entry("primaryVoltage", "kV"),
            Map.entry("secondaryVoltage", "V"),
            Map.entry("ctBurden", "V.A"),
            Map.entry("burden", "V.A"),
            Map.entry("vtPrimary", "kV"),
            Map.entry("vtSecondary", "V"),
            Map.entry("highestVoltage", "kV"),
            Map.entry("securityFactor", "1"));
    private static final Set<String> TEXTS =
            Set.of("accuracyClass", "service", "connection", "testBlock", "site", "seals", "form");

    private final StandInFamily.Running standIns;

    /**
     * Opens a run.
     *
     * @param procedure name of its file among the shipped ones, without the ending
     * @param factor how much faster than the clock the stand-ins go
     */
    public MeterRig(String position, String procedure, double factor) throws IOException {
        standIns = new MeterFamily().start(FLEET, Ports.any(), StandInLog.none(), () -> {});
        standIns.factor(factor);
        Fleet.Device device = device(position);
        Map<String, Quantity> ratings = new TreeMap<>();
        Map<String, String> texts = new TreeMap<>();
        device.plate().forEach((key, value) -> {
            if (TEXTS.contains(key)) {
                texts.put(key, value);
            } else {
                ratings.put(key, Quantity.of(Double.parseDouble(value), UNITS.getOrDefault(key, "A")));
            }
        });
        open(device, "meters/procedures/" + procedure, new Nameplate(ratings, texts), null);
    }

    /** A command of the control line, such as {@code meter PRA-MET-05 creep 45}. */
    public void control(String... words) {
        standIns.command(words);
    }

    @Override
    protected int port(String role) {
        return Objects.requireNonNull(standIns.lines().get(role)).port();
    }

    @Override
    public void close() throws IOException {
        standIns.close();
    }
}
