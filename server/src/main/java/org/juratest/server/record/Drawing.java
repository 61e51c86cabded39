package org.juratest.server.record;

import com.google.zxing.BarcodeFormat;
import com.google.zxing.EncodeHintType;
import com.google.zxing.WriterException;
import com.google.zxing.common.BitMatrix;
import com.google.zxing.qrcode.QRCodeWriter;
import com.google.zxing.qrcode.decoder.ErrorCorrectionLevel;
import java.util.Locale;
import java.util.Map;
import org.juratest.core.limit.StripAxis;
import org.juratest.core.limit.Verdict;
import org.juratest.server.run.PointViews;

/** The drawings of the report as SVG without text: limit strips, marks of verdicts, the QR code. Sizes in pt. */
final class Drawing {

    static final String INK = "#1b2530";
    static final String QUIET = "#5d6670";
    static final String RULE = "#d8d1c2";
    static final String ALLOWED = "#cfdfd7";
    static final String PINE = "#1d6f54";
    static final String LAKE = "#155e75";
    private static final String HATCH = "#b9a56a";
    private static final String OCHRE = "#946010";
    static final String BRICK = "#a6341b";
    private static final double MARK = 8;

    private Drawing() {}

    /** The shape of a verdict. */
    static String mark(Verdict verdict, double size) {
        return svg(size, size, shape(verdict, 0, 0, size));
    }

    static String svg(double width, double height, String content) {
        return String.format(
                Locale.ROOT,
                "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%.1fpt\" height=\"%.1fpt\" viewBox=\"0 0 %.1f "
                        + "%.1f\">%s</svg>",
                width,
                height,
                width,
                height,
                content);
    }

    /** The shape of a verdict with its upper left corner at a place: the same paths as on screen, there 16 wide. */
    static String shape(Verdict verdict, double x, double y, double size) {
        String inner =
                switch (verdict) {
                    case PASS -> "<circle cx=\"8\" cy=\"8\" r=\"6\" fill=\"" + PINE + "\"/>";
                    case MARGINAL_INSIDE, MARGINAL_OUTSIDE ->
                        "<circle cx=\"8\" cy=\"8\" r=\"5.25\" fill=\"#ffffff\" stroke=\"" + OCHRE
                                + "\" stroke-width=\"1.5\"/><path d=\"M8 2.75 A5.25 5.25 0 0 1 8 13.25 Z\" fill=\""
                                + OCHRE + "\"/>";
                    case FAIL -> "<path d=\"M8 0.8 L15.2 8 L8 15.2 L0.8 8 Z\" fill=\"" + BRICK + "\"/>";
                    case NOT_JUDGED ->
                        "<circle cx=\"8\" cy=\"8\" r=\"5\" fill=\"none\" stroke=\"" + QUIET
                                + "\" stroke-width=\"1.75\"/>";
                };
        return String.format(
                Locale.ROOT, "<g transform=\"translate(%.2f %.2f) scale(%.4f)\">%s</g>", x, y, size / 16, inner);
    }

    /** A limit strip, from the numbers the screen draws its own from. */
    static String strip(PointViews.Strip strip, Verdict verdict, double width) {
        StripAxis axis = new StripAxis(strip.from(), strip.to(), strip.scale());
        StringBuilder out = new StringBuilder();
        double low = strip.low() == null ? 0 : axis.fraction(strip.low());
        double high = strip.high() == null ? 1 : axis.fraction(strip.high());
        line(out, 0, 8.5, width, 8.5, RULE, 0.6);
        if (strip.low() != null || strip.high() != null) {
            zone(out, low, high, width, ALLOWED);
            if (strip.low() != null && strip.marginalLow() != null) {
                hatched(out, low, axis.fraction(strip.marginalLow()), width);
            }
            if (strip.high() != null && strip.marginalHigh() != null) {
                hatched(out, axis.fraction(strip.marginalHigh()), high, width);
            }
        }
        limit(out, strip.low() == null ? Double.NaN : low, width);
        limit(out, strip.high() == null ? Double.NaN : high, width);
        for (int i = 0; i < strip.past().size(); i++) {
            double at = axis.fraction(strip.past().get(i).value());
            if (at >= 0 && at <= 1) {
                out.append(String.format(
                        Locale.ROOT,
                        "<path d=\"M%.2f 5.2 V11.8\" stroke=\"%s\" stroke-width=\"0.9\" stroke-opacity=\"%.2f\"/>",
                        at * width,
                        INK,
                        Math.max(0.25, 0.8 - i * 0.15)));
            }
        }
        flag(out, strip.baseline() == null ? Double.NaN : axis.fraction(strip.baseline()), width);
        present(out, strip.value() == null ? Double.NaN : axis.fraction(strip.value()), verdict, width);
        return svg(width, 14, out.toString());
    }

