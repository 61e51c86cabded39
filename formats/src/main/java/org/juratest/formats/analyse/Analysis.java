package org.juratest.formats.analyse;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.node.ObjectNode;

/** One kind of analysis of a file, or of some files that belong together. */
public interface Analysis {

    /**
     * What may be told beside the files.
     *
     * @param name on the command line, behind two hyphens
     * @param words what it is, with its unit or its choices
     * @param needed whether there is no analysis without it
     */
    record Option(String name, String words, boolean needed) {}

    /** Name on the command line. */
    String kind();

    /** What may be told beside the files; mostly nothing. */
    default List<Option> options() {
        return List.of();
    }

    /** Whether several files are analysed together; otherwise there is one. */
    default boolean isOfSeveral() {
        return false;
    }

    /**
     * Analyses a file, or files that belong together.
     *
     * @param inputs one, or several where {@link #isOfSeveral()}
     * @param options by name, those of {@link #options()} only, each needed one there
     * @return one object, its keys always the same and in their order, unknown figures null, {@code warnings} last
     * @throws org.juratest.core.run.Refusal if the file cannot be analysed, with its place and why
     * @throws RefusedInput likewise, where the place has a form of its own
     * @throws IOException if it cannot be read
     */
    ObjectNode of(List<Path> inputs, Map<String, String> options) throws IOException;
}
