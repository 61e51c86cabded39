package org.juratest.core.search;

import java.util.ArrayList;
import java.util.List;

/**
 * Bounded search for the whole-number setting of a device at which a measured value is greatest, where it falls off on
 * both sides. It walks from the setting found towards where the value grows, and halves its stride at each turn, down
 * to one (the pattern search of R. Hooke, T. A. Jeeves, J. ACM 8 (1961) 212, in one dimension). A setting counts as
 * better only by more than what noise makes; a setting found that nothing betters stays.
 */
public final class PeakSearch {

    private final int lowest;
    private final int highest;
    private final double noise;
    private final List<SettingSearch.Step> steps = new ArrayList<>();
    private SettingSearch.Step best;
    private int stride;
    private int direction = 1;
    private boolean turned;
    private int asked;
    private boolean over;

    /**
     * @param found setting to begin at
     * @param stride first stride
     * @param noise by how much a value must be better to count as better, not negative
     */
    public PeakSearch(int found, int lowest, int highest, int stride, double noise) {
        if (lowest >= highest
                || found < lowest
                || found > highest
                || stride < 1
                || !(noise >= 0 && noise <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException(
                    "a search from setting " + found + " between " + lowest + " and " + highest + " makes no sense");
        }
        this.lowest = lowest;
        this.highest = highest;
        this.stride = stride;
        this.noise = noise;
        this.asked = found;
        this.best = new SettingSearch.Step(found, Double.NEGATIVE_INFINITY);
    }

    /** The setting to measure at next. */
    public int setting() {
        return asked;
    }

    /** The setting measured at last; the first one before. */
    public int lastTried() {
        return steps.isEmpty() ? asked : steps.get(steps.size() - 1).setting();
    }

    public boolean isOver() {
        return over;
    }

    /** The best so far. */
    public SettingSearch.Step best() {
        return best;
    }

    /** What was measured so far, in order. */
    public List<SettingSearch.Step> steps() {
        return List.copyOf(steps);
    }

    /**
     * The value at {@link #setting}; NaN counts as the worst.
     *
     * @throws IllegalStateException if the search is over
     */
    public void measured(double value) {
        if (over) {
            throw new IllegalStateException("the search is over");
        }
        SettingSearch.Step now = new SettingSearch.Step(asked, value);
        steps.add(now);
        if (steps.size() == 1) {
            best = new SettingSearch.Step(asked, Double.isNaN(value) ? Double.NEGATIVE_INFINITY : value);
        } else if (value > best.value() + noise) {
            best = now;
            turned = false;
        } else {
            turn();
        }
        next();
    }

    private void turn() {
        direction = -direction;
        if (turned) {
            // Neither side is better: look closer.
            stride /= 2;
            turned = false;
        } else {
            turned = true;
        }
    }

    private void next() {
        while (stride >= 1) {
            int candidate = best.setting() + direction * stride;
            if (candidate >= lowest
                    && candidate <= highest
                    && steps.stream().noneMatch(s -> s.setting() == candidate)) {
                asked = candidate;
                return;
            }
            turn();
        }
        over = true;
    }
}
