package org.juratest.instruments.scpi;

import java.util.Optional;
import org.juratest.core.port.Energising;

/** Drivers by the role of gear. */
public final class ScpiDrivers {

  private ScpiDrivers() {
  }

  /** A driver for gear of a role at an address; empty if the role is not one that is remotely controlled. Does not connect. */
  public static Optional<Energising> forRole(String role, String host, int port) {
    return switch (role) {
      case "current-source" -> Optional.of(new ScpiInjectionSet(host, port));
      case "micro-ohmmeter" -> Optional.of(new ScpiMicroOhmmeter(host, port));
      default -> Optional.empty();
    };
  }
}
