package org.juratest.server.record;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.DoubleStream;
import java.util.stream.IntStream;
import org.juratest.core.limit.Verdict;
import org.juratest.core.trace.Trace;

/**
 * Traces of one unit over each other in the report: lines as SVG told apart by their dashes, words as text over it.
 * Sizes in pt.
 */
final class TraceDrawing {

    private static final double WIDTH = 500;
    private static final double HEIGHT = 110;
    private static final double LEFT = 44;
    private static final double RIGHT = 70;
    private static final double TOP = 6;
    private static final double BOTTOM = 22;
    /** Points a line is drawn with at most: two for each half point of its width. */
    private static final int MOST = 2000;

    private static final int MOST_STEPS = 60;
    private static final List<String> DASHES = List.of("", "5 2", "1.5 1.5", "7 2 1.5 2");
    private static final int STEPS = 4;
    private static final double LABEL_GAP = 9;

    /** How far a trace is drawn behind the last row that was found along it: beyond there is nothing but noise. */
    private static final double BEHIND = 1.12;

    private static final double SPOT = 6;

    private final Map<String, Trace> lanes;
    private final List<RecordView.TraceMark> marks;
    private final StringBuilder lines = new StringBuilder();
    private final StringBuilder words = new StringBuilder();
    private final double fromX;
    private final double toX;
    private final double fromY;
    private final double toY;

    /** @param lanes by name, in order; at least one */
    TraceDrawing(Map<String, Trace> lanes) {
        this(lanes, List.of());
    }

    /** @param marks rows that were found along the first of them */
    TraceDrawing(Map<String, Trace> lanes, List<RecordView.TraceMark> marks) {
        this.lanes = lanes;
        this.marks = marks;
        // A trace counts from where it begins; a spectrum may lie on both sides of its middle.
        fromX = Math.min(0, places().min().orElseThrow());
        double end = places().max().orElseThrow();
        double last = marks.stream().mapToDouble(RecordView.TraceMark::at).max().orElse(Double.POSITIVE_INFINITY);
        toX = last > 0 ? Math.min(end, last * BEHIND) : end;
        double lowest = values().min().orElseThrow();
        double highest = values().max().orElseThrow();
        double room = Math.max((highest - lowest) * 0.2, Math.max(Math.abs(highest), 1e-9) * 0.005);
        fromY = lowest - room;
        toY = highest + room;
    }

    private DoubleStream places() {
        return lanes.values().stream().flatMapToDouble(t -> Arrays.stream(t.x()));
    }

    /** Those that are drawn. */
    private DoubleStream values() {
        return lanes.values().stream().flatMapToDouble(t -> {
            double[] xs = t.x();
            double[] ys = t.y();
            return IntStream.range(0, xs.length).filter(i -> xs[i] <= toX).mapToDouble(i -> ys[i]);
        });
    }

    private double x(double value) {
        return LEFT + (WIDTH - LEFT - RIGHT) * (toX > fromX ? (Math.max(fromX, value) - fromX) / (toX - fromX) : 0);
    }

    private double y(double value) {
        return TOP + (HEIGHT - TOP - BOTTOM) * (toY - value) / (toY - fromY);
    }

    String html() {
        Trace first = lanes.values().iterator().next();
        for (double tick : ticks(fromY, toY)) {
            Drawing.grid(lines, LEFT, y(tick), WIDTH - RIGHT, y(tick));
            word(
                    0,
                    y(tick) - 5,
                    LEFT - 4,
                    "right",
                    number(tick) + "\u00a0" + first.yUnit().symbol());
        }
        for (double tick : ticks(fromX, toX)) {
            Drawing.grid(lines, x(tick), TOP, x(tick), HEIGHT - BOTTOM);
            word(
                    x(tick) - 25,
                    HEIGHT - BOTTOM + 3,
                    50,
                    "center",
                    number(tick) + "\u00a0" + first.xUnit().symbol());
        }
        int i = 0;
        List<Double> taken = new ArrayList<>();
        for (Map.Entry<String, Trace> lane : lanes.entrySet()) {
            boolean cloud = isCloud(lane.getValue());
            String dash = cloud ? "" : DASHES.get(i % DASHES.size());
            // Ticks that stand and ticks that lie are told apart in print as well.
            String dot = i++ % 2 == 0 ? "v1.6 " : "h1.6 ";
            double end = cloud ? cloud(lane.getValue(), dot) : line(lane.getValue(), dash);
            double label = end - 5;
            for (double other : taken) {
                label = Math.abs(label - other) < LABEL_GAP ? other + LABEL_GAP : label;
            }
            taken.add(label);
            double at = label + 5;
            String sample = cloud
                    ? DoubleStream.of(4, 9, 14)
                            .mapToObj(
                                    x -> String.format(Locale.ROOT, "M%.1f %.1f %s", WIDTH - RIGHT + x, at - 0.8, dot))
                            .collect(Collectors.joining())
                    : String.format(Locale.ROOT, "M%.1f %.1f h14", WIDTH - RIGHT + 4, at);
            lines.append(String.format(
                    Locale.ROOT,
                    "<path d=\"%s\" stroke=\"%s\" stroke-width=\"0.9\" stroke-dasharray=\"%s\"/>",
                    sample,
                    Drawing.INK,
                    dash.isEmpty() ? "none" : dash));
            word(WIDTH - RIGHT + 21, label, RIGHT - 21, "left", lane.getKey());
        }
        marks();
        return "<div class=\"trace\">" + Drawing.svg(WIDTH, HEIGHT, lines.toString()) + words + "</div>";
    }

