package org.juratest.core.run;

import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/**
 * One value of a test point.
 *
 * @param value corrected, in {@code unit}; finite: what was not measured is absent, not zero
 * @param raw before corrections; absent where there were none
 * @param uncertainty expanded uncertainty U in {@code unit}; absent where unknown
 * @param coverageFactor k of U
 * @param limit where it is resolved with the reading; absent where the point's limit serves
 * @param with what else belongs to the value: rms current, voltage, temperature
 * @param gear gear it was measured with, or read off
 * @param remark what it says beside the figure: correction missing
 */
public record Reading(
        PointKey key,
        double value,
        Unit unit,
        Qualifier qualifier,
        Source source,
        @Nullable Double raw,
        List<Correction> corrections,
        @Nullable Double uncertainty,
        @Nullable Double coverageFactor,
        @Nullable ResolvedLimit limit,
        Map<String, Quantity> with,
        @Nullable String gear,
        @Nullable String remark) {

    /** How the value came to be known; an entered value stays marked as entered for ever. */
    public enum Source {
        MEASURED,
        ENTERED,
        IMPORTED,
        DERIVED
    }

    /** A correction applied, in order. */
    public record Correction(String name, double factor, String words) {}

    public Reading {
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("a reading needs a finite value, not " + value);
        }
        corrections = List.copyOf(corrections);
        with = Collections.unmodifiableMap(new TreeMap<>(with));
    }
}
