package org.juratest.core.limit;

/** How a reading and its uncertainty are set against a limit. */
public enum DecisionRule {
    /** Inside is pass, outside is fail; inside the marginal zone is marginal. */
    SIMPLE,
    /** ILAC-G8:09/2019, 4.2.3, non-binary with guard band w = U. */
    GUARDED
}
