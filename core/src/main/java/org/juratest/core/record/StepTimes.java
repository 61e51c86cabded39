package org.juratest.core.record;

import java.time.Duration;
import java.time.Instant;
import java.util.Collections;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;

/**
 * How long the steps of a run took, from its events. The time before an event belongs to the step it is of, or to the
 * step the person was at; within a step to the lane it is of. While a run was cut off, or left until a screen took it
 * again, nobody worked: that time belongs to no step.
 *
 * @param steps by step
 * @param lanes by {@code step/lane}; only of steps that repeat over lanes
 */
public record StepTimes(Map<String, Duration> steps, Map<String, Duration> lanes) {

    public StepTimes {
        steps = Map.copyOf(steps);
        lanes = Map.copyOf(lanes);
    }

    /** Times of a run so far, or until it was finished. Empty for a run with one event. */
    public static StepTimes of(RunState run) {
        return new Telling(run).tell();
    }

    public Duration step(String step) {
        return steps.getOrDefault(step, Duration.ZERO);
    }

    public Duration lane(String step, String lane) {
        return lanes.getOrDefault(step + "/" + lane, Duration.ZERO);
    }

    /** A step and lane that an event is of. */
    private record Place(String step, String lane) {}

    private static final class Telling {

        private final Map<String, Duration> steps = new HashMap<>();
        private final Map<String, Duration> lanes = new HashMap<>();
        private final Map<UUID, Place> attempts = new HashMap<>();
        private final RunState run;
        private Optional<String> at = Optional.empty();

        Telling(RunState run) {
            this.run = run;
        }

        StepTimes tell() {
            Instant before =
                    run.events().isEmpty() ? Instant.EPOCH : run.events().get(0).at();
            for (Event event : run.events()) {
                EventData data = event.data();
                if (!nobodyWorked(data)) {
                    add(data, Duration.between(before, event.at()));
                }
                before = event.at();
                if (data instanceof RunEvents.Finished) {
                    break;
                }
            }
            return new StepTimes(Collections.unmodifiableMap(steps), lanes);
        }

        private static boolean nobodyWorked(EventData data) {
            return data instanceof RunEvents.ScreenTaken
                    || data instanceof RunEvents.Interrupted
                    || data instanceof RunEvents.Resumed;
        }

        private void add(EventData data, Duration took) {
            Optional<Place> place = place(data);
            if (data instanceof StepEvents.StepBegun begun) {
                at.ifPresent(step -> steps.merge(step, took, Duration::plus));
                at = Optional.of(begun.step());
                return;
            }
            if (place.isPresent()) {
                at = Optional.of(place.get().step);
            }
            at.ifPresent(step -> steps.merge(step, took, Duration::plus));
            place.filter(p -> !p.lane.equals(Lane.NONE))
                    .ifPresent(p -> lanes.merge(p.step + "/" + p.lane, took, Duration::plus));
        }

        private Optional<Place> place(EventData data) {
            if (data instanceof AttemptEvents.AttemptBegun begun && !isDerived(begun.step())) {
                attempts.put(begun.attempt(), new Place(begun.step(), begun.lane()));
                return Optional.of(new Place(begun.step(), begun.lane()));
            }
            if (data instanceof OutputEvents.Armed armed) {
                return Optional.of(new Place(armed.step(), armed.lane()));
            }
            if (data instanceof StepEvents.AnswerGiven answer) {
                return Optional.of(new Place(answer.step(), answer.lane()));
            }
            if (data instanceof StepEvents.HoldReleased released) {
                return Optional.of(new Place(released.step(), Lane.NONE));
            }
            return Optional.ofNullable(ofAttempt(data)).map(attempts::get);
        }

        /** A derivation follows by itself; the person stays where they are. */
        private boolean isDerived(String step) {
            return run.procedure()
                    .step(step)
                    .map(s -> s.kind() == StepKind.DERIVATION)
                    .orElse(false);
        }

        private static @Nullable UUID ofAttempt(EventData data) {
            if (data instanceof AttemptEvents.ReadingTaken taken) {
                return taken.attempt();
            }
            if (data instanceof AttemptEvents.ReadingEntered entered) {
                return entered.attempt();
            }
            if (data instanceof AttemptEvents.ConnectionChecked checked) {
                return checked.attempt();
            }
            if (data instanceof OutputEvents.OutputOff off) {
                return off.attempt();
            }
            return data instanceof AttemptEvents.AttemptClosed closed ? closed.attempt() : null;
        }
    }
}
