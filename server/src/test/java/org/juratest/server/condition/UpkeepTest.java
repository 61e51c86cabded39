package org.juratest.server.condition;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.server.InsulationRun;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.run.Verifier.Finding;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** Conditions follow what happens to a device, whoever does it, and say the same as if they were made anew. */
class UpkeepTest {

    private static final TestServer SERVER = TestServer.start();
    private static final String STAR = "CBK-1";

    private JdbcTemplate sql;

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    @BeforeEach
    void settled() {
        sql = SERVER.database().template();
        await().atMost(Duration.ofMinutes(2)).until(() -> count("SELECT count(*) FROM condition_due") == 0);
    }

    private long count(String query) {
        Long found = sql.queryForObject(query, Long.class);
        return found == null ? 0 : found;
    }

    private List<Finding> findings() {
        return new ConditionCheck(sql).findings();
    }

    private Map<String, Object> state(String asset) {
        return sql.queryForMap(
                "SELECT standing, why, series, lane, margin, run::text FROM asset_state WHERE asset = ?", asset);
    }

    @Test
    void everyDeviceWithARecordHasAStateThatARebuildAgreesWith() {
        assertTrue(count("SELECT count(*) FROM last_record") > 0);
        assertEquals(0, count("SELECT count(*) FROM last_record WHERE asset NOT IN (SELECT asset FROM asset_state)"));
        assertTrue(count("SELECT count(*) FROM series_state WHERE asset = '" + STAR + "'") > 10);
        assertEquals(
                0,
                count("SELECT count(*) FROM series_state s LEFT JOIN last_value v ON v.asset = s.asset AND "
                        + "v.series = s.series AND v.lane = s.lane WHERE (v.value, v.run) IS DISTINCT FROM "
                        + "(s.value, s.run)"),
                "the last visit is the one that the other tables know");
        assertEquals(List.of(), findings());
    }

    @Test
    void whatSomebodyWroteIntoTheTablesIsFoundAndMadeAnew() {
        sql.update("UPDATE series_state SET drift = 7 WHERE asset = ?", STAR);
        sql.update("UPDATE asset_state SET standing = 'sound', why = 'sound', margin = 0 WHERE asset = ?", STAR);
        List<Finding> found = findings();
        assertTrue(found.size() > 1, found.toString());
        assertTrue(found.stream().allMatch(f -> f.where().equals("condition of " + STAR)), found.toString());
        TransactionTemplate transaction = new TransactionTemplate(
                new DataSourceTransactionManager(java.util.Objects.requireNonNull(sql.getDataSource())));
        transaction.executeWithoutResult(s -> new ConditionCheck(sql).rebuild());
        assertEquals(List.of(), findings());
    }

    @Test
    void aRecordThatIsFiledMovesTheDeviceAtOnceAndNamesThePoint() {
        ApiClient tavel = SERVER.client("tavel", "rack-rail-16");
        InsulationRun run = new InsulationRun(SERVER, tavel);
        String record = run.finished(run.measured(run.opened(), 0.4));
        await().atMost(Duration.ofMinutes(2))
                .until(() -> record.equals(sql.queryForObject(
                        "SELECT r.record FROM asset_state s JOIN run r ON r.id = s.run WHERE s.asset = ?",
                        String.class,
                        STAR)));
        Map<String, Object> state = state(STAR);
        assertEquals("act", state.get("standing"));
        assertEquals("failed", state.get("why"));
        assertTrue(String.valueOf(state.get("series")).contains("insulation"), state.toString());
        assertEquals(List.of(), findings());
    }

    /** A repair begins a segment, an exchange and a plan are told to the queue by the database itself. */
    @Test
    void whoeverWritesWhatItIsMadeFromTheDeviceIsDueWithIt() {
        TransactionTemplate transaction = new TransactionTemplate(
                new DataSourceTransactionManager(java.util.Objects.requireNonNull(sql.getDataSource())));
        for (String change : List.of(
                "UPDATE run SET amended = amended WHERE asset = '" + STAR + "' AND status = 'finished'",
                "UPDATE run SET sign_off = sign_off WHERE asset = '" + STAR + "' AND status = 'finished'",
                "INSERT INTO asset_event (asset, at, kind, words, by) VALUES ('" + STAR
                        + "', now(), 'repair', 'contacts cleaned', 'oster')",
                "UPDATE installation SET during = during WHERE asset = '" + STAR + "'",
                "UPDATE plan SET title = title WHERE procedure = 'CBK-YEARLY'")) {
            transaction.executeWithoutResult(s -> {
                sql.update(change);
                assertEquals(1L, count("SELECT count(*) FROM condition_due WHERE asset = '" + STAR + "'"), change);
                s.setRollbackOnly();
            });
            assertEquals(0L, count("SELECT count(*) FROM condition_due"), "nothing is due with what was not done");
        }
    }

