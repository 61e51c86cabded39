package org.juratest.server.run;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Entry;
import org.juratest.core.run.EventData;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.core.run.Variant;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.Juratest;
import org.juratest.server.db.UuidV7;
import org.juratest.server.gear.GearStore;
import org.juratest.server.job.Jobs;
import org.juratest.server.plan.Horizon;
import org.juratest.server.starting.StartingPoints;
import org.juratest.server.variant.Variants;
import org.juratest.server.web.NotFoundException;
import org.juratest.server.web.PreconditionException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.databind.JsonNode;

/** What persons do in a run, beside switching outputs on and off. */
@Service
class RunService {

    /** Types a person may append as they are. */
    private static final Set<String> BY_PERSON = Set.of(
            "scopeSet",
            "resumed",
            "withdrawn",
            "stepBegun",
            "holdReleased",
            "restored",
            "answerGiven",
            "conditionEntered",
            "stepSkipped",
            "coolingOverruled",
            "note",
            "photo",
            "discharged",
            "earthed",
            "setupMoved",
            "attemptVoided",
            "attemptSettled",
            "adjustmentMade",
            "limitChanged",
            "paramChanged",
            "backToProcedure",
            "assetIdentified");

    private final RunStore store;
    private final Jobs jobs;
    private final JdbcClient jdbc;
    private final LiveRuns live;
    private final GearStore gear;
    private final Horizon horizon;
    private final Variants variants;
    private final Leases leases;
    private final StartingPoints starting;
    private final Clock clock;
    private final Confirmations confirmations = new Confirmations(System::nanoTime);

    RunService(
            RunStore store,
            Jobs jobs,
            JdbcClient jdbc,
            LiveRuns live,
            GearStore gear,
            Horizon horizon,
            Variants variants,
            Leases leases,
            StartingPoints starting,
            Clock clock) {
        this.store = store;
        this.jobs = jobs;
        this.jdbc = jdbc;
        this.live = live;
        this.gear = gear;
        this.horizon = horizon;
        this.variants = variants;
        this.leases = leases;
        this.starting = starting;
        this.clock = clock;
    }

    /**
     * What a client believes of a run when it acts.
     *
     * @param personEvents as in its {@code If-Match}
     * @param screen that acts; must be the one that drives, of the person and session that took the run
     */
    record Expectation(long personEvents, Screen screen, Leases leases) {

        void check(RunState state) {
            if (state.personEvents() != personEvents) {
                throw PreconditionException.stale(personEvents, state.personEvents());
            }
            if (!Objects.equals(state.driver(), screen.handle())
                    || !leases.drives(state.events().get(0).run(), screen)) {
                throw new Refusal(
                        "not-driving",
                        state.driver() == null
                                ? "No screen drives this run yet. Take it first."
                                : "Another screen drives this run; this one watches. Take it over to act.",
                        "screen");
            }
        }
    }

    /** Appends an event a person made. */
    RunState act(UUID run, String person, String type, JsonNode data, Expectation expected) {
        if (!BY_PERSON.contains(type)) {
            throw new Refusal("unknown-action", "\"" + type + "\" is not something a person does.", "type");
        }
        EventData made = EventCodec.data(type, 1, data);
        if (made instanceof StepEvents.Photo photo) {
            jdbc.sql("SELECT 1 FROM blob WHERE sha256 = :hash")
                    .param("hash", photo.blob())
                    .query(Integer.class)
                    .optional()
                    .orElseThrow(() -> new NotFoundException("blob", photo.blob()));
        }
        if (made instanceof RunEvents.AssetIdentified identified && identified.device() != null) {
            throw new Refusal(
                    "unknown-action", "What a device says of itself is asked of the device, not told.", "data.device");
        }
        return store.append(run, Actor.person(person), state -> {
            expected.check(state);
            EventData written = made instanceof RunEvents.ScopeSet asked ? asked.over(state) : made;
            written.check(state);
            if (made instanceof StepEvents.HoldReleased) {
                confirmations.confirmed(state.events(), clock.instant());
            }
            return List.of(written);
        });
    }

    /** Points that failed in the last record of a run's procedure on its asset. */
    List<PointKey> failedBefore(UUID run) {
        RunState state = store.state(run);
        return jdbc
                .sql(
                        """
        SELECT point FROM run_point WHERE verdict IN ('fail', 'marginalOutside') AND run = (SELECT r.id FROM run r
          JOIN job j ON j.id = r.job
          WHERE r.asset = :asset AND j.procedure = :procedure AND r.status = 'finished' AND r.id <> :run
            ORDER BY r.finished_at DESC, r.id DESC LIMIT 1)""")
                .param("asset", state.opened().asset().asset())
                .param("procedure", state.procedure().code())
                .param("run", run)
                .query(String.class)
                .list()
                .stream()
                .map(PointKey::parse)
                .toList();
    }

