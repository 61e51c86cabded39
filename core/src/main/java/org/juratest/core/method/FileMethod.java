package org.juratest.core.method;

import org.juratest.core.procedure.Step;
import org.juratest.core.run.RunState;

/** A method whose captures also come as files that other gear wrote. */
public interface FileMethod extends Method {

    /** Whether a file is of this step and lane of the run. */
    boolean takes(RunState state, Step step, String lane, Filed file);

    /** Writes what the file holds as the results of an attempt. */
    Result read(Results results, Filed file);
}
