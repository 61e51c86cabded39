package org.juratest.simulators.fleet;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * What a family brings to the valley; see {@link Fleet} for the parts.
 *
 * @param truth how its devices behave, as its stand-ins read it; absent where it has none
 */
public record FleetPart(
        List<Fleet.Gear> gear,
        List<Fleet.Device> devices,
        Map<String, List<Fleet.PastTest>> past,
        Map<String, Map<String, List<Double>>> drifts,
        @Nullable Object truth) {

    /** Nothing. */
    public static final FleetPart NONE = new FleetPart(List.of(), List.of(), Map.of(), Map.of(), null);
}
