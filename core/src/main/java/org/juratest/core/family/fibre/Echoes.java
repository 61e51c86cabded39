package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What only looks like an event: light that went to one reflection, back to an earlier one and to a reflection again
 * shows at the sum of the two distances less that of the one between, weaker than either, and loses nothing there.
 */
final class Echoes {

    /** The most an echo may seem to lose or gain, dB. */
    private static final double LOSS = 0.05;

    private Echoes() {}

    /**
     * A reflection.
     *
     * @param position m
     * @param reflectance dB
     * @param loss dB; absent where it is not known
     * @param tolerance of the position, m
     */
    record Seen(double position, double reflectance, @Nullable Double loss, double sigma, double tolerance) {}

    /**
     * An echo.
     *
     * @param index of it
     * @param there indices of the two that sent light forwards again
     * @param back index of the one between
     */
    record Echo(int index, int there, int thereAgain, int back) {}

    /** Which of some reflections, in order from the port on, are echoes of those before them. */
    static List<Echo> among(List<Seen> seen) {
        List<Echo> echoes = new ArrayList<>();
        List<Integer> real = new ArrayList<>();
        for (int c = 0; c < seen.size(); c++) {
            Echo echo = of(seen, real, c);
            if (echo == null) {
                real.add(c);
            } else {
                echoes.add(echo);
            }
        }
        return echoes;
    }

    private static @Nullable Echo of(List<Seen> seen, List<Integer> real, int c) {
        Seen it = seen.get(c);
        if (it.loss == null || Math.abs(it.loss) > Math.max(LOSS, 3 * it.sigma)) {
            return null;
        }
        for (int back : real) {
            for (int one : real) {
                for (int other : real) {
                    if (back < one && one <= other && fits(it, seen.get(back), seen.get(one), seen.get(other))) {
                        return new Echo(c, one, other, back);
                    }
                }
            }
        }
        return null;
    }

    private static boolean fits(Seen it, Seen back, Seen one, Seen other) {
        double at = one.position + other.position - back.position;
        return Math.abs(it.position - at) <= it.tolerance
                && it.reflectance < Math.min(one.reflectance, other.reflectance) - 3;
    }
}
