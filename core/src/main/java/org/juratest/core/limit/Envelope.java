package org.juratest.core.limit;

import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Unit;

/** Bounds of one quantity over another, as a curve of a device gives them at its settings. */
public interface Envelope {

    /** The quantity it runs over, by the name that readings and parameters give it. */
    String over();

    /** Unit of that quantity: base unit of its dimension. */
    Unit unit();

    /** Where it comes from, in words. */
    String source();

    /** For what it holds, in words. */
    String condition();

    /** As it is drawn: ascending, at least one place, one on each side of every step. */
    List<Place> outline();

    /** Where its parts begin to bound, to be told beside it; the first part needs no mark. */
    List<Mark> marks();

    /**
     * The bounds at one place; NaN gives unknown ones.
     *
     * @param place in {@link #unit()}
     */
    Bounds bounds(double place);

    /**
     * One of the bounds by its name in the curve's own words; empty where it is open or unknown. A name such as
     * {@code part/from} is where that part may begin to bound, {@code part/to} where it must, at whatever place.
     *
     * @throws IllegalArgumentException if the curve knows no such word
     */
    OptionalDouble side(String name, double place);

    /**
     * A part of the curve alone.
     *
     * @param id as the curve names its parts
     * @return empty where it has no such part
     */
    default Optional<Envelope> part(String id) {
        return Optional.empty();
    }

    /** Slope of the middle of the bounds over the place; 0 where they are not closed. */
    double slopeAt(double place);

    /**
     * A place of the outline.
     *
     * @param at in {@link #unit()}
     * @param low absent where it is open
     * @param high absent where it is open
     */
    record Place(double at, @Nullable Double low, @Nullable Double high) {}

    /**
     * Where a part of the curve begins.
     *
     * @param from where it may begin to bound
     * @param to where it must; absent for one that never must
     */
    record Mark(String label, double from, @Nullable Double to) {}

    /**
     * Bounds at a place, in the base unit of what is bounded.
     *
     * @param low absent where it is open
     * @param high absent where it is open
     * @param unknown why nothing is known there; absent where something is
     */
    record Bounds(@Nullable Double low, @Nullable Double high, @Nullable String unknown) {}
}
