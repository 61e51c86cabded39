package org.juratest.server.condition;

import java.time.Duration;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;

/**
 * Forgets which rows of the fleet became others long ago; a process that slept longer reads them all ({@link Fleet}).
 */
final class FleetChanges {

    /** The setting that holds up to which snapshot changes are forgotten. */
    static final String FORGOTTEN = "fleet.forgotten";

    private final JdbcClient jdbc;
    private final Duration kept;
    private @Nullable String mark;
    private long marked;

    /** @param kept how long a change is remembered, at least */
    FleetChanges(JdbcTemplate template, Duration kept) {
        this.jdbc = JdbcClient.create(template);
        this.kept = kept;
    }

    /** Whether it is time to {@link #tidy()}. */
    boolean isDue() {
        return mark == null || System.nanoTime() - marked >= kept.toNanos();
    }

    /** Forgets what was there to be seen at the last call; within a transaction. */
    void tidy() {
        String seen = mark;
        if (seen == null) {
            // What a backup brought from another database counts its transactions otherwise.
            jdbc.sql("DELETE FROM fleet_change WHERE xid >= pg_snapshot_xmax(pg_current_snapshot())")
                    .update();
            jdbc.sql("DELETE FROM setting WHERE key = :key AND pg_snapshot_xmax(CAST(CASE key WHEN :key THEN value END "
                            + "AS pg_snapshot)) > pg_snapshot_xmax(pg_current_snapshot())")
                    .param("key", FORGOTTEN)
                    .update();
        } else {
            jdbc.sql("DELETE FROM fleet_change WHERE xid < pg_snapshot_xmax(CAST(:seen AS pg_snapshot)) "
                            + "AND pg_visible_in_snapshot(xid, CAST(:seen AS pg_snapshot))")
                    .param("seen", seen)
                    .update();
            // Two processes forget by turns: what the one has said of a later snapshot stays said.
            jdbc.sql("INSERT INTO setting AS s VALUES (:key, :seen) ON CONFLICT (key) "
                            + "DO UPDATE SET value = excluded.value "
                            + "WHERE pg_snapshot_xmax(CAST(s.value AS pg_snapshot)) "
                            + "< pg_snapshot_xmax(CAST(excluded.value AS pg_snapshot))")
                    .param("key", FORGOTTEN)
                    .param("seen", seen)
                    .update();
        }
        mark = jdbc.sql("SELECT pg_current_snapshot()::text")
                .query(String.class)
                .single();
        marked = System.nanoTime();
    }
}
