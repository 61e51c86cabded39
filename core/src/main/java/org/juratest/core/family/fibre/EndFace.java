package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * The end face of one fibre as a picture shows it (IEC 61300-3-35): where the fibre is, what lies on it, zone by zone,
 * and whether a table allows it. A defect counts once, in the innermost zone it touches; a scratch counts in every zone
 * it passes.
 *
 * @param x middle of the cladding, pixels
 * @param y middle of the cladding, pixels
 * @param radius of the cladding, pixels
 * @param core how much brighter than the cladding the core is, of white
 * @param zones in the order of the table
 * @param verdict of all
 * @param reason why it is not judged, or what fails, in words; absent where all is well
 */
public record EndFace(
        double x, double y, double radius, double core, List<Zone> zones, Verdict verdict, @Nullable String reason) {

    /** Pixels that are wider show no defect of 2 um. */
    private static final double COARSE = 1.0;
    /** The widest change of level at the edge of a fibre that is sharp, um. */
    private static final double SHARP = 5;
    /** Least share of a zone that has to be in the picture. */
    private static final double IN_PICTURE = 0.9;
    /** Share of pixels at either end of the scale from which on a picture shows nothing. */
    private static final double BURNT = 0.6;

    /** What comes of it. */
    public enum Verdict {
        PASS,
        FAIL,
        NOT_JUDGED
    }

    /** Why a picture has no end face. */
    public static final class NoFaceException extends IllegalArgumentException {
        private static final long serialVersionUID = 1;

        NoFaceException(String message) {
            super(message);
        }
    }

    /**
     * A scratch or defect.
     *
     * @param pixels their numbers, row by row
     * @param size width of a scratch, diameter of the circle of the same area of a defect, um
     * @param length of a scratch within the zone, um; of a defect its diameter
     */
    public record Finding(int[] pixels, double size, double length) {}

    /**
     * What a zone has.
     *
     * @param seen share of it in the picture
     */
    public record Zone(String name, List<Finding> scratches, List<Finding> defects, double seen, Verdict verdict) {}

    /**
     * Looks at a picture.
     *
     * @param scale um a pixel, 0.05 to 10
     * @throws NoFaceException if there is no fibre on it
     */
    public static EndFace of(GreyPicture picture, double scale, EndFaceTable table) {
        return of(picture, scale, table, null, null);
    }

    /**
     * Likewise, where more is known.
     *
     * @param near where the middle is, x and y in pixels; absent: anywhere
     * @param core how much brighter than its cladding a clean core looks, of white; absent: nobody knows
     */
    static EndFace of(
            GreyPicture picture, double scale, EndFaceTable table, double @Nullable [] near, @Nullable Double core) {
        if (!(scale >= 0.05 && scale <= 10)) {
            throw new IllegalArgumentException("a pixel of " + scale + " um, not 0.05 to 10");
        }
        exposed(picture);
        FaceCircle circle = FaceCircle.find(picture, scale, near);
        if (circle == null) {
            throw new NoFaceException("no fibre is found: nothing in the picture is a circle of 125 um");
        }
        String unfit = unfit(circle, scale);
        List<Zone> zones = new ArrayList<>();
        FaceMarks marks = new FaceMarks(picture, circle, scale, table, core);
        List<FaceMarks.Mark> all = marks.all();
        for (EndFaceTable.Zone z : table.zones()) {
            zones.add(zone(z, all, marks, seen(picture, circle, scale, z), unfit != null));
        }
        Verdict verdict = zones.stream()
                .map(Zone::verdict)
                .reduce(
                        Verdict.PASS,
                        (a, b) -> a == Verdict.FAIL || b == Verdict.FAIL
                                ? Verdict.FAIL
                                : a == Verdict.NOT_JUDGED ? a : b);
        return new EndFace(circle.x(), circle.y(), circle.radius(), marks.core(), zones, verdict, reason(unfit, zones));
    }

    static void exposed(GreyPicture picture) {
        int white = 0;
        int black = 0;
        for (float level : picture.level()) {
            white += level > 0.985 ? 1 : 0;
            black += level < 0.015 ? 1 : 0;
        }
        double all = picture.level().length;
        if (white > BURNT * all || black > BURNT * all) {
            throw new NoFaceException(String.format(
                    Locale.ROOT,
                    "%.0f %% of the picture are %s: nothing can be seen on it",
                    100 * Math.max(white, black) / all,
                    white > black ? "white" : "black"));
        }
    }

    private static @Nullable String unfit(FaceCircle circle, double scale) {
        if (scale > COARSE) {
            return String.format(
                    Locale.ROOT,
                    "too coarse: a pixel is %.2f um, at most %.1f um show a defect of 2 um",
                    scale,
                    COARSE);
        }
        if (circle.edge() > SHARP) {
            return String.format(Locale.ROOT, "not sharp: the edge of the fibre is spread over %.1f um", circle.edge());
        }
        return null;
    }

    private static @Nullable String reason(@Nullable String unfit, List<Zone> zones) {
        if (unfit != null) {
            return unfit;
        }
        for (Zone z : zones) {
            if (z.verdict == Verdict.FAIL) {
                return "zone " + z.name + " has marks that are not allowed";
            }
        }
        for (Zone z : zones) {
            if (z.verdict == Verdict.NOT_JUDGED) {
                return String.format(
                        Locale.ROOT, "off centre: %.0f %% of zone %s are in the picture", 100 * z.seen, z.name);
            }
        }
        return null;
    }

    private static double seen(GreyPicture picture, FaceCircle circle, double scale, EndFaceTable.Zone zone) {
        int all = 0;
        int in = 0;
        for (double r = zone.from() / 2 + 0.25; r < zone.to() / 2; r += 1) {
            int steps = (int) Math.max(8, 2 * Math.PI * r);
            for (int i = 0; i < steps; i++) {
                double x = circle.x() + r / scale * Math.cos(2 * Math.PI * i / steps);
                double y = circle.y() + r / scale * Math.sin(2 * Math.PI * i / steps);
                all++;
                in += x >= 0 && y >= 0 && x <= picture.width() - 1 && y <= picture.height() - 1 ? 1 : 0;
            }
        }
        return all == 0 ? 0 : in / (double) all;
    }

    private static Zone zone(
            EndFaceTable.Zone zone, List<FaceMarks.Mark> marks, FaceMarks where, double seen, boolean unfit) {
        List<Finding> scratches = new ArrayList<>();
        List<Finding> defects = new ArrayList<>();
        for (FaceMarks.Mark mark : marks) {
            int inside = 0;
            double nearest = Double.MAX_VALUE;
            for (int p : mark.pixels()) {
                double d = 2 * where.distance(p);
                nearest = Math.min(nearest, d);
                inside += d >= zone.from() && d < zone.to() ? 1 : 0;
            }
            if (mark.scratch() && inside > 0) {
                double share = inside / (double) mark.pixels().length;
                scratches.add(new Finding(mark.pixels(), mark.width(), mark.length() * share));
            } else if (!mark.scratch() && nearest >= zone.from() && nearest < zone.to()) {
                defects.add(new Finding(mark.pixels(), mark.width(), mark.length()));
            }
        }
        boolean allowed = allowed(scratches, zone.scratches()) && allowed(defects, zone.defects());
        Verdict verdict =
                unfit || allowed && seen < IN_PICTURE ? Verdict.NOT_JUDGED : allowed ? Verdict.PASS : Verdict.FAIL;
        return new Zone(zone.name(), List.copyOf(scratches), List.copyOf(defects), seen, verdict);
    }

    private static boolean allowed(List<Finding> found, List<EndFaceTable.Allowed> classes) {
        int[] counts = new int[classes.size()];
        for (Finding f : found) {
            int c = 0;
            while (c < counts.length && !classes.get(c).holds(f.size)) {
                c++;
            }
            if (c == counts.length || ++counts[c] > classes.get(c).most()) {
                return false;
            }
        }
        return true;
    }
}
