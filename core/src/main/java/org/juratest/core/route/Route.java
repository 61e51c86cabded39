package org.juratest.core.route;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * The route of an asset that lies along a line: places in the order of their distance from the near end, an end at
 * either side. It is kept as text of one place a line, its values parted by semicolons in the order of
 * {@link #COLUMNS}; empty ones at the end of a line are left out.
 *
 * @param points 2 to {@value #MOST}, km not falling
 */
public record Route(List<RoutePoint> points) {

    /** What stands in a line, in this order. */
    public static final List<String> COLUMNS = List.of("km", "what", "name", "height_m", "slack_m", "position");

    /** Places there may be. */
    public static final int MOST = 500;
    /** Characters a route has at most. */
    public static final int LONGEST = 40_000;

    private static final int LONGEST_NAME = 80;
    private static final double LONGEST_KM = 20_000;
    private static final double HIGHEST = 9_000;
    private static final double LOWEST = -500;
    private static final double MOST_SLACK = 10_000;

    public Route {
        points = List.copyOf(points);
    }

    /**
     * Reads a route. Beside its own form it takes lines parted by tabs or commas, as tables are pasted, and a first
     * line with the names of the columns.
     *
     * @param kinds what may stand at a place; the first is what stands at both ends; absent for whatever does
     * @throws RouteException naming line and column
     */
    public static Route parse(String text, @Nullable List<String> kinds) throws RouteException {
        if (text.length() > LONGEST) {
            throw new RouteException(
                    0, "", "a route has at most " + LONGEST + " characters, not " + text.length() + ".");
        }
        String[] lines = text.split("\\R");
        List<RoutePoint> points = new ArrayList<>();
        for (int i = 0; i < lines.length; i++) {
            String line = lines[i].strip();
            boolean heading = points.isEmpty()
                    && line.toLowerCase(Locale.ROOT).matches("\"?" + COLUMNS.get(0) + "\"?\\s*[;,\\t].*");
            if (!line.isEmpty() && !heading) {
                points.add(point(line, i + 1, kinds, points.isEmpty() ? null : points.get(points.size() - 1)));
            }
            if (points.size() > MOST) {
                throw new RouteException(i + 1, "", "a route has at most " + MOST + " places.");
            }
        }
        if (points.size() < 2) {
            throw new RouteException(lines.length, "", "a route has two ends at least.");
        }
        if (kinds == null) {
            return new Route(points);
        }
        String end = kinds.get(0);
        if (!points.get(0).what().equals(end) || points.get(0).km() != 0) {
            throw new RouteException(1, "what", "a route begins with its near " + end + ", at 0 km.");
        }
        if (!points.get(points.size() - 1).what().equals(end)) {
            throw new RouteException(lines.length, "what", "a route ends with its far " + end + ".");
        }
        return new Route(points);
    }

    /** A route that was kept, whatever stands along it; empty where the text is none. */
    public static Optional<Route> kept(String text) {
        try {
            return Optional.of(parse(text, null));
        } catch (RouteException e) {
            return Optional.empty();
        }
    }

    private static RoutePoint point(String line, int n, @Nullable List<String> kinds, @Nullable RoutePoint before)
            throws RouteException {
        String separator = line.contains(";") ? ";" : line.contains("\t") ? "\t" : ",";
        String[] cells = line.split(separator, -1);
        if (cells.length > COLUMNS.size()) {
            throw new RouteException(
                    n,
                    "",
                    cells.length + " values; a place has " + COLUMNS.size() + " at most: " + String.join(", ", COLUMNS)
                            + ".");
        }
        double km = number(cells, 0, n, 0, LONGEST_KM);
        if (before != null && km < before.km()) {
            throw new RouteException(
                    n, "km", shown(km) + " km lies before the place above it, " + shown(before.km()) + " km.");
        }
        String what = text(cells, 1, n);
        if (kinds != null && !kinds.contains(what)) {
            throw new RouteException(n, "what", "it is one of " + String.join(", ", kinds) + "; not \"" + what + "\".");
        }
        String name = text(cells, 2, n);
        if (name.isEmpty()) {
            throw new RouteException(n, "name", "it needs the name that people on site call it by.");
        }
        String position = text(cells, 5, n);
        return new RoutePoint(
                km,
                what,
                name,
                text(cells, 3, n).isEmpty() ? null : number(cells, 3, n, LOWEST, HIGHEST),
                text(cells, 4, n).isEmpty() ? 0 : number(cells, 4, n, 0, MOST_SLACK),
                position.isEmpty() ? null : position);
    }

    private static String text(String[] cells, int column, int line) throws RouteException {
        String cell = column < cells.length ? cells[column].strip() : "";
        if (cell.length() > 1 && cell.startsWith("\"") && cell.endsWith("\"")) {
            cell = cell.substring(1, cell.length() - 1).strip();
        }
        if (cell.length() > LONGEST_NAME) {
            throw new RouteException(
                    line,
                    COLUMNS.get(column),
                    "it has at most " + LONGEST_NAME + " characters, not " + cell.length() + ".");
        }
        if (cell.chars().anyMatch(Character::isISOControl)) {
            throw new RouteException(line, COLUMNS.get(column), "it holds a character that cannot be shown.");
        }
        return cell;
    }

    private static double number(String[] cells, int column, int line, double low, double high) throws RouteException {
        String cell = text(cells, column, line);
        // Where semicolons or tabs part the values, a comma can only be a decimal one.
        if (!cell.matches("[+-]?\\d{1,6}([.,]\\d{1,6})?")) {
            throw new RouteException(line, COLUMNS.get(column), "\"" + cell + "\" is no number.");
        }
        double value = Double.parseDouble(cell.replace(',', '.'));
        if (!(value >= low && value <= high)) {
            throw new RouteException(
                    line, COLUMNS.get(column), "it is " + shown(low) + " to " + shown(high) + ", not " + cell + ".");
        }
        return value;
    }

    /** The route in the form it is kept in. */
    public String print() {
        StringBuilder text = new StringBuilder();
        for (RoutePoint p : points) {
            String line = String.join(
                    ";",
                    shown(p.km()),
                    p.what(),
                    p.name(),
                    p.height() == null ? "" : shown(p.height()),
                    p.slack() == 0 ? "" : shown(p.slack()),
                    p.position() == null ? "" : p.position());
            text.append(text.isEmpty() ? "" : "\n").append(line.replaceAll(";+$", ""));
        }
        return text.toString();
    }

    private static String shown(double value) {
        return new java.math.BigDecimal(value)
                .setScale(6, java.math.RoundingMode.HALF_EVEN)
                .stripTrailingZeros()
                .toPlainString();
    }

    /** From its near end to its far one, km. */
    public double length() {
        return points.get(points.size() - 1).km();
    }

    /** The same route told from its far end. */
    public Route reversed() {
        List<RoutePoint> reversed = new ArrayList<>();
        for (int i = points.size() - 1; i >= 0; i--) {
            RoutePoint p = points.get(i);
            reversed.add(new RoutePoint(
                    Math.round((length() - p.km()) * 1e6) / 1e6,
                    p.what(),
                    p.name(),
                    p.height(),
                    p.slack(),
                    p.position()));
        }
        return new Route(reversed);
    }

    /** The place a distance is nearest to, and how far beyond it, km (before it: negative). */
    public Beside beside(double km) {
        RoutePoint nearest = points.get(0);
        for (RoutePoint p : points) {
            nearest = Math.abs(p.km() - km) < Math.abs(nearest.km() - km) ? p : nearest;
        }
        return new Beside(nearest, km - nearest.km());
    }

    /**
     * Where something is beside a place.
     *
     * @param beyond km
     */
    public record Beside(RoutePoint point, double beyond) {}
}
