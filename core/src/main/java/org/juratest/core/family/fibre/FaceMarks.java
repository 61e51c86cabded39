package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * What does not belong on an end face: what differs from the rings it lies in. A clean face is the same all around, so
 * that at each distance from the middle the median is what it would be without marks.
 */
final class FaceMarks {

    /** A pixel belongs to a mark that differs by so many standard deviations of its ring. */
    private static final double SIGMAS = 4;
    /** And a mark has one that differs by so many. */
    private static final double SURE = 7;
    /** The least difference that is told, of white. */
    private static final double LEAST = 0.035;
    /** How far a ring may be off the middle, um: where the level changes with the distance, more is allowed. */
    private static final double ECCENTRIC = 1.2;
    /** A mark that is so many times longer than wide is a scratch. */
    private static final double LONG = 4;
    /** The least length of a scratch, um. */
    private static final double SCRATCH = 6;
    /** Smaller ones are grains of the picture, um. */
    private static final double GRAIN = 1;
    /** Greatest diameter that is ever looked at, um. */
    private static final double FACE = 250;
    /** How far beyond the outermost zone is looked, um of diameter. */
    private static final double MORE = 24;

    /** How far apart two scratches in a line may be and still be one, um. */
    private static final double GAP = 12;

    private static final double MAD = 1.4826;
    /** How far from what light does a level may be to be one that tells of the light, of white, at least. */
    private static final double LIT_NEAR = 0.05;

    private static final int LIT_ROUNDS = 6;

    /** Rings from one level to the next, where it changes: a sharp lens needs no more. */
    private static final int STEP = 4;
    /** A change of level that is none of noise, of white. */
    private static final double LEAST_STEP = 0.06;
    /** A ring that is surely of the cladding, um. */
    private static final int IN_CLADDING = 42;
    /** Zone A of a table for multimode is wider than this, um. */
    private static final double MULTIMODE = 50;
    /** Radius of no wider core of single mode and of multimode, with what a lens adds, um. */
    private static final double NARROW_CORE = 7;

    private static final double WIDE_CORE = 34;

    private final GreyPicture picture;
    private final FaceCircle circle;
    private final double scale;
    private final int rings;
    private final double face;
    private final float[] distance;
    private final double coreMost;
    private double seenCore;
    private final double[] level;
    private final double[] limit;
    private final double[] sure;

    /**
     * A mark.
     *
     * @param pixels their numbers, row by row
     * @param scratch whether it is a scratch, and no defect
     * @param width of a scratch, of a defect the diameter of the circle of the same area, um
     * @param length of a scratch, um; of a defect its diameter
     */
    record Mark(int[] pixels, boolean scratch, double width, double length) {}

    /** @param core how much brighter than its cladding the core of a clean face is, of white; absent: as it looks */
    FaceMarks(GreyPicture picture, FaceCircle circle, double scale, EndFaceTable table, @Nullable Double core) {
        this.picture = flat(picture, circle, scale);
        this.circle = circle;
        this.scale = scale;
        this.distance = distances();
        this.face = Math.min(FACE, table.zones().get(table.zones().size() - 1).to() + MORE);
        this.coreMost = table.zones().get(0).to() > MULTIMODE ? WIDE_CORE : NARROW_CORE;
        this.rings = (int) Math.ceil(face / 2) + 2;
        this.level = new double[rings];
        this.limit = new double[rings];
        this.sure = new double[rings];
        measureRings(core);
    }

    /** Takes out that one side is lit more than the other: a plane through the cladding, its marks left aside. */
    private static GreyPicture flat(GreyPicture picture, FaceCircle circle, double scale) {
        int steps = 720;
        double[] angle = new double[steps];
        double[] seen = new double[steps];
        double radius = 0.75 * FaceCircle.RADIUS / scale;
        for (int i = 0; i < steps; i++) {
            angle[i] = 2 * Math.PI * i / steps;
            seen[i] = picture.at(circle.x() + radius * Math.cos(angle[i]), circle.y() + radius * Math.sin(angle[i]));
        }
        double[] wave = wave(angle, seen);
        double[] slope = {wave[0] / radius, wave[1] / radius};
        float[] level = picture.level().clone();
        for (int y = 0; y < picture.height(); y++) {
            for (int x = 0; x < picture.width(); x++) {
                level[y * picture.width() + x] -= (float) (slope[0] * (x - circle.x()) + slope[1] * (y - circle.y()));
            }
        }
        return new GreyPicture(picture.width(), picture.height(), level);
    }

