package org.juratest.core.procedure;

import org.jspecify.annotations.Nullable;

/**
 * One thing to confirm.
 *
 * @param text what is confirmed, as a sentence
 * @param back what must be confirmed again (removed, put back) before the run can finish; absent: nothing
 * @param backBefore step before which it must be put back; absent: only once nothing is measured any more
 */
public record Confirmation(String id, String text, @Nullable String back, @Nullable String backBefore) {}
