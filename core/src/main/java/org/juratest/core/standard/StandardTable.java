package org.juratest.core.standard;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What a standard, in one of its editions, or the house allows, as a table: a method judges by it, people may edit it,
 * a run keeps the one it was opened with.
 *
 * @param group what kind of table it is; a method names the groups it judges by
 * @param id unique among all tables; a nameplate may name one of a group, by a value of the group's name
 * @param title what it is for
 * @param edition standard and edition, or house rule and date
 * @param when values of the nameplate for which it is meant, each contained in the value there, case ignored; the more
 *     there are, the sooner it is taken
 * @param columns headings
 * @param rows as many cells each as there are columns
 */
public record StandardTable(
        String group,
        String id,
        String title,
        String edition,
        Map<String, String> when,
        List<String> columns,
        List<List<String>> rows) {

    /** A cell, heading or text that is at fault. */
    public static final class FaultException extends IllegalArgumentException {
        private static final long serialVersionUID = 1;

        private final String field;

        /** @param field such as {@code rows.3.size}, rows counted from 0 */
        public FaultException(String field, String words) {
            super(words);
            this.field = field;
        }

        public String field() {
            return field;
        }
    }

    public StandardTable {
        when = Collections.unmodifiableMap(new TreeMap<>(when));
        columns = List.copyOf(columns);
        List<List<String>> copy = new ArrayList<>();
        for (List<String> row : rows) {
            if (row.size() != columns.size()) {
                throw new FaultException(
                        "rows." + copy.size(),
                        "Row " + (copy.size() + 1) + " has " + row.size() + " cells; there are " + columns.size()
                                + " columns.");
            }
            copy.add(List.copyOf(row));
        }
        rows = List.copyOf(copy);
    }

    /** The cell of a row, without blanks around it. */
    public String cell(int row, String column) {
        return rows.get(row).get(columns.indexOf(column)).strip();
    }

    /**
     * A number in a cell.
     *
     * @throws FaultException if there is none, or it is outside {@code low} to {@code high}
     */
    public double number(int row, String column, double low, double high) {
        String text = cell(row, column);
        double value;
        try {
            value = Double.parseDouble(text.replace(',', '.'));
        } catch (NumberFormatException e) {
            value = Double.NaN;
        }
        if (!(value >= low && value <= high)) {
            throw fault(
                    row,
                    column,
                    String.format(Locale.ROOT, "\"%s\" is no number from %s to %s", text, plain(low), plain(high)));
        }
        return value;
    }

    private static String plain(double value) {
        return value == Math.rint(value) ? String.valueOf((long) value) : String.valueOf(value);
    }

    /** Something wrong in a cell, told with its row, counted from 1, and its column. */
    public FaultException fault(int row, String column, String words) {
        return new FaultException(
                "rows." + row + "." + column, "Row " + (row + 1) + ", " + column + ": " + words + ".");
    }

    private boolean isFor(Map<String, String> plate) {
        return when.entrySet().stream().allMatch(e -> plate.getOrDefault(e.getKey(), "")
                .toLowerCase(Locale.ROOT)
                .contains(e.getValue().toLowerCase(Locale.ROOT)));
    }

    /**
     * The table of a group that a device is judged by: the one its plate names; else of those meant for it the one with
     * most conditions, by id where two have as many.
     *
     * @param plate texts of the nameplate
     */
    public static Optional<StandardTable> choose(
            Collection<StandardTable> tables, String group, Map<String, String> plate) {
        String named = plate.getOrDefault(group, "");
        Optional<StandardTable> own = tables.stream()
                .filter(t -> t.group.equals(group) && t.id.equals(named))
                .findFirst();
        return own.isPresent()
                ? own
                : tables.stream()
                        .filter(t -> t.group.equals(group) && t.isFor(plate))
                        .min(Comparator.comparingInt((StandardTable t) -> -t.when.size())
                                .thenComparing(StandardTable::id));
    }
}
