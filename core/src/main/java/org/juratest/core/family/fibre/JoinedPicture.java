package org.juratest.core.family.fibre;

import java.util.List;

/**
 * Pictures of parts of a face as one. Where they lie is told by the camera, to some um; how they fit to a pixel is
 * found where they overlap: the shift at which they differ least, by least squares.
 */
final class JoinedPicture {

    /** How far the camera's word may be off, um. */
    private static final double OFF = 6;
    /** The least width of an overlap that says anything, pixels. */
    private static final int OVERLAP = 24;
    /** The farthest a piece may lie from the first, um: no ferrule is wider. */
    private static final double FARTHEST = 20_000;
    /** Pixels that are compared at a shift; more say no more. */
    private static final int COMPARED = 20_000;
    /** The most pixels that come of it. */
    private static final long MOST = 24_000_000;

    private JoinedPicture() {}

    /**
     * Joins pictures, each to what was joined before it.
     *
     * @param scale um a pixel, of all, 0.05 to 10
     * @throws IllegalArgumentException in words, if there is none, or they lie too far apart
     */
    static GreyPicture of(List<ArrayCamera.Piece> pieces, double scale) {
        if (pieces.isEmpty()) {
            throw new IllegalArgumentException("the camera took no picture");
        }
        if (!(scale >= 0.05 && scale <= 10)) {
            throw new IllegalArgumentException("a pixel of " + scale + " um, not 0.05 to 10");
        }
        for (ArrayCamera.Piece piece : pieces) {
            // Turned round, so that a place that is no figure is none.
            if (!(Math.abs(piece.x()) <= FARTHEST && Math.abs(piece.y()) <= FARTHEST)) {
                throw new IllegalArgumentException(
                        "a picture lies at " + piece.x() + ", " + piece.y() + " um: no ferrule is as wide");
            }
        }
        GreyPicture joined = pieces.get(0).picture();
        int left = 0;
        int top = 0;
        for (ArrayCamera.Piece piece : pieces.subList(1, pieces.size())) {
            GreyPicture more = piece.picture();
            int x = (int) Math.round((piece.x() - pieces.get(0).x()) / scale) - left;
            int y = (int) Math.round((piece.y() - pieces.get(0).y()) / scale) - top;
            int[] shift = best(joined, more, x, y, (int) Math.ceil(OFF / scale));
            x += shift[0];
            y += shift[1];
            int fromX = Math.min(0, x);
            int fromY = Math.min(0, y);
            int width = Math.max(joined.width(), x + more.width()) - fromX;
            int height = Math.max(joined.height(), y + more.height()) - fromY;
            if ((long) width * height > MOST) {
                throw new IllegalArgumentException(
                        "its pictures make one of " + width + " x " + height + " pixels; that is too large");
            }
            float[] level = new float[width * height];
            copy(joined, -fromX, -fromY, width, level);
            copy(more, x - fromX, y - fromY, width, level);
            joined = new GreyPicture(width, height, level);
            left += fromX;
            top += fromY;
        }
        return joined;
    }

    private static void copy(GreyPicture from, int x, int y, int width, float[] to) {
        for (int row = 0; row < from.height(); row++) {
            System.arraycopy(from.level(), row * from.width(), to, (y + row) * width + x, from.width());
        }
    }

    /** The shift about a place at which two pictures differ least where they overlap; none where they do not. */
    private static int[] best(GreyPicture one, GreyPicture other, int x, int y, int reach) {
        int[] best = {0, 0};
        double least = Double.MAX_VALUE;
        // Coarse first, then about the best of it.
        for (int step : new int[] {3, 1}) {
            int[] middle = best;
            int within = step == 3 ? reach : 3;
            for (int dy = -within; dy <= within; dy += step) {
                for (int dx = -within; dx <= within; dx += step) {
                    double differs = differs(one, other, x + middle[0] + dx, y + middle[1] + dy);
                    if (differs < least) {
                        least = differs;
                        best = new int[] {middle[0] + dx, middle[1] + dy};
                    }
                }
            }
        }
        return best;
    }

    /** The mean square difference where they overlap; infinite where they hardly do. */
    private static double differs(GreyPicture one, GreyPicture other, int x, int y) {
        int left = Math.max(0, x);
        int right = Math.min(one.width(), x + other.width());
        int top = Math.max(0, y);
        int bottom = Math.min(one.height(), y + other.height());
        if (right - left < OVERLAP || bottom - top < OVERLAP) {
            return Double.POSITIVE_INFINITY;
        }
        double sum = 0;
        long count = 0;
        double pixels = (double) (right - left) * (bottom - top);
        int stride = Math.max(1, (int) Math.sqrt(pixels / COMPARED));
        for (int py = top; py < bottom; py += stride) {
            for (int px = left; px < right; px += stride) {
                double d = one.at(px, py) - other.at(px - x, py - y);
                sum += d * d;
                count++;
            }
        }
        return sum / count;
    }
}
