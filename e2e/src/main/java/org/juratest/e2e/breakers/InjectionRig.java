package org.juratest.e2e.breakers;

import java.io.IOException;
import java.io.InputStream;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.curve.CurveLibrary;
import org.juratest.core.limit.Envelope;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.e2e.rig.GearRig;
import org.juratest.formats.curve.CurveJson;
import org.juratest.simulators.Ports;
import org.juratest.simulators.StandInFamily;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.breakers.BreakerStandIns;
import org.juratest.simulators.family.breakers.StandIns;
import org.juratest.simulators.fleet.Fleet;

/** A run on a breaker or a recloser of the valley, whatever its voltage. */
public final class InjectionRig extends GearRig {

    private static final Map<String, String> UNITS = Map.ofEntries(
            Map.entry("ratedVoltage", "V"),
            Map.entry("longTimeDelay", "s"),
            Map.entry("shortTimeDelay", "s"),
            Map.entry("poles", "1"),
            Map.entry("breakingCurrent", "kA"),
            Map.entry("openingTime", "ms"),
            Map.entry("closingTime", "ms"),
            Map.entry("controlVoltage", "V"),
            Map.entry("timeMultiplier", "1"),
            Map.entry("characteristicAngle", "1"),
            Map.entry("differentialSlope", "%"));
    private static final Map<String, String> LINES = Map.of("current-source", "injection");

    private final StandInFamily.Running standIns;
    private final double factor;

    /**
     * Opens a run.
     *
     * @param procedure name of its file among the shipped ones, without the ending
     * @param factor how much faster than the clock the stand-ins go
     */
    public InjectionRig(String position, String procedure, double factor) throws IOException {
        standIns = new BreakerStandIns().start(FLEET, Ports.any(), StandInLog.none(), () -> {});
        this.factor = factor;
        standIns.factor(factor);
        Fleet.Device device = device(position);
        Map<String, Quantity> ratings = new TreeMap<>();
        Map<String, String> texts = new TreeMap<>();
        device.plate().forEach((key, value) -> {
            String[] words = value.split(" ");
            if (words[0].matches("[0-9.]+")) {
                String unit = words.length > 1 ? words[1] : UNITS.getOrDefault(key, "A");
                ratings.put(key, Quantity.of(Double.parseDouble(words[0]), unit));
            } else {
                texts.put(key, value);
            }
        });
        Nameplate plate = new Nameplate(ratings, texts);
        open(device, "breakers/procedures/" + procedure, plate, null, curve(device, plate));
    }

    /** Null where no curve of its model is known. */
    private static @Nullable Envelope curve(Fleet.Device device, Nameplate plate) throws IOException {
        try (InputStream in =
                Objects.requireNonNull(InjectionRig.class.getResourceAsStream("/families/breakers/curves.json"))) {
            return new CurveLibrary(CurveJson.read(in.readAllBytes()))
                    .byNameplate(device.maker(), device.model())
                    .map(c -> c.bandFor(plate.bases()))
                    .orElse(null);
        }
    }

    /** Nobody does anything for some time of the stand-ins: what has to reset by itself does. */
    public void rests(double seconds) {
        try {
            Thread.sleep((long) (seconds / factor * 1000) + 20);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    /** A command of the control line, such as {@code slow MFR-CBK-07:B 1.8}. */
    public void control(String... words) {
        standIns.command(words);
    }

    @Override
    protected int port(String role) {
        if (role.equals("relay-data-port")) {
            return ((StandIns) standIns).relayPort();
        }
        return Objects.requireNonNull(standIns.lines().get(LINES.getOrDefault(role, role)))
                .port();
    }

    @Override
    public void close() throws IOException {
        standIns.close();
    }
}
