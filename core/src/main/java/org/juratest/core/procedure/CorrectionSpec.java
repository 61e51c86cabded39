package org.juratest.core.procedure;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.Correction;

/**
 * A correction that a procedure asks for at a point. Its amount is a number, a formula over named inputs, or the value
 * of a table at one input, linear between its rows; exactly one of them.
 *
 * @param name in words: temperature, dark level
 * @param amount see {@link Correction}; an offset is in the unit of the point
 * @param inputs names of the formula, see {@link org.juratest.core.limit.InputRef}
 * @param of what the table runs over
 * @param table rows in ascending order; a value beyond them is not corrected, and said so
 * @param u standard uncertainty of the amount by itself; absent: not known, and so is U of what it corrects
 * @param inputU standard uncertainties of inputs, by name ({@code of} for what the table runs over); a reading brings
 *     its own
 */
public record CorrectionSpec(
        String name,
        Correction.Kind kind,
        @Nullable Double amount,
        @Nullable String formula,
        Map<String, String> inputs,
        @Nullable String of,
        List<Row> table,
        @Nullable Double u,
        Map<String, Double> inputU) {

    /** A row of a table. */
    public record Row(double at, double amount) {}

    /**
     * Insulation resistance to 20 degC: a factor of two every 10 K, the temperature known to 2 degC either way (JCGM
     * 100, 4.3.7).
     */
    public static final CorrectionSpec INSULATION_20 = new CorrectionSpec(
            "temperature",
            Correction.Kind.FACTOR,
            null,
            "2^((t - 20) / 10)",
            Map.of("t", "condition:equipmentTemperature"),
            null,
            List.of(),
            0.0,
            Map.of("t", 2 / Math.sqrt(3)));

    public CorrectionSpec {
        inputs = Map.copyOf(inputs);
        table = List.copyOf(table);
        inputU = Map.copyOf(inputU);
    }
}
