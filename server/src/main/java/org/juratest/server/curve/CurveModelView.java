package org.juratest.server.curve;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;

/**
 * A model of the curve library.
 *
 * @param maker absent for a generic one
 * @param own whether people brought it in or made it; then it may be changed
 * @param revision 0 as it ships
 * @param uses how many devices go by it
 * @param usedBy positions of some of them
 * @param form as it is edited; absent where it is stated in a way that the form does not have
 */
record CurveModelView(
        String id,
        @Nullable String maker,
        String model,
        String technology,
        String source,
        String condition,
        List<Double> ratings,
        List<CurveDial> dials,
        List<String> parts,
        boolean own,
        int revision,
        List<CurveRevision> revisions,
        long uses,
        List<String> usedBy,
        @Nullable CurveForm form) {

    /** A setting of the unit, as a dial: from its least to its greatest value, and where it stands at first. */
    record CurveDial(String key, String label, double lowest, double highest, String unit, double at) {}

    /** A revision of a model. */
    record CurveRevision(int revision, String by, Instant at) {}

    /**
     * A model as a person makes it.
     *
     * @param ratings rated currents it is made for, A; empty for any
     * @param seen revision it was made from, 0 for a new one
     */
    record CurveForm(
            String maker,
            String model,
            String technology,
            String source,
            String condition,
            List<Double> ratings,
            List<CurvePartForm> parts,
            int seen) {}

    /**
     * A part of it, by points or by a formula.
     *
     * @param settingKey nameplate key of the current its multiples count from
     * @param pickUpLow multiple below which it may not operate
     * @param pickUpHigh multiple from which on it must; absent where it never must
     * @param points lines of multiple, shortest and longest time; absent for a formula
     * @param formula name of a standard curve, such as {@code iec-vi}; absent for points
     * @param timeSettingKey nameplate key of what the formula's times are multiplied by
     */
    record CurvePartForm(
            String label,
            String settingKey,
            double pickUpLow,
            @Nullable Double pickUpHigh,
            @Nullable String points,
            @Nullable String formula,
            @Nullable String timeSettingKey,
            @Nullable Double minusPercent,
            @Nullable Double plusPercent,
            @Nullable Double from,
            @Nullable Double upTo) {}

    /**
     * What is to be drawn.
     *
     * @param id of a model; absent where a form is tried
     * @param plate nameplate values: currents in A, times in s
     */
    record CurveTrial(@Nullable String id, @Nullable CurveForm form, Map<String, Double> plate) {}

    /** A band as it is drawn. */
    record CurvePreview(String source, String condition, List<Envelope.Mark> marks, List<Envelope.Place> outline) {}
}
