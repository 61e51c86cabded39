package org.juratest.formats.curve;

import java.util.ArrayList;
import java.util.List;
import org.juratest.core.curve.ElementShape;

/**
 * The band of an element as a table that was pasted or comes from a CSV: a line for each multiple of the setting, with
 * the shortest and the longest time, s. Between cells stand tabs, semicolons, commas or blanks; a decimal comma is read
 * where something else than a comma stands between. A first line of words is a heading. A time that is not stated is a
 * hyphen or empty.
 */
public final class CurvePoints {

    private static final int MOST = 400;

    private CurvePoints() {}

    /**
     * Reads a table.
     *
     * @throws IllegalArgumentException naming line and cell at fault
     */
    public static ElementShape.Points read(String text) {
        List<Double> lowestAt = new ArrayList<>();
        List<Double> lowest = new ArrayList<>();
        List<Double> highestAt = new ArrayList<>();
        List<Double> highest = new ArrayList<>();
        String[] lines = text.replace("\r", "").split("\n", -1);
        double before = 0;
        for (int n = 0; n < lines.length; n++) {
            String line = lines[n].strip();
            if (line.isEmpty() || n == 0 && line.matches(".*[A-Za-z]{2}.*")) {
                continue;
            }
            String[] cells = cells(lines[n].strip());
            if (cells.length != 3) {
                throw at(n, "has " + cells.length + " cells; three are wanted: multiple, shortest, longest time");
            }
            double multiple = number(n, "multiple", cells[0]);
            if (!(multiple > before)) {
                throw at(n, "multiples ascend and are above 0; " + cells[0].strip() + " does not follow " + before);
            }
            before = multiple;
            boolean hasLow = isStated(cells[1]);
            boolean hasHigh = isStated(cells[2]);
            double low = hasLow ? number(n, "shortest time", cells[1]) : Double.NaN;
            double high = hasHigh ? number(n, "longest time", cells[2]) : Double.NaN;
            if (hasLow && hasHigh && low > high) {
                throw at(n, "its shortest time is longer than its longest");
            }
            if (hasLow) {
                lowestAt.add(multiple);
                lowest.add(low);
            }
            if (hasHigh) {
                highestAt.add(multiple);
                highest.add(high);
            }
            if (lowestAt.size() > MOST || highestAt.size() > MOST) {
                throw at(n, "a band has at most " + MOST + " points");
            }
        }
        if (lowest.size() < 2 || highest.size() < 2) {
            throw new IllegalArgumentException(
                    "Give at least two points with a shortest and two with a longest time, a line each.");
        }
        return new ElementShape.Points(lowestAt, lowest, highestAt, highest);
    }

    private static String[] cells(String line) {
        String by = line.contains("\t")
                ? "\t"
                : line.contains(";") ? ";" : line.contains(",") && !line.contains(" ") ? "," : "[ ]+";
        return line.split(by.equals("[ ]+") ? by : by + "[ ]*", -1);
    }

    private static boolean isStated(String cell) {
        return !cell.isBlank() && !cell.strip().equals("-");
    }

    private static double number(int line, String what, String cell) {
        double value;
        try {
            value = Double.parseDouble(cell.strip().replace(',', '.'));
        } catch (NumberFormatException e) {
            value = Double.NaN;
        }
        if (!(value > 0 && value <= 1e7)) {
            throw at(line, what + ": \"" + cell.strip() + "\" is no number above 0");
        }
        return value;
    }

    private static IllegalArgumentException at(int line, String words) {
        return new IllegalArgumentException("Line " + (line + 1) + " " + words + ".");
    }
}
