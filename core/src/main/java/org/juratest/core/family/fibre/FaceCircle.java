package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The edge of the cladding in a picture of an end face, 125 um across (IEC 60793-2), found by what points to its
 * middle.
 *
 * @param x of its middle, pixels
 * @param y of its middle, pixels
 * @param radius pixels
 * @param seen share of the edge that was found, 0 to 1
 * @param edge how far the edge is spread, um
 */
record FaceCircle(double x, double y, double radius, double seen, double edge) {

    /** Radius of the cladding, um. */
    static final double RADIUS = 62.5;

    /** How far the radius may be off (a scale that is not quite right, a fibre that is not quite 125 um), parts. */
    private static final double OFF = 0.06;
    /** Share of all pixels whose slopes are steepest and that have a say. */
    private static final double STEEP = 0.06;
    /** Pixels of the picture in one of the ballot. */
    private static final int CELL = 2;

    private static final int RAYS = 360;
    /** How far a point of the edge may lie beside the circle, um. */
    private static final double BESIDE = 1.5;

    /**
     * The circle.
     *
     * @param scale um a pixel
     * @return absent where nothing points to one middle
     */
    static @Nullable FaceCircle find(GreyPicture picture, double scale) {
        return find(picture, scale, null);
    }

    /** Likewise near a place that is known, x and y in pixels: no other circle is looked for. */
    static @Nullable FaceCircle find(GreyPicture picture, double scale, double @Nullable [] near) {
        double radius = RADIUS / scale;
        if (radius < 8) {
            return null;
        }
        GreyPicture smooth = picture.smoothed(Math.max(0.8, Math.min(3, 0.8 / scale)));
        double[] middle = near != null ? near : vote(smooth, radius);
        double[] circle = {middle[0], middle[1], radius};
        List<double[]> points = List.of();
        for (int round = 0; round < 4; round++) {
            points = edge(smooth, circle, scale, round == 0 ? 3 * OFF : OFF);
            double[] better = fit(points);
            if (better.length == 0) {
                return null;
            }
            circle = better;
        }
        int on = 0;
        List<Double> spread = new ArrayList<>();
        for (double[] p : points) {
            if (Math.abs(Math.hypot(p[0] - circle[0], p[1] - circle[1]) - circle[2]) * scale <= BESIDE) {
                on++;
                spread.add(p[2]);
            }
        }
        double size = circle[2] / radius;
        return on < RAYS / 2 || Math.abs(size - 1) > OFF
                ? null
                : new FaceCircle(
                        circle[0],
                        circle[1],
                        circle[2],
                        on / (double) RAYS,
                        Levels.median(
                                spread.stream().mapToDouble(Double::doubleValue).toArray()));
    }

    /** Where most of what is steep points to. */
    private static double[] vote(GreyPicture picture, double radius) {
        GreyPicture ballot = ballot(picture, radius);
        int best = 0;
        for (int i = 0; i < ballot.level().length; i++) {
            best = ballot.level()[i] > ballot.level()[best] ? i : best;
        }
        int cw = ballot.width();
        return new double[] {onPicture(best % cw), onPicture(best / cw)};
    }

    /** The place on the picture of a column or row of its ballot, pixels. */
    static double onPicture(double cell) {
        return cell * CELL + 0.5;
    }

    /** The column or row of the ballot at a place on the picture. */
    static double onBallot(double pixel) {
        return (pixel - 0.5) / CELL;
    }

    /**
     * What points to a middle: each steep pixel votes for the two places a radius away along its slope.
     *
     * @param picture smoothed
     * @param radius pixels
     * @return the votes, smoothed, of cells of some pixels
     */
    static GreyPicture ballot(GreyPicture picture, double radius) {
        int w = picture.width();
        int h = picture.height();
        float[] steep = new float[w * h];
        for (int y = 1; y < h - 1; y++) {
            for (int x = 1; x < w - 1; x++) {
                float dx = picture.at(x + 1, y) - picture.at(x - 1, y);
                float dy = picture.at(x, y + 1) - picture.at(x, y - 1);
                steep[y * w + x] = dx * dx + dy * dy;
            }
        }
        float[] sorted = steep.clone();
        Arrays.sort(sorted);
        float least = Math.max(1e-9f, sorted[(int) (sorted.length * (1 - STEEP))]);
        int cw = w / CELL + 1;
        int ch = h / CELL + 1;
        float[] votes = new float[cw * ch];
        for (int y = 1; y < h - 1; y++) {
            for (int x = 1; x < w - 1; x++) {
                if (steep[y * w + x] >= least) {
                    double dx = picture.at(x + 1, y) - picture.at(x - 1, y);
                    double dy = picture.at(x, y + 1) - picture.at(x, y - 1);
                    double length = Math.sqrt(dx * dx + dy * dy);
                    for (double r = radius * (1 - OFF); r <= radius * (1 + OFF); r += Math.max(1, radius / 60)) {
                        add(votes, cw, ch, x + dx / length * r, y + dy / length * r);
                        add(votes, cw, ch, x - dx / length * r, y - dy / length * r);
                    }
                }
            }
        }
        return new GreyPicture(cw, ch, votes).smoothed(1.5);
    }

