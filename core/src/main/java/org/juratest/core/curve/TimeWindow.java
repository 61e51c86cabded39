package org.juratest.core.curve;

import org.jspecify.annotations.Nullable;

/**
 * The span of allowed operating times at one current.
 *
 * @param earliest s; absent where no element may operate, so that no trip is allowed
 * @param latest s; absent where no element must operate
 * @param unknown why the window is not known there; absent where it is
 */
public record TimeWindow(@Nullable Double earliest, @Nullable Double latest, @Nullable String unknown) {

    static TimeWindow unknown(String why) {
        return new TimeWindow(null, null, why);
    }

    /** Whether the band says anything at this current. */
    public boolean known() {
        return unknown == null;
    }
}
