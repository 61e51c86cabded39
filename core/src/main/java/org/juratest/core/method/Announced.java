package org.juratest.core.method;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.Announcement;

/**
 * What a method says of its own part of an announcement; the engine adds what gear, lead and site bear.
 *
 * @param what in words: current or voltage, for how long, where
 * @param settings by name, for people; one that bears the name of a bound is held against it before it is armed
 * @param bounds of every set-point that the method uses
 * @param outputs ports it switches on
 * @param longest how long an output is on without a break at most, s in the gear's time
 */
public record Announced(
        String what,
        Map<String, Quantity> settings,
        List<Announcement.Bound> bounds,
        Set<Class<?>> outputs,
        double longest) {
    public Announced {
        settings = Map.copyOf(settings);
        bounds = List.copyOf(bounds);
        outputs = Set.copyOf(outputs);
    }
}
