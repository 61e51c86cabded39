package org.juratest.instruments;

import java.util.Set;
import java.util.function.BiFunction;
import org.juratest.core.port.Port;

/**
 * A driver as data, for families whose drivers take nothing but an address.
 *
 * @param opens host and port to a port that is not connected yet
 */
public record Driver(String id, Set<String> roles, BiFunction<String, Integer, Port> opens) implements DriverFactory {

    public Driver {
        roles = Set.copyOf(roles);
    }

    @Override
    public Port open(String host, int port) {
        return opens.apply(host, port);
    }
}