    /**
     * How a level goes with the cosine and the sine of the angle, by least squares of what is near it: dirt that covers
     * less than half of the circle has no say, or it would be taken for light.
     */
    private static double[] wave(double[] angle, double[] seen) {
        double[] found = {0, 0, Levels.median(seen.clone())};
        for (int round = 0; round < LIT_ROUNDS; round++) {
            double[] off = new double[seen.length];
            for (int i = 0; i < off.length; i++) {
                off[i] = seen[i] - found[0] * Math.cos(angle[i]) - found[1] * Math.sin(angle[i]) - found[2];
            }
            double near = Math.max(
                    LIT_NEAR,
                    3 * MAD * Levels.median(Arrays.stream(off).map(Math::abs).toArray()));
            double[][] sums = new double[3][4];
            for (int i = 0; i < off.length; i++) {
                if (Math.abs(off[i]) <= near) {
                    double[] of = {Math.cos(angle[i]), Math.sin(angle[i]), 1, off[i]};
                    for (int r = 0; r < 3; r++) {
                        for (int c = 0; c < 4; c++) {
                            sums[r][c] += of[r] * of[c];
                        }
                    }
                }
            }
            for (int k = 0; k < 3; k++) {
                found[k] += solved(sums, k);
            }
        }
        return found;
    }

    /** One unknown of three equations (Cramer); 0 where they say nothing. */
    private static double solved(double[][] m, int k) {
        double[][] other = new double[3][3];
        for (int r = 0; r < 3; r++) {
            for (int c = 0; c < 3; c++) {
                other[r][c] = c == k ? m[r][3] : m[r][c];
            }
        }
        double whole = determinant(m);
        return Math.abs(whole) > 1e-6 ? determinant(other) / whole : 0;
    }

    private static double determinant(double[][] m) {
        return m[0][0] * (m[1][1] * m[2][2] - m[1][2] * m[2][1])
                - m[0][1] * (m[1][0] * m[2][2] - m[1][2] * m[2][0])
                + m[0][2] * (m[1][0] * m[2][1] - m[1][1] * m[2][0]);
    }

    /** Told once: it is asked for again and again. The root is much quicker than a hypotenuse that cannot overflow. */
    private float[] distances() {
        float[] all = new float[picture.level().length];
        for (int y = 0; y < picture.height(); y++) {
            double dy = y - circle.y();
            for (int x = 0; x < picture.width(); x++) {
                double dx = x - circle.x();
                all[y * picture.width() + x] = (float) (Math.sqrt(dx * dx + dy * dy) * scale);
            }
        }
        return all;
    }

    /** Distance of a pixel from the middle, um. */
    double distance(int pixel) {
        return distance[pixel];
    }

    /** How much brighter than the cladding the core is, of white. */
    double core() {
        return seenCore;
    }

    private void measureRings(@Nullable Double core) {
        // Counted first: a fine picture has millions of pixels.
        int[] counts = new int[rings];
        for (int i = 0; i < picture.level().length; i++) {
            int ring = (int) Math.round(distance(i));
            counts[ring < rings ? ring : 0] += ring < rings ? 1 : 0;
        }
        float[][] by = new float[rings][];
        Arrays.setAll(by, r -> new float[counts[r]]);
        for (int i = 0; i < picture.level().length; i++) {
            int ring = (int) Math.round(distance(i));
            if (ring < rings) {
                by[ring][--counts[ring]] = picture.level()[i];
            }
        }
        double[] noise = new double[rings];
        for (int r = 0; r < rings; r++) {
            float[] values = by[r];
            double middle = values.length == 0 ? r == 0 ? 0 : level[r - 1] : median(values);
            for (int i = 0; i < values.length; i++) {
                values[i] = (float) Math.abs(values[i] - middle);
            }
            level[r] = middle;
            noise[r] = MAD * median(values);
        }
        double quiet = Levels.median(Arrays.copyOfRange(noise, rings > IN_CLADDING ? IN_CLADDING / 2 : 0, IN_CLADDING));
        seenCore = level[1] - level[IN_CLADDING];
        if (takeOutSteps() || core != null) {
            // Half dark, half not: what scatters there is the dirt's edge.
            for (int r = 0; r < IN_CLADDING; r++) {
                noise[r] = Math.min(noise[r], 1.5 * quiet);
            }
        }
        for (int r = 0; core != null && r <= NARROW_CORE; r++) {
            level[r] = level[IN_CLADDING] + core * Math.max(0, Math.min(1, (NARROW_CORE - 1 - r) / 3));
        }
        for (int r = 0; r < rings; r++) {
            // Rings of few pixels say little of themselves: their neighbours count with them.
            double[] near = Arrays.copyOfRange(noise, Math.max(0, r - 4), Math.min(rings, r + 5));
            double sigma = Math.max(Levels.median(near), r < 6 ? 0 : noise[r]);
            double slope = 0;
            for (int k = Math.max(1, r - 1); k <= Math.min(rings - 1, r + 2); k++) {
                slope = Math.max(slope, Math.abs(level[k] - level[k - 1]));
            }
            double edge = ECCENTRIC * slope;
            limit[r] = Math.max(LEAST, SIGMAS * sigma) + edge;
            sure[r] = Math.max(1.5 * LEAST, SURE * sigma) + edge;
        }
    }

