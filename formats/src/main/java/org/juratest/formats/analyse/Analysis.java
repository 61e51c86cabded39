package org.juratest.formats.analyse;

import java.io.IOException;
import java.nio.file.Path;
import tools.jackson.databind.node.ObjectNode;

/** One kind of analysis of a file. */
public interface Analysis {

    /** Name on the command line. */
    String kind();

    /**
     * Analyses a file.
     *
     * @return one object, its keys always the same and in their order, unknown figures null, {@code warnings} last
     * @throws org.juratest.core.run.Refusal if the file cannot be analysed, with its place and why
     * @throws IOException if it cannot be read
     */
    ObjectNode of(Path input) throws IOException;
}
