package org.juratest.core.bench;

import org.juratest.core.run.EventData;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/** Where the engine writes what happens, in order and at once. */
public interface Journal {

    /** Appends events made by this process and returns the state after them. */
    RunState append(EventData... events);

    RunState state();

    /** Keeps a trace; gives the SHA-256 it is named by from then on. */
    String keep(Trace trace);

    /**
     * Keeps what was heard; gives the SHA-256 it is named by from then on.
     *
     * @param samples full scale 1
     * @param rate Hz
     */
    String keep(double[] samples, double rate);

    /** Keeps bytes; gives the SHA-256 they are named by from then on. */
    String keep(byte[] bytes, String mediaType);
}
