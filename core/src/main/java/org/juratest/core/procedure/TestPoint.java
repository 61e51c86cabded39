package org.juratest.core.procedure;

import java.util.List;
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
 * @param corrections in the order they are applied; absent for none
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
        Map<String, String> inputs,
        @Nullable List<CorrectionSpec> corrections) {

    /** The one correction that has a name of its own. */
    public static final String INSULATION_20 = "insulation20";

    public TestPoint {
        inputs = Map.copyOf(inputs);
        corrections = corrections == null || corrections.isEmpty() ? null : List.copyOf(corrections);
    }

    public TestPoint(
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
        this(id, label, unit, scale, series, required, limit, correction, formula, inputs, null);
    }

    /** Everything its readings are corrected by, in order. */
    public List<CorrectionSpec> allCorrections() {
        return INSULATION_20.equals(correction)
                ? List.of(CorrectionSpec.INSULATION_20)
                : corrections == null ? List.of() : corrections;
    }

    /** The same point of one row of a feature. */
    TestPoint ofRow(String rowId, String rowLabel) {
        return new TestPoint(
                rowId, rowLabel, unit, scale, series, required, limit, correction, formula, inputs, corrections);
    }
}
