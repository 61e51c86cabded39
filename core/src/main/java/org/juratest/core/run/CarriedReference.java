package org.juratest.core.run;

import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;

/**
 * A reference that still holds when the next object of a series is put to the same gear: its values go over into the
 * next run, with the time they were measured at, so that they end to hold when they would have. Nothing is carried that
 * does not hold where it comes from, or that was taken with other gear or another set-up.
 */
public final class CarriedReference {

    private CarriedReference() {}

    /**
     * What is carried.
     *
     * @param takenAt when the oldest of it was measured
     * @param until when the first of it ends to hold; absent where it has no end
     * @param events that carry it, from begun to closed, attempt by attempt
     */
    public record Carried(Instant takenAt, @Nullable Instant until, List<EventData> events) {
        public Carried {
            events = List.copyOf(events);
        }
    }

    /**
     * Carries all of a reference step over.
     *
     * @param to an open run
     * @param step id of the reference in both
     * @param from the earlier run
     * @param record number of that run's record
     * @param today day at the site, for the gear's calibration
     * @param ids for the attempts
     * @throws Refusal saying why it cannot be carried
     */
    public static Carried of(
            RunState to, String step, RunState from, String record, Instant now, LocalDate today, Supplier<UUID> ids) {
        Step reference = to.stepInScope(step);
        if (reference.kind() != StepKind.REFERENCE) {
            throw refused(reference, "it is no reference");
        }
        if (reference.validMinutes() == null) {
            throw refused(reference, "it is not said for how long it holds");
        }
        Step earlier = from.procedure().step(step).orElse(null);
        List<String> lanes = to.procedure().lanesOf(reference, to.scope());
        if (!reference.equals(earlier)
                || !from.procedure().lanesOf(earlier, from.scope()).containsAll(lanes)) {
            throw refused(reference, record + " took it in another way");
        }
        if (!changed(to, step).equals(changed(from, step))) {
            throw refused(reference, record + " took it with other settings");
        }
        for (String need : reference.needs()) {
            String here = serving(to, need);
            if (here == null || !here.equals(serving(from, need))) {
                throw refused(reference, record + " took it with other gear");
            }
        }
        Instant oldest = now;
        Instant until = null;
        List<EventData> events = new ArrayList<>();
        Map<UUID, Attempt> taken = new LinkedHashMap<>();
        for (String lane : lanes) {
            Rules.ready(to, step, lane, now, today);
            References.Standing standing = References.standing(from, earlier, lane, now);
            if (standing.fault() != null) {
                throw refused(reference, "that of " + record + " " + standing.fault());
            }
            if (References.standing(to, reference, lane, now).fault() == null) {
                throw refused(reference, "it was taken in this run and holds");
            }
            Attempt attempt = java.util.Objects.requireNonNull(standing.attempt());
            taken.put(attempt.id(), attempt);
            oldest = attempt.takenAt().isBefore(oldest) ? attempt.takenAt() : oldest;
            until = standing.until() != null
                            && (until == null || standing.until().isBefore(until))
                    ? standing.until()
                    : until;
        }
        UUID run = from.events().get(0).run();
        taken.values().forEach(a -> carry(events, a, ids.get(), run, record));
        return new Carried(oldest, until, events);
    }

    private static void carry(List<EventData> events, Attempt of, UUID id, UUID run, String record) {
        events.add(new AttemptEvents.AttemptBegun(id, of.step(), of.lane(), of.gear(), of.timeFactor()));
        events.add(new AttemptEvents.AttemptCarried(id, run, of.id(), record, of.takenAt()));
        of.readings().forEach(r -> events.add(new AttemptEvents.ReadingTaken(id, r)));
        of.blanks().forEach(b -> events.add(new AttemptEvents.NoValue(id, b.key(), b.blank(), b.words())));
        events.add(new AttemptEvents.AttemptClosed(id, Attempt.Outcome.VALID, "carried over from " + record));
    }

    private static Map<Changed, Double> changed(RunState state, String step) {
        Map<Changed, Double> of = new HashMap<>(state.changedParams());
        of.keySet().removeIf(c -> !c.step().equals(step));
        return of;
    }

    private static @Nullable String serving(RunState state, String need) {
        return state.gear().stream()
                .filter(g -> g.need().equals(need))
                .map(g -> g.id() + "/" + g.serial())
                .findFirst()
                .orElse(null);
    }

    private static Refusal refused(Step step, String why) {
        return new Refusal(
                "reference-not-carried", "\"" + step.title() + "\" has to be taken anew: " + why + ".", "step");
    }
}
