package org.juratest.server.round;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.UUID;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.GearNeed;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.server.gear.GearStore;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.run.RunStore;
import org.juratest.server.run.Shown;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** Today's round: open jobs that are due within a week or over, as stops along the line. */
@Repository
public class Rounds {

  /** How many days ahead a job belongs to today's round. */
  static final int DAYS_AHEAD = 7;
  private static final int LATER_SHOWN = 5;

  private final JdbcClient jdbc;
  private final RunStore runs;
  private final Procedures procedures;
  private final GearStore gear;
  private final Clock clock;

  public Rounds(JdbcClient jdbc, RunStore runs, Procedures procedures, GearStore gear, Clock clock) {
    this.jdbc = jdbc;
    this.runs = runs;
    this.procedures = procedures;
    this.gear = gear;
    this.clock = clock;
  }

  /**
   * A day's work.
   *
   * @param stops in visiting order
   * @param later what is due next after the round, first due first
   */
  public record Round(LocalDate day, List<Stop> stops, List<GearToTake> loadout, List<Later> later) {
  }

  /**
   * A site with its jobs.
   *
   * @param km       along the line
   * @param altitude m
   */
  public record Stop(String site, String name, double km, int altitude, List<StopJob> jobs) {
  }

  /**
   * A job of a round.
   *
   * @param minutes it usually takes, by its procedure
   * @param overdue days since it was due; negative while it is not
   * @param run     the open run of it; absent if there is none
   * @param last    the asset's last record; absent if it was never tested
   */
  public record StopJob(long id, String position, String asset, String maker, String model, String serial, String title, String reason,
      LocalDate due, long overdue, double minutes, String status, @Nullable UUID run, @Nullable LastRecord last) {
  }

  /**
   * The last record of an asset.
   *
   * @param nearest the reading nearest to its limit; absent if none was judged with a margin
   */
  public record LastRecord(UUID run, @Nullable String record, Instant at, Verdict verdict, boolean complete, Shown.@Nullable PointView nearest) {
  }

  /**
   * Gear the round needs.
   *
   * @param gear         id of the item whose calibration holds longest; absent if there is none
   * @param calibratedTo last day its calibration holds
   * @param holds        whether it holds on the day of the round
   */
  public record GearToTake(String role, String needs, @Nullable String gear, @Nullable String name, @Nullable LocalDate calibratedTo, boolean holds) {
  }

  /** A job that is due after the round. */
  public record Later(long job, String position, String siteName, LocalDate due) {
  }

  private record Row(String site, String siteName, double km, int altitude, String zone, long id, String position, String asset,
      String maker, String model, String serial, String procedure, String reason, LocalDate due, String status, @Nullable UUID run,
      @Nullable UUID lastRun) {
  }

  /** The round of today, by the clock of the sites. */
  public Round today() {
    List<Row> rows = rows();
    LocalDate day = LocalDate.ofInstant(clock.instant(), ZoneId.of(rows.isEmpty() ? zone() : rows.get(0).zone));
    Map<String, Procedure> known = new TreeMap<>();
    rows.forEach(r -> known.computeIfAbsent(r.procedure, code -> procedures.newest(code).procedure()));
    Map<String, List<Row>> bySite = new LinkedHashMap<>();
    List<Row> later = new ArrayList<>();
    for (Row row : rows) {
      if (row.due.isAfter(day.plusDays(DAYS_AHEAD)) && row.run == null) {
        later.add(row);
      } else {
        bySite.computeIfAbsent(row.site, s -> new ArrayList<>()).add(row);
      }
    }
    List<Stop> stops = bySite.values().stream().map(jobs -> new Stop(jobs.get(0).site, jobs.get(0).siteName, jobs.get(0).km,
        jobs.get(0).altitude, jobs.stream().map(j -> job(j, known.get(j.procedure), day)).toList())).toList();
    return new Round(day, stops, bySite.isEmpty() ? List.of() : loadout(known.values().stream().toList(), day),
        later.stream().sorted(java.util.Comparator.comparing(Row::due)).limit(LATER_SHOWN)
            .map(r -> new Later(r.id, r.position, r.siteName, r.due)).toList());
  }

  private String zone() {
    return jdbc.sql("SELECT zone FROM site ORDER BY km LIMIT 1").query(String.class).optional().orElse("UTC");
  }

  private List<Row> rows() {
    return jdbc.sql("""
        SELECT s.code, s.name, s.km, s.altitude, s.zone, j.id, j.position, j.asset, a.maker, a.model, a.serial, j.procedure, j.reason,
          j.due, j.status, (SELECT r.id FROM run r WHERE r.job = j.id AND r.status = 'open' LIMIT 1),
          (SELECT r.id FROM run r WHERE r.asset = j.asset AND r.status = 'finished' ORDER BY r.finished_at DESC LIMIT 1)
        FROM job j JOIN position p ON p.code = j.position JOIN site s ON s.code = p.site JOIN asset a ON a.id = j.asset
        WHERE j.status IN ('open', 'running', 'partly done') ORDER BY s.km, s.code, j.due, j.id""")
        .query((rs, i) -> new Row(rs.getString(1), rs.getString(2), rs.getDouble(3), rs.getInt(4), rs.getString(5), rs.getLong(6),
            rs.getString(7), rs.getString(8), rs.getString(9), rs.getString(10), rs.getString(11), rs.getString(12), rs.getString(13),
            rs.getObject(14, LocalDate.class), rs.getString(15), rs.getObject(16, UUID.class), rs.getObject(17, UUID.class))).list();
  }

  private StopJob job(Row row, Procedure procedure, LocalDate day) {
    return new StopJob(row.id, row.position, row.asset, row.maker, row.model, row.serial, procedure.title(), row.reason, row.due,
        ChronoUnit.DAYS.between(row.due, day), procedure.steps().stream().mapToDouble(Step::minutes).sum(), row.status, row.run,
        row.lastRun == null ? null : last(row.lastRun));
  }

  private @Nullable LastRecord last(UUID run) {
    RunState state = runs.state(run);
    RunEvents.Finished finished = state.finished();
    return finished == null ? null : new LastRecord(run, finished.record(), Objects.requireNonNull(state.finishedAt()),
        finished.judgement().verdict(), finished.judgement().complete(), Shown.nearest(state, finished.judgement()));
  }

  private List<GearToTake> loadout(List<Procedure> needed, LocalDate day) {
    Map<String, GearNeed> byRole = new LinkedHashMap<>();
    needed.forEach(p -> p.gear().forEach(n -> byRole.putIfAbsent(n.role(), n)));
    return byRole.values().stream().map(need -> gear.bestOfRole(need.role())
        .map(g -> new GearToTake(need.role(), need.needs(), g.id(), g.name(), g.calibratedTo(), g.facts(need.id()).holdsOn(day)))
        .orElseGet(() -> new GearToTake(need.role(), need.needs(), null, null, null, false))).toList();
  }
}