    private static void add(float[] votes, int cw, int ch, double x, double y) {
        int cx = (int) Math.floor(x / CELL);
        int cy = (int) Math.floor(y / CELL);
        if (cx >= 0 && cy >= 0 && cx < cw && cy < ch) {
            votes[cy * cw + cx]++;
        }
    }

    /** On each ray the steepest place near the circle: x, y, and over how many um the level changes there. */
    private static List<double[]> edge(GreyPicture picture, double[] circle, double scale, double off) {
        List<double[]> points = new ArrayList<>();
        double step = 0.5;
        for (int i = 0; i < RAYS; i++) {
            double angle = 2 * Math.PI * i / RAYS;
            double cos = Math.cos(angle);
            double sin = Math.sin(angle);
            int steps = (int) (2 * circle[2] * off / step) + 1;
            double[] slopes = new double[steps];
            double best = 0;
            double low = 1;
            double high = 0;
            for (int k = 0; k < steps; k++) {
                double r = circle[2] * (1 - off) + k * step;
                double x = circle[0] + r * cos;
                double y = circle[1] + r * sin;
                if (x < 1 || y < 1 || x > picture.width() - 2 || y > picture.height() - 2) {
                    continue;
                }
                double level = picture.at(x, y);
                low = Math.min(low, level);
                high = Math.max(high, level);
                slopes[k] = Math.abs(picture.at(x + cos, y + sin) - picture.at(x - cos, y - sin)) / 2;
                best = Math.max(best, slopes[k]);
            }
            if (best > 0.002) {
                double r = circle[2] * (1 - off) + step * innermost(slopes, 0.25 * best);
                points.add(new double[] {circle[0] + r * cos, circle[1] + r * sin, (high - low) / best * scale});
            }
        }
        return points;
    }

    /** The first peak above a least: behind the edge of the fibre that of the adhesive may be steeper. */
    private static double innermost(double[] slopes, double least) {
        int k = 0;
        while (k < slopes.length - 1 && !(slopes[k] >= least && slopes[k] >= slopes[k + 1])) {
            k++;
        }
        if (k == 0 || k == slopes.length - 1) {
            return k;
        }
        // The top of the parabola through the three.
        double curve = slopes[k - 1] - 2 * slopes[k] + slopes[k + 1];
        return curve < 0 ? k + 0.5 * (slopes[k - 1] - slopes[k + 1]) / curve : k;
    }

    /**
     * The circle through points by least squares (Kasa 1976), the farthest third left out in a second go, as scratches
     * and dirt have edges as well. Empty where there are too few.
     */
    private static double[] fit(List<double[]> points) {
        List<double[]> used = points;
        double[] circle = {};
        for (int round = 0; round < 3; round++) {
            if (used.size() < RAYS / 4) {
                return new double[0];
            }
            circle = kasa(used);
            double[] c = circle;
            double[] away = used.stream()
                    .mapToDouble(p -> Math.abs(Math.hypot(p[0] - c[0], p[1] - c[1]) - c[2]))
                    .toArray();
            double most = Math.max(0.5, 2.5 * Levels.median(away));
            used = points.stream()
                    .filter(p -> Math.abs(Math.hypot(p[0] - c[0], p[1] - c[1]) - c[2]) <= most)
                    .toList();
        }
        return circle;
    }

    private static double[] kasa(List<double[]> points) {
        double mx = points.stream().mapToDouble(p -> p[0]).average().orElse(0);
        double my = points.stream().mapToDouble(p -> p[1]).average().orElse(0);
        double uu = 0;
        double vv = 0;
        double uv = 0;
        double uz = 0;
        double vz = 0;
        double z = 0;
        for (double[] p : points) {
            double u = p[0] - mx;
            double v = p[1] - my;
            double square = u * u + v * v;
            uu += u * u;
            vv += v * v;
            uv += u * v;
            uz += u * square;
            vz += v * square;
            z += square;
        }
        double det = uu * vv - uv * uv;
        double a = (uz * vv - vz * uv) / (2 * det);
        double b = (vz * uu - uz * uv) / (2 * det);
        return new double[] {mx + a, my + b, Math.sqrt(a * a + b * b + z / points.size())};
    }
}
