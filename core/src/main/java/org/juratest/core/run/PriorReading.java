package org.juratest.core.run;

import java.time.Instant;
import org.juratest.core.quantity.Unit;

/**
 * An earlier counting value of the same asset, series and lane.
 *
 * @param baseline whether it is of the record that later ones are compared with
 */
public record PriorReading(
        String series, String lane, double value, Unit unit, Instant at, String record, boolean baseline) {}
