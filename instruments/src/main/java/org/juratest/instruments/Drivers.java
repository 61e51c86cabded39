package org.juratest.instruments;

import java.util.Optional;
import org.juratest.core.port.Energising;
import org.juratest.instruments.family.breakers.ScpiInjectionSet;
import org.juratest.instruments.family.breakers.ScpiMicroOhmmeter;
import org.juratest.instruments.family.radios.RadioDataPort;
import org.juratest.instruments.family.radios.ScpiRadioTester;
import org.juratest.instruments.family.radios.ScpiSignalGenerator;

/** Drivers by the role of gear. */
public final class Drivers {

    private Drivers() {}

    /**
     * A driver for gear of a role at an address; empty if the role is not one that is remotely controlled. Does not
     * connect.
     */
    public static Optional<Energising> forRole(String role, String host, int port) {
        return switch (role) {
            case "current-source" -> Optional.of(new ScpiInjectionSet(host, port));
            case "micro-ohmmeter" -> Optional.of(new ScpiMicroOhmmeter(host, port));
            case "radio-test-set" -> Optional.of(new ScpiRadioTester(host, port));
            case "second-generator" -> Optional.of(new ScpiSignalGenerator(host, port));
            case "radio-data-port" -> Optional.of(new RadioDataPort(host, port));
            default -> Optional.empty();
        };
    }
}
