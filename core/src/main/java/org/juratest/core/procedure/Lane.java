package org.juratest.core.procedure;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * One of the ways a step repeats.
 *
 * @param touches ids of lanes of other sets it shares a conductor with (a path between two its ends)
 * @param from present only if the lane set's nameplate value is at least this (the third of three); absent: always
 * @param ifRated present only if the nameplate has this rating (what the device covers); absent: always
 */
public record Lane(String id, String label, List<String> touches, @Nullable Integer from, @Nullable String ifRated) {

    public Lane(String id, String label, List<String> touches, @Nullable Integer from) {
        this(id, label, touches, from, null);
    }

    /** Stands for "no lane" in keys. */
    public static final String NONE = "-";

    public Lane {
        touches = List.copyOf(touches);
        if (id.isBlank() || id.equals(NONE) || id.contains("/")) {
            throw new IllegalArgumentException("a lane id has no slash and is not \"-\": \"" + id + "\"");
        }
    }
}
