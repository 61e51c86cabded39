package org.juratest.instruments;

import java.util.Set;
import org.juratest.core.port.Port;

/** Makes a driver for one kind of gear; found by {@link java.util.ServiceLoader}. */
public interface DriverFactory {

    /** Id that gear in the register names, such as {@code scpi-generator}; never changes once used. */
    String id();

    /** Roles in procedures that gear of this driver can take. */
    Set<String> roles();

    /** A driver for gear at an address. Does not connect. */
    Port open(String host, int port);
}
