package org.juratest.server.record;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.juratest.core.limit.Envelope;

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
        List<Envelope.Place> places = curve.outline();
        fromCurrent = Math.min(places.get(0).at(), curve.at()) * 0.75;
        toCurrent = Math.max(places.get(places.size() - 1).at(), curve.at() * 1.3) * 1.05;
        double[] times = Stream.concat(
                        places.stream().flatMap(p -> Stream.of(p.low(), p.high())),
                        curve.points().stream().map(RecordView.CurvePoint::value))
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
        allowed();
        measured();
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
        List<Double> ticks = new ArrayList<>(List.of(curve.at()));
        for (double decade = Math.pow(10, Math.floor(Math.log10(fromCurrent))); decade <= toCurrent; decade *= 10) {
            for (double step : toCurrent / fromCurrent > 60 ? new double[] {1} : new double[] {1, 2, 5}) {
                double tick = step * decade;
                if (tick >= fromCurrent && tick <= toCurrent && Math.abs(Math.log(tick / curve.at())) > 0.35) {
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

    /** The allowed field between earliest and latest; where nothing is demanded it is open to the top. */
    private void allowed() {
        StringBuilder upper = new StringBuilder();
        StringBuilder lower = new StringBuilder();
        List<String> back = new ArrayList<>();
        for (Envelope.Place p : curve.outline()) {
            double top = p.high() == null ? TOP : y(p.high());
            double bottom = p.low() == null ? HEIGHT - BOTTOM : y(Math.max(p.low(), fromTime));
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

    private void measured() {
        List<RecordView.CurvePoint> shown = curve.points().stream()
                .sorted(java.util.Comparator.comparing(RecordView.CurvePoint::value)
                        .reversed())
                .toList();
        double last = -LABEL_GAP;
        for (RecordView.CurvePoint point : shown) {
            double at = y(point.value());
            lines.append(Drawing.shape(
                    point.voided() ? org.juratest.core.limit.Verdict.NOT_JUDGED : point.verdict(),
                    x(point.at()) - 4,
                    at - 4,
                    8));
            double label = Math.max(at - 5.5, last + LABEL_GAP);
            last = label;
            tag(
                    x(point.at()) + 7,
                    label,
                    point.lane() + " " + point.figure() + " s"
                            + (point.voided() ? ", voided" : point.counts() ? "" : ", as found"));
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
