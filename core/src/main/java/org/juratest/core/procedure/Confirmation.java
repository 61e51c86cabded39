package org.juratest.core.procedure;

import org.jspecify.annotations.Nullable;

/**
 * One thing to confirm.
 *
 * @param text what is confirmed, as a sentence
 * @param back what must be confirmed again before the run can finish (removed, put back); absent: nothing
 */
public record Confirmation(String id, String text, @Nullable String back) {
}
