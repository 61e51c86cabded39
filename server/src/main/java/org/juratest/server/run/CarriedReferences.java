package org.juratest.server.run;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.CarriedReference;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.server.db.UuidV7;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;

/**
 * References that a run takes over from the one before it at the same place: of the same procedure, and only while
 * nobody used the gear elsewhere since.
 */
@Service
class CarriedReferences {

    private static final int MOST_OTHERS = 200;

    private final JdbcClient jdbc;
    private final RunStore store;
    private final LiveRuns live;
    private final Clock clock;

    CarriedReferences(JdbcClient jdbc, RunStore store, LiveRuns live, Clock clock) {
        this.jdbc = jdbc;
        this.store = store;
        this.live = live;
        this.clock = clock;
    }

    /**
     * What may be taken over for a reference.
     *
     * @param record that it was measured for, or taken over by; absent where nothing was tested here before
     * @param takenAt when it was measured; absent where it cannot be taken over
     * @param until when it ends to hold
     * @param why it cannot be taken over; absent where it can
     */
    record CarriedOffer(
            @Nullable String record, @Nullable Instant takenAt, @Nullable Instant until, @Nullable String why) {}

    private record Before(UUID run, String record) {}

    /** What may be taken over for a reference step. */
    CarriedOffer offer(UUID run, String step) {
        RunState state = store.state(run);
        state.stepInScope(step);
        Before before = before(run, state);
        if (before == null) {
            return new CarriedOffer(null, null, null, "nothing was tested here by this procedure before");
        }
        try {
            CarriedReference.Carried carried = carried(run, state, step, before);
            return new CarriedOffer(before.record, carried.takenAt(), carried.until(), null);
        } catch (Refusal no) {
            return new CarriedOffer(before.record, null, null, no.getMessage());
        }
    }

    /**
     * Takes it over.
     *
     * @throws Refusal saying why it has to be taken anew
     */
    RunState carry(UUID run, String person, String step, RunService.Expectation expected) {
        return store.append(run, Actor.person(person), state -> {
            expected.check(state);
            Before before = before(run, state);
            if (before == null) {
                throw new Refusal("reference-not-carried", "Nothing was tested here by this procedure before.", "step");
            }
            return carried(run, state, step, before).events();
        });
    }

    private @Nullable Before before(UUID run, RunState state) {
        return jdbc.sql("SELECT r.id, r.record FROM run r JOIN job j ON j.id = r.job WHERE r.position = :position AND "
                        + "j.procedure = :procedure AND r.status = 'finished' AND r.id <> :run ORDER BY r.finished_at "
                        + "DESC LIMIT 1")
                .param("position", state.opened().asset().position())
                .param("procedure", state.procedure().code())
                .param("run", run)
                .query((rs, i) -> new Before(rs.getObject(1, UUID.class), rs.getString(2)))
                .optional()
                .orElse(null);
    }

    private CarriedReference.Carried carried(UUID run, RunState state, String step, Before before) {
        CarriedReference.Carried carried = CarriedReference.of(
                state,
                step,
                store.state(before.run),
                before.record,
                clock.instant(),
                live.today(state),
                () -> UuidV7.at(clock.instant()));
        String elsewhere = elsewhere(run, state, state.stepInScope(step), before, carried.takenAt());
        if (elsewhere != null) {
            throw new Refusal("reference-not-carried", elsewhere, "step");
        }
        return carried;
    }

    /** What was done with its gear since, in words; null where nothing. Who used it elsewhere had its cords in hand. */
    private @Nullable String elsewhere(UUID run, RunState state, Step step, Before before, Instant since) {
        Set<String> gear = state.gear().stream()
                .filter(g -> step.needs().contains(g.need()))
                .map(GearFacts::id)
                .collect(Collectors.toSet());
        List<UUID> others = jdbc.sql("SELECT id FROM run WHERE id NOT IN (:run, :before) AND NOT demo AND "
                        + "(status = 'open' OR finished_at > :since OR status = 'aborted' AND EXISTS (SELECT 1 FROM "
                        + "event e WHERE e.run = run.id AND e.at > :since)) ORDER BY opened_at DESC NULLS LAST LIMIT "
                        + MOST_OTHERS)
                .param("run", run)
                .param("before", before.run)
                .param("since", since.atOffset(ZoneOffset.UTC))
                .query(UUID.class)
                .list();
        for (UUID other : others) {
            RunState there = store.state(other);
            String title = "\"" + step.title() + "\" has to be taken anew: ";
            // At the same place by the same procedure it is the series itself; but one that was given up may say that
            // something moved.
            if (there.opened().asset().position().equals(state.opened().asset().position())
                    && there.procedure().code().equals(state.procedure().code())) {
                String moved = there.moved().stream()
                        .filter(m -> m.need() == null || step.needs().contains(m.need()))
                        .map(RunState.Moved::words)
                        .findFirst()
                        .orElse(null);
                if (moved != null) {
                    return title + "since then " + moved + ".";
                }
                continue;
            }
            Attempt use = there.attempts().stream()
                    .filter(a -> a.gear() != null && gear.contains(a.gear()) && a.at().isAfter(since))
                    .findFirst()
                    .orElse(null);
            if (use != null) {
                return title + Objects.requireNonNull(use.gear()) + " was used at "
                        + there.opened().asset().position() + " since.";
            }
        }
        return null;
    }
}
