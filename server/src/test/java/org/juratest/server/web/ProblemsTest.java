package org.juratest.server.web;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import ch.qos.logback.classic.Logger;
import ch.qos.logback.classic.spi.ILoggingEvent;
import ch.qos.logback.core.read.ListAppender;
import java.sql.SQLException;
import java.util.Arrays;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.quantity.Unit;
import org.slf4j.LoggerFactory;
import org.springframework.http.ProblemDetail;
import org.springframework.jdbc.UncategorizedSQLException;

/** What a person is told of a failure, and what whoever looks after the program finds of it. */
class ProblemsTest {

    private final Problems problems = new Problems();
    private final Logger logger = (Logger) LoggerFactory.getLogger(Problems.class);
    private final ListAppender<ILoggingEvent> log = new ListAppender<>();

    @BeforeEach
    void listen() {
        log.start();
        logger.addAppender(log);
    }

    @AfterEach
    void leave() {
        logger.detachAppender(log);
    }

    private boolean logged(String message, String cause) {
        return log.list.stream()
                .anyMatch(e -> e.getFormattedMessage().equals(message)
                        && e.getThrowableProxy() != null
                        && e.getThrowableProxy().getMessage().contains(cause));
    }

    private static UncategorizedSQLException failed(String state) {
        return new UncategorizedSQLException(
                "task", "SELECT secret_column FROM hidden_table", new SQLException("ERROR: of hidden_table", state));
    }

    @Test
    void whatNobodyForesawIsLoggedWithTheNumberThatIsShown() {
        ProblemDetail told = problems.of(failed("XX000"));
        assertEquals(500, told.getStatus());
        String number = String.valueOf(told.getProperties().get("fault"));
        assertTrue(number.matches("[0-9A-Z]{6}"), number);
        assertTrue(String.valueOf(told.getDetail()).contains(number), told.getDetail());
        assertFalse(told.getDetail().contains("hidden_table"), "the inside of the program is told to nobody");
        assertTrue(logged("fault " + number, "hidden_table"), "its log says what it was");
        assertNotEquals(number, problems.of(failed("XX000")).getProperties().get("fault"), "each has its own");
    }

    /** SQLSTATE by PostgreSQL 15, appendix A. */
    @ParameterizedTest
    @CsvSource({
        "23505,409,already-there",
        "23503,409,still-needed",
        "08006,503,database-away",
        "57P01,503,database-away",
        "22P05,422,value-invalid",
        "42601,500,our-fault",
        "42P01,500,our-fault",
        "25P02,500,our-fault"
    })
    void aFailureOfTheDatabaseIsWhatItIs(String state, int status, String type) {
        ProblemDetail told = problems.of(failed(state));
        assertEquals(status, told.getStatus(), state);
        assertEquals("/problems/" + type, told.getType().toString());
    }

    @Test
    void anArgumentIsTheSendersFaultOnlyWhereOurOwnCodeSaysSo() {
        try {
            Unit.of("furlong");
        } catch (IllegalArgumentException e) {
            ProblemDetail told = problems.of(e);
            assertEquals(422, told.getStatus());
            assertTrue(told.getDetail().contains("furlong"), told.getDetail());
        }
        try {
            Arrays.copyOfRange(new int[2], 2, 1);
        } catch (IllegalArgumentException e) {
            ProblemDetail told = problems.of(e);
            assertEquals(500, told.getStatus());
            assertTrue(logged("fault " + told.getProperties().get("fault"), "2 > 1"));
        }
    }
}
