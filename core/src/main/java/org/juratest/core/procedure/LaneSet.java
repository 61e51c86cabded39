package org.juratest.core.procedure;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Lanes with the word for one of them.
 *
 * @param label singular: phase, range, path
 * @param from nameplate key that says how many there are; absent: all
 */
public record LaneSet(String label, @Nullable String from, List<Lane> lanes) {

    public LaneSet {
        lanes = List.copyOf(lanes);
    }

    public Optional<Lane> lane(String id) {
        return lanes.stream().filter(l -> l.id().equals(id)).findFirst();
    }
}
