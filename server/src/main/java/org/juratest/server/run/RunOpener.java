package org.juratest.server.run;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Actor;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.PriorReading;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.server.db.UuidV7;
import org.juratest.server.gear.GearStore;
import org.juratest.server.job.Jobs;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.register.Register;
import org.juratest.server.variant.Variants;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Opens a run of a job: gathers everything it will be judged by, as it is now, into its first event. */
@Service
public class RunOpener {

    private static final int PRIORS_PER_SERIES = 6;
    private static final int LONGEST_KEY = 100;

    private final JdbcClient jdbc;
    private final Jobs jobs;
    private final Register register;
    private final Procedures procedures;
    private final GearStore gear;
    private final OpenedRuns openedRuns;
    private final RunStore store;
    private final Variants variants;
    private final Clock clock;

    RunOpener(
            JdbcClient jdbc,
            Jobs jobs,
            Register register,
            Procedures procedures,
            GearStore gear,
            OpenedRuns openedRuns,
            RunStore store,
            Variants variants,
            Clock clock) {
        this.jdbc = jdbc;
        this.jobs = jobs;
        this.register = register;
        this.procedures = procedures;
        this.gear = gear;
        this.openedRuns = openedRuns;
        this.store = store;
        this.variants = variants;
        this.clock = clock;
    }

    /**
     * Opens a run.
     *
     * @param key of the request, so that sending it twice opens one run; absent for none
     * @param chosen gear by need, where not the best of its role
     * @return the run's id: of a new one, or of the one this key opened before
     * @throws Refusal if the job is done, or a run of it is open
     */
    @Transactional
    public UUID open(long jobId, String person, @Nullable String key, Map<String, String> chosen) {
        String status = jobs.lock(jobId);
        UUID before = key == null ? null : openedBefore(jobId, person, key, chosen);
        if (before != null) {
            return before;
        }
        Jobs.Job job = jobs.byId(jobId);
        if (status.equals("done")) {
            throw new Refusal("job-done", "Job " + jobId + " is done.");
        }
        if (status.equals("withdrawn")) {
            throw new Refusal(
                    "job-withdrawn",
                    "Job " + jobId + " was withdrawn: its device was taken away from " + job.position() + ".");
        }
        if (status.equals("missed")) {
            throw new Refusal(
                    "job-missed", "Job " + jobId + " went by undone; the next one of its plan is open instead.");
        }
        if (job.run() != null) {
            throw new Refusal("run-open", "A run of job " + jobId + " is already open; go on with that one.");
        }
        AssetFacts asset = register.installed(job.asset());
        Procedures.Version version = procedures.newest(job.procedure());
        procedures.freeze(version.procedure().code(), version.procedure().version());
        RunEvents.Opened opened = openedRuns.opened(
                String.valueOf(jobId),
                job.reason(),
                version,
                asset,
                gear(version.procedure(), chosen),
                priors(asset.asset()),
                register.zone(asset.site()));
        UUID run = UuidV7.now();
        store.create(run, jobId, asset.asset(), asset.position(), false);
        store.append(run, Actor.person(person), state -> List.of(opened));
        String code = jobs.variant(jobId);
        if (code != null) {
            Variants.Kept kept = variants.newest(code);
            store.append(run, Actor.person(person), state -> {
                RunEvents.VariantApplied applied = kept.variant().applied(state, kept.hash());
                applied.check(state);
                return List.of(applied);
            });
        }
        jobs.started(jobId, person, LocalDate.ofInstant(clock.instant(), ZoneId.of(job.zone())));
        if (key != null) {
            jdbc.sql("INSERT INTO idempotency (person, key, run, asked) VALUES (:person, :key, :run, :asked)")
                    .param("person", person)
                    .param("key", key)
                    .param("run", run)
                    .param("asked", asked(jobId, chosen))
                    .update();
        }
        return run;
    }

