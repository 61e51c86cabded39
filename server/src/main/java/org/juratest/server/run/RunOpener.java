package org.juratest.server.run;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Actor;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.PriorReading;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunEvents;
import org.juratest.server.db.UuidV7;
import org.juratest.server.gear.GearStore;
import org.juratest.server.job.Jobs;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.register.Register;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Opens a run of a job: gathers everything it will be judged by, as it is now, into its first event. */
@Service
class RunOpener {

  private static final int PRIORS_PER_SERIES = 6;

  private final JdbcClient jdbc;
  private final Jobs jobs;
  private final Register register;
  private final Procedures procedures;
  private final GearStore gear;
  private final OpenedRuns openedRuns;
  private final RunStore store;
  private final Clock clock;

  RunOpener(JdbcClient jdbc, Jobs jobs, Register register, Procedures procedures, GearStore gear,
      OpenedRuns openedRuns, RunStore store, Clock clock) {
    this.jdbc = jdbc;
    this.jobs = jobs;
    this.register = register;
    this.procedures = procedures;
    this.gear = gear;
    this.openedRuns = openedRuns;
    this.store = store;
    this.clock = clock;
  }

  /**
   * Opens a run.
   *
   * @param key    of the request, so that sending it twice opens one run; absent for none
   * @param chosen gear by need, where not the best of its role
   * @return the run's id: of a new one, or of the one this key opened before
   * @throws Refusal if the job is done, or a run of it is open
   */
  @Transactional
  UUID open(long jobId, String person, @Nullable String key, Map<String, String> chosen) {
    String status = jobs.lock(jobId);
    if (key != null) {
      UUID before = jdbc.sql("SELECT run FROM idempotency WHERE person = :person AND key = :key").param("person", person)
          .param("key", key).query(UUID.class).optional().orElse(null);
      if (before != null) {
        if (!store.state(before).opened().job().equals(String.valueOf(jobId))) {
          throw new Refusal("key-used", "This Idempotency-Key has opened a run of another job.", "Idempotency-Key");
        }
        return before;
      }
    }
    Jobs.Job job = jobs.byId(jobId);
    if (status.equals("done")) {
      throw new Refusal("job-done", "Job " + jobId + " is done.");
    }
    if (status.equals("withdrawn")) {
      throw new Refusal("job-withdrawn", "Job " + jobId + " was withdrawn: its device was taken away from " + job.position() + ".");
    }
    if (status.equals("missed")) {
      throw new Refusal("job-missed", "Job " + jobId + " went by undone; the next one of its plan is open instead.");
    }
    if (job.run() != null) {
      throw new Refusal("run-open", "A run of job " + jobId + " is already open; go on with that one.");
    }
    AssetFacts asset = register.installed(job.asset());
    Procedures.Version version = procedures.newest(job.procedure());
    procedures.freeze(version.procedure().code(), version.procedure().version());
    RunEvents.Opened opened = openedRuns.opened(String.valueOf(jobId), job.reason(), version, asset, gear(version.procedure(), chosen),
        priors(asset.asset()), register.zone(asset.site()));
    UUID run = UuidV7.now();
    store.create(run, jobId, asset.asset(), asset.position(), false);
    store.append(run, Actor.person(person), state -> List.of(opened));
    jobs.started(jobId, person, LocalDate.ofInstant(clock.instant(), ZoneId.of(job.zone())));
    if (key != null) {
      jdbc.sql("INSERT INTO idempotency (person, key, run) VALUES (:person, :key, :run)").param("person", person)
          .param("key", key).param("run", run).update();
    }
    return run;
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
      GearStore.Gear item = gear.byId(id).orElseThrow(() -> new Refusal("unknown-gear", "There is no gear \"" + id + "\".", "gear"));
      if (!item.role().equals(need.role())) {
        throw new Refusal("wrong-gear", item.name() + " is no " + need.role() + ".", "gear");
      }
      facts.add(item.facts(need.id()));
    });
    return facts;
  }

  /** Earlier counting values of an asset, newest first: the last few of each series and lane, and the baseline. */
  private List<PriorReading> priors(String asset) {
    return jdbc.sql("""
        SELECT series, lane, value, unit, finished_at, record, baseline FROM (
          SELECT p.series, p.lane, p.counting AS value, p.unit, r.finished_at, r.record, r.baseline,
            row_number() OVER (PARTITION BY p.series, p.lane ORDER BY r.finished_at DESC) AS age
          FROM run r JOIN run_point p ON p.run = r.id
          WHERE r.asset = :asset AND r.status = 'finished' AND p.series IS NOT NULL AND p.counting IS NOT NULL) v
        WHERE age <= :most OR baseline ORDER BY finished_at DESC, series, lane""")
        .param("asset", asset).param("most", PRIORS_PER_SERIES)
        .query((rs, i) -> new PriorReading(rs.getString(1), rs.getString(2), rs.getDouble(3), Unit.of(rs.getString(4)),
            rs.getTimestamp(5).toInstant(), rs.getString(6), rs.getBoolean(7))).list();
  }
}
