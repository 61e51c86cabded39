package org.juratest.core.run;

import java.time.LocalDate;
import java.util.Collections;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.RfPath;
import org.juratest.core.uncertainty.AccuracySpec;

/**
 * Gear chosen for a run, with its calibration as it then was.
 *
 * @param need id of the need in the procedure it fills
 * @param calibratedOn absent if never calibrated
 * @param calibratedTo last day its calibration holds; absent if none does
 * @param accuracy by quantity: {@code current}, {@code time}, {@code resistance}, {@code insulation},
 *     {@code frequencyError}, {@code power}, {@code deviation}, {@code level}, {@code distortion}
 * @param path what a lead or attenuator takes off a signal; absent for other gear
 * @param range greatest value of each set-point it may be used to, in the base unit; absent where none is stated
 */
public record GearFacts(
        String id,
        String need,
        String role,
        String name,
        String maker,
        String model,
        String serial,
        @Nullable LocalDate calibratedOn,
        @Nullable LocalDate calibratedTo,
        @Nullable String certificate,
        Map<String, AccuracySpec> accuracy,
        @Nullable RfPath path,
        @Nullable Map<String, Double> range) {

    public GearFacts(
            String id,
            String need,
            String role,
            String name,
            String maker,
            String model,
            String serial,
            @Nullable LocalDate calibratedOn,
            @Nullable LocalDate calibratedTo,
            @Nullable String certificate,
            Map<String, AccuracySpec> accuracy) {
        this(id, need, role, name, maker, model, serial, calibratedOn, calibratedTo, certificate, accuracy, null, null);
    }

    public GearFacts(
            String id,
            String need,
            String role,
            String name,
            String maker,
            String model,
            String serial,
            @Nullable LocalDate calibratedOn,
            @Nullable LocalDate calibratedTo,
            @Nullable String certificate,
            Map<String, AccuracySpec> accuracy,
            @Nullable RfPath path) {
        this(id, need, role, name, maker, model, serial, calibratedOn, calibratedTo, certificate, accuracy, path, null);
    }

    public GearFacts {
        accuracy = Collections.unmodifiableMap(new TreeMap<>(accuracy));
        range = range == null || range.isEmpty() ? null : Collections.unmodifiableMap(new TreeMap<>(range));
    }

    /** Greatest value of each set-point, in the base unit; empty where none is stated. */
    public Map<String, Double> greatest() {
        return range == null ? Map.of() : range;
    }

    /** Whether its calibration holds on a day. */
    public boolean holdsOn(LocalDate day) {
        return calibratedTo != null && !day.isAfter(calibratedTo);
    }
}
