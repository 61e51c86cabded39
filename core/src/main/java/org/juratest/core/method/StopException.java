package org.juratest.core.method;

import org.juratest.core.run.OutputEvents;

/** The measurement was told to stop. */
public final class StopException extends RuntimeException {

  private final OutputEvents.OffReason reason;

  StopException(OutputEvents.OffReason reason, String words) {
    super(words, null, false, false);
    this.reason = reason;
  }

  public OutputEvents.OffReason reason() {
    return reason;
  }
}
