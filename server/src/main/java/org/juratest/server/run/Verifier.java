package org.juratest.server.run;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import org.juratest.core.run.Event;
import org.juratest.core.run.RunState;
import org.juratest.formats.run.EventChain;
import org.juratest.formats.run.EventCodec;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;

/**
 * Walks every chain, compares the columns copied from the events, and compares what is projected from them. Needs no server
 * and changes nothing, unless told to rebuild.
 */
public final class Verifier {

  private final JdbcClient jdbc;
  private final RunTables tables;

  public Verifier(JdbcTemplate template) {
    this.jdbc = JdbcClient.create(template);
    this.tables = new RunTables(template);
  }

  /** Something that does not hold, where, in words. */
  public record Finding(String where, String what) {
    @Override
    public String toString() {
      return where + ": " + what;
    }
  }

  /**
   * @param runs     walked
   * @param events   walked
   * @param findings in the order of the runs; of each chain the first break
   */
  public record Report(long runs, long events, List<Finding> findings) {
  }

  private record Row(UUID id, String asset, String position, @Nullable String record, @Nullable String head, long count) {
    String name() {
      return (record == null ? "an open run at " + position : "record " + record) + " (" + id + ")";
    }
  }

  private record Stored(long n, UUID id, @Nullable String prev, String hash, Instant at, String by, String type, byte[] body) {
  }

  /** Checks everything. With {@code rebuild} the projections are replaced by what the events give before they are compared. */
  public Report run(boolean rebuild) {
    List<Finding> findings = new ArrayList<>();
    Map<UUID, RunRows> finished = new LinkedHashMap<>();
    Map<UUID, String> assets = new LinkedHashMap<>();
    long events = 0;
    if (rebuild) {
      tables.clearLast();
    }
    List<Row> rows = rows();
    for (Row row : rows) {
      List<Stored> stored = stored(row.id);
      events += stored.size();
      Optional<Finding> broken = chain(row, stored);
      broken.ifPresent(findings::add);
      if (broken.isPresent() || stored.isEmpty()) {
        continue;
      }
      RunState state = RunState.of(stored.stream().map(s -> EventCodec.read(s.body)).toList());
      if (rebuild) {
        tables.rewrite(row.id, row.asset, state);
      }
      RunRows ours = RunRows.of(state);
      ours.differences(tables.stored(row.id)).forEach(d -> findings.add(new Finding(row.name(), d)));
      if (ours.head().finishedAt() != null) {
        finished.put(row.id, ours);
        assets.put(row.id, row.asset);
      }
    }
    lastValues(RunTables.lastValues(finished, assets), findings);
    lastRecords(RunTables.lastRecords(finished, assets), findings);
    orphans(findings);
    return new Report(rows.size(), events, List.copyOf(findings));
  }

  private List<Row> rows() {
    return jdbc.sql("SELECT id, asset, position, record, head, count FROM run ORDER BY id").query((rs, i) -> new Row(
        rs.getObject(1, UUID.class), rs.getString(2), rs.getString(3), rs.getString(4), rs.getString(5), rs.getLong(6))).list();
  }

  private List<Stored> stored(UUID run) {
    return jdbc.sql("SELECT n, id, prev, hash, at, by, type, body FROM event WHERE run = :run ORDER BY n").param("run", run)
        .query(Verifier::stored).list();
  }

  private static Stored stored(ResultSet rs, int i) throws SQLException {
    return new Stored(rs.getLong(1), rs.getObject(2, UUID.class), rs.getString(3), rs.getString(4),
        Objects.requireNonNull(RunTables.instant(rs, 5)), rs.getString(6), rs.getString(7), rs.getBytes(8));
  }

  private static Optional<Finding> chain(Row row, List<Stored> stored) {
    if (row.head == null || stored.isEmpty()) {
      return Optional.of(new Finding(row.name(), "has no events, though its row counts " + row.count));
    }
    Optional<EventChain.Break> broken = EventChain.check(row.id, stored.stream().map(Stored::body).toList(), row.head, row.count);
    if (broken.isPresent()) {
      return broken.map(b -> new Finding(row.name(), "event " + b.n() + " " + b.what()));
    }
    for (Stored s : stored) {
      Event event = EventCodec.read(s.body);
      Stored copy = new Stored(event.n(), event.id(), event.prev(), EventCodec.hash(s.body), event.at(), event.by().toString(),
          event.data().type(), s.body);
      if (!copy.equals(s)) {
        return Optional.of(new Finding(row.name(), "the columns beside event " + s.n + " do not say what the event says"));
      }
    }
    return Optional.empty();
  }

  private void lastValues(List<RunTables.LastValue> ours, List<Finding> findings) {
    List<RunTables.LastValue> theirs = new ArrayList<>(tables.lastValues());
    List<RunTables.LastValue> missing = new ArrayList<>(ours);
    missing.removeAll(theirs);
    theirs.removeAll(ours);
    missing.forEach(v -> findings.add(new Finding("last value of " + v.asset(), v.series() + " " + v.lane() + " should be " + v.value())));
    theirs.stream().filter(v -> missing.stream().noneMatch(m -> m.asset().equals(v.asset()) && m.series().equals(v.series())
        && m.lane().equals(v.lane()))).forEach(v -> findings.add(new Finding("last value of " + v.asset(), v.series() + " " + v.lane() + " has no record")));
  }

  private void lastRecords(List<RunTables.LastRecord> ours, List<Finding> findings) {
    List<RunTables.LastRecord> theirs = new ArrayList<>(tables.lastRecords());
    List<RunTables.LastRecord> missing = new ArrayList<>(ours);
    missing.removeAll(theirs);
    theirs.removeAll(ours);
    missing.forEach(r -> findings.add(new Finding("last record of " + r.asset(), "should be that of " + r.at() + " and stand " + r.standing())));
    theirs.stream().filter(r -> missing.stream().noneMatch(m -> m.asset().equals(r.asset()))).forEach(r -> findings.add(new Finding("last record of " + r.asset(), "has no run")));
  }

  private void orphans(List<Finding> findings) {
    long readings = jdbc.sql("SELECT count(*) FROM reading r WHERE NOT EXISTS (SELECT 1 FROM run WHERE run.id = r.run)").query(Long.class).single();
    if (readings > 0) {
      findings.add(new Finding("readings", readings + " belong to no run"));
    }
  }
}
