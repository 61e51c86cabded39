package org.juratest.server.run;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.LiveGuard;
import org.juratest.core.run.Output;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.db.SafetyPool;
import org.juratest.server.db.UuidV7;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/**
 * Leases of screens, claims of processes on runs and gear, and arming tokens, in the database and by its clock alone,
 * so that any process can read them and no clock of a server counts. Beats and guards have connections of their own.
 */
@Repository
public class Leases {

    private static final long CLAIM_MILLIS = 3000;
    /**
     * Lock of whoever claims gear: one at a time, so that two who want the same items never wait for each other's rows.
     */
    private static final long CLAIMING = 0x4A55524147454152L;

    private final JdbcClient jdbc;
    private final JdbcClient safety;
    private final String process = UuidV7.now().toString();

    public Leases(JdbcClient jdbc, SafetyPool safety) {
        this.jdbc = jdbc;
        this.safety = safety.jdbc();
    }

    /** Id of this process. */
    String process() {
        return process;
    }

    /** Now, by the database's clock. */
    Instant now() {
        return Objects.requireNonNull(jdbc.sql("SELECT clock_timestamp()")
                .query((rs, i) -> RunTables.instant(rs, 1))
                .single());
    }

    /** A screen drives a run from now on. */
    void take(UUID run, Screen screen) {
        jdbc.sql(
                        """
        INSERT INTO run_lease (run, screen, person, session, until)
        VALUES (:run, :screen, :person, :session, clock_timestamp() + :millis * interval '1 ms')
        ON CONFLICT (run) DO UPDATE SET screen = excluded.screen, person = excluded.person,
          session = excluded.session, until = excluded.until""")
                .param("run", run)
                .param("screen", screen.handle())
                .param("person", screen.person())
                .param("session", screen.session())
                .param("millis", LiveGuard.LEASE_MILLIS)
                .update();
    }

    /** Whether a screen, of this person and session, is the one that took the run last. */
    boolean drives(UUID run, Screen screen) {
        return jdbc.sql(
                        """
        SELECT EXISTS (SELECT 1 FROM run_lease l JOIN run r ON r.id = l.run AND r.driver = l.screen
          WHERE l.run = :run AND l.screen = :screen AND l.person = :person AND l.session = :session)""")
                .param("run", run)
                .param("screen", screen.handle())
                .param("person", screen.person())
                .param("session", screen.session())
                .query(Boolean.class)
                .single();
    }

    /**
     * What a beat is answered with.
     *
     * @param drives whether the screen drives
     * @param heard whether any that does is heard
     * @param output what it is as the run knows it
     * @param busy whether a process works with its gear, gaps between measurements included
     * @param n number of the last event
     */
    record Beat(boolean drives, boolean heard, Output.Mode output, boolean busy, long n) {}

    /**
     * A beat of a screen: renews the lease if the screen drives the run for this person in this session.
     *
     * @throws NotFoundException if there is no such run
     */
    Beat beat(UUID run, Screen screen) {
        return safety.sql(
                        """
        WITH beaten AS (
          UPDATE run_lease l SET until = clock_timestamp() + :millis * interval '1 ms' FROM run d
          WHERE l.run = :run AND d.id = l.run AND d.driver = l.screen AND l.screen = :screen AND l.person = :person
            AND l.session = :session RETURNING 1)
        SELECT EXISTS (SELECT 1 FROM beaten),
          EXISTS (SELECT 1 FROM run_lease h WHERE h.run = r.id AND h.screen = r.driver
            AND h.until > clock_timestamp()), r.output_mode, r.busy, r.count - 1
        FROM run r WHERE r.id = :run""")
                .param("run", run)
                .param("screen", screen.handle())
                .param("person", screen.person())
                .param("session", screen.session())
                .param("millis", LiveGuard.LEASE_MILLIS)
                .query((rs, i) -> new Beat(
                        rs.getBoolean(1),
                        rs.getBoolean(1) || rs.getBoolean(2),
                        CoreJson.mapper().convertValue(rs.getString(3), Output.Mode.class),
                        rs.getBoolean(4),
                        rs.getLong(5)))
                .optional()
                .orElseThrow(() -> new NotFoundException("run", run.toString()));
    }

