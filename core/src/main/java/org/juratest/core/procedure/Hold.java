package org.juratest.core.procedure;

import java.util.List;

/** What a person must confirm before work goes on; each confirmation has a tick of its own. */
public record Hold(List<Confirmation> confirmations) {

  public Hold {
    confirmations = List.copyOf(confirmations);
  }
}
