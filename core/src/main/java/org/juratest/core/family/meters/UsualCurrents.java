package org.juratest.core.family.meters;

/** Rated primary currents of current transformers: a series and its decimal multiples (IEC 61869-2). */
final class UsualCurrents {

    private static final double[] SERIES = {10, 12.5, 15, 20, 25, 30, 40, 50, 60, 75};

    private UsualCurrents() {}

    /**
     * The one that is nearest, by the ratio of both.
     *
     * @param amperes above 0
     * @throws IllegalArgumentException if it is not
     */
    static double nearest(double amperes) {
        if (!(amperes > 0) || !(amperes <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("a rated current is above 0, not " + amperes);
        }
        double decade = Math.pow(10, Math.floor(Math.log10(amperes)) - 1);
        double best = SERIES[0] * decade;
        for (double scale : new double[] {decade, 10 * decade}) {
            for (double step : SERIES) {
                if (Math.abs(Math.log(amperes / (step * scale))) < Math.abs(Math.log(amperes / best))) {
                    best = step * scale;
                }
            }
        }
        return best;
    }
}
