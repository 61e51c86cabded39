package org.juratest.formats.trend;

import java.io.IOException;
import java.io.Reader;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.jspecify.annotations.Nullable;

/** Reads {@code date,value,limit,event} tables: a test point over time. */
public final class TrendTable {

    private static final List<String> COLUMNS = List.of("date", "value", "limit", "event");
    private static final Set<String> CUTS = Set.of("repair", "adjust", "exchange");

    private TrendTable() {}

    /**
     * One row.
     *
     * @param limit it was judged by; absent where there is none
     * @param event what was done before it; absent for nothing
     */
    public record Row(LocalDate date, double value, @Nullable Double limit, @Nullable String event) {}

    /**
     * All rows, in the order of time.
     *
     * @throws IllegalArgumentException naming line and column at fault
     */
    public static List<Row> read(Reader in) throws IOException {
        CSVFormat format = CSVFormat.RFC4180
                .builder()
                .setTrim(true)
                .setIgnoreEmptyLines(true)
                .get();
        List<Row> rows = new ArrayList<>();
        try (CSVParser parser = CSVParser.parse(in, format)) {
            boolean header = true;
            for (CSVRecord record : parser) {
                long line = parser.getCurrentLineNumber();
                if (header) {
                    checkHeader(record);
                    header = false;
                } else {
                    Row row = row(record, line);
                    if (!rows.isEmpty() && row.date.isBefore(rows.get(rows.size() - 1).date)) {
                        throw new IllegalArgumentException("line " + line + ", column 1 (date): " + row.date
                                + " is before " + rows.get(rows.size() - 1).date
                                + " above it; put the rows in the order of time");
                    }
                    rows.add(row);
                }
            }
        } catch (java.io.UncheckedIOException e) {
            throw new IllegalArgumentException(
                    "the CSV cannot be read: " + e.getCause().getMessage(), e);
        }
        if (rows.isEmpty()) {
            throw new IllegalArgumentException("there is no row below the header");
        }
        return rows;
    }

    private static void checkHeader(CSVRecord record) {
        List<String> header = record.stream().map(h -> h.replace("\uFEFF", "")).toList();
        if (!header.equals(COLUMNS)) {
            throw new IllegalArgumentException(
                    "line 1: the columns must be date,value,limit,event, not " + String.join(",", header));
        }
    }

    private static Row row(CSVRecord record, long line) {
        if (record.size() != COLUMNS.size()) {
            throw new IllegalArgumentException(
                    "line " + line + " has " + record.size() + " columns, not " + COLUMNS.size());
        }
        LocalDate date;
        try {
            date = LocalDate.parse(record.get(0));
        } catch (DateTimeException e) {
            throw new IllegalArgumentException(wrong(line, 0, record, "is not a date such as 2025-03-01"), e);
        }
        String event = record.get(3);
        if (!event.isEmpty() && !CUTS.contains(event)) {
            throw new IllegalArgumentException(
                    wrong(line, 3, record, "is no event; there are adjust, exchange, repair"));
        }
        return new Row(
                date,
                number(record, line, 1),
                record.get(2).isEmpty() ? null : number(record, line, 2),
                event.isEmpty() ? null : event);
    }

    private static double number(CSVRecord record, long line, int column) {
        double value;
        try {
            value = Double.parseDouble(record.get(column));
        } catch (NumberFormatException e) {
            value = Double.NaN;
        }
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException(wrong(line, column, record, "is not a finite number"));
        }
        return value;
    }

    private static String wrong(long line, int column, CSVRecord record, String what) {
        String text = record.get(column);
        return "line " + line + ", column " + (column + 1) + " (" + COLUMNS.get(column) + "): \""
                + (text.length() > 40 ? text.substring(0, 39) + "…" : text) + "\" " + what;
    }
}
