package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Where the backscatter of a fibre breaks off, from the port of the instrument to the end, and the lines between. */
final class Breaks {

    /** A step is told from so many standard deviations of its loss on. */
    private static final double SIGMAS = 5;
    /** The least loss that is told of a step without a reflection, dB. */
    private static final double LEAST_LOSS = 0.02;
    /** How far a line goes beside a break at most, m. */
    private static final double REACH = 5000;
    /** Samples a line has at least. */
    private static final int LINE = 3;
    /** Rounds in which steps are looked for beside those that are known. */
    private static final int ROUNDS = 3;
    /** Times places are looked at again, as those beside them move. */
    private static final int REFINED = 6;

    private final Levels levels;
    private final int pulse;
    private final int reach;
    private final Steps finder;
    private final List<Break> all = new ArrayList<>();

    /**
     * A break.
     *
     * @param at its first sample
     * @param to first sample of the line behind it
     * @param zone its reflection; absent for a step
     */
    record Break(int at, int to, Reflections.@Nullable Zone zone) {}

    /**
     * Loss at a break, dB.
     *
     * @param sigma standard deviation
     */
    record Loss(double loss, double sigma) {

        /** How far it is above what is told; below 1 it is not. */
        double weight() {
            return Math.abs(loss) / Math.max(LEAST_LOSS, SIGMAS * sigma);
        }
    }

    Breaks(Levels levels, FibreEnd end) {
        this.levels = levels;
        this.pulse = levels.trace().pulseSamples();
        this.reach = (int) Math.max(64, REACH / levels.trace().spacing());
        this.finder = new Steps(levels);
        Reflections reflections = new Reflections(levels, end.at());
        Reflections.Zone port = reflections.port();
        all.add(new Break(0, port.to(), port));
        reflections.between(port).forEach(z -> all.add(new Break(z.from(), z.to(), z)));
        all.add(new Break(end.at(), levels.size(), end.reflective() ? reflections.last() : null));
        levels.slope(commonSlope());
        for (int round = 0; round < ROUNDS && addSteps(); round++) {
            dropFeeble();
            for (int i = 0; i < REFINED && refine(); i++) {
                // Once more.
            }
        }
        dropFeeble();
    }

    /** The port, what lies between, and the end, in their order. */
    List<Break> all() {
        return all;
    }

    /** Whether there is a line in front of a break that is not the first. */
    boolean hasLine(int b) {
        return all.get(b).at - all.get(b - 1).to >= LINE;
    }

    /** The line in front of a break. */
    Levels.Line before(int b) {
        int to = all.get(b).at;
        return levels.line(Math.max(all.get(b - 1).to, to - reach), to);
    }

    /** The line behind a break. */
    Levels.Line after(int b) {
        int from = all.get(b).to;
        return levels.line(from, Math.min(all.get(b + 1).at, from + reach));
    }

    /** The line of a whole section, that in front of a break. */
    Levels.Line section(int b) {
        return levels.line(all.get(b - 1).to, all.get(b).at);
    }

    /** What is lost at a break; absent at either end and where there is no line on one side. */
    @Nullable
    Loss loss(int b) {
        if (b == 0 || b == all.size() - 1 || !hasLine(b) || !hasLine(b + 1)) {
            return null;
        }
        double x = levels.x(all.get(b).at);
        Levels.Line one = before(b);
        Levels.Line other = after(b);
        return new Loss(one.at(x) - other.at(x), Math.sqrt(one.varianceAt(x) + other.varianceAt(x)));
    }

    /** The slope that most neighbouring stretches have, dB/km: steps are in few of them. */
    private double commonSlope() {
        List<Double> slopes = new ArrayList<>();
        for (int b = 1; b < all.size(); b++) {
            int from = all.get(b - 1).to;
            int to = all.get(b).at;
            int block = Math.max(16, (to - from) / 60);
            for (int i = from; i + 2 * block <= to; i += block) {
                slopes.add((levels.mean(i + block, i + 2 * block) - levels.mean(i, i + block)) / levels.x(block));
            }
        }
        return slopes.isEmpty()
                ? levels.slope()
                : Levels.median(slopes.stream().mapToDouble(Double::doubleValue).toArray());
    }

    private boolean addSteps() {
        List<Break> further = new ArrayList<>();
        for (int b = 1; b < all.size(); b++) {
            for (int at : finder.between(all.get(b - 1).to, all.get(b).at)) {
                further.add(step(at, all.get(b).at));
            }
        }
        all.addAll(further);
        all.sort(Comparator.comparingInt(Break::at));
        return !further.isEmpty();
    }

    private Break step(int at, int limit) {
        return new Break(at, Math.min(limit, at + pulse + 1), null);
    }

    private boolean isStep(int b) {
        return b > 0 && b < all.size() - 1 && all.get(b).zone == null;
    }

    /** Takes out steps that are none, the feeblest first: with each that goes the lines beside it become longer. */
    private void dropFeeble() {
        double[] weights = new double[all.size()];
        Arrays.setAll(weights, this::weight);
        while (true) {
            int least = -1;
            for (int b = 0; b < all.size(); b++) {
                least = weights[b] < 1 && (least < 0 || weights[b] < weights[least]) ? b : least;
            }
            if (least < 0) {
                return;
            }
            all.remove(least);
            double[] left = new double[all.size()];
            System.arraycopy(weights, 0, left, 0, least);
            System.arraycopy(weights, least + 1, left, least, left.length - least);
            weights = left;
            for (int b = Math.max(0, least - 2); b < Math.min(all.size(), least + 2); b++) {
                weights[b] = weight(b);
            }
        }
    }

    private double weight(int b) {
        if (!isStep(b)) {
            return Double.MAX_VALUE;
        }
        Loss loss = loss(b);
        return loss == null ? 0 : loss.weight();
    }

    private boolean refine() {
        boolean moved = false;
        for (int b = 1; b < all.size() - 1; b++) {
            if (!isStep(b)) {
                continue;
            }
            int from = all.get(b - 1).to;
            int to = all.get(b + 1).at;
            int at = all.get(b).at;
            int left = Math.max(from + LINE, at - pulse - 2);
            int right = Math.min(to - LINE, at + 2 * pulse + 2);
            if (left < at && at < right) {
                int found = finder.refine(
                        at,
                        levels.line(Math.max(from, left - reach), left),
                        levels.line(right, Math.min(to, right + reach)),
                        from,
                        to);
                moved |= found != at;
                all.set(b, step(found, to));
            }
        }
        return moved;
    }
}
