package org.juratest.instruments.scpi;

import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.port.GearIdentity;
import org.juratest.core.run.ReadBack;

/** What all SCPI gear with an output shares: label, watchdog, output, safety. */
abstract class ScpiOutput implements Energising {

  /** How often, and how far apart, control of gear is asked for that another connection may only just have let go of. */
  private static final int HANDOVER_TRIES = 10;
  private static final long HANDOVER_MILLIS = 50;

  private final ScpiConnection connection;

  ScpiOutput(String host, int port) {
    this.connection = new ScpiConnection(host, port);
  }

  final ScpiConnection connection() {
    return connection;
  }

  @Override
  public GearIdentity identify() {
    connection.open();
    return GearIdentity.parse(connection.query("*IDN?"));
  }

  @Override
  public void connectTo(String label) {
    if (label.indexOf('"') >= 0 || label.indexOf('\n') >= 0) {
      throw new IllegalArgumentException("a label has no quotes and no line ends");
    }
    patiently("ROUT:LAB \"" + label + "\"");
  }

  /** Gives a command that switches nothing on, again where gear has not seen yet that the controller before us has hung up. */
  private void patiently(String command) {
    for (int tries = 1; ; tries++) {
      try {
        connection.command(command);
        return;
      } catch (GearException e) {
        if (e.fault() != GearException.Fault.REFUSED || tries == HANDOVER_TRIES) {
          throw e;
        }
        pause();
      }
    }
  }

  private static void pause() {
    try {
      Thread.sleep(HANDOVER_MILLIS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new GearException(GearException.Fault.LOST, "the program is stopping", e);
    }
  }

  @Override
  public void watchdog(double seconds) {
    connection.command("SYST:WDOG " + seconds);
  }

  @Override
  public void feedWatchdog() {
    connection.command("SYST:WDOG:FEED");
  }

  @Override
  public void outputOn() {
    connection.command("OUTP ON");
  }

  @Override
  public double timeFactor() {
    double factor = connection.numbers("SYST:TIME:FACT?", 1)[0];
    if (!(factor > 0 && factor <= Double.MAX_VALUE)) {
      throw ScpiConnection.garbled("SYST:TIME:FACT?", String.valueOf(factor));
    }
    return factor;
  }

  @Override
  public ReadBack makeSafe() {
    ReadBack first = offAndReadBack();
    // One more try over a fresh connection: the first may have failed because the old one was already dead.
    return first.off() ? first : offAndReadBack();
  }

  private ReadBack offAndReadBack() {
    try {
      connection.open();
      patiently("OUTP OFF");
      String answer = connection.query("OUTP?");
      return new ReadBack(true, answer.trim().equals("0"), answer.trim().equals("0") ? "output off" : "it says its output is \"" + answer + "\"");
    } catch (GearException e) {
      return ReadBack.silent(String.valueOf(e.getMessage()));
    }
  }

  @Override
  public void close() {
    connection.close();
  }
}