    private static void line(
            StringBuilder out, double x1, double y1, double x2, double y2, String colour, double thick) {
        out.append(String.format(
                Locale.ROOT,
                "<path d=\"M%.2f %.2f L%.2f %.2f\" stroke=\"%s\" stroke-width=\"%.2f\"/>",
                x1,
                y1,
                x2,
                y2,
                colour,
                thick));
    }

    private static void zone(StringBuilder out, double from, double to, double width, String fill) {
        double left = Math.max(0, from);
        double right = Math.min(1, to);
        if (right > left) {
            out.append(String.format(
                    Locale.ROOT,
                    "<rect x=\"%.2f\" y=\"5.5\" width=\"%.2f\" height=\"6\" fill=\"%s\"/>",
                    left * width,
                    (right - left) * width,
                    fill));
        }
    }

    /** Slanted lines over a zone, each cut to it: a pattern fill would not stay a vector everywhere. */
    private static void hatched(StringBuilder out, double from, double to, double width) {
        double left = Math.max(0, from) * width;
        double right = Math.min(1, to) * width;
        for (double x = left - 6; x < right; x += 2.2) {
            double start = Math.max(x, left);
            double end = Math.min(x + 6, right);
            if (end > start) {
                line(out, start, 11.5 - (start - x), end, 11.5 - (end - x), HATCH, 0.8);
            }
        }
    }

    private static void limit(StringBuilder out, double at, double width) {
        if (at >= 0 && at <= 1) {
            line(out, at * width, 3.5, at * width, 13.5, INK, 1.1);
        }
    }

    private static void flag(StringBuilder out, double at, double width) {
        if (at >= 0 && at <= 1) {
            double x = at * width;
            out.append(String.format(
                    Locale.ROOT,
                    "<path d=\"M%.2f 0.3 V12\" stroke=\"%s\" stroke-width=\"0.9\"/><path d=\"M%.2f 0.3 L%.2f 2 "
                            + "L%.2f 3.7 Z\" fill=\"%s\"/>",
                    x,
                    QUIET,
                    x,
                    x + 4.6,
                    x,
                    QUIET));
        }
    }

    private static void present(StringBuilder out, double at, Verdict verdict, double width) {
        if (!(Math.abs(at) <= Double.MAX_VALUE)) {
            return;
        }
        double x = Math.min(Math.max(at * width - MARK / 2, at < 0 ? 5 : 0), width - MARK - (at > 1 ? 5 : 0));
        out.append(shape(verdict, x, 8.5 - MARK / 2, MARK));
        if (at > 1) {
            out.append(String.format(
                    Locale.ROOT,
                    "<path d=\"M%.2f 6 L%.2f 8.5 L%.2f 11\" fill=\"none\" stroke=\"%s\" stroke-width=\"1\"/>",
                    width - 4,
                    width - 1,
                    width - 4,
                    INK));
        } else if (at < 0) {
            out.append(String.format(
                    Locale.ROOT,
                    "<path d=\"M4 6 L1 8.5 L4 11\" fill=\"none\" stroke=\"%s\" stroke-width=\"1\"/>",
                    INK));
        }
    }

    /** A QR code (ISO/IEC 18004) of a text, with its quiet zone. */
    static String qr(String text, double size) {
        BitMatrix bits;
        try {
            bits = new QRCodeWriter()
                    .encode(
                            text,
                            BarcodeFormat.QR_CODE,
                            0,
                            0,
                            Map.of(EncodeHintType.ERROR_CORRECTION, ErrorCorrectionLevel.M, EncodeHintType.MARGIN, 4));
        } catch (WriterException e) {
            throw new IllegalArgumentException("the address is too long for a QR code: " + text, e);
        }
        StringBuilder path = new StringBuilder();
        for (int y = 0; y < bits.getHeight(); y++) {
            for (int x = 0; x < bits.getWidth(); x++) {
                if (bits.get(x, y)) {
                    path.append('M').append(x).append(' ').append(y).append("h1v1h-1z");
                }
            }
        }
        return String.format(
                Locale.ROOT,
                "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%.1fpt\" height=\"%.1fpt\" viewBox=\"0 0 %d "
                        + "%d\"><path d=\"%s\" fill=\"#000000\"/></svg>",
                size,
                size,
                bits.getWidth(),
                bits.getHeight(),
                path);
    }

    /** The light rule of a grid. */
    static void grid(StringBuilder out, double x1, double y1, double x2, double y2) {
        line(out, x1, y1, x2, y2, RULE, 0.5);
    }
}
