package org.juratest.core.search;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Bounded search for the whole-number setting of a device at which a measured value comes into its aim window. It
 * begins at the setting found, looks beside it for which way the value goes, then follows the line through the two
 * nearest measurements (secant), and halves the bracket where that leaves it (safeguarded as R. P. Brent, "Algorithms
 * for Minimization without Derivatives", 1973, ch. 4). Only settings inside the bounds are ever asked for, none twice.
 *
 * <p>Ask for {@link #setting}, set it, measure, tell the value by {@link #measured}, until {@link #isOver}. If it
 * fails, the caller puts the device back to where it was found.
 */
public final class SettingSearch {

    /**
     * @param found setting to begin at
     * @param lowest lowest setting
     * @param highest highest setting
     * @param beside how far beside the first the second one is
     * @param aim value wanted
     * @param within half width of the aim window
     * @param greatest number of measurements after which it gives up
     */
    public record Plan(int found, int lowest, int highest, int beside, double aim, double within, int greatest) {
        public Plan {
            if (lowest >= highest || found < lowest || found > highest || beside < 1 || greatest < 2) {
                throw new IllegalArgumentException("a search from setting " + found + " between " + lowest + " and "
                        + highest + " makes no sense");
            }
            if (!(Math.abs(aim) <= Double.MAX_VALUE) || !(within > 0 && within <= Double.MAX_VALUE)) {
                throw new IllegalArgumentException("an aim of " + aim + " within " + within + " makes no sense");
            }
        }
    }

    /** One measurement: what was set, and what came of it. */
    public record Step(int setting, double value) {}

    private final Plan plan;
    private final List<Step> steps = new ArrayList<>();
    private int setting;
    private @Nullable Step below;
    private @Nullable Step above;
    private @Nullable Step best;
    private @Nullable String failed;
    private boolean reached;

    public SettingSearch(Plan plan) {
        this.plan = plan;
        this.setting = plan.found;
    }

    /** The setting to measure at next; the one that reached the aim once it is over and did. */
    public int setting() {
        return setting;
    }

    public boolean isOver() {
        return reached || failed != null;
    }

    /** Whether the value is in its window at {@link #setting}. */
    public boolean reached() {
        return reached;
    }

    /** Why it did not reach the aim; null while it goes on and where it did. */
    public @Nullable String failed() {
        return failed;
    }

    /** What was measured so far, in order. */
    public List<Step> steps() {
        return List.copyOf(steps);
    }

    /** The measurement nearest to the aim; null before the first. */
    public @Nullable Step best() {
        return best;
    }

    /**
     * The value at {@link #setting}.
     *
     * @throws IllegalStateException if the search is over
     */
    public void measured(double value) {
        if (isOver()) {
            throw new IllegalStateException("the search is over");
        }
        Step now = new Step(setting, value);
        steps.add(now);
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            failed = "nothing could be measured at setting " + setting;
            return;
        }
        Step nearest = best;
        if (nearest == null || Math.abs(value - plan.aim) < Math.abs(nearest.value - plan.aim)) {
            best = now;
        }
        if (Math.abs(value - plan.aim) <= plan.within) {
            reached = true;
            return;
        }
        if (value < plan.aim) {
            below = nearer(below, now);
        } else {
            above = nearer(above, now);
        }
        if (steps.size() >= plan.greatest) {
            failed = "the aim was not reached within " + plan.greatest + " measurements";
            return;
        }
        Integer next = next();
        if (next == null) {
            failed = below != null && above != null
                    ? "no setting between " + Math.min(below.setting, above.setting) + " and "
                            + Math.max(below.setting, above.setting) + " reaches the aim"
                    : "the aim lies beyond the settings " + plan.lowest + " to " + plan.highest;
        } else {
            setting = next;
        }
    }

    private Step nearer(@Nullable Step there, Step now) {
        return there == null || Math.abs(now.value - plan.aim) <= Math.abs(there.value - plan.aim) ? now : there;
    }

    private @Nullable Integer next() {
        if (steps.size() == 1) {
            int up = plan.found + plan.beside <= plan.highest ? plan.found + plan.beside : plan.found - plan.beside;
            return free(Math.max(plan.lowest, up), plan.lowest, plan.highest);
        }
        Step low = below;
        Step high = above;
        if (low != null && high != null) {
            int from = Math.min(low.setting, high.setting);
            int to = Math.max(low.setting, high.setting);
            int guess = secant(low, high);
            // Bisect where the line keeps one end for long: every third step at the latest the bracket halves.
            boolean stuck = steps.size() % 3 == 0;
            return free(stuck || guess <= from || guess >= to ? from + (to - from) / 2 : guess, from + 1, to - 1);
        }
        Step last = steps.get(steps.size() - 1);
        Step before = nearest(last);
        if (before.value == last.value) {
            return free(2 * last.setting - before.setting, plan.lowest, plan.highest);
        }
        int reach = Math.max(1, 4 * Math.abs(last.setting - before.setting));
        Step from = best == null ? last : best;
        int wanted = secant(before, last);
        if (wanted >= plan.highest && tried(plan.highest) || wanted <= plan.lowest && tried(plan.lowest)) {
            return null;
        }
        int guess = Math.max(from.setting - reach, Math.min(from.setting + reach, wanted));
        return free(Math.max(plan.lowest, Math.min(plan.highest, guess)), plan.lowest, plan.highest);
    }

    private Step nearest(Step last) {
        return steps.stream()
                .filter(s -> s.setting != last.setting)
                .min(java.util.Comparator.comparingDouble(s -> Math.abs(s.value - plan.aim)))
                .orElseThrow();
    }

    private boolean tried(int candidate) {
        return steps.stream().anyMatch(s -> s.setting == candidate);
    }

    private int secant(Step a, Step b) {
        double slope = (b.value - a.value) / (b.setting - a.setting);
        double guess = a.setting + (plan.aim - a.value) / slope;
        return (int) Math.max(Integer.MIN_VALUE / 2, Math.min(Integer.MAX_VALUE / 2, Math.round(guess)));
    }

    /** The setting nearest to a guess that was not tried yet; null if there is none between the bounds. */
    private @Nullable Integer free(int guess, int from, int to) {
        int near = Math.max(from, Math.min(to, guess));
        for (int away = 0; from <= to && away <= to - from; away++) {
            for (int candidate : new int[] {near + away, near - away}) {
                if (candidate >= from && candidate <= to && !tried(candidate)) {
                    return candidate;
                }
            }
        }
        return null;
    }
}