    /** One device whose rows cannot be read holds nobody else up, and is tried again. */
    @Test
    void whatCannotBeMadeHoldsNobodyElseUp() {
        sql.update(
                "UPDATE run_point SET scale = 'crooked' WHERE run IN (SELECT run FROM last_record WHERE asset = ?)",
                STAR);
        sql.update(
                "INSERT INTO asset (id, class, maker, model, serial, nameplate) SELECT 'LATER-1', class, maker, model, "
                        + "'L1', nameplate FROM asset WHERE id = ?",
                STAR);
        try {
            sql.update("DELETE FROM asset_state WHERE asset = ?", STAR);
            sql.update(
                    "INSERT INTO condition_due (asset, since) VALUES (?, now()), ('LATER-1', now() + "
                            + "interval '1 microsecond')",
                    STAR);
            await().atMost(Duration.ofMinutes(2))
                    .until(() -> count("SELECT count(*) FROM condition_due WHERE asset = 'LATER-1'") == 0);
            assertEquals(1L, count("SELECT count(*) FROM condition_due WHERE asset = '" + STAR + "'"), "it waits");
        } finally {
            sql.update("UPDATE run_point SET scale = 'linear' WHERE scale = 'crooked'");
            sql.update("UPDATE condition_due SET since = now()");
            await().atMost(Duration.ofMinutes(2)).until(() -> count("SELECT count(*) FROM condition_due") == 0);
            sql.update("DELETE FROM asset WHERE id = 'LATER-1'");
        }
        assertEquals(1L, count("SELECT count(*) FROM asset_state WHERE asset = '" + STAR + "'"));
    }

    /** What a process did not get done when it died is done by another. */
    @Test
    void whatACrashBreaksOffStaysInTheQueueForAnyProcess() throws Exception {
        sql.update("DELETE FROM asset_state WHERE asset = ?", STAR);
        CompletableFuture<Void> blocked = new CompletableFuture<>();
        TransactionTemplate transaction = new TransactionTemplate(
                new DataSourceTransactionManager(java.util.Objects.requireNonNull(sql.getDataSource())));
        // The lock of whoever works: as long as it is held nobody takes anything out.
        CompletableFuture<Void> dying = CompletableFuture.runAsync(() -> transaction.executeWithoutResult(s -> {
            sql.queryForList("SELECT pg_advisory_xact_lock(" + Upkeep.LOCK + ")");
            sql.update("INSERT INTO condition_due (asset) VALUES (?) ON CONFLICT DO NOTHING", STAR);
            new Settling(sql).settle(List.of(STAR));
            blocked.join();
            s.setRollbackOnly();
        }));
        sql.update("INSERT INTO condition_due (asset) VALUES ('CBK-2') ON CONFLICT DO NOTHING");
        Thread.sleep(600);
        assertEquals(1L, count("SELECT count(*) FROM condition_due"), "whoever works is alone");
        blocked.complete(null);
        dying.get();
        assertEquals(0L, count("SELECT count(*) FROM asset_state WHERE asset = '" + STAR + "'"));
        sql.update("INSERT INTO condition_due (asset) VALUES (?)", STAR);
        try (TestServer other = SERVER.another()) {
            assertTrue(other.port() > 0);
            await().atMost(Duration.ofMinutes(2))
                    .until(() -> count("SELECT count(*) FROM asset_state WHERE asset = '" + STAR + "'") == 1
                            && count("SELECT count(*) FROM condition_due") == 0);
        }
        assertEquals(List.of(), findings());
    }

    /** Nine alike and one apart: the mark falls on that one, and its standing says so. */
    @Test
    void whoLiesApartFromItsPeersIsWatched() {
        sql.update(
                "INSERT INTO asset (id, class, maker, model, serial, nameplate) SELECT 'PEER-' || n, class, 'Orvex', "
                        + "'P1', 'P' || n, nameplate FROM asset, generate_series(1, 12) n WHERE id = ?",
                STAR);
        sql.update(
                "INSERT INTO series_state (asset, series, lane, label, unit, scale, procedure, run, at, value, high, "
                        + "verdict, visits, n, stepped, limit_moved) SELECT 'PEER-' || n, 'x', '-', 'x', 'Ohm', "
                        + "'linear', 'P', gen_random_uuid(), now(), CASE n WHEN 12 THEN 290 ELSE 190 + n * 2 END, "
                        + "400, 'pass', 1, 1, false, false FROM generate_series(1, 12) n");
        ConditionTables tables = new ConditionTables(sql);
        ConditionTables.Model group = new ConditionTables.Model("Orvex", "P1");
        assertEquals(java.util.Set.of("PEER-12"), tables.markPeers(group));
        assertEquals(java.util.Set.of(), tables.markPeers(group), "once");
        assertEquals(
                List.of("12 0 194 212"),
                sql.queryForList(
                        "SELECT concat_ws(' ', members, drifting, value_from, value_to) FROM peer_group "
                                + "WHERE model = 'P1'",
                        String.class));
        sql.update("UPDATE series_state SET n = 4, p = 0.1, drift = 0.01 WHERE asset IN ('PEER-1', 'PEER-2')");
        assertTrue(findings().toString().contains("12 with 0 that drift, but the test points give 12 with 2"));
        sql.update("UPDATE series_state SET value = 200 WHERE asset = 'PEER-12'");
        assertEquals(java.util.Set.of("PEER-12"), tables.markPeers(group), "and it is taken off again");
        sql.update("DELETE FROM series_state WHERE asset LIKE 'PEER-%'");
        sql.update("DELETE FROM asset WHERE id LIKE 'PEER-%'");
        tables.markPeers(group);
        assertEquals(List.of(), findings(), "a group of nobody is none");
    }
}
