package org.juratest.core.family.lamps;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import javax.imageio.ImageIO;

/**
 * The dark spots on a lit front glass: connected areas inside its rim that are darker than half of what most of it is.
 */
final class Glass {

    /** Smaller than this is a speck of noise, pixels. */
    private static final int SPECK = 3;

    private Glass() {}

    /**
     * A dark spot.
     *
     * @param angle from the top, clockwise, where it is seen from the middle, mm along a ring of 10 mm radius
     * @param size diameter of a circle of its area, mm
     * @param x place in the picture, share of its width
     * @param y likewise of its height
     */
    record Spot(double angle, double size, double x, double y) {}

    static List<Spot> spots(LampTester.Seen seen) {
        int[] grey = seen.grey();
        int width = seen.width();
        int height = grey.length / width;
        int[] sorted = java.util.Arrays.stream(grey).sorted().toArray();
        // Nine tenths: well inside the lit glass, whatever share of the picture it fills above a tenth.
        int lit = sorted[(int) (0.9 * (sorted.length - 1))];
        double radius = Math.min(width, height) * 0.42;
        boolean[] dark = new boolean[grey.length];
        for (int n = 0; n < grey.length; n++) {
            dark[n] = grey[n] < lit / 2
                    && Math.hypot(n % width - (width - 1) / 2.0, n / width - (height - 1) / 2.0) < 0.9 * radius;
        }
        List<Spot> spots = new ArrayList<>();
        for (int n = 0; n < dark.length; n++) {
            if (dark[n]) {
                spot(dark, n, width, height, seen.millimetres(), spots);
            }
        }
        spots.sort(Comparator.comparingDouble(Spot::angle));
        return spots;
    }

    private static void spot(boolean[] dark, int first, int width, int height, double millimetres, List<Spot> spots) {
        Deque<Integer> open = new ArrayDeque<>(List.of(first));
        dark[first] = false;
        double x = 0;
        double y = 0;
        int count = 0;
        while (!open.isEmpty()) {
            int n = open.pop();
            x += n % width;
            y += n / width;
            count++;
            for (int next : new int[] {n - 1, n + 1, n - width, n + width}) {
                if (next >= 0 && next < dark.length && dark[next]) {
                    dark[next] = false;
                    open.push(next);
                }
            }
        }
        if (count >= SPECK) {
            x /= count;
            y /= count;
            double angle = Math.atan2(x - (width - 1) / 2.0, (height - 1) / 2.0 - y);
            spots.add(new Spot(
                    10 * (angle < 0 ? angle + 2 * Math.PI : angle),
                    2 * Math.sqrt(count / Math.PI) * millimetres,
                    (x + 0.5) / width,
                    (y + 0.5) / height));
        }
    }

    static byte[] png(LampTester.Seen seen) {
        int width = seen.width();
        int[] grey = seen.grey();
        BufferedImage image = new BufferedImage(width, grey.length / width, BufferedImage.TYPE_BYTE_GRAY);
        for (int n = 0; n < grey.length; n++) {
            image.getRaster().setSample(n % width, n / width, 0, grey[n]);
        }
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            ImageIO.write(image, "png", out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }
}
