package org.juratest.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;

/**
 * References that steps count with: a zero, a dark level, the loss of a lead. One holds for a time, and only while what
 * it was taken with stays as it was.
 */
public final class References {

    private References() {}

    /**
     * How a reference stands for a step on a lane.
     *
     * @param step of the reference
     * @param lane it is taken on
     * @param attempt that took it; absent before one did
     * @param until when it ends to hold; absent where it has no end, or was not taken
     * @param fault why it does not hold, in words; absent while it does
     */
    public record Standing(
            Step step, String lane, @Nullable Attempt attempt, @Nullable Instant until, @Nullable String fault) {}

    /** The references that a step on a lane counts with. */
    public static List<Standing> of(RunState state, Step step, String lane, Instant now) {
        return step.references().stream()
                .flatMap(id -> state.procedure().step(id).stream())
                .map(reference -> standing(state, reference, laneOf(state, reference, step, lane), now))
                .toList();
    }

    /** How the reference of a step stands on one of its lanes. */
    public static Standing standing(RunState state, Step reference, String lane, Instant now) {
        Attempt taken = latest(state, reference, lane).orElse(null);
        if (taken == null) {
            String skipped = state.skipped().get(reference.id());
            String fault = !state.scope().step(reference.id())
                    ? "was left out of this run"
                    : skipped == null ? "was not taken yet" : "was skipped: " + skipped;
            return new Standing(reference, lane, null, null, fault);
        }
        Double valid = reference.validMinutes();
        Instant until =
                valid == null ? null : taken.takenAt().plusMillis(Math.round(valid * 60_000 / taken.timeFactor()));
        String moved = moved(state, reference, taken);
        String fault = moved != null
                ? "is void: " + moved
                : until != null && !now.isBefore(until)
                        ? "is " + minutes(taken, now) + " min old and holds for "
                                + Rules.plain(valid == null ? 0 : valid) + " min"
                        : null;
        return new Standing(reference, lane, taken, until, fault);
    }

    /**
     * What a step counts with of a reference it uses, in the unit of the point.
     *
     * @param point of one of the references it uses
     * @return empty where none was taken on what the lane goes by
     */
    public static OptionalDouble value(RunState state, Step step, String lane, String point) {
        return step.references().stream()
                .flatMap(id -> state.procedure().step(id).stream())
                .filter(reference -> reference.point(point).isPresent())
                .map(reference -> new PointKey(reference.id(), point, laneOf(state, reference, step, lane)))
                .flatMapToDouble(key -> counted(state, key).stream())
                .findFirst();
    }

    /** What counts of a point by now, in its unit; empty where it has no value. */
    public static OptionalDouble counted(RunState state, PointKey key) {
        return RunValues.counting(state, key)
                .map(v -> OptionalDouble.of(Objects.requireNonNull(v.value())))
                .orElse(OptionalDouble.empty());
    }

    private static Optional<Attempt> latest(RunState state, Step reference, String lane) {
        List<Attempt> counting = state.attempts(reference.id(), reference.provesAllLanes() ? null : lane).stream()
                .filter(Attempt::counts)
                .toList();
        return counting.isEmpty() ? Optional.empty() : Optional.of(counting.get(counting.size() - 1));
    }

    private static long minutes(Attempt taken, Instant now) {
        return Math.round(Duration.between(taken.takenAt(), now).toMillis() * taken.timeFactor() / 60_000);
    }

    private static @Nullable String moved(RunState state, Step reference, Attempt taken) {
        return state.moved().stream()
                .filter(m -> m.at() > taken.begunAt())
                .filter(m -> m.need() == null || reference.needs().contains(m.need()))
                .map(RunState.Moved::words)
                .reduce((first, last) -> last)
                .orElse(null);
    }

    /** The lane of a reference that a lane of another step goes by. */
    static String laneOf(RunState state, Step reference, Step step, String lane) {
        List<String> lanes = state.procedure().lanesOf(reference, state.scope());
        if (reference.lanes() == null) {
            return Lane.NONE;
        }
        String part = state.procedure().laneIn(step, lane, reference.lanes());
        return part != null ? part : lanes.isEmpty() ? Lane.NONE : lanes.get(0);
    }
}
