package org.juratest.core.procedure;

import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Scale;

/**
 * One value a step yields per lane.
 *
 * @param unit UCUM code; absent for an inspection's answer
 * @param series name of the trend it belongs to, kept over procedure versions; absent: no trend
 * @param required whether a run without it is incomplete
 * @param limit absent: recorded, not judged, and never required
 * @param correction absent, or {@code insulation20}: to 20 degC by the equipment temperature
 * @param formula of a derivation
 * @param inputs the formula's names
 */
public record TestPoint(
        String id,
        String label,
        @Nullable String unit,
        Scale scale,
        @Nullable String series,
        boolean required,
        @Nullable LimitSpec limit,
        @Nullable String correction,
        @Nullable String formula,
        Map<String, String> inputs) {

    /** The only correction a point can ask for so far. */
    public static final String INSULATION_20 = "insulation20";

    public TestPoint {
        inputs = Map.copyOf(inputs);
    }
}
