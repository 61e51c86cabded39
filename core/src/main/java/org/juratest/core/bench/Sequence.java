package org.juratest.core.bench;

import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.Rules;
import org.juratest.core.run.RunState;

/**
 * What can be measured one after the other without a hand: from a step and lane on, the steps that follow by
 * themselves, each as often as it is due. It ends at the first step that a person has to do, and at what may not be
 * measured now.
 */
public final class Sequence {

    private Sequence() {}

    /** A step on one of its lanes. */
    public record Place(String step, String lane) {
        @Override
        public String toString() {
            return step + "/" + lane;
        }
    }

    /**
     * Whether a step is to be measured on a lane: some of its points have no value, or none since what was done to
     * them.
     */
    public static boolean isDue(RunState state, Step step, String lane) {
        List<Attempt> valid =
                state.attempts(step.id(), lane).stream().filter(Attempt::counts).toList();
        if (valid.isEmpty()) {
            return true;
        }
        long last = valid.get(valid.size() - 1).begunAt();
        return state.adjustments().stream()
                .filter(a -> a.at() > last)
                .flatMap(a -> a.points().stream())
                .anyMatch(p -> p.step().equals(step.id()) && p.lane().equals(lane));
    }

    /**
     * The place after a step and lane that can be measured now; empty where a hand is needed, or nothing is due.
     *
     * @param after where the last measurement was
     * @param today day at the site, for the gear's calibration
     */
    public static Optional<Place> next(RunState state, Place after, Instant now, LocalDate today) {
        return all(state, after, now, today).stream()
                .filter(p -> !p.equals(after))
                .findFirst();
    }

    /**
     * All places that can be measured as the run stands, in order: first from a place on, then what is due again before
     * it.
     *
     * @param from the first one looked at
     */
    public static List<Place> all(RunState state, Place from, Instant now, LocalDate today) {
        List<Step> steps = state.stepsInScope();
        int start = 0;
        while (start < steps.size() && !steps.get(start).id().equals(from.step)) {
            start++;
        }
        List<Place> places = new ArrayList<>();
        int end = start;
        while (end < steps.size() && !needsHand(state, steps.get(end), end > start)) {
            end++;
        }
        for (int n = start; n < end; n++) {
            add(places, state, steps.get(n), n == start ? from.lane : null, now, today);
        }
        for (int n = 0; n < start; n++) {
            Step before = steps.get(n);
            if (before.followsByItself() && !state.attempts(before.id(), null).isEmpty()) {
                add(places, state, before, null, now, today);
            }
        }
        return places;
    }

    /**
     * All places that one press may come to from a place on, whether they are due now or become so by what is measured
     * before them.
     *
     * @param from the first one
     */
    public static List<Place> reach(RunState state, Place from) {
        List<Step> steps = state.stepsInScope();
        List<Place> places = new ArrayList<>();
        boolean begun = false;
        boolean over = false;
        for (Step step : steps) {
            boolean first = step.id().equals(from.step);
            over |= begun && needsHand(state, step, true);
            begun |= first;
            if (step.kind().measured()
                    && (first || step.followsByItself())
                    && !(begun && over)
                    && !state.skipped().containsKey(step.id())) {
                state.procedure().lanesOf(step, state.scope()).forEach(lane -> places.add(new Place(step.id(), lane)));
            }
        }
        return places;
    }

    private static boolean needsHand(RunState state, Step step, boolean later) {
        if (state.skipped().containsKey(step.id()) || step.kind() == StepKind.DERIVATION) {
            return false;
        }
        return !step.kind().measured() || later && !step.followsByItself();
    }

    private static void add(
            List<Place> places,
            RunState state,
            Step step,
            @org.jspecify.annotations.Nullable String from,
            Instant now,
            LocalDate today) {
        if (!step.kind().measured() || state.skipped().containsKey(step.id())) {
            return;
        }
        List<String> lanes = state.procedure().lanesOf(step, state.scope());
        int first = Math.max(0, from == null ? 0 : lanes.indexOf(from));
        for (int n = 0; n < lanes.size(); n++) {
            String lane = lanes.get((first + n) % lanes.size());
            if (isDue(state, step, lane) && allowed(state, step, lane, now, today)) {
                places.add(new Place(step.id(), lane));
            }
        }
    }

    private static boolean allowed(RunState state, Step step, String lane, Instant now, LocalDate today) {
        try {
            Rules.ready(state, step.id(), lane, now, today);
            return true;
        } catch (Refusal e) {
            // It stays due; whoever looks at it is told why it cannot be measured.
            assert e.getMessage() != null;
            return false;
        }
    }
}