    /** Whether the driving screen was heard within its lease. */
    boolean heard(UUID run) {
        return jdbc.sql(
                        """
        SELECT count(*) > 0 FROM run_lease l JOIN run r ON r.id = l.run AND r.driver = l.screen
        WHERE l.run = :run AND l.until > clock_timestamp()""")
                .param("run", run)
                .query(Boolean.class)
                .single();
    }

    /**
     * Takes a run for this process, unless another holds it. What somebody asked to stop stays asked for while the
     * claim of whom they asked holds. Call under the lock of the run's row.
     */
    boolean claim(UUID run) {
        return jdbc.sql(
                                """
        INSERT INTO run_claim (run, process, until) VALUES (:run, :process,
          clock_timestamp() + :millis * interval '1 ms')
        ON CONFLICT (run) DO UPDATE SET process = excluded.process, until = excluded.until, stop_requested = NULL
          WHERE run_claim.until < clock_timestamp()""")
                        .param("run", run)
                        .param("process", process)
                        .param("millis", CLAIM_MILLIS)
                        .update()
                == 1;
    }

    /** Gear that another run holds, and the position that run is at. */
    record InUse(String gear, String position) {}

    /**
     * Takes items of gear for a run of this process: all of them, or none. Call within a transaction.
     *
     * @return the first that another run or process holds; absent where all were taken
     */
    @Nullable
    InUse claimGear(UUID run, List<String> gear) {
        if (gear.isEmpty()) {
            return null;
        }
        jdbc.sql("SELECT pg_advisory_xact_lock(:lock)")
                .param("lock", CLAIMING)
                .query()
                .singleRow();
        InUse held = jdbc.sql(
                        """
        SELECT g.name, r.position FROM gear_claim c JOIN gear g ON g.id = c.gear JOIN run r ON r.id = c.run
        WHERE c.gear IN (:gear) AND c.until > clock_timestamp() ORDER BY g.id LIMIT 1""")
                .param("gear", gear)
                .query((rs, i) -> new InUse(rs.getString(1), rs.getString(2)))
                .optional()
                .orElse(null);
        if (held != null) {
            return held;
        }
        gear.stream().sorted().distinct().forEach(id -> jdbc.sql(
                        """
        INSERT INTO gear_claim (gear, run, process, until) VALUES (:gear, :run, :process,
          clock_timestamp() + :millis * interval '1 ms')
        ON CONFLICT (gear) DO UPDATE SET run = excluded.run, process = excluded.process, until = excluded.until""")
                .param("gear", id)
                .param("run", run)
                .param("process", process)
                .param("millis", CLAIM_MILLIS)
                .update());
        return null;
    }

    /** Gives back items of gear that a run of this process holds. */
    void releaseGear(UUID run, List<String> gear) {
        if (!gear.isEmpty()) {
            jdbc.sql("DELETE FROM gear_claim WHERE run = :run AND process = :process AND gear IN (:gear)")
                    .param("run", run)
                    .param("process", process)
                    .param("gear", gear)
                    .update();
        }
    }

    /** Keeps items of gear a little longer that a run of this process holds without a guard. */
    void renewGear(UUID run) {
        safety.sql("UPDATE gear_claim SET until = clock_timestamp() + :millis * interval '1 ms' WHERE run = "
                        + ":run AND process = :process")
                .param("run", run)
                .param("process", process)
                .param("millis", CLAIM_MILLIS)
                .update();
    }

    /** Gives back a run with all its gear. */
    void release(UUID run) {
        jdbc.sql("DELETE FROM gear_claim WHERE run = :run AND process = :process")
                .param("run", run)
                .param("process", process)
                .update();
        jdbc.sql("DELETE FROM run_claim WHERE run = :run AND process = :process")
                .param("run", run)
                .param("process", process)
                .update();
    }

