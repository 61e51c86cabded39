package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Where an array lies on a picture: its middle, how it is turned, and how large it is beside what it should be. What
 * points to the middles of circles is laid under the layout: the place where most of it comes together is the array's.
 *
 * @param x middle of the array, pixels
 * @param y middle of the array, pixels
 * @param across where a um along a row goes, pixels
 * @param down where the same um goes downwards, pixels
 */
record ArrayPlace(ArrayLayout layout, double x, double y, double across, double down) {

    /** um a pixel at which circles are still well told from each other. */
    private static final double COARSE = 1.6;
    /** How far the scale may be off, parts. */
    private static final double OFF = 0.03;
    /** How far it may be turned, radians. */
    private static final double TURNED = 0.09;
    /** How far a circle may be from its place, um. */
    private static final double BESIDE = 15;
    /** Circles are no nearer to each other than this, um. */
    private static final double APART = 90;
    /** Share of the fibres that have to be seen. */
    private static final double LEAST = 0.4;
    /** What a place has to have of what the best ones have, to be one where a fibre is seen. */
    private static final double SEEN = 0.35;
    /** A dark fibre is there as well, or its hole is empty: it has less of a say. */
    private static final double DARK = 0.25;

    /** Across of a fibre, pixels. */
    double x(int number) {
        return x + layout.x(number) * across - layout.y(number) * down;
    }

    /** Down of a fibre, pixels. */
    double y(int number) {
        return y + layout.x(number) * down + layout.y(number) * across;
    }

    private record Peak(double x, double y, double votes) {}

    /**
     * The place.
     *
     * @param scale um a pixel
     * @return absent where too few fibres are seen
     */
    static @Nullable ArrayPlace find(GreyPicture picture, double scale, ArrayLayout layout) {
        int by = Math.max(1, (int) Math.round(COARSE / scale));
        double coarse = scale * by;
        double radius = FaceCircle.RADIUS / coarse;
        if (radius < 8) {
            return null;
        }
        GreyPicture smooth = picture.coarser(by).smoothed(0.8);
        GreyPicture ballot = FaceCircle.ballot(smooth, radius);
        List<Peak> peaks = peaks(ballot, coarse, layout.size());
        ArrayPlace best = null;
        double most = 0;
        for (Peak one : peaks) {
            for (Peak other : peaks) {
                ArrayPlace through = through(one, other, coarse, layout);
                for (ArrayPlace place : through == null ? List.<ArrayPlace>of() : through.windows(one)) {
                    double score = place.score(ballot);
                    if (score > most) {
                        most = score;
                        best = place;
                    }
                }
            }
        }
        ArrayPlace fitted = best == null ? null : best.fitted(peaks, coarse);
        if (fitted == null
                || fitted.seen(peaks, coarse) < Math.ceil(LEAST * layout.live().cardinality())) {
            return null;
        }
        // The middle of a coarse pixel lies between the fine ones that it is made of.
        double shift = (by - 1) / 2.0;
        return new ArrayPlace(
                layout, fitted.x * by + shift, fitted.y * by + shift, fitted.across * by, fitted.down * by);
    }

    /** Where more points to than round about, the most first; no more than a few times as many as there are fibres. */
    private static List<Peak> peaks(GreyPicture ballot, double scale, int fibres) {
        int reach = (int) Math.max(1, FaceCircle.onBallot(APART / scale / 2));
        List<Peak> all = new ArrayList<>();
        for (int y = 0; y < ballot.height(); y++) {
            for (int x = 0; x < ballot.width(); x++) {
                float votes = ballot.at(x, y);
                if (votes > 0 && isTop(ballot, x, y, reach)) {
                    all.add(new Peak(FaceCircle.onPicture(x), FaceCircle.onPicture(y), votes));
                }
            }
        }
        all.sort((a, b) -> Double.compare(b.votes, a.votes));
        return all.subList(0, Math.min(all.size(), 2 * fibres + 8));
    }

    private static boolean isTop(GreyPicture ballot, int x, int y, int reach) {
        float votes = ballot.at(x, y);
        for (int dy = -reach; dy <= reach; dy++) {
            for (int dx = -reach; dx <= reach; dx++) {
                int nx = x + dx;
                int ny = y + dy;
                boolean in = nx >= 0 && ny >= 0 && nx < ballot.width() && ny < ballot.height();
                // Of equals the first counts.
                if (in && (ballot.at(nx, ny) > votes || ballot.at(nx, ny) == votes && (dy < 0 || dy == 0 && dx < 0))) {
                    return false;
                }
            }
        }
        return true;
    }

