package org.juratest.server.condition;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertSame;

import java.sql.Connection;
import java.time.Duration;
import java.util.List;
import java.util.Objects;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.server.TestServer;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** The fleet that a process keeps is at every moment the one that it would read anew. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class FleetInMemoryTest {

    private static final TestServer SERVER = TestServer.start();
    private static final JdbcTemplate SQL = SERVER.database().template();
    private static final NamedParameterJdbcTemplate JDBC = new NamedParameterJdbcTemplate(SQL);
    private static final DataSource SOURCE = Objects.requireNonNull(SQL.getDataSource());

    private final Fleet kept = new Fleet(JDBC);

    /** Nobody but the test changes anything. */
    @BeforeAll
    static void alone() {
        await().atMost(Duration.ofMinutes(2)).until(() -> Long.valueOf(0)
                .equals(SQL.queryForObject("SELECT count(*) FROM condition_due", Long.class)));
        SERVER.context().close();
    }

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    private static List<Fleet.Device> anew() {
        return new Fleet(JDBC).devices();
    }

    private Fleet.Device star(Fleet fleet) {
        return Objects.requireNonNull(fleet.byAsset().get("CBK-1"));
    }

    private static String watch(String asset) {
        return "INSERT INTO watch_mark (asset, reason, by, at) VALUES ('" + asset + "', 'hums', 'oster', now())";
    }

    private static void notWatched() {
        SQL.update("DELETE FROM watch_mark");
    }

    /** The last of all: at its end there is no fleet. */
    @Order(Integer.MAX_VALUE)
    @ParameterizedTest
    @ValueSource(
            strings = {
                "UPDATE asset SET serial = serial || 'x' WHERE id = 'CBK-1'",
                "UPDATE asset SET model = model || ' B' WHERE maker = (SELECT maker FROM asset WHERE id = 'CBK-1')",
                "UPDATE asset_class SET title = title || 's'",
                "UPDATE site SET name = 'The ' || name WHERE code = (SELECT site FROM position LIMIT 1)",
                "UPDATE site SET km = km + 1",
                "INSERT INTO site SELECT 'ZZZ', name, km, altitude, zone FROM site LIMIT 1; "
                        + "UPDATE position SET site = 'ZZZ'",
                "UPDATE installation SET during = tstzrange(lower(during), now()) WHERE asset = 'CBK-2'",
                "INSERT INTO installation SELECT asset, position, tstzrange(upper(during), NULL) FROM installation "
                        + "WHERE asset = 'CBK-2' AND NOT upper_inf(during)",
                "UPDATE installation SET during = tstzrange(lower(during) - interval '9 years', upper(during)) "
                        + "WHERE asset = 'CBK-1'",
                "UPDATE job SET closes = current_date + CASE WHEN closes < current_date THEN 9 ELSE -1 END, "
                        + "due = current_date - 30, opens = current_date - 60 "
                        + "WHERE status = 'open'",
                "UPDATE asset_state SET margin = 0.987 WHERE asset = 'CBK-1'",
                "UPDATE asset_state SET standing = 'act'",
                "UPDATE asset_state SET drift = 0.05",
                "DELETE FROM asset_state WHERE asset = 'CBK-1'",
                "DELETE FROM asset_state",
                "UPDATE last_record SET standing = CASE standing WHEN 'act' THEN 'sound' ELSE 'act' END",
                "UPDATE last_record SET at = at - interval '1 day' WHERE asset = 'CBK-1'",
                "UPDATE asset SET do_not_use = 'scorched', do_not_use_since = now() WHERE id = 'CBK-1'",
                "INSERT INTO watch_mark (asset, reason, by, at) SELECT id, 'hums', 'oster', now() FROM asset "
                        + "WHERE id IN ('CBK-1', 'CBK-2')",
                "UPDATE watch_mark SET off_at = now(), off_by = 'oster'",
                "INSERT INTO watch_mark (asset, reason, by, at, off_by, off_at) SELECT 'CBK-1', 'hums', 'oster', "
                        + "now(), CASE WHEN n > 1 THEN 'oster' END, CASE WHEN n > 1 THEN now() END "
                        + "FROM generate_series(1, 250) n",
                "DELETE FROM last_record WHERE asset = 'CBK-1'",
                "UPDATE asset SET retired_at = now() WHERE id = 'CBK-3'",
                "DELETE FROM installation WHERE asset = 'CBK-2'",
                "TRUNCATE installation",
            })
    void whateverChangesTheKeptFleetIsTheOneReadAnew(String change) {
        List<Fleet.Device> before = kept.devices();
        assertSame(before, kept.devices(), "what did not change is not read again");
        SQL.execute(change);
        List<Fleet.Device> after = kept.devices();
        assertNotEquals(before, after, () -> "a change of the fleet: " + change);
        assertEquals(anew(), after);
        assertSame(after, kept.devices());
    }

    @Test
    void whoBeganEarlierAndEndsLaterIsSeenAtItsEnd() throws Exception {
        notWatched();
        kept.devices();
        try (Connection early = SOURCE.getConnection()) {
            early.setAutoCommit(false);
            early.createStatement().execute(watch("CBK-1"));
            SQL.update(watch("CBK-2"));
            assertNull(star(kept).watched(), "not before it is true");
            assertEquals(
                    "hums", Objects.requireNonNull(kept.byAsset().get("CBK-2")).watched());
            early.commit();
        }
        assertEquals("hums", star(kept).watched());
        assertEquals(anew(), kept.devices());
        notWatched();
    }

    @Test
    void whatATransactionTakesBackIsNotKept() {
        notWatched();
        kept.devices();
        new TransactionTemplate(new DataSourceTransactionManager(SOURCE)).executeWithoutResult(s -> {
            SQL.update(watch("CBK-1"));
            assertEquals("hums", star(kept).watched(), "it sees its own");
            s.setRollbackOnly();
        });
        assertNull(star(kept).watched());
        assertEquals(anew(), kept.devices());
    }

    @Test
    void whoSleptWhileChangesWereForgottenReadsAll() {
        FleetChanges changes = new FleetChanges(SQL, Duration.ZERO);
        changes.tidy();
        kept.devices();
        Fleet awake = new Fleet(JDBC);
        SQL.update(watch("CBK-1"));
        List<Fleet.Device> seen = awake.devices();
        changes.tidy();
        assertNotNull(SQL.queryForObject("SELECT max(asset) FROM fleet_change", String.class), "not yet");
        changes.tidy();
        assertEquals(0L, SQL.queryForObject("SELECT count(*) FROM fleet_change", Long.class));
        assertEquals("hums", star(kept).watched());
        assertEquals(anew(), kept.devices());
        assertEquals(seen, awake.devices());
        notWatched();
    }

    /** A backup of another cluster brings transactions that this one will not reach for years. */
    @Test
    void transactionsOfAnotherDatabaseAreForgottenAtOnce() {
        SQL.update("INSERT INTO fleet_change VALUES ('999999999999', 'CBK-1')");
        SQL.update(
                "INSERT INTO setting VALUES (?, '999999999990:999999999999:') ON CONFLICT (key) DO UPDATE SET "
                        + "value = excluded.value",
                FleetChanges.FORGOTTEN);
        assertEquals(anew(), kept.devices(), "meanwhile all is read each time");
        new FleetChanges(SQL, Duration.ofMinutes(1)).tidy();
        assertEquals(0L, SQL.queryForObject("SELECT count(*) FROM fleet_change WHERE xid > '99999999999'", Long.class));
        List<Fleet.Device> now = kept.devices();
        assertSame(now, kept.devices());
        assertEquals(0L, SQL.queryForObject("SELECT count(*) FROM setting WHERE key = 'fleet.forgotten'", Long.class));
    }
}