    /**
     * Takes steps out of the levels that are no edge of a core: dirt that lies round the middle is the same all around
     * as well, and would be taken for a clean face. A core has one edge, no further out than the table's fibre has it.
     */
    private boolean takeOutSteps() {
        boolean any = false;
        boolean core = false;
        for (int r = Math.min(IN_CLADDING, rings - STEP - 1); r >= 0; r--) {
            int at = r;
            for (int k = r; k > Math.max(0, r - STEP); k--) {
                at = Math.abs(step(k)) > Math.abs(step(at)) ? k : at;
            }
            if (Math.abs(step(r)) <= LEAST_STEP) {
                continue;
            }
            if (!core && at + STEP / 2 <= coreMost) {
                core = true;
            } else {
                any = true;
                double height = step(at);
                for (int k = 0; k < at + STEP; k++) {
                    level[k] = k <= at ? level[k] - height : level[at + STEP];
                }
            }
            r = at - STEP + 1;
        }
        return any;
    }

    /** How much the level changes about a ring, towards the middle. */
    private double step(int ring) {
        return level[ring] - level[ring + STEP];
    }

    /** The median; the array is put in order by it. 0 for none. */
    private static double median(float[] values) {
        Arrays.sort(values);
        return values.length == 0 ? 0 : (values[(values.length - 1) / 2] + values[values.length / 2]) / 2.0;
    }

    /** Level of a clean face at a distance, um. */
    private double clean(double distance) {
        int r = (int) Math.min(rings - 2.0, distance);
        double share = Math.min(1, distance - r);
        return level[r] * (1 - share) + level[r + 1] * share;
    }

    private double off(int pixel) {
        return Math.abs(picture.level()[pixel] - clean(distance(pixel)));
    }

    /** All marks of the zones. */
    List<Mark> all() {
        int n = picture.level().length;
        BitSet marked = new BitSet(n);
        for (int i = 0; i < n; i++) {
            double d = distance(i);
            if (d <= face / 2 && off(i) > limit[(int) Math.round(d)]) {
                marked.set(i);
            }
        }
        List<Mark> marks = new ArrayList<>();
        for (int i = marked.nextSetBit(0); i >= 0; i = marked.nextSetBit(i)) {
            // What is looked at is taken out.
            int[] pixels = connected(i, marked);
            if (isSure(pixels)) {
                Mark mark = measured(pixels);
                if (mark.width >= GRAIN || mark.scratch) {
                    marks.add(mark);
                }
            }
        }
        return joined(marks);
    }

    /** Scratches that are one: where they cross the edge of the fibre they cannot be seen. */
    private List<Mark> joined(List<Mark> marks) {
        List<Mark> left = new ArrayList<>(marks);
        for (int i = 0; i < left.size(); i++) {
            for (int k = i + 1; k < left.size(); k++) {
                Mark one = left.get(i);
                Mark other = left.get(k);
                if (one.scratch && other.scratch && isSame(axis(one.pixels), axis(other.pixels))) {
                    int[] pixels = IntStream.concat(Arrays.stream(one.pixels), Arrays.stream(other.pixels))
                            .sorted()
                            .toArray();
                    double width = (one.width * one.length + other.width * other.length) / (one.length + other.length);
                    left.set(i, new Mark(pixels, true, width, axis(pixels).length() * scale));
                    left.remove(k);
                    k = i;
                }
            }
        }
        return left;
    }

