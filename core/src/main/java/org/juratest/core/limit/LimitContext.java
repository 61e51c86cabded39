package org.juratest.core.limit;

import java.util.Map;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.curve.TimeCurrentBand;

/** What a limit may ask when it is resolved for one point and lane. Every answer may be missing. */
public interface LimitContext {

    /** The value of a named input. */
    OptionalDouble input(InputRef ref);

    /** Counting values of the same point by lane in scope; lanes without a value are absent. */
    Map<String, Double> lanes();

    /** The earlier value of the same series and lane, in the point's unit. */
    OptionalDouble prior(LimitKind.Against against);

    /** The device's band; absent where no curve is known for it. */
    @Nullable
    TimeCurrentBand band();

    /** Current of the reading, A rms; NaN where it was not measured. */
    double measuredCurrent();

    /** How a lane or point is called, for the limit's source in words. */
    String laneWord();
}
