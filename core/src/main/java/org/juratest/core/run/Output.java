package org.juratest.core.run;

import java.time.Instant;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/**
 * What the gear's output is, as far as the run knows.
 *
 * @param what what was armed, in words
 * @param until when an armed step falls back to safe by itself
 */
public record Output(
        Mode mode,
        @Nullable String step,
        @Nullable String lane,
        @Nullable UUID attempt,
        @Nullable String gear,
        @Nullable String what,
        @Nullable Instant until) {

    /** Safe, armed or live. */
    public enum Mode {
        SAFE,
        ARMED,
        LIVE
    }

    public static final Output SAFE = new Output(Mode.SAFE, null, null, null, null, null, null);
}