    /** Whether two lie in one line, with a gap that an edge may hide. */
    private boolean isSame(Axis a, Axis b) {
        double turned = Math.abs(Math.sin(a.angle - b.angle));
        double dx = b.x - a.x;
        double dy = b.y - a.y;
        double beside = Math.abs(dy * Math.cos(a.angle) - dx * Math.sin(a.angle));
        double gap = Math.hypot(dx, dy) - (a.length() + b.length()) / 2;
        return turned < 0.2 && beside * scale < 3 && gap * scale < GAP;
    }

    private boolean isSure(int[] pixels) {
        for (int p : pixels) {
            if (off(p) > sure[(int) Math.min(rings - 1.0, Math.round(distance(p)))]) {
                return true;
            }
        }
        return false;
    }

    /** What hangs together; a gap of one pixel is bridged, as thin scratches have them. */
    private int[] connected(int start, BitSet marked) {
        int[] found = new int[64];
        int count = 0;
        found[count++] = start;
        marked.clear(start);
        int w = picture.width();
        for (int next = 0; next < count; next++) {
            int px = found[next] % w;
            int py = found[next] / w;
            for (int y = Math.max(0, py - 2); y <= Math.min(picture.height() - 1, py + 2); y++) {
                for (int x = Math.max(0, px - 2); x <= Math.min(w - 1, px + 2); x++) {
                    int q = y * w + x;
                    if (marked.get(q)) {
                        marked.clear(q);
                        found = count == found.length ? Arrays.copyOf(found, 2 * count) : found;
                        found[count++] = q;
                    }
                }
            }
        }
        int[] pixels = Arrays.copyOf(found, count);
        Arrays.sort(pixels);
        return pixels;
    }

    /**
     * Sizes: the area is what the pixels differ by over what the mark differs by where it is full, so that the pixels
     * at its edge, and a lens that is not quite sharp, do not make it larger.
     */
    private Mark measured(int[] pixels) {
        int w = picture.width();
        double[] sorted = Arrays.stream(pixels).mapToDouble(this::off).toArray();
        Arrays.sort(sorted);
        double full = sorted[(int) (0.9 * (sorted.length - 1))];
        // What is less than half of it only hangs on: the shape is that of the rest, the area that of it and its edge.
        BitSet half = new BitSet();
        for (int p : pixels) {
            if (off(p) >= full / 2) {
                half.set(p);
            }
        }
        double area = 0;
        for (int p : pixels) {
            boolean near = false;
            for (int k = 0; k < 9 && !near; k++) {
                near = half.get(Math.max(0, p + (k / 3 - 1) * w + k % 3 - 1));
            }
            area += near ? Math.min(1, off(p) / full) : 0;
        }
        double length = axis(half.stream().toArray()).length() * scale;
        double um2 = area * scale * scale;
        double width = um2 / length;
        boolean scratch = length >= SCRATCH && length >= LONG * width;
        double diameter = 2 * Math.sqrt(um2 / Math.PI);
        return scratch ? new Mark(pixels, true, width, length) : new Mark(pixels, false, diameter, diameter);
    }

    /**
     * The line some pixels lie along.
     *
     * @param x middle, pixels
     * @param y middle, pixels
     * @param angle of it, radians
     * @param from where they begin along it, from the middle
     * @param to where they end
     */
    private record Axis(double x, double y, double angle, double from, double to) {
        double length() {
            return to - from + 1;
        }
    }

    private Axis axis(int[] pixels) {
        int w = picture.width();
        double mx = 0;
        double my = 0;
        for (int p : pixels) {
            mx += p % w;
            my += p / w;
        }
        mx /= pixels.length;
        my /= pixels.length;
        double xx = 0;
        double yy = 0;
        double xy = 0;
        for (int p : pixels) {
            double x = p % w - mx;
            double y = p / w - my;
            xx += x * x;
            yy += y * y;
            xy += x * y;
        }
        double angle = 0.5 * Math.atan2(2 * xy, xx - yy);
        double least = 0;
        double most = 0;
        for (int p : pixels) {
            double along = (p % w - mx) * Math.cos(angle) + (p / w - my) * Math.sin(angle);
            least = Math.min(least, along);
            most = Math.max(most, along);
        }
        return new Axis(mx, my, angle, least, most);
    }
}
