package org.juratest.core.run;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Unit;

/**
 * An earlier counting value of the same asset, series and lane.
 *
 * @param baseline whether it is of the record that later ones are compared with
 * @param rowKey key of the row of a feature it is of, in the feature's unit; absent for what is no row
 */
public record PriorReading(
        String series,
        String lane,
        double value,
        Unit unit,
        Instant at,
        String record,
        boolean baseline,
        @Nullable Double rowKey) {

    public PriorReading(
            String series, String lane, double value, Unit unit, Instant at, String record, boolean baseline) {
        this(series, lane, value, unit, at, record, baseline, null);
    }
}
