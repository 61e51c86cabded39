package org.juratest.formats.capture;

import java.util.Optional;
import org.juratest.core.method.Filed;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;
import org.juratest.formats.analyse.RefusedInput;

/** A format of files that gear writes its captures into; found by ServiceLoader. */
public interface CaptureFormat {

    /** Media type its files are kept under. */
    String mediaType();

    /** End of the names of its files, with its dot. */
    String suffix();

    /**
     * How its files are named where nobody says otherwise: names of their facts in braces, {@code {lane}}, {@code {n}}.
     */
    String usualName();

    /** Whether it can write a trace that a run captured. */
    boolean writes(AttemptEvents.Captured captured);

    /** Whether a file seems to be of this format, by its name and its first bytes. */
    boolean recognises(String name, byte[] bytes);

    /**
     * Reads a file.
     *
     * @throws RefusedInput naming the place in the file, and why it is none
     */
    Filed read(String name, byte[] bytes);

    /**
     * Writes a trace of a run as a file; empty where this format has no place for it.
     *
     * @param captured of the run, of a trace
     */
    Optional<byte[]> write(RunState state, AttemptEvents.Captured captured, Trace trace);
}
