package org.juratest.server.starting;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * What a source has to be set to for a type of device.
 *
 * @param maker of the type
 * @param model of the type
 * @param method that sets it
 * @param title of the step it was found at
 * @param param parameter of the method
 * @param value of the parameter, in {@code unit}
 * @param unit UCUM code
 * @param low least value the method takes
 * @param high greatest value the method takes
 * @param wanted what it is for, in {@code wantedUnit}
 * @param wantedUnit UCUM code
 * @param hit what came when it was learned, in {@code wantedUnit}; absent where a person set it
 * @param record it was learned from; absent where a person set it
 * @param by who carried out that run, or set it
 * @param why a person set it; absent where it was learned
 */
public record StartingPointView(
        long id,
        String maker,
        String model,
        String method,
        String title,
        String param,
        double value,
        String unit,
        double low,
        double high,
        double wanted,
        String wantedUnit,
        @Nullable Double hit,
        @Nullable String record,
        String by,
        Instant at,
        @Nullable String why) {

    /**
     * What a person sets it to.
     *
     * @param value in the unit of the parameter
     * @param seen when what the person saw was kept
     */
    record StartingPointForm(double value, String why, Instant seen) {}
}
