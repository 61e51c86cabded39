package org.juratest.core.port;

/** Gear did not do, or did not answer, what it should. The message says what happened, for a technician. */
public final class GearException extends RuntimeException {

  /** What is wrong with the gear. */
  public enum Fault {
    /** No connection, or it was lost. */
    LOST,
    /** Connected, but no answer in time. */
    SILENT,
    /** An answer that cannot be read. */
    GARBLED,
    /** It refused a command, with its own error. */
    REFUSED,
    /** Another instrument answers than the one chosen. */
    WRONG_IDENTITY
  }

  private final Fault fault;

  public GearException(Fault fault, String message) {
    super(message);
    this.fault = fault;
  }

  public GearException(Fault fault, String message, Throwable cause) {
    super(message, cause);
    this.fault = fault;
  }

  public Fault fault() {
    return fault;
  }
}
