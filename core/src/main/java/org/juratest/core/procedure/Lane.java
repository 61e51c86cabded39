package org.juratest.core.procedure;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * One of the ways a step repeats.
 *
 * @param touches ids of lanes of other sets it shares a conductor with (an insulation path its poles)
 * @param from present only if the lane set's nameplate value is at least this (pole C of a three-pole device); absent:
 *     always
 * @param ifRated present only if the nameplate has this rating (a band the radio has); absent: always
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