    /** The run that this key opened before, for the same that is asked now; null if it opened none. */
    private @Nullable UUID openedBefore(long jobId, String person, String key, Map<String, String> chosen) {
        if (key.isBlank() || key.length() > LONGEST_KEY) {
            throw new Refusal(
                    "key-invalid", "An Idempotency-Key has 1 to " + LONGEST_KEY + " characters.", "Idempotency-Key");
        }
        Used used = jdbc.sql("SELECT run, asked FROM idempotency WHERE person = :person AND key = :key")
                .param("person", person)
                .param("key", key)
                .query((rs, i) -> new Used(rs.getObject(1, UUID.class), rs.getString(2)))
                .optional()
                .orElse(null);
        if (used == null) {
            return null;
        }
        RunState state = store.state(used.run);
        // Keys from before what was asked was kept with them are told by their job alone.
        boolean same = used.asked == null
                ? state.opened().job().equals(String.valueOf(jobId))
                : used.asked.equals(asked(jobId, chosen));
        if (!same) {
            throw new Refusal(
                    "key-used",
                    "This Idempotency-Key has opened another run: of job "
                            + state.opened().job() + ", or with other gear. Send a new key.",
                    "Idempotency-Key");
        }
        if (state.status() != RunState.Status.OPEN) {
            throw new Refusal(
                    "key-used",
                    "The run that this Idempotency-Key opened is over: it was "
                            + state.status().name().toLowerCase(Locale.ROOT) + ". Send a new key for a new run.",
                    "Idempotency-Key");
        }
        return used.run;
    }

    private record Used(UUID run, @Nullable String asked) {}

    /** What a request asks for, in one form whatever the order of its fields. */
    private static String asked(long jobId, Map<String, String> chosen) {
        return "job " + jobId + ", gear " + new TreeMap<>(chosen);
    }

    private List<GearFacts> gear(Procedure procedure, Map<String, String> chosen) {
        chosen.keySet().forEach(need -> {
            if (procedure.gear().stream().noneMatch(g -> g.id().equals(need))) {
                throw new Refusal("unknown-need", "The procedure needs no gear \"" + need + "\".", "gear");
            }
        });
        List<GearFacts> facts = new ArrayList<>();
        procedure.gear().forEach(need -> {
            String id = chosen.get(need.id());
            if (id == null) {
                gear.bestOfRole(need.role()).ifPresent(g -> facts.add(g.facts(need.id())));
                return;
            }
            GearStore.Gear item = gear.byId(id)
                    .orElseThrow(() -> new Refusal("unknown-gear", "There is no gear \"" + id + "\".", "gear"));
            if (!item.role().equals(need.role())) {
                throw new Refusal("wrong-gear", item.name() + " is no " + need.role() + ".", "gear");
            }
            facts.add(item.facts(need.id()));
        });
        return facts;
    }

    /** Earlier counting values of an asset, newest first: the last few of each series and lane, and the baseline. */
    List<PriorReading> priors(String asset) {
        return jdbc.sql(
                        """
        SELECT series, lane, value, unit, finished_at, record, baseline, row_key FROM (
          SELECT p.series, p.lane, p.counting AS value, p.unit, r.finished_at, r.record,
            is_baseline(r.asset, r.procedure, r.id, r.baseline) AS baseline, p.row_key,
            dense_rank() OVER (PARTITION BY p.series, p.lane ORDER BY r.finished_at DESC) AS age
          FROM run r JOIN run_point p ON p.run = r.id
          WHERE r.asset = :asset AND r.status = 'finished' AND p.series IS NOT NULL AND p.counting IS NOT NULL) v
        WHERE age <= :most OR baseline ORDER BY finished_at DESC, series, lane""")
                .param("asset", asset)
                .param("most", PRIORS_PER_SERIES)
                .query((rs, i) -> new PriorReading(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getDouble(3),
                        Unit.of(rs.getString(4)),
                        rs.getTimestamp(5).toInstant(),
                        rs.getString(6),
                        rs.getBoolean(7),
                        rs.getObject(8, Double.class)))
                .list();
    }
}
