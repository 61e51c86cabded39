package org.juratest.server.record;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.DoubleStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.Verdict;
import org.juratest.core.record.Chart;

/** A chart of the report: geometry as SVG, words as text over it, so that they can be found and copied. Sizes in pt. */
final class ChartDrawing {

    static final double WIDTH = 500;
    static final double HEIGHT = 215;
    private static final double LEFT = 44;
    private static final double BOTTOM = 30;
    private static final double TOP = 8;
    private static final double[] SECONDS = {0.01, 0.1, 1, 10, 60, 600, 3600, 36_000};
    private static final double LABEL_GAP = 10;
    private static final double LABEL_WIDTH = 60;
    /** A least time of a millionth of a second stands for "none stated": it is not drawn down to. */
    private static final double LEAST_TIME = 1e-4;

    private static final double LONGEST = 36_000;

    private final Chart chart;
    private final StringBuilder lines = new StringBuilder();
    private final StringBuilder words = new StringBuilder();
    private final Span x;
    private final Span y;

    ChartDrawing(Chart chart) {
        this.chart = chart;
        double[] places = DoubleStream.concat(
                        chart.allowed().stream().mapToDouble(Envelope.Place::at),
                        DoubleStream.concat(
                                chart.spots().stream().mapToDouble(Chart.Spot::at),
                                // Right of where it is measured stands what was.
                                Stream.ofNullable(chart.at()).flatMapToDouble(a -> DoubleStream.of(a, a * 1.3))))
                .toArray();
        x = Span.around(places, chart.x(), 0.75, 1.05);
        double[] values = Stream.concat(
                        chart.allowed().stream().flatMap(p -> Stream.of(p.low(), p.high())),
                        chart.spots().stream().map(Chart.Spot::value))
                .filter(v -> v != null && (!isTime(chart.y()) || v > LEAST_TIME && v <= LONGEST))
                .mapToDouble(v -> v)
                .toArray();
        y = Span.around(values, chart.y(), 0.5, 1.2);
    }

    /** Whether an axis is one of times over many decades, which people read in units of their own. */
    private static boolean isTime(Chart.Axis axis) {
        return axis.logarithmic() && axis.unit().equals("s");
    }

    /** A length of an axis. */
    private record Span(double from, double to, boolean logarithmic) {

        /**
         * Around values, with room.
         *
         * @param below factor of the least on a logarithmic axis
         * @param above factor of the greatest on one
         */
        static Span around(double[] values, Chart.Axis axis, double below, double above) {
            double[] placed = Arrays.stream(values)
                    .filter(v -> Math.abs(v) <= Double.MAX_VALUE && (v > 0 || !axis.logarithmic()))
                    .sorted()
                    .toArray();
            double least = placed.length == 0 ? 1 : placed[0];
            double most = placed.length == 0 ? 1 : placed[placed.length - 1];
            if (axis.logarithmic()) {
                return new Span(least * below, most * above, true);
            }
            double room = Math.max((most - least) * 0.15, Math.max(Math.abs(most), 1e-9) * 0.05);
            return new Span(least - room, most + room, false);
        }

        /** 0 at its beginning, 1 at its end; 0 for what has no place on it. */
        double share(double value) {
            if (!logarithmic) {
                return (value - from) / (to - from);
            }
            return value > 0 ? Math.log(value / from) / Math.log(to / from) : 0;
        }

        boolean holds(double value) {
            return value >= from && value <= to;
        }
    }

    private double x(double place) {
        return LEFT + (WIDTH - LEFT - 4) * x.share(place);
    }

    private double y(double value) {
        return TOP + (HEIGHT - BOTTOM - TOP) * (1 - Math.min(1, Math.max(0, y.share(value))));
    }

    /** The field as a block of the page. */
    String html() {
        grid();
        if (!chart.allowed().isEmpty()) {
            allowed();
        }
        measured();
        return "<div class=\"field\">" + Drawing.svg(WIDTH, HEIGHT, lines.toString()) + words + "</div>";
    }

    private void grid() {
        List<Double> values = isTime(chart.y())
                ? Arrays.stream(SECONDS).filter(y::holds).boxed().toList()
                : y.logarithmic() ? decades(y, null) : TraceDrawing.ticks(y.from(), y.to());
        for (double t : values) {
            Drawing.grid(lines, LEFT, y(t), WIDTH - 4, y(t));
            word(LEFT - 42, y(t) - 5, 38, "right", isTime(chart.y()) ? seconds(t) : withUnit(t, chart.y()));
        }
        for (double c : x.logarithmic() ? decades(x, chart.at()) : places()) {
            Drawing.grid(lines, x(c), TOP, x(c), HEIGHT - BOTTOM);
            word(x(c) - 25, HEIGHT - BOTTOM + 3, 50, "center", withUnit(c, chart.x()));
        }
        word(WIDTH - 164, HEIGHT - 12, 160, "right", chart.x().words());
    }

    /** Round places; of what is counted only whole ones. */
    private List<Double> places() {
        boolean counted =
                chart.x().unit().isEmpty() && chart.spots().stream().allMatch(s -> s.at() == Math.rint(s.at()));
        return TraceDrawing.ticks(x.from(), x.to()).stream()
                .filter(t -> !counted || t == Math.rint(t))
                .toList();
    }

