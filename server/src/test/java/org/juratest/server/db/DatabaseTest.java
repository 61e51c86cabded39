package org.juratest.server.db;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.sql.SQLException;
import java.time.Instant;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.jdbc.UncategorizedSQLException;

class DatabaseTest {

    /** SQLSTATE classes as in PostgreSQL's appendix A. */
    @ParameterizedTest
    @CsvSource({
        "23505, CONFLICT",
        "23P01, CONFLICT",
        "40001, CONFLICT",
        "23503, REFERENCE",
        "23001, REFERENCE",
        "23514, INVALID",
        "22003, INVALID",
        "08006, UNAVAILABLE",
        "57P01, UNAVAILABLE",
        "53300, UNAVAILABLE",
        "42601, OTHER"
    })
    void everySqlStateMeansOneOfOurFailures(String state, Failure expected) {
        assertEquals(
                expected,
                Failure.of(new UncategorizedSQLException("task", "SELECT secret", new SQLException("message", state))));
    }

    @Test
    void withoutAStateTheDatabaseIsAway() {
        assertEquals(Failure.UNAVAILABLE, Failure.of(new DataAccessResourceFailureException("no connection")));
    }

    @Test
    void idsAreOfVersionSevenAndSortByTime() {
        Instant start = Instant.parse("2026-11-25T10:00:00Z");
        UUID before = UuidV7.at(start);
        for (int i = 1; i < 500; i++) {
            UUID id = UuidV7.at(start.plusMillis(i));
            assertEquals(7, id.version());
            assertEquals(2, id.variant());
            assertEquals(start.plusMillis(i).toEpochMilli(), id.getMostSignificantBits() >>> 16);
            assertTrue(before.toString().compareTo(id.toString()) < 0);
            before = id;
        }
    }
}