    /** Carries a run out by a variant's newest revision, or by the procedure as it stands. */
    RunState applyVariant(UUID run, String person, @Nullable String code, Expectation expected) {
        Variants.Kept kept = code == null ? null : variants.newest(code);
        return store.append(run, Actor.person(person), state -> {
            expected.check(state);
            if (kept != null
                    && !kept.variant().procedure().equals(state.procedure().code())) {
                throw new Refusal(
                        "bad-variant",
                        "\"" + kept.variant().name() + "\" is a variant of "
                                + kept.variant().procedure() + ", not of "
                                + state.procedure().code() + ".",
                        "code");
            }
            RunEvents.VariantApplied applied = kept == null
                    ? RunEvents.VariantApplied.none(state)
                    : kept.variant().applied(state, kept.hash());
            applied.check(state);
            return List.of(applied);
        });
    }

    /** Saves what a run is carried out by as a variant, and carries it out by that. */
    @Transactional
    RunState saveVariant(
            UUID run, String person, @Nullable String code, String name, String words, Expectation expected) {
        RunState state = store.state(run);
        expected.check(state);
        Variants.VariantSummary saved = variants.save(
                (fresh, revision) -> Variant.of(state, fresh, name, revision),
                code,
                name,
                state.procedure().code(),
                words,
                person);
        // Once something was measured the run stays what it is; the variant is for the next ones.
        return state.attempts().isEmpty() && state.answers().isEmpty()
                ? applyVariant(run, person, saved.code(), expected)
                : state;
    }

    /** Other gear takes over a need, with its calibration as it is now. */
    RunState exchange(UUID run, String person, String need, String gearId, Expectation expected) {
        GearStore.Gear item = gear.byId(gearId)
                .orElseThrow(() -> new Refusal("unknown-gear", "There is no gear \"" + gearId + "\".", "gear"));
        return store.append(run, Actor.person(person), state -> {
            expected.check(state);
            RunEvents.GearChosen chosen = new RunEvents.GearChosen(item.facts(need));
            chosen.check(state);
            state.procedure().gear().stream()
                    .filter(n -> n.id().equals(need) && !n.role().equals(item.role()))
                    .findFirst()
                    .ifPresent(n -> {
                        throw new Refusal("wrong-gear", item.name() + " is no " + n.role() + ".", "gear");
                    });
            return List.of(chosen);
        });
    }

    /** A value a person read off stand-alone gear. */
    RunState enter(UUID run, String person, Entry entry, Expectation expected) {
        return store.append(run, Actor.person(person), state -> {
            expected.check(state);
            return entry.accept(state, UuidV7.now(), live.today(state));
        });
    }

    /** A screen takes the run; the first one, or one that takes over. */
    RunState take(UUID run, Screen screen) {
        return store.append(run, Actor.person(screen.person()), state -> {
            RunEvents.ScreenTaken taken = new RunEvents.ScreenTaken(screen.handle());
            if (screen.handle().equals(state.driver()) && leases.drives(run, screen)) {
                leases.take(run, screen);
                return List.of();
            }
            if (state.interrupted() == null) {
                taken.check(state);
            }
            leases.take(run, screen);
            return List.of(taken);
        });
    }

    /** Ends a run: freezes its judgement under a record number, closes its job, and lays what is due next. */
    @Transactional
    RunState finish(UUID run, String person, Expectation expected) {
        RunState after = store.append(run, Actor.person(person), state -> {
            expected.check(state);
            org.juratest.core.run.Rules.canFinish(state);
            int year = clock.instant().atZone(ZoneId.of(state.opened().zone())).getYear();
            String record = store.nextRecord(state.opened().asset().position(), year);
            return List.of(new RunEvents.Finished(record, RunJudgement.of(state), Juratest.VERSION));
        });
        RunEvents.Finished finished = Objects.requireNonNull(after.finished());
        starting.learn(run, finished.record(), person, after);
        RunJudgement judgement = finished.judgement();
        boolean whole = judgement.complete() && judgement.notTested().isEmpty();
        long job = Long.parseLong(after.opened().job());
        if (whole) {
            jobs.done(
                    job,
                    LocalDate.ofInstant(
                            Objects.requireNonNull(after.finishedAt()),
                            ZoneId.of(after.opened().zone())));
            horizon.again(List.of(after.opened().asset().asset()));
        } else {
            jobs.status(job, "partly done");
        }
        return after;
    }

    /** A run given up frees its job. */
    @Transactional
    RunState abort(UUID run, String person, String reason, Expectation expected) {
        RunState after = store.append(run, Actor.person(person), state -> {
            expected.check(state);
            RunEvents.Aborted aborted = new RunEvents.Aborted(reason);
            aborted.check(state);
            return List.of(aborted);
        });
        jobs.status(Long.parseLong(after.opened().job()), "open");
        return after;
    }
}
