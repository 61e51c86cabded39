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
 * @param freedom effective degrees of freedom of U; absent where all it is made of is of type B, or U is unknown
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
        @Nullable String remark,
        @Nullable Double freedom) {

    /** How the value came to be known; an entered value stays marked as entered for ever. */
    public enum Source {
        MEASURED,
        ENTERED,
        IMPORTED,
        DERIVED
    }

    /**
     * A correction applied, in order.
     *
     * @param factor of a correction that is told in no other way
     * @param kind absent where there is a {@code factor}
     * @param amount see {@link org.juratest.core.correction.Correction}; absent where there is a {@code factor}
     * @param u standard uncertainty of the amount; absent where unknown
     */
    public record Correction(
            String name,
            @Nullable Double factor,
            org.juratest.core.correction.Correction.@Nullable Kind kind,
            @Nullable Double amount,
            @Nullable Double u,
            String words) {

        public Correction(String name, double factor, String words) {
            this(name, factor, null, null, null, words);
        }

        public Correction(String name, org.juratest.core.correction.Correction by, @Nullable Double u, String words) {
            this(name, null, by.kind(), by.amount(), u, words);
        }

        public Correction {
            if ((factor == null) == (kind == null) || (kind == null) != (amount == null)) {
                throw new IllegalArgumentException("a correction is a factor, or a kind with an amount");
            }
        }
    }

    public Reading {
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("a reading needs a finite value, not " + value);
        }
        corrections = List.copyOf(corrections);
        with = Collections.unmodifiableMap(new TreeMap<>(with));
    }

    public Reading(
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
        this(
                key,
                value,
                unit,
                qualifier,
                source,
                raw,
                corrections,
                uncertainty,
                coverageFactor,
                limit,
                with,
                gear,
                remark,
                null);
    }

    /** Standard uncertainty in {@code unit}; absent where U is unknown. */
    public @Nullable Double standard() {
        // Where k was not kept it was the conventional 2.
        return uncertainty == null ? null : (Double) (uncertainty / (coverageFactor == null ? 2 : coverageFactor));
    }

    /** Effective degrees of freedom of U; infinite where all it is made of is of type B. */
    public double degreesOfFreedom() {
        return freedom == null ? Double.POSITIVE_INFINITY : freedom;
    }
}
