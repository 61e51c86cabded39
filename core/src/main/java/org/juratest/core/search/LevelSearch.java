package org.juratest.core.search;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Up-and-down staircase for the level at which a measured quality just meets an aim (W. J. Dixon, A. M. Mood, "A method
 * for obtaining and analyzing sensitivity data", J. Amer. Statist. Assoc. 43 (1948) 109): quality met, one step down;
 * not met, one step up. The step is halved at each turn until it is the finest; from then on turns are collected, and
 * the result is the mean of the levels half-way between them, with their spread. It never leaves its range, and begins
 * where the quality is expected to be met well.
 *
 * <p>Ask for {@link #level}, measure there, tell the outcome by {@link #measured}, until {@link #isOver}. A quality
 * that is NaN counts as not met: a receiver that gives no tone is below its sensitivity.
 */
public final class LevelSearch {

    /**
     * @param start level to begin at, dBm
     * @param lowest dBm
     * @param highest never exceeded, dBm
     * @param coarse first step, dB
     * @param fine last step, dB
     * @param aim quality that is to be met, such as 12 (dB SINAD)
     * @param turns how many turns of the finest step are averaged, even
     * @param greatest number of measurements after which it gives up
     */
    public record Plan(
            double start,
            double lowest,
            double highest,
            double coarse,
            double fine,
            double aim,
            int turns,
            int greatest) {
        public Plan {
            if (!(lowest < highest && start >= lowest && start <= highest)) {
                throw new IllegalArgumentException(
                        "a search from " + start + " between " + lowest + " and " + highest + " makes no sense");
            }
            if (!(fine > 0 && coarse >= fine && coarse <= highest - lowest) || !(Math.abs(aim) <= Double.MAX_VALUE)) {
                throw new IllegalArgumentException(
                        "steps of " + coarse + " and " + fine + " towards " + aim + " make no sense");
            }
            if (turns < 2 || turns % 2 != 0 || greatest < turns) {
                throw new IllegalArgumentException(
                        "an even number of turns is needed and more measurements, not " + turns + " and " + greatest);
            }
        }
    }

    /** One measurement of the staircase. */
    public record Step(double level, double quality, boolean met) {}

    /**
     * Where it ended.
     *
     * @param level dBm
     * @param spread standard deviation of the turns, dB
     */
    public record Result(double level, double spread) {}

    private final Plan plan;
    private final List<Step> steps = new ArrayList<>();
    private final List<Double> turns = new ArrayList<>();
    private double level;
    private double step;
    private @Nullable String failed;

    public LevelSearch(Plan plan) {
        this.plan = plan;
        this.level = plan.start;
        this.step = plan.coarse;
    }

    /** The level to measure at next, dBm. */
    public double level() {
        return level;
    }

    public boolean isOver() {
        return failed != null || turns.size() >= plan.turns;
    }

    /**
     * The outcome at {@link #level}.
     *
     * @throws IllegalStateException if the search is over
     */
    public void measured(double quality) {
        if (isOver()) {
            throw new IllegalStateException("the search is over");
        }
        boolean met = quality >= plan.aim;
        Step last = steps.isEmpty() ? null : steps.get(steps.size() - 1);
        steps.add(new Step(level, quality, met));
        if (last != null && last.met != met) {
            if (step <= plan.fine) {
                turns.add((last.level + level) / 2);
            }
            step = Math.max(plan.fine, step / 2);
        }
        double next = Math.max(plan.lowest, Math.min(plan.highest, level + (met ? -step : step)));
        if (next == level) {
            failed = met
                    ? "it is still met at the lowest level, " + level + " dBm"
                    : "it is not met at the greatest level allowed, " + level + " dBm";
        } else if (steps.size() >= plan.greatest) {
            failed = "it did not settle within " + plan.greatest + " measurements";
        }
        level = next;
    }

    /** What was measured so far, in order. */
    public List<Step> steps() {
        return List.copyOf(steps);
    }

    /** Why there is no result; null while it goes on and where there is one. */
    public @Nullable String failed() {
        return isOver() && turns.size() >= plan.turns ? null : failed;
    }

    /**
     * The result.
     *
     * @throws IllegalStateException if there is none
     */
    public Result result() {
        if (turns.size() < plan.turns) {
            throw new IllegalStateException("the search has no result");
        }
        double[] levels = turns.stream().mapToDouble(Double::doubleValue).toArray();
        double mean = Arrays.stream(levels).average().orElseThrow();
        double squares = Arrays.stream(levels).map(l -> (l - mean) * (l - mean)).sum();
        return new Result(mean, Math.sqrt(squares / (levels.length - 1)));
    }
}