    /**
     * Whether a trace is many values of one kind counted one by one (symbols), which a line between them would hide;
     * the same on screen.
     */
    private static boolean isCloud(Trace trace) {
        return trace.xUnit().symbol().isEmpty() && trace.x().length > MOST_STEPS;
    }

    /** Draws values one by one; gives where they end. */
    private double cloud(Trace trace, String dot) {
        double[] xs = trace.x();
        double[] ys = trace.y();
        StringBuilder path = new StringBuilder();
        for (int i = 0; i < xs.length; i += Math.max(1, xs.length / MOST)) {
            path.append(String.format(Locale.ROOT, "M%.2f %.2f %s", x(xs[i]), y(ys[i]) - 0.8, dot));
        }
        lines.append("<path d=\"")
                .append(path)
                .append("\" fill=\"none\" stroke=\"")
                .append(Drawing.INK)
                .append("\" stroke-width=\"0.5\"/>");
        return y(ys[ys.length - 1]);
    }

    /** Draws a line; gives where it ends. */
    private double line(Trace trace, String dash) {
        double[] xs = trace.x();
        double[] ys = trace.y();
        int shown = (int) Arrays.stream(xs).filter(v -> v <= toX).count();
        int step = Math.max(1, shown / MOST);
        StringBuilder path = new StringBuilder();
        for (int i = 0; i < shown; i += step) {
            path.append(String.format(Locale.ROOT, "%s%.2f %.2f ", i == 0 ? "M" : "L", x(xs[i]), y(ys[i])));
        }
        lines.append("<path d=\"")
                .append(path)
                .append("\" fill=\"none\" stroke=\"")
                .append(Drawing.INK)
                .append("\" stroke-width=\"0.8\" stroke-dasharray=\"")
                .append(dash.isEmpty() ? "none" : dash)
                .append("\"/>");
        return y(ys[shown - 1]);
    }

    /** The rows over the line, the bad ones with their words. */
    private void marks() {
        Trace first = lanes.values().iterator().next();
        double[] xs = first.x();
        double[] ys = first.y();
        int told = 0;
        for (RecordView.TraceMark mark : marks) {
            int found = Arrays.binarySearch(xs, mark.at());
            int at = Math.min(xs.length - 1, found < 0 ? -found - 1 : found);
            double top = Math.max(TOP, y(ys[at]) - SPOT - 3);
            lines.append(Drawing.shape(mark.verdict(), x(mark.at()) - SPOT / 2, top, SPOT));
            if (mark.verdict() == Verdict.FAIL || mark.verdict() == Verdict.MARGINAL_OUTSIDE) {
                boolean turned = x(mark.at()) > WIDTH / 2;
                word(
                        turned ? x(mark.at()) - SPOT - 240 : x(mark.at()) + SPOT,
                        TOP + LABEL_GAP * told++,
                        240,
                        turned ? "right" : "left",
                        mark.words());
            }
        }
    }

    /** Round values that divide a span into a few parts. */
    static List<Double> ticks(double from, double to) {
        double raw = (to - from) / STEPS;
        double unit = Math.pow(10, Math.floor(Math.log10(raw)));
        double step = unit * (raw <= unit ? 1 : raw <= 2 * unit ? 2 : raw <= 5 * unit ? 5 : 10);
        List<Double> ticks = new ArrayList<>();
        for (long n = (long) Math.ceil(from / step); n * step <= to; n++) {
            ticks.add(n * step);
        }
        return ticks;
    }

    static String number(double value) {
        return value == 0
                ? "0"
                : new BigDecimal(value)
                        .round(new MathContext(6))
                        .stripTrailingZeros()
                        .toPlainString()
                        .replace('-', '\u2212');
    }

    private void word(double x, double y, double width, String align, String text) {
        words.append(String.format(
                Locale.ROOT,
                "<span class=\"w\" style=\"left:%.1fpt;top:%.1fpt;width:%.1fpt;text-align:%s\">%s</span>",
                x,
                y,
                width,
                align,
                RecordPaper.text(text)));
    }
}
