package org.juratest.formats.curve;

import java.io.IOException;
import java.io.Reader;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.juratest.core.curve.InverseTimeCurve;

/** Reads {@code curve,timeSetting,multiple} tables. */
public final class CurveTable {

    private static final Set<String> COLUMNS = Set.of("curve", "timeSetting", "multiple");

    private CurveTable() {}

    /** One row: a curve, its time setting (above 0) and a multiple of pick-up (not negative). */
    public record Row(InverseTimeCurve curve, double timeSetting, double multiple) {}

    /**
     * All rows, in order.
     *
     * @throws IllegalArgumentException naming row and column at fault
     */
    public static List<Row> read(Reader in) throws IOException {
        CSVFormat format = CSVFormat.RFC4180
                .builder()
                .setHeader()
                .setSkipHeaderRecord(true)
                .setTrim(true)
                .setIgnoreEmptyLines(true)
                .get();
        List<Row> rows = new ArrayList<>();
        try (CSVParser parser = CSVParser.parse(in, format)) {
            List<String> header = parser.getHeaderNames().stream()
                    .map(h -> h.replace("\uFEFF", ""))
                    .toList();
            if (!Set.copyOf(header).equals(COLUMNS) || header.size() != COLUMNS.size()) {
                throw new IllegalArgumentException(
                        "the columns must be curve,timeSetting,multiple, not " + String.join(",", header));
            }
            for (CSVRecord record : parser) {
                rows.add(row(record, header));
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

    private static Row row(CSVRecord record, List<String> header) {
        if (record.size() != header.size()) {
            throw new IllegalArgumentException(
                    "row " + record.getRecordNumber() + " has " + record.size() + " fields, not " + header.size());
        }
        String id = record.get(header.indexOf("curve"));
        InverseTimeCurve curve = InverseTimeCurve.byId(id)
                .orElseThrow(() -> new IllegalArgumentException(
                        "row " + record.getRecordNumber() + ", column curve: there is no curve \"" + id + "\""));
        double setting = number(record, header, "timeSetting");
        double multiple = number(record, header, "multiple");
        if (!(setting > 0)) {
            throw new IllegalArgumentException(
                    "row " + record.getRecordNumber() + ", column timeSetting: must be above 0, not " + setting);
        }
        if (!(multiple >= 0)) {
            throw new IllegalArgumentException(
                    "row " + record.getRecordNumber() + ", column multiple: must not be negative, not " + multiple);
        }
        return new Row(curve, setting, multiple);
    }

    private static double number(CSVRecord record, List<String> header, String column) {
        String text = record.get(header.indexOf(column));
        double value;
        try {
            value = Double.parseDouble(text);
        } catch (NumberFormatException e) {
            value = Double.NaN;
        }
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("row " + record.getRecordNumber() + ", column " + column + ": \"" + text
                    + "\" is not a finite number");
        }
        return value;
    }
}
