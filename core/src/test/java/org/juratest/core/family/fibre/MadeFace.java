package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;

/** A picture of an end face drawn by its definition: each pixel the mean of sixteen points, blurred, with noise. */
final class MadeFace {

    private int fine = 4;

    private final int width;
    private final int height;
    private final double scale;
    private double x;
    private double y;
    private double ferrule = 0.75;
    private double ring = 0.35;
    private double cladding = 0.5;
    private double core = 0.58;
    private double coreRadius = 4.5;
    private double blur;
    private double noise;
    private double tilt;
    private long seed = 1;
    private final List<double[]> discs = new ArrayList<>();
    private final List<double[]> lines = new ArrayList<>();

    MadeFace(int width, int height, double scale) {
        this.width = width;
        this.height = height;
        this.scale = scale;
        this.x = width / 2.0 - 3.3;
        this.y = height / 2.0 + 2.6;
    }

    /** Each pixel the mean of so many points a side: quicker, and a little rougher. */
    MadeFace fine(int points) {
        fine = points;
        return this;
    }

    MadeFace centre(double atX, double atY) {
        x = atX;
        y = atY;
        return this;
    }

    MadeFace levels(double ofFerrule, double ofRing, double ofCladding, double ofCore) {
        ferrule = ofFerrule;
        ring = ofRing;
        cladding = ofCladding;
        core = ofCore;
        return this;
    }

    MadeFace coreRadius(double um) {
        coreRadius = um;
        return this;
    }

    /** @param um standard deviation of the bell a point becomes */
    MadeFace blur(double um) {
        blur = um;
        return this;
    }

    MadeFace noise(double of, long withSeed) {
        noise = of;
        seed = withSeed;
        return this;
    }

    /** Light that grows from left to right by so much over 100 um. */
    MadeFace tilt(double of) {
        tilt = of;
        return this;
    }

    /** A disc at a place from the middle, um. */
    MadeFace defect(double atX, double atY, double diameter, double level) {
        discs.add(new double[] {atX, atY, diameter / 2, level});
        return this;
    }

    MadeFace scratch(double fromX, double fromY, double toX, double toY, double wide, double level) {
        lines.add(new double[] {fromX, fromY, toX, toY, wide, level});
        return this;
    }

    double centreX() {
        return x;
    }

    double centreY() {
        return y;
    }

    private double level(double px, double py) {
        double ux = (px - x) * scale;
        double uy = (py - y) * scale;
        double r = Math.hypot(ux, uy);
        double level = r < coreRadius ? core : r < 62.5 ? cladding : r < 65 ? ring : ferrule;
        for (double[] d : discs) {
            level = Math.hypot(ux - d[0], uy - d[1]) < d[2] ? d[3] : level;
        }
        for (double[] l : lines) {
            double dx = l[2] - l[0];
            double dy = l[3] - l[1];
            double t = Math.max(0, Math.min(1, ((ux - l[0]) * dx + (uy - l[1]) * dy) / (dx * dx + dy * dy)));
            level = Math.hypot(ux - l[0] - t * dx, uy - l[1] - t * dy) < l[4] / 2 ? l[5] : level;
        }
        return level + tilt * ux / 100;
    }

    GreyPicture picture() {
        float[] levels = new float[width * height];
        for (int py = 0; py < height; py++) {
            for (int px = 0; px < width; px++) {
                double sum = 0;
                for (int i = 0; i < fine * fine; i++) {
                    sum += level(px + (i % fine + 0.5) / fine - 0.5, py + (i / fine + 0.5) / fine - 0.5);
                }
                levels[py * width + px] = (float) (sum / fine / fine);
            }
        }
        GreyPicture sharp = new GreyPicture(width, height, levels);
        GreyPicture seen = blur > 0 ? sharp.smoothed(blur / scale) : sharp;
        Random random = new Random(seed);
        for (int i = 0; i < seen.level().length; i++) {
            // As a file has it: 256 levels.
            double level = seen.level()[i] + noise * random.nextGaussian();
            seen.level()[i] = Math.round(Math.max(0, Math.min(1, level)) * 255) / 255f;
        }
        return seen;
    }
}
