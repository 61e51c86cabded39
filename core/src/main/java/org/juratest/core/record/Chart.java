package org.juratest.core.record;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.Verdict;

/**
 * Values that belong together over another one, with the bounds they were judged by: what a family draws of a run on
 * record, comparison and paper besides its points, traces, pictures and sounds.
 *
 * @param id the same in every run of the procedure: charts of one id are laid over each other
 * @param drawing the family's own way to draw it on a page, by its name; a page that has none of it draws it plainly
 * @param title what it shows, in words
 * @param source where the bounds come from, in words; empty where there are none
 * @param laneWord what a lane is called, such as "phase"
 * @param at where the step states that it is measured, in the unit of {@code x}; absent where every lane has its own
 * @param x what the values stand over
 * @param y what was measured
 * @param allowed bounds of the values, ascending by place; empty where there are none
 * @param spots what was measured, in the order it was
 */
public record Chart(
        String id,
        String drawing,
        String title,
        String source,
        String laneWord,
        @Nullable Double at,
        Axis x,
        Axis y,
        List<Envelope.Place> allowed,
        List<Spot> spots) {

    public Chart {
        allowed = List.copyOf(allowed);
        spots = List.copyOf(spots);
    }

    /**
     * One of its two directions.
     *
     * @param words what runs along it
     * @param unit symbol; empty for a number
     * @param logarithmic whether decades are equally long; what is not above 0 has no place on it then
     */
    public record Axis(String words, String unit, boolean logarithmic) {}

    /**
     * A measured value.
     *
     * @param point key of its point
     * @param lane as it is called beside the lane's word
     * @param at in the unit of {@code x}
     * @param value in the unit of {@code y}
     * @param figure the value as it is shown beside its limit
     * @param counts whether it is what counts
     * @param voided whether it was voided
     */
    public record Spot(
            String point,
            String lane,
            double at,
            double value,
            String figure,
            Verdict verdict,
            boolean counts,
            boolean voided) {}
}
