package org.juratest.server.record;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.juratest.core.curve.BandOutline;

/**
 * The time-current field of the report: geometry as SVG, words as text over it, so that they can be found and copied.
 * Sizes in pt.
 */
final class CurveDrawing {

    static final double WIDTH = 500;
    static final double HEIGHT = 215;
    private static final double LEFT = 44;
    private static final double BOTTOM = 30;
    private static final double TOP = 8;
    private static final double[] SECONDS = {0.01, 0.1, 1, 10, 60, 600, 3600, 36_000};
    private static final double LABEL_GAP = 10;

    private final RecordView.RecordCurve curve;
    private final StringBuilder lines = new StringBuilder();
    private final StringBuilder words = new StringBuilder();
    private final double fromCurrent;
    private final double toCurrent;
    private final double fromTime;
    private final double toTime;

    CurveDrawing(RecordView.RecordCurve curve) {
        this.curve = curve;
        List<BandOutline.Point> points = curve.outline().points();
        fromCurrent = Math.min(points.get(0).current(), curve.current()) * 0.75;
        toCurrent = Math.max(points.get(points.size() - 1).current(), curve.current() * 1.3) * 1.05;
        double[] times = Stream.concat(
                        points.stream().flatMap(p -> Stream.of(p.earliest(), p.latest())),
                        curve.trips().stream().map(RecordView.Trip::time))
                .filter(t -> t != null && t > 1e-4)
                .mapToDouble(t -> t)
                .sorted()
                .toArray();
        toTime = Math.min(times[times.length - 1] * 1.2, 36_000);
        fromTime = Math.max(times[0] / 2, 0.005);
    }

    private double x(double current) {
        return LEFT + (WIDTH - LEFT - 4) * Math.log(current / fromCurrent) / Math.log(toCurrent / fromCurrent);
    }

    private double y(double time) {
        double share = Math.log(time / fromTime) / Math.log(toTime / fromTime);
        return TOP + (HEIGHT - BOTTOM - TOP) * (1 - Math.min(1, Math.max(0, share)));
    }

    /** The field as a block of the page. */
    String html() {
        grid();
        band();
        trips();
        return "<div class=\"field\">" + Drawing.svg(WIDTH, HEIGHT, lines.toString()) + words + "</div>";
    }

    private void grid() {
        for (double t : SECONDS) {
            if (t >= fromTime && t <= toTime) {
                Drawing.grid(lines, LEFT, y(t), WIDTH - 4, y(t));
                word(LEFT - 42, y(t) - 5, 38, "right", seconds(t));
            }
        }
        for (double c : currents()) {
            Drawing.grid(lines, x(c), TOP, x(c), HEIGHT - BOTTOM);
            word(x(c) - 25, HEIGHT - BOTTOM + 3, 50, "center", c >= 1000 ? number(c / 1000) + " kA" : number(c) + " A");
        }
        word(WIDTH - 164, HEIGHT - 12, 160, "right", "current, rms");
    }

    private List<Double> currents() {
        List<Double> ticks = new ArrayList<>(List.of(curve.current()));
        for (double decade = Math.pow(10, Math.floor(Math.log10(fromCurrent))); decade <= toCurrent; decade *= 10) {
            for (double step : toCurrent / fromCurrent > 60 ? new double[] {1} : new double[] {1, 2, 5}) {
                double tick = step * decade;
                if (tick >= fromCurrent && tick <= toCurrent && Math.abs(Math.log(tick / curve.current())) > 0.35) {
                    ticks.add(tick);
                }
            }
        }
        return ticks;
    }

    private static String number(double value) {
        return value == Math.rint(value)
                ? String.valueOf((long) value)
                : new BigDecimal(value)
                        .round(new MathContext(3))
                        .stripTrailingZeros()
                        .toPlainString();
    }

    private static String seconds(double t) {
        return t >= 3600
                ? number(t / 3600) + " h"
                : t >= 60 ? number(t / 60) + " min" : t >= 0.1 ? number(t) + " s" : number(t * 1000) + " ms";
    }

    /** The allowed field between earliest and latest; where no trip is demanded it is open to the top. */
    private void band() {
        StringBuilder upper = new StringBuilder();
        StringBuilder lower = new StringBuilder();
        List<String> back = new ArrayList<>();
        for (BandOutline.Point p : curve.outline().points()) {
            double top = p.latest() == null ? TOP : y(p.latest());
            double bottom = p.earliest() == null ? HEIGHT - BOTTOM : y(Math.max(p.earliest(), fromTime));
            upper.append(point(upper.isEmpty(), x(p.current()), top));
            lower.append(point(lower.isEmpty(), x(p.current()), bottom));
            back.add(0, point(false, x(p.current()), bottom));
        }
        lines.append("<path d=\"")
                .append(upper)
                .append(String.join("", back))
                .append("Z\" fill=\"")
                .append(Drawing.BAND)
                .append("\"/>");
        for (StringBuilder edge : List.of(upper, lower)) {
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

    private void trips() {
        List<RecordView.Trip> shown = curve.trips().stream()
                .sorted(java.util.Comparator.comparing(RecordView.Trip::time).reversed())
                .toList();
        double last = -LABEL_GAP;
        for (RecordView.Trip trip : shown) {
            double at = y(trip.time());
            lines.append(Drawing.shape(
                    trip.voided() ? org.juratest.core.limit.Verdict.NOT_JUDGED : trip.verdict(),
                    x(trip.current()) - 4,
                    at - 4,
                    8));
            double label = Math.max(at - 5.5, last + LABEL_GAP);
            last = label;
            tag(
                    x(trip.current()) + 7,
                    label,
                    trip.lane() + " " + trip.figure() + " s"
                            + (trip.voided() ? ", voided" : trip.counts() ? "" : ", as found"));
        }
    }

    private void tag(double x, double y, String text) {
        words.append(String.format(
                Locale.ROOT,
                "<span class=\"w t\" style=\"left:%.1fpt;top:%.1fpt\">%s</span>",
                x,
                y,
                RecordPaper.text(text)));
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
