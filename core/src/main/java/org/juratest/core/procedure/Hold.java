package org.juratest.core.procedure;

import java.util.List;

/**
 * What a person must confirm before work goes on; each confirmation has a tick of its own.
 *
 * @param onlyFor ids of the steps it is for, so that it may be left out with all of them; empty: for everything, never
 *     left out
 */
public record Hold(List<Confirmation> confirmations, List<String> onlyFor) {

    public Hold {
        confirmations = List.copyOf(confirmations);
        onlyFor = List.copyOf(onlyFor);
    }

    /** A hold for everything. */
    public Hold(List<Confirmation> confirmations) {
        this(confirmations, List.of());
    }
}
