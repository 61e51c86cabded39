package org.juratest.core.run;

import java.util.List;
import java.util.UUID;
import org.juratest.core.procedure.Step;

/** Computes what a derivation step finds in what other steps of a run captured. */
public interface Deriving {

    /** For runs of which no step computes. */
    Deriving NONE = (state, step, lane, attempt) -> List.of();

    /**
     * The events of one attempt, from begun to closed; empty where it cannot be computed here.
     *
     * @param step in scope, what it uses is there
     * @param attempt id of the attempt
     */
    List<EventData> derive(RunState state, Step step, String lane, UUID attempt);
}
