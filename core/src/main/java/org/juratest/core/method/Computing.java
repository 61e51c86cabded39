package org.juratest.core.method;

import java.util.Optional;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/** A method of a derivation: it switches nothing on, and computes from what other steps of the run captured. */
public interface Computing extends Method {

    /** Traces that a run keeps, by their SHA-256. */
    interface Traces {
        Optional<Trace> trace(String sha256);
    }

    /**
     * Computes.
     *
     * @param results of its step and lane, whose state has an attempt that counts of every step it uses: on that lane
     *     where both repeat over one set, on all its lanes otherwise
     */
    Result compute(Results results, Traces traces);

    @Override
    default Announced announce(RunState state, Step step, String lane, String where) {
        throw new Refusal("not-a-measurement", "\"" + step.title() + "\" switches nothing on.", "step");
    }

    @Override
    default Result run(MethodBench bench) {
        throw new IllegalStateException(name() + " measures nothing");
    }
}