    /**
     * Renews this process's claims and reads the lease in one statement.
     *
     * @param gear how many items of gear it claimed: with fewer the lease is not valid
     */
    LiveGuard.Lease renew(UUID run, int gear) {
        return safety.sql(
                        """
        WITH held AS (
          UPDATE gear_claim SET until = clock_timestamp() + :millis * interval '1 ms' WHERE run = :run
            AND process = :process AND until > clock_timestamp() RETURNING 1)
        UPDATE run_claim c SET until = clock_timestamp() + :millis * interval '1 ms' WHERE c.run = :run
          AND c.process = :process AND c.until > clock_timestamp()
        RETURNING c.stop_requested, (SELECT count(*) FROM held) >= :gear AND EXISTS (SELECT 1 FROM run_lease l
          JOIN run r ON r.id = l.run AND r.driver = l.screen
          WHERE l.run = c.run AND l.until > clock_timestamp())""")
                .param("run", run)
                .param("process", process)
                .param("millis", CLAIM_MILLIS)
                .param("gear", gear)
                .query((rs, i) -> new LiveGuard.Lease(rs.getBoolean(2), rs.getString(1)))
                .optional()
                .orElse(new LiveGuard.Lease(false, null));
    }

    /**
     * Asks whichever process talks to the gear of a run to stop. Call under the lock of the run's row, so that it meets
     * any claim.
     */
    void requestStop(UUID run, String words) {
        jdbc.sql("UPDATE run_claim SET stop_requested = coalesce(stop_requested, :words) WHERE run = :run")
                .param("words", words)
                .param("run", run)
                .update();
    }

    /** Whether somebody asked the holder of a run to stop. */
    boolean stopRequested(UUID run) {
        return jdbc.sql("SELECT EXISTS (SELECT 1 FROM run_claim WHERE run = :run AND stop_requested IS NOT NULL)")
                .param("run", run)
                .query(Boolean.class)
                .single();
    }

    /** Stores the hash of a new arming token, in place of any other, valid for a time from now; gives until when. */
    Instant token(UUID run, String hash, Duration valid) {
        return Objects.requireNonNull(jdbc.sql(
                        """
        INSERT INTO arm_token (run, hash, until) VALUES (:run, :hash, clock_timestamp() + :millis * interval '1 ms')
        ON CONFLICT (run) DO UPDATE SET hash = excluded.hash, until = excluded.until RETURNING until""")
                .param("run", run)
                .param("hash", hash)
                .param("millis", valid.toMillis())
                .query((rs, i) -> RunTables.instant(rs, 1))
                .single());
    }

    /** Uses a token up; whether it was the valid one. */
    boolean useToken(UUID run, String hash) {
        return jdbc.sql("DELETE FROM arm_token WHERE run = :run AND hash = :hash AND until > clock_timestamp()")
                        .param("run", run)
                        .param("hash", hash)
                        .update()
                == 1;
    }

    void dropToken(UUID run) {
        jdbc.sql("DELETE FROM arm_token WHERE run = :run").param("run", run).update();
    }

    /** A run that is live or busy and that no process holds; locked until the end of the transaction. */
    @Nullable
    UUID abandoned() {
        return jdbc.sql(
                        """
        SELECT r.id FROM run r WHERE (r.output_mode <> 'safe' OR r.busy) AND (r.output_mode = 'live' OR r.busy)
          AND r.status = 'open'
          AND NOT EXISTS (SELECT 1 FROM run_claim c WHERE c.run = r.id AND c.until > clock_timestamp())
        ORDER BY r.id LIMIT 1 FOR UPDATE SKIP LOCKED""")
                .query(UUID.class)
                .optional()
                .orElse(null);
    }

    /** A run that was armed and not started in time; locked until the end of the transaction. */
    @Nullable
    UUID armedTooLong() {
        return jdbc.sql(
                        """
        SELECT r.id FROM run r WHERE r.output_mode = 'armed' AND r.status = 'open' AND r.armed_until < clock_timestamp()
          AND NOT EXISTS (SELECT 1 FROM run_claim c WHERE c.run = r.id AND c.until > clock_timestamp())
        ORDER BY r.id LIMIT 1 FOR UPDATE SKIP LOCKED""")
                .query(UUID.class)
                .optional()
                .orElse(null);
    }
}