    /** The array whose first two of a row are these, or others of a row as far from each other as these are. */
    private static @Nullable ArrayPlace through(Peak one, Peak other, double scale, ArrayLayout layout) {
        double dx = other.x - one.x;
        double dy = other.y - one.y;
        double apart = Math.hypot(dx, dy) * scale / ArrayLayout.PITCH;
        double steps = Math.rint(apart);
        if (dx <= 0
                || steps < 1
                || steps >= layout.columns()
                || Math.abs(apart / steps - 1) > OFF
                || Math.abs(Math.atan2(dy, dx)) > TURNED) {
            return null;
        }
        double um = steps * ArrayLayout.PITCH;
        return new ArrayPlace(layout, one.x, one.y, dx / um, dy / um);
    }

    /** The same array with a circle as each of its fibres. */
    private List<ArrayPlace> windows(Peak circle) {
        List<ArrayPlace> all = new ArrayList<>();
        for (int n = 1; n <= layout.size(); n++) {
            all.add(new ArrayPlace(
                    layout,
                    circle.x - layout.x(n) * across + layout.y(n) * down,
                    circle.y - layout.x(n) * down - layout.y(n) * across,
                    across,
                    down));
        }
        return all;
    }

    /** What points to the places of all fibres. */
    private double score(GreyPicture ballot) {
        double sum = 0;
        for (int n = 1; n <= layout.size(); n++) {
            double bx = FaceCircle.onBallot(x(n));
            double by = FaceCircle.onBallot(y(n));
            boolean in = bx >= 0 && by >= 0 && bx <= ballot.width() - 1 && by <= ballot.height() - 1;
            // The root: a fibre that is very clear does not stand for one that is not there.
            sum += in ? (layout.live().get(n) ? 1 : DARK) * Math.sqrt(Math.max(0, ballot.at(bx, by))) : 0;
        }
        return sum;
    }

    private @Nullable Peak at(int number, List<Peak> peaks, double scale) {
        Peak nearest = null;
        double least = BESIDE / scale;
        for (Peak p : peaks) {
            double off = Math.hypot(p.x - x(number), p.y - y(number));
            if (off <= least) {
                least = off;
                nearest = p;
            }
        }
        return nearest;
    }

    /** How many of those that carry light have a circle in their place. */
    private int seen(List<Peak> peaks, double scale) {
        double best = peaks.isEmpty() ? 0 : peaks.get(0).votes;
        int count = 0;
        for (int n : layout.liveNumbers()) {
            Peak p = at(n, peaks, scale);
            count += p != null && p.votes >= SEEN * best ? 1 : 0;
        }
        return count;
    }

    /**
     * The place that fits the circles best by least squares: shift, turn and size; this one where there are too few.
     */
    private ArrayPlace fitted(List<Peak> peaks, double scale) {
        double count = 0;
        double px = 0;
        double py = 0;
        double ux = 0;
        double uy = 0;
        List<double[]> pairs = new ArrayList<>();
        for (int n = 1; n <= layout.size(); n++) {
            Peak p = at(n, peaks, scale);
            if (p != null) {
                pairs.add(new double[] {layout.x(n), layout.y(n), p.x, p.y});
                count++;
                ux += layout.x(n);
                uy += layout.y(n);
                px += p.x;
                py += p.y;
            }
        }
        double square = 0;
        double along = 0;
        double cross = 0;
        for (double[] pair : pairs) {
            double a = pair[0] - ux / count;
            double b = pair[1] - uy / count;
            double c = pair[2] - px / count;
            double d = pair[3] - py / count;
            square += a * a + b * b;
            along += a * c + b * d;
            cross += a * d - b * c;
        }
        if (count < 2 || square == 0) {
            return this;
        }
        double turned = along / square;
        double aside = cross / square;
        return new ArrayPlace(
                layout,
                px / count - ux / count * turned + uy / count * aside,
                py / count - ux / count * aside - uy / count * turned,
                turned,
                aside);
    }
}
