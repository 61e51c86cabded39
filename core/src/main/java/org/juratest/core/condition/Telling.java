package org.juratest.core.condition;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.Scale;

/** What a trend rests on, in sentences: how fast, how sure, by which method, and what speaks against it. */
public final class Telling {

    /** Of so many devices one at either end is left out, and so on. */
    private static final int TAIL = 10;

    /** Margin used up since the last visit that is worth a word. */
    public static final double MUCH = 0.2;

    private Telling() {}

    /**
     * How fast the last segment goes and how that was found; empty where it has too few values.
     *
     * @param unit symbol
     */
    public static List<String> of(Trend trend, Scale scale, String unit) {
        Trend.Segment last = trend.last();
        if (last == null || last.n() < Trend.FEWEST) {
            return List.of();
        }
        List<String> words = new ArrayList<>();
        String p = "Mann-Kendall p " + p(last.monotony().p());
        if (!last.drifts()) {
            words.add("Nothing goes one way: " + p + ", where 0.1 would do.");
            return words;
        }
        double slope = last.monotony().slope().orElseThrow();
        words.add((slope > 0 ? "Rises by " : "Falls by ") + pace(slope, scale, unit) + " a year"
                + range(last.monotony(), scale) + "; " + p
                + (trend.pooled() ? ", visits between adjustments pooled" : "")
                + ".");
        switch (last.method()) {
            case FIELLER -> words.add("Range at 80 %: least squares, inverse prediction (Fieller).");
            case BOOTSTRAP ->
                words.add("Range at 80 %: bootstrap of the Theil-Sen line, as one value lies far from the others or "
                        + "they scatter unevenly.");
            case NONE -> {}
        }
        return words;
    }

    private static String p(double p) {
        return p < 0.001 ? "below 0.001" : String.format(Locale.ROOT, p < 0.1 ? "= %.3f" : "= %.2f", p);
    }

    private static String pace(double slope, Scale scale, String unit) {
        // On a logarithmic axis a slope is a factor.
        return scale == Scale.LINEAR
                ? (Figures.of(Math.abs(slope)) + " " + unit).strip()
                : "a factor of " + Figures.of(Math.pow(10, Math.abs(slope)));
    }

    private static String range(Monotony monotony, Scale scale) {
        OptionalDouble low = monotony.low();
        OptionalDouble high = monotony.high();
        if (low.isEmpty() || high.isEmpty() || monotony.slope().isEmpty()) {
            return "";
        }
        boolean rises = monotony.slope().getAsDouble() > 0;
        double least = rises ? low.getAsDouble() : -high.getAsDouble();
        double most = rises ? high.getAsDouble() : -low.getAsDouble();
        return " (" + side(least, scale) + " to " + side(most, scale) + " at 95 %)";
    }

    private static String side(double slope, Scale scale) {
        return Figures.of(scale == Scale.LINEAR ? slope : Math.pow(10, slope)).replace('-', '\u2212');
    }

    /**
     * Where those like a device stand.
     *
     * @param devices how many there are
     * @param from the least of their values, of ten and more but for a tenth; in their unit
     * @param to the greatest, likewise
     */
    public record Like(int devices, double from, double to) {

        /** @param values of the devices, any order, at least one */
        public static Like of(double[] values) {
            double[] sorted = values.clone();
            java.util.Arrays.sort(sorted);
            int tail = sorted.length / TAIL;
            return new Like(sorted.length, sorted[tail], sorted[sorted.length - 1 - tail]);
        }
    }

    /**
     * Where a device stands among those like it.
     *
     * @param like the others; absent where there are none
     * @param outlier whether it lies apart
     */
    public static List<String> peers(@Nullable Like like, String unit, boolean outlier) {
        if (like == null) {
            return List.of();
        }
        String words = like.devices == 1
                ? "One like it stands at " + Figures.of(like.from)
                : like.devices
                        + (like.devices >= TAIL
                                ? " like it stand, but for a tenth at either end, at "
                                : " like it stand at ")
                        + Figures.of(like.from) + " to " + Figures.of(like.to);
        return List.of((words + " " + unit).strip().replace('-', '\u2212')
                + (outlier
                        ? "; this one stands apart."
                        : like.devices < Peers.FEWEST ? "; too few to call one apart." : "."));
    }
}
