package org.juratest.server.db;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.juratest.server.TestDatabase;
import org.springframework.dao.DataAccessException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** What is copied in is what was given; what does not do leaves nothing behind, and the connection usable. */
class BulkCopyTest {

    private static final JdbcTemplate SQL = TestDatabase.create().template();

    static {
        SQL.execute("CREATE TABLE copied (n integer PRIMARY KEY, words text, size double precision, at timestamptz)");
    }

    private final TransactionTemplate transaction =
            new TransactionTemplate(new DataSourceTransactionManager(Objects.requireNonNull(SQL.getDataSource())));

    private static @Nullable Object[] row(@Nullable Object... cells) {
        return cells;
    }

    private static void copy(List<@Nullable Object[]> rows, List<Long> told) {
        BulkCopy.rows(SQL, "copied (n, words, size, at)", rows.iterator(), r -> r, told::add);
    }

    @Test
    void everySignAndEveryNumberArrivesAsItWas() {
        SQL.update("DELETE FROM copied");
        List<String> words =
                List.of("", "a\tb", "a\nb\r", "\\N", "\\", "\\t", "\u00b5\u03a9 \ud83d\udd27", "\"x\",'y'", ".");
        List<Double> sizes = List.of(0.1, -0.0, Double.MIN_VALUE, Double.MAX_VALUE, Double.NaN, 1e21, 1.0 / 3);
        List<@Nullable Object[]> rows = new ArrayList<>();
        words.forEach(w -> rows.add(row(rows.size(), w, null, null)));
        sizes.forEach(d -> rows.add(row(rows.size(), null, d, Instant.parse("2026-11-28T01:02:03.456789Z"))));
        rows.add(row(rows.size(), "-", Double.POSITIVE_INFINITY, null));
        copy(rows, new ArrayList<>());
        List<Map<String, Object>> there = SQL.queryForList("SELECT * FROM copied ORDER BY n");
        assertEquals(rows.size(), there.size());
        for (int i = 0; i < words.size(); i++) {
            assertEquals(words.get(i), there.get(i).get("words"));
            assertEquals(null, there.get(i).get("at"));
        }
        for (int i = 0; i < sizes.size(); i++) {
            assertEquals(sizes.get(i), there.get(words.size() + i).get("size"));
        }
        assertEquals(
                "2026-11-28 01:02:03.456789",
                SQL.queryForObject(
                        "SELECT to_char(max(at) AT TIME ZONE 'UTC', 'YYYY-MM-DD HH24:MI:SS.US') FROM copied",
                        String.class));
        assertEquals(Double.POSITIVE_INFINITY, there.get(rows.size() - 1).get("size"));
    }

    @Test
    void whatTheDatabaseDoesNotTakeIsNamedAndLeavesNothing() {
        SQL.update("DELETE FROM copied");
        transaction.executeWithoutResult(s -> {
            Object point = s.createSavepoint();
            DataAccessException twice = assertThrows(
                    DataAccessException.class,
                    () -> copy(Arrays.asList(row(1, "a", 1.0, null), row(1, "b", 2.0, null)), new ArrayList<>()));
            assertEquals(Failure.CONFLICT, Failure.of(twice));
            assertTrue(String.valueOf(twice.getMessage()).contains("copied_pkey"), twice.getMessage());
            s.rollbackToSavepoint(point);
            copy(List.<@Nullable Object[]>of(row(2, "c", 3.0, null)), new ArrayList<>());
        });
        assertEquals(List.of("c"), SQL.queryForList("SELECT words FROM copied", String.class));
    }

    /** A row that cannot be made breaks the copy off; the connection goes on. */
    @Test
    void whoGivesTheRowsMayFail() {
        SQL.update("DELETE FROM copied");
        transaction.executeWithoutResult(s -> {
            assertThrows(
                    IllegalStateException.class,
                    () -> BulkCopy.rows(
                            SQL,
                            "copied (n, words, size, at)",
                            List.of(1, 2, 3).iterator(),
                            n -> {
                                if (n == 3) {
                                    throw new IllegalStateException("no third");
                                }
                                return row(n, null, null, null);
                            },
                            done -> {}));
            s.setRollbackOnly();
        });
        assertEquals(0L, SQL.queryForObject("SELECT count(*) FROM copied", Long.class));
    }

    @Test
    void howFarItIsIsToldOnTheWay() {
        SQL.update("DELETE FROM copied");
        List<Long> told = new ArrayList<>();
        copy(
                IntStream.range(0, 5_000)
                        .mapToObj(n -> row(n, "x".repeat(100), n / 7.0, null))
                        .toList(),
                told);
        assertTrue(told.size() > 3 && told.size() < 50, told.toString());
        assertEquals(told.stream().sorted().toList(), told);
        assertEquals(5_000L, SQL.queryForObject("SELECT count(*) FROM copied", Long.class));
    }
}
