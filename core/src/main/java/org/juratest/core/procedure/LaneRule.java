package org.juratest.core.procedure;

import java.util.List;

/**
 * Lanes that are made by a rule: as many as the nameplate says, numbered from 1.
 *
 * @param count nameplate key of the number of lanes
 * @param most lanes there may be
 * @param label of one, with {@value #NUMBER} for its number
 * @param colours of the lanes in turn, by their common names; empty for none
 */
public record LaneRule(String count, int most, String label, List<String> colours) {

    /** Stands for the number of a lane. */
    public static final String NUMBER = "{n}";

    public LaneRule {
        colours = List.copyOf(colours);
    }
}
