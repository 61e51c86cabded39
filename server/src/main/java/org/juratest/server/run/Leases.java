package org.juratest.server.run;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import jakarta.annotation.PreDestroy;
import java.time.Instant;
import java.util.UUID;
import org.juratest.core.bench.LiveGuard;
import org.juratest.server.db.UuidV7;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.jdbc.autoconfigure.JdbcConnectionDetails;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/**
 * Leases of screens, claims of processes and arming tokens, in the database and by its clock, so that any process can read
 * them. The guard of a live output has connections of its own that fail fast: a database that hangs must not keep it waiting.
 */
@Repository
public class Leases {

  private static final long CLAIM_MILLIS = 3000;

  private final JdbcClient jdbc;
  private final HikariDataSource fast;
  private final JdbcClient guard;
  private final String process = UuidV7.now().toString();

  public Leases(JdbcClient jdbc, JdbcConnectionDetails database) {
    this.jdbc = jdbc;
    HikariConfig config = new HikariConfig();
    config.setPoolName("guard");
    config.setJdbcUrl(database.getJdbcUrl());
    config.setUsername(database.getUsername());
    config.setPassword(database.getPassword());
    config.setMaximumPoolSize(3);
    config.setMinimumIdle(0);
    config.setConnectionTimeout(500);
    config.setInitializationFailTimeout(-1);
    config.addDataSourceProperty("socketTimeout", "1");
    config.addDataSourceProperty("connectTimeout", "1");
    this.fast = new HikariDataSource(config);
    this.guard = JdbcClient.create(fast);
  }

  /** Id of this process. */
  String process() {
    return process;
  }

  /**
   * A beat of a screen: renews the lease if the screen drives the run.
   *
   * @return whether it drives
   */
  boolean beat(UUID run, String screen) {
    return jdbc.sql("""
        INSERT INTO run_lease (run, screen, until)
        SELECT id, driver, clock_timestamp() + :millis * interval '1 ms' FROM run WHERE id = :run AND driver = :screen
        ON CONFLICT (run) DO UPDATE SET screen = excluded.screen, until = excluded.until""")
        .param("run", run).param("screen", screen).param("millis", LiveGuard.LEASE_MILLIS).update() == 1;
  }

  /** Whether the driving screen was heard within its lease. */
  boolean heard(UUID run) {
    return jdbc.sql("""
        SELECT count(*) > 0 FROM run_lease l JOIN run r ON r.id = l.run AND r.driver = l.screen
        WHERE l.run = :run AND l.until > clock_timestamp()""").param("run", run).query(Boolean.class).single();
  }

  /** Takes a run for this process, unless another holds it; forgets an earlier request to stop. */
  boolean claim(UUID run) {
    return jdbc.sql("""
        INSERT INTO run_claim (run, process, until) VALUES (:run, :process, clock_timestamp() + :millis * interval '1 ms')
        ON CONFLICT (run) DO UPDATE SET process = excluded.process, until = excluded.until, stop_requested = NULL
          WHERE run_claim.process = excluded.process OR run_claim.until < clock_timestamp()""")
        .param("run", run).param("process", process).param("millis", CLAIM_MILLIS).update() == 1;
  }

  /** Whether any process holds a run's gear. */
  boolean claimed(UUID run) {
    return jdbc.sql("SELECT EXISTS (SELECT 1 FROM run_claim WHERE run = :run AND until > clock_timestamp())").param("run", run).query(Boolean.class).single();
  }

  void release(UUID run) {
    jdbc.sql("DELETE FROM run_claim WHERE run = :run AND process = :process").param("run", run).param("process", process).update();
  }

  /** Renews this process's claim and reads the lease in one statement. */
  LiveGuard.Lease renew(UUID run) {
    return guard.sql("""
        UPDATE run_claim c SET until = clock_timestamp() + :millis * interval '1 ms' WHERE c.run = :run AND c.process = :process
        RETURNING c.stop_requested, EXISTS (SELECT 1 FROM run_lease l JOIN run r ON r.id = l.run AND r.driver = l.screen
          WHERE l.run = c.run AND l.until > clock_timestamp())""")
        .param("run", run).param("process", process).param("millis", CLAIM_MILLIS)
        .query((rs, i) -> new LiveGuard.Lease(rs.getBoolean(2), rs.getString(1))).optional()
        .orElse(new LiveGuard.Lease(false, null));
  }

  /** Asks whichever process talks to the gear of a run to stop. */
  void requestStop(UUID run, String words) {
    jdbc.sql("UPDATE run_claim SET stop_requested = :words WHERE run = :run").param("words", words).param("run", run).update();
  }

  /** Stores the hash of a new arming token, in place of any other. */
  void token(UUID run, String hash, Instant until) {
    jdbc.sql("""
        INSERT INTO arm_token (run, hash, until) VALUES (:run, :hash, :until)
        ON CONFLICT (run) DO UPDATE SET hash = excluded.hash, until = excluded.until""")
        .param("run", run).param("hash", hash).param("until", RunTables.time(until)).update();
  }

  /** Uses a token up; whether it was the valid one. */
  boolean useToken(UUID run, String hash) {
    return jdbc.sql("DELETE FROM arm_token WHERE run = :run AND hash = :hash AND until > clock_timestamp()")
        .param("run", run).param("hash", hash).update() == 1;
  }

  void dropToken(UUID run) {
    jdbc.sql("DELETE FROM arm_token WHERE run = :run").param("run", run).update();
  }

  /** A run that is not safe and that no process holds; locked until the end of the transaction. */
  @Nullable UUID abandoned() {
    return jdbc.sql("""
        SELECT r.id FROM run r WHERE r.output_mode = 'live' AND r.status = 'open'
          AND NOT EXISTS (SELECT 1 FROM run_claim c WHERE c.run = r.id AND c.until > clock_timestamp())
        ORDER BY r.id LIMIT 1 FOR UPDATE SKIP LOCKED""").query(UUID.class).optional().orElse(null);
  }

  /** A run that was armed and not started in time; locked until the end of the transaction. */
  @Nullable UUID armedTooLong() {
    return jdbc.sql("""
        SELECT r.id FROM run r WHERE r.output_mode = 'armed' AND r.status = 'open' AND r.armed_until < clock_timestamp()
          AND NOT EXISTS (SELECT 1 FROM run_claim c WHERE c.run = r.id AND c.until > clock_timestamp())
        ORDER BY r.id LIMIT 1 FOR UPDATE SKIP LOCKED""").query(UUID.class).optional().orElse(null);
  }

  @PreDestroy
  void close() {
    fast.close();
  }
}
