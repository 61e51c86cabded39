package org.juratest.core.limit;

import java.util.Map;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Unit;
import org.juratest.core.standard.StandardTable;

/** What a limit may ask when it is resolved for one point and lane. Every answer may be missing. */
public interface LimitContext {

    /** The value of a named input. */
    OptionalDouble input(InputRef ref);

    /** Counting values of the same point by lane in scope; lanes without a value are absent. */
    Map<String, Double> lanes();

    /** The earlier value of the same series and lane, in the point's unit. */
    OptionalDouble prior(LimitKind.Against against);

    /** The words of a named input; absent where it has none. */
    @Nullable
    String words(InputRef ref);

    /** What people call a value of the nameplate. */
    default String title(String key) {
        return key;
    }

    /** The curve of the device; absent where none is known for it. */
    @Nullable
    Envelope envelope();

    /** The table of standards of a group that the run judges the device by; absent where there is none. */
    @Nullable
    StandardTable table(String group);

    /** Another value of the reading, in the base unit of its dimension; NaN where it was not measured. */
    double with(String name);

    /** Unit of the point; absent where it has none. */
    @Nullable
    Unit unit();

    /** How a lane or point is called, for the limit's source in words. */
    String laneWord();
}
