package org.juratest.formats.analyse;

import java.util.List;

/** Analyses that belong together; found by {@link java.util.ServiceLoader}. */
public interface AnalysisFamily {

    /** Analyses, each of a kind that no other is of. */
    List<Analysis> analyses();
}
