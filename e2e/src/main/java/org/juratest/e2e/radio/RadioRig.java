package org.juratest.e2e.radio;

import java.io.IOException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.correction.RfPath;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.e2e.rig.GearRig;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.radios.RadioStandIns;
import org.juratest.simulators.fleet.Fleet;

/** A run on a radio of the valley. */
public final class RadioRig extends GearRig {

    private static final RfPath PATH = new RfPath(
            new PathLoss(List.of(
                    new PathLoss.LossPoint(136, 30.18),
                    new PathLoss.LossPoint(174, 30.22),
                    new PathLoss.LossPoint(400, 30.35),
                    new PathLoss.LossPoint(470, 30.39))),
            50);

    private final RadioStandIns standIns;

    /**
     * Opens a run.
     *
     * @param procedure name of its file among the shipped ones, without the ending
     * @param factor how much faster than the clock the stand-ins go
     */
    public RadioRig(String position, String procedure, double factor) throws IOException {
        this(position, procedure, factor, PATH);
    }

    /** Likewise, with a lead of one's own. */
    public RadioRig(String position, String procedure, double factor, RfPath path) throws IOException {
        standIns = new RadioStandIns(FLEET, 0, 0, 0, StandInLog.none(), () -> {});
        standIns.factor(factor);
        Fleet.Device device = device(position);
        Map<String, Quantity> ratings = new TreeMap<>();
        Map<String, String> units = new HashMap<>(Map.of(
                "channelSpacing",
                "kHz",
                "microphone",
                "mV",
                "subTone",
                "Hz",
                "outerDeviation",
                "Hz",
                "antennaLine",
                "m"));
        device.plate().forEach((key, value) -> {
            String unit =
                    key.endsWith("Low") || key.endsWith("High") ? "MHz" : key.endsWith("Power") ? "W" : units.get(key);
            if (unit != null) {
                ratings.put(key, Quantity.of(Double.parseDouble(value), unit));
            }
        });
        open(device, "radios/procedures/" + procedure, new Nameplate(ratings, Map.of()), path);
    }

    /** The stand-ins, to be given faults. */
    public RadioStandIns standIns() {
        return standIns;
    }

    @Override
    protected int port(String role) {
        return switch (role) {
            case "radio-test-set" -> standIns.setPort();
            case "radio-data-port" -> standIns.dataPort();
            default -> standIns.secondPort();
        };
    }

    @Override
    public void close() throws IOException {
        standIns.close();
    }
}
