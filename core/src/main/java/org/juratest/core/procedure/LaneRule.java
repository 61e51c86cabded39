package org.juratest.core.procedure;

import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Lanes that are made by a rule: as many as the nameplate says, numbered from 1.
 *
 * @param count nameplate key of the number of lanes
 * @param most lanes there may be
 * @param label of one, with {@value #NUMBER} for its number
 * @param colours of the lanes in turn, by their common names; empty for none
 * @param coloursOf nameplate key of a text that names a device's own colours in turn, between commas; where it has
 *     none, {@code colours} hold
 * @param only which of them a device has; absent: all
 */
public record LaneRule(
        String count,
        int most,
        String label,
        List<String> colours,
        @Nullable String coloursOf,
        @Nullable LaneChoice only) {

    /** Stands for the number of a lane. */
    public static final String NUMBER = "{n}";

    public LaneRule {
        colours = List.copyOf(colours);
    }

    public LaneRule(String count, int most, String label, List<String> colours) {
        this(count, most, label, colours, null, null);
    }

    /** The colours of a device's lanes in turn. */
    List<String> colours(Nameplate nameplate) {
        String own = coloursOf == null ? "" : nameplate.texts().getOrDefault(coloursOf, "");
        List<String> named = Stream.of(own.split(","))
                .map(String::strip)
                .filter(c -> !c.isEmpty())
                .toList();
        return named.isEmpty() ? colours : named;
    }
}