    /** Decades and their parts, and one value that has its figure whatever stands near it. */
    private static List<Double> decades(Span span, @Nullable Double always) {
        List<Double> ticks = new ArrayList<>(Stream.ofNullable(always).toList());
        for (double decade = Math.pow(10, Math.floor(Math.log10(span.from))); decade <= span.to; decade *= 10) {
            for (double step : span.to / span.from > 60 ? new double[] {1} : new double[] {1, 2, 5}) {
                double tick = step * decade;
                if (span.holds(tick) && (always == null || Math.abs(Math.log(tick / always)) > 0.35)) {
                    ticks.add(tick);
                }
            }
        }
        return ticks;
    }

    private static String withUnit(double value, Chart.Axis axis) {
        boolean thousands = axis.logarithmic() && value >= 1000 && !axis.unit().isEmpty();
        String unit = thousands ? "k" + axis.unit() : axis.unit();
        return TraceDrawing.number(thousands ? value / 1000 : value) + (unit.isEmpty() ? "" : " " + unit);
    }

    private static String seconds(double t) {
        return t >= 3600
                ? TraceDrawing.number(t / 3600) + " h"
                : t >= 60
                        ? TraceDrawing.number(t / 60) + " min"
                        : t >= 0.1 ? TraceDrawing.number(t) + " s" : TraceDrawing.number(t * 1000) + " ms";
    }

    /** The allowed field; where nothing is demanded it is open to the edge. */
    private void allowed() {
        StringBuilder upper = new StringBuilder();
        StringBuilder lower = new StringBuilder();
        List<String> back = new ArrayList<>();
        for (Envelope.Place p : chart.allowed()) {
            double top = p.high() == null ? TOP : y(p.high());
            double bottom = p.low() == null ? HEIGHT - BOTTOM : y(p.low());
            upper.append(point(upper.isEmpty(), x(p.at()), top));
            lower.append(point(lower.isEmpty(), x(p.at()), bottom));
            back.add(0, point(false, x(p.at()), bottom));
        }
        lines.append("<path d=\"")
                .append(upper)
                .append(String.join("", back))
                .append("Z\" fill=\"")
                .append(Drawing.ALLOWED)
                .append("\"/>");
        List<StringBuilder> edges = new ArrayList<>();
        if (chart.allowed().stream().anyMatch(p -> p.high() != null)) {
            edges.add(upper);
        }
        if (chart.allowed().stream().anyMatch(p -> p.low() != null)) {
            edges.add(lower);
        }
        for (StringBuilder edge : edges) {
            lines.append("<path d=\"")
                    .append(edge)
                    .append("\" fill=\"none\" stroke=\"")
                    .append(Drawing.PINE)
                    .append("\" stroke-width=\"0.8\"/>");
        }
    }

    private static String point(boolean first, double x, double y) {
        return String.format(Locale.ROOT, "%s%.2f %.2f ", first ? "M" : "L", x, y);
    }

    private void measured() {
        List<Chart.Spot> shown = chart.spots().stream()
                .filter(s -> Math.abs(s.at()) <= Double.MAX_VALUE && Math.abs(s.value()) <= Double.MAX_VALUE)
                .filter(s -> (s.at() > 0 || !x.logarithmic()) && (s.value() > 0 || !y.logarithmic()))
                .sorted(Comparator.comparing(Chart.Spot::value).reversed())
                .toList();
        Map<Long, Double> last = new HashMap<>();
        for (Chart.Spot spot : shown) {
            double at = y(spot.value());
            lines.append(
                    Drawing.shape(spot.voided() ? Verdict.NOT_JUDGED : spot.verdict(), x(spot.at()) - 4, at - 4, 8));
            // Labels of one place stand under each other.
            long column = Math.round(x(spot.at()) / LABEL_WIDTH);
            double label = Math.max(at - 5.5, last.getOrDefault(column, -LABEL_GAP) + LABEL_GAP);
            last.put(column, label);
            String unit = chart.y().unit().isEmpty() ? "" : " " + chart.y().unit();
            String said = spot.lane() + " " + spot.figure() + unit
                    + (spot.voided() ? ", voided" : spot.counts() ? "" : ", as found");
            // On the right there is no room for words.
            boolean turned = x(spot.at()) > WIDTH - 2 * LABEL_WIDTH;
            double left = turned ? x(spot.at()) - 7 - 3 * LABEL_WIDTH : x(spot.at()) + 7;
            put("w t", left, label, 3 * LABEL_WIDTH, turned ? "right" : "left", said);
        }
    }

    private void word(double x, double y, double width, String align, String text) {
        put("w", x, y, width, align, text);
    }

    private void put(String kind, double x, double y, double width, String align, String text) {
        words.append(String.format(
                Locale.ROOT,
                "<span class=\"%s\" style=\"left:%.1fpt;top:%.1fpt;width:%.1fpt;text-align:%s\">%s</span>",
                kind,
                x,
                y,
                width,
                align,
                RecordPaper.text(text)));
    }
}
