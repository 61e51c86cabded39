package org.juratest.instruments;

import java.util.Map;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.TreeMap;

/** The drivers there are, whichever families bring them. */
public final class Drivers {

    private static final Map<String, DriverFactory> ALL = found();

    private Drivers() {}

    private static Map<String, DriverFactory> found() {
        Map<String, DriverFactory> all = new TreeMap<>();
        ServiceLoader.load(DriverFamily.class, Drivers.class.getClassLoader())
                .forEach(family -> family.drivers().forEach(driver -> {
                    if (all.put(driver.id(), driver) != null) {
                        throw new IllegalStateException("two drivers are called \"" + driver.id() + "\"");
                    }
                }));
        return Map.copyOf(all);
    }

    /** A driver by the id that gear in the register names. */
    public static Optional<DriverFactory> byId(String id) {
        return Optional.ofNullable(ALL.get(id));
    }

    /** The driver for gear of a role; empty if there is none, or more than one. */
    public static Optional<DriverFactory> forRole(String role) {
        return ALL.values().stream().filter(d -> d.roles().contains(role)).reduce((a, b) -> null);
    }
}
