package org.juratest.core.procedure;

import java.util.List;
import java.util.Optional;

/**
 * Rows that a measurement discovers, such as the defects of a surface: nobody knows before how many there are, nor
 * where. Each row is found by its key, and read in columns that are judged like points.
 *
 * @param id in the step
 * @param label of one row
 * @param unit UCUM code of the key
 * @param tolerance keys this far apart or less are the same row, in {@code unit}
 * @param most rows a measurement may find; more of them are refused
 * @param columns what is read of each row
 */
public record FeatureSpec(String id, String label, String unit, double tolerance, int most, List<TestPoint> columns) {

    public FeatureSpec {
        columns = List.copyOf(columns);
    }

    public Optional<TestPoint> column(String column) {
        return columns.stream().filter(c -> c.id().equals(column)).findFirst();
    }
}
