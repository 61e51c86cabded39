package org.juratest.server.run;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.RfPath;
import org.juratest.core.procedure.LaneSet;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Near;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.register.PlateSchema;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;

/**
 * What a device says of itself beside what the register says of it; and whether what it covers lies inside the path
 * loss table.
 */
final class DeviceCheck {

    private DeviceCheck() {}

    /**
     * One fact.
     *
     * @param what in words
     * @param register as the register has it; absent where it has nothing
     * @param device as the device says it; absent where it says nothing
     * @param field of the register that can take it over; absent where none can
     */
    record Compared(
            String what, @Nullable String register, @Nullable String device, boolean same, @Nullable String field) {}

    static List<Compared> compared(RunState state) {
        RunEvents.DeviceIdentity device = state.device();
        List<Compared> facts = new ArrayList<>();
        if (device == null) {
            return facts;
        }
        AssetFacts asset = state.opened().asset();
        facts.add(of("Maker", asset.maker(), device.maker(), null));
        facts.add(of("Model", asset.model(), device.model(), null));
        facts.add(of("Serial number", asset.serial(), device.serial(), null));
        facts.add(of(
                "Firmware",
                asset.nameplate().texts().get("firmware"),
                device.firmware(),
                PlateSchema.PREFIX + "firmware"));
        if (device.configuration() != null) {
            facts.add(of(
                    "Configuration",
                    asset.nameplate().texts().get("configuration"),
                    device.configuration(),
                    PlateSchema.PREFIX + "configuration"));
        }
        for (Map.Entry<String, String> lane : lanes(state).entrySet()) {
            RunEvents.DeviceSpan own = device.spans().stream()
                    .filter(b -> b.lane().equals(lane.getKey()))
                    .findFirst()
                    .orElse(null);
            facts.add(of(
                    lane.getValue(),
                    span(asset.nameplate(), lane.getKey()),
                    own == null ? null : span(own.low(), own.high(), unit(asset.nameplate(), lane.getKey())),
                    null));
        }
        device.spans().stream()
                .filter(b -> !lanes(state).containsKey(b.lane()))
                .forEach(b -> facts.add(of(
                        b.lane().toUpperCase(Locale.ROOT),
                        null,
                        span(b.low(), b.high(), unit(asset.nameplate(), b.lane())),
                        null)));
        return facts;
    }

    private static Compared of(
            String what, @Nullable String register, @Nullable String device, @Nullable String field) {
        return new Compared(
                what, register, device, device != null && device.equalsIgnoreCase(String.valueOf(register)), field);
    }

    private static Map<String, String> lanes(RunState state) {
        Map<String, String> lanes = new java.util.LinkedHashMap<>();
        for (LaneSet set : state.procedure().laneSets().values()) {
            set.lanes().stream()
                    .filter(l -> l.ifRated() != null)
                    .forEach(l -> lanes.put(
                            l.id(),
                            set.label().substring(0, 1).toUpperCase(Locale.ROOT)
                                    + set.label().substring(1) + " " + l.label()));
        }
        return lanes;
    }

    private static @Nullable String span(Nameplate plate, String lane) {
        OptionalDouble low = plate.base(lane + "Low");
        OptionalDouble high = plate.base(lane + "High");
        return low.isPresent() && high.isPresent()
                ? span(low.getAsDouble(), high.getAsDouble(), unit(plate, lane))
                : null;
    }

    /** Unit that spans are told in: the plate's, on that lane or else on any; absent where it has no span at all. */
    private static @Nullable Unit unit(Nameplate plate, String lane) {
        Quantity own = plate.ratings().get(lane + "Low");
        return own != null
                ? own.unit()
                : plate.ratings().entrySet().stream()
                        .filter(r -> r.getKey().endsWith("Low"))
                        .map(r -> r.getValue().unit())
                        .findFirst()
                        .orElse(null);
    }

    /** @param low in the base unit of the dimension; likewise {@code high} */
    private static String span(double low, double high, @Nullable Unit unit) {
        double factor = unit == null ? 1 : unit.factor();
        return figure(low / factor) + " to " + figure(high / factor) + (unit == null ? "" : " " + unit.symbol());
    }

    private static String figure(double value) {
        double rounded = Math.rint(value);
        return Near.equal(rounded, value)
                ? String.format(Locale.ROOT, "%.0f", rounded)
                : String.format(Locale.ROOT, "%.4f", value);
    }

    /** Lanes that reach beyond what is known of the lead. */
    static List<String> cautions(RunState state) {
        List<String> cautions = new ArrayList<>();
        for (GearFacts gear : state.gear()) {
            RfPath path = gear.path();
            if (path != null) {
                lanes(state).forEach((lane, label) -> {
                    OptionalDouble low = state.opened().asset().nameplate().base(lane + "Low");
                    OptionalDouble high = state.opened().asset().nameplate().base(lane + "High");
                    if (low.isPresent()
                            && high.isPresent()
                            && !(path.loss().covers(low.getAsDouble())
                                    && path.loss().covers(high.getAsDouble()))) {
                        cautions.add(label + " reaches beyond the path loss table of " + gear.name()
                                + ". Characterise it there first, or the nearest value is taken.");
                    }
                });
            }
        }
        return cautions;
    }
}
