package org.juratest.core.family.fibre;

import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.function.UnaryOperator;

/** A picture of a multi-fibre ferrule drawn by its definition, face by face, turned and shifted as one whole. */
final class MadeArray {

    private final ArrayLayout layout;
    private final double scale;
    private final Map<Integer, UnaryOperator<MadeFace>> changed = new HashMap<>();
    private final Set<Integer> empty = new HashSet<>();
    private double turned;
    private double shiftX;
    private double shiftY;
    private double margin = 180;
    private double blur = 0.4;
    private long seed = 5;

    MadeArray(ArrayLayout layout, double scale) {
        this.layout = layout;
        this.scale = scale;
    }

    MadeArray face(int number, UnaryOperator<MadeFace> how) {
        changed.put(number, how);
        return this;
    }

    /** A place without a fibre. */
    MadeArray empty(int number) {
        empty.add(number);
        return this;
    }

    /** @param radians against the clock as the picture is seen, downwards positive */
    MadeArray turned(double radians) {
        turned = radians;
        return this;
    }

    /** @param atX um from the middle of the picture */
    MadeArray shifted(double atX, double atY) {
        shiftX = atX;
        shiftY = atY;
        return this;
    }

    MadeArray margin(double um) {
        margin = um;
        return this;
    }

    MadeArray blur(double um) {
        blur = um;
        return this;
    }

    MadeArray seed(long of) {
        seed = of;
        return this;
    }

    int width() {
        return (int) (((layout.columns() - 1) * ArrayLayout.PITCH + 2 * margin) / scale);
    }

    int height() {
        return (int) (((layout.rows() - 1) * ArrayLayout.ROW_PITCH + 2 * margin) / scale);
    }

    double x(int number) {
        return width() / 2.0
                + (shiftX + layout.x(number) * Math.cos(turned) - layout.y(number) * Math.sin(turned)) / scale;
    }

    double y(int number) {
        return height() / 2.0
                + (shiftY + layout.x(number) * Math.sin(turned) + layout.y(number) * Math.cos(turned)) / scale;
    }

    GreyPicture picture() {
        float[] level = new float[width() * height()];
        Random random = new Random(seed);
        // The ferrule is rough: grains of some um.
        Arrays.fill(level, 0.62f);
        for (int i = 0; i < level.length / 40; i++) {
            int at = random.nextInt(level.length);
            float grain = (float) (0.62 + 0.04 * random.nextGaussian());
            for (int k = 0; k < 4 && at + k < level.length; k++) {
                level[at + k] = grain;
            }
        }
        int about = (int) (100 / scale);
        for (int n = 1; n <= layout.size(); n++) {
            if (empty.contains(n)) {
                continue;
            }
            int left = (int) Math.round(x(n)) - about;
            int top = (int) Math.round(y(n)) - about;
            MadeFace face = new MadeFace(2 * about + 1, 2 * about + 1, scale)
                    .fine(2)
                    .centre(x(n) - left, y(n) - top)
                    .levels(0.62, 0.4, 0.5, 0.6)
                    .blur(blur)
                    .noise(0.008, seed + n);
            GreyPicture drawn = changed.getOrDefault(n, f -> f).apply(face).picture();
            for (int py = 0; py < drawn.height(); py++) {
                for (int px = 0; px < drawn.width(); px++) {
                    int ax = left + px;
                    int ay = top + py;
                    boolean near = Math.hypot(ax - x(n), ay - y(n)) * scale < 95;
                    if (near && ax >= 0 && ay >= 0 && ax < width() && ay < height()) {
                        level[ay * width() + ax] = drawn.at(px, py);
                    }
                }
            }
        }
        return new GreyPicture(width(), height(), level);
    }
}
