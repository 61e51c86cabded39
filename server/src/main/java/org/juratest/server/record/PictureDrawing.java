package org.juratest.server.record;

import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;

/**
 * What was found in a picture, drawn over it on paper from the facts that the screen draws it from: {@code #ring NAME}
 * with "x y r", {@code #box N} with "x0 y0 x1 y1 bad|free words", {@code #N} with "x y" of a row; all as shares of the
 * picture's width, those of rows of its width and height. A picture of many places alike ({@code #spot N} with "x y r
 * pass|fail|not-judged words") has their numbers, those that are not in order ringed. Sizes in pt.
 */
final class PictureDrawing {

    /** As the page's style has it. */
    private static final double MOST_WIDTH = 200;

    private static final double MOST_HEIGHT = 150;
    private static final double WORD = 6.5;

    private final double width;
    private final double height;
    private final StringBuilder shapes = new StringBuilder();
    private final StringBuilder words = new StringBuilder();

    private PictureDrawing(double width, double height) {
        double scale = Math.min(MOST_WIDTH / width, MOST_HEIGHT / height);
        this.width = width * scale;
        this.height = height * scale;
    }

    /** The drawing as a block over the picture; empty where nothing is said of it, or its size is not known. */
    static String over(Map<String, String> facts) {
        double width = number(facts.get("width"));
        double height = number(facts.get("height"));
        if (!(width > 0 && height > 0) || facts.keySet().stream().noneMatch(f -> f.startsWith("#"))) {
            return "";
        }
        boolean many = facts.keySet().stream().anyMatch(f -> f.startsWith("#spot "));
        PictureDrawing drawing = new PictureDrawing(width, height);
        new TreeMap<>(facts).forEach((name, value) -> {
            String[] parts = value.split(" ");
            if (name.startsWith("#spot ") && parts.length >= 4) {
                drawing.spot(name.substring("#spot ".length()), parts);
            } else if (many && !name.matches("#\\d+")) {
                // Each of its own is too small on paper; what was found is in the table of its points.
                return;
            } else if (name.startsWith("#ring ") && parts.length >= 3) {
                drawing.ring(name.substring("#ring ".length()), parts);
            } else if (name.startsWith("#box ") && parts.length >= 5) {
                drawing.box(parts);
            } else if (name.matches("#\\d+") && parts.length >= 2) {
                drawing.row(name.substring(1), parts);
            }
        });
        return "<div class=\"shapes\">" + Drawing.svg(drawing.width, drawing.height, drawing.shapes.toString())
                + "</div>" + drawing.words;
    }

    private static double number(String text) {
        try {
            return text == null ? Double.NaN : Double.parseDouble(text);
        } catch (NumberFormatException e) {
            // A fact that is no number is nobody's place: it is told beneath the picture as it is.
            return Double.NaN;
        }
    }

    private void circle(double x, double y, double r, String colour, double thick, String dash) {
        if (Math.abs(x) + Math.abs(y) + Math.abs(r) <= Double.MAX_VALUE) {
            shapes.append(String.format(
                    Locale.ROOT,
                    "<circle cx=\"%.2f\" cy=\"%.2f\" r=\"%.2f\" fill=\"none\" stroke=\"%s\" stroke-width=\"%.2f\" "
                            + "stroke-dasharray=\"%s\"/>",
                    x,
                    y,
                    Math.abs(r),
                    colour,
                    thick,
                    dash));
        }
    }

    private void ring(String name, String[] parts) {
        double x = number(parts[0]) * width;
        double y = number(parts[1]) * width;
        double r = number(parts[2]) * width;
        circle(x, y, r, Drawing.LAKE, 0.6, "2 1.5");
        word(x + r * 0.72, y - r * 0.72 - WORD, Drawing.LAKE, name);
    }

    private void box(String[] parts) {
        boolean bad = parts[4].equals("bad");
        double x0 = number(parts[0]) * width;
        double y0 = number(parts[1]) * width;
        double x1 = number(parts[2]) * width;
        double y1 = number(parts[3]) * width;
        if (!(Math.abs(x0) + Math.abs(y0) + Math.abs(x1) + Math.abs(y1) <= Double.MAX_VALUE)) {
            return;
        }
        shapes.append(String.format(
                Locale.ROOT,
                "<rect x=\"%.2f\" y=\"%.2f\" width=\"%.2f\" height=\"%.2f\" fill=\"none\" stroke=\"%s\" "
                        + "stroke-width=\"%.2f\"/>",
                x0 - 1,
                y0 - 1,
                Math.max(0, x1 - x0) + 2,
                Math.max(0, y1 - y0) + 2,
                bad ? Drawing.BRICK : Drawing.QUIET,
                bad ? 0.9 : 0.5));
        if (bad) {
            word(x1 + 2, y0 - 3, Drawing.BRICK, String.join(" ", java.util.Arrays.copyOfRange(parts, 5, parts.length)));
        }
    }

    private void spot(String number, String[] parts) {
        double x = number(parts[0]) * width;
        double y = number(parts[1]) * width;
        double r = number(parts[2]) * width;
        boolean good = parts[3].equals("pass");
        String colour = good ? Drawing.INK : parts[3].equals("fail") ? Drawing.BRICK : Drawing.QUIET;
        if (!good) {
            circle(x, y, 1.3 * r, colour, 1, "none");
        }
        word(x - 0.35 * WORD * number.length(), y + r, colour, number);
    }

    private void row(String number, String[] parts) {
        double x = number(parts[0]) * width;
        double y = number(parts[1]) * height;
        double r = Math.max(width, height) / 24;
        circle(x, y, r, Drawing.INK, 0.8, "2 1.5");
        word(x + 1.3 * r, y - 1.1 * r - WORD, Drawing.INK, number);
    }

    private void word(double x, double y, String colour, String text) {
        if (Math.abs(x) + Math.abs(y) <= Double.MAX_VALUE) {
            words.append(String.format(
                    Locale.ROOT,
                    "<span class=\"w\" style=\"left:%.1fpt;top:%.1fpt;color:%s\">%s</span>",
                    x,
                    y + 2,
                    colour,
                    RecordPaper.text(text)));
        }
    }
}
