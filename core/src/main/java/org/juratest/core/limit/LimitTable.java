package org.juratest.core.limit;

import java.util.Collection;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.standard.StandardTable;

/**
 * A table of standards that gives limits: columns that tell which row is meant, then the lowest and the highest value
 * allowed. The first row all of whose cells fit decides. Under a heading that ends in {@value #UP_TO} or
 * {@value #BELOW} a cell is a number, up to or below which it fits; under any other it is a word; an empty one fits
 * whatever there is.
 */
public final class LimitTable {

    /** End of the headings of columns of numbers that still belong to their row. */
    public static final String UP_TO = " up to";

    /** End of the headings of columns of numbers that do not. */
    public static final String BELOW = " below";

    public static final String LOWEST = "lowest";
    public static final String HIGHEST = "highest";

    private static final double LARGEST = 1e9;

    private final StandardTable table;
    private final List<String> keys;

    private LimitTable(StandardTable table) {
        this.table = table;
        List<String> columns = table.columns();
        int last = columns.size() - 1;
        if (last < 2
                || !columns.get(last - 1).equals(LOWEST)
                || !columns.get(last).equals(HIGHEST)) {
            throw new StandardTable.FaultException(
                    "columns",
                    "The last two columns are " + LOWEST + " and " + HIGHEST
                            + "; those before tell which row is meant.");
        }
        this.keys = columns.subList(0, last - 1);
    }

    /** Whether numbers stand under a heading. */
    static boolean isNumber(String heading) {
        return heading.endsWith(UP_TO) || heading.endsWith(BELOW);
    }

    /** What a heading of numbers is about. */
    static String quantity(String heading) {
        return heading.substring(0, heading.length() - (heading.endsWith(BELOW) ? BELOW : UP_TO).length());
    }

    /** What one row allows; an absent side is open. */
    public record Bounds(@Nullable Double low, @Nullable Double high) {}

    /**
     * Reads a table of limits.
     *
     * @throws StandardTable.FaultException naming the cell at fault
     */
    public static LimitTable of(StandardTable table) {
        LimitTable limits = new LimitTable(table);
        if (table.rows().isEmpty()) {
            throw new StandardTable.FaultException("rows", "Give at least one row.");
        }
        for (int row = 0; row < table.rows().size(); row++) {
            limits.check(row);
        }
        return limits;
    }

    private void check(int row) {
        for (String key : keys) {
            if (isNumber(key)) {
                number(row, key);
            }
        }
        Bounds bounds = bounds(row);
        if (bounds.low == null && bounds.high == null) {
            throw table.fault(row, HIGHEST, "give the lowest, the highest, or both");
        }
        if (bounds.low != null && bounds.high != null && bounds.low > bounds.high) {
            throw table.fault(row, HIGHEST, "is below the lowest");
        }
        for (int before = 0; before < row; before++) {
            if (covers(before, row)) {
                throw table.fault(
                        row, keys.get(0), "this row would never be used: row " + (before + 1) + " fits first");
            }
        }
    }

    /** Whether whatever fits a later row fits an earlier one as well. */
    private boolean covers(int before, int row) {
        for (String key : keys) {
            String first = table.cell(before, key);
            if (first.isEmpty()) {
                continue;
            }
            String second = table.cell(row, key);
            boolean within =
                    isNumber(key) ? !second.isEmpty() && value(row, key) <= value(before, key) : second.equals(first);
            if (!within) {
                return false;
            }
        }
        return true;
    }

    private double value(int row, String column) {
        return table.number(row, column, -LARGEST, LARGEST);
    }

    private @Nullable Double number(int row, String column) {
        return table.cell(row, column).isEmpty() ? null : (Double) value(row, column);
    }

    private Bounds bounds(int row) {
        return new Bounds(number(row, LOWEST), number(row, HIGHEST));
    }

    /** Headings of the columns that tell which row is meant. */
    public List<String> keys() {
        return keys;
    }

    /** Of the headings that a limit goes by, those that the table does not have. */
    public List<String> unmatched(Collection<String> headings) {
        return headings.stream().filter(h -> !keys.contains(h)).toList();
    }

    /**
     * What is allowed there; null where no row fits. Of a column that nothing is told of, only empty cells fit.
     *
     * @param words by heading of a column of words
     * @param numbers by heading of a column of numbers
     */
    public @Nullable Bounds at(Map<String, String> words, Map<String, Double> numbers) {
        for (int row = 0; row < table.rows().size(); row++) {
            if (fits(row, words, numbers)) {
                return bounds(row);
            }
        }
        return null;
    }

    private boolean fits(int row, Map<String, String> words, Map<String, Double> numbers) {
        for (String key : keys) {
            String cell = table.cell(row, key);
            boolean fits = cell.isEmpty()
                    || (isNumber(key)
                            ? isWithin(key, numbers.getOrDefault(key, Double.NaN), value(row, key))
                            : cell.equals(words.get(key)));
            if (!fits) {
                return false;
            }
        }
        return true;
    }

    private static boolean isWithin(String heading, double there, double bound) {
        return heading.endsWith(BELOW) ? there < bound : there <= bound;
    }
}
