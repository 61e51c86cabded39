package org.juratest.e2e.fibre;

import java.io.IOException;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.e2e.rig.GearRig;
import org.juratest.simulators.Ports;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.fibre.FibreStandIns;
import org.juratest.simulators.fleet.Fleet;

/** A run on a fibre link or a multi-fibre cable of the valley. */
public final class FibreRig extends GearRig {

    private static final Map<String, String> UNITS = Map.of(
            "fibres",
            "1",
            "length",
            "km",
            "wavelength",
            "nm",
            "lossBudget",
            "dB",
            "index1310",
            "1",
            "index1550",
            "1",
            "insertionLoss",
            "dB",
            "returnLoss",
            "dB");

    private final StandInFamily.Running standIns;

    /**
     * Opens a run.
     *
     * @param procedure name of its file among the shipped ones, without the ending
     * @param factor how much faster than the clock the stand-ins go
     */
    public FibreRig(String position, String procedure, double factor) throws IOException {
        standIns = new FibreStandIns().start(FLEET, Ports.any(), StandInLog.none(), () -> {});
        standIns.factor(factor);
        Fleet.Device device = device(position);
        Map<String, Quantity> ratings = new TreeMap<>();
        Map<String, String> texts = new TreeMap<>();
        device.plate().forEach((key, value) -> {
            String unit = key.equals("length") && device.assetClass().equals("fibre-cable") ? "m" : UNITS.get(key);
            if (unit == null) {
                texts.put(key, value);
            } else {
                ratings.put(key, Quantity.of(Double.parseDouble(value), unit));
            }
        });
        open(device, "fibre/procedures/" + procedure, new Nameplate(ratings, texts), null);
    }

    /** Wipes an end face: {@code PRA-FIB-01:6} or, at the far end, {@code PRA-FIB-01:6:far}. */
    public void wipe(String end) {
        standIns.command(new String[] {"fibre-clean", end});
    }

    /** A command of the control line, such as {@code fibre-focus 3}. */
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
