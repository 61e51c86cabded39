package org.juratest.server.db;

import java.sql.SQLException;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.DataAccessResourceFailureException;

/** What a failed statement means to us, told from its SQLSTATE in this one place. */
public enum Failure {
    /** Somebody else was there first: unique, exclusion, serialisation. */
    CONFLICT,
    /** Something referred to is not there, or is still needed. */
    REFERENCE,
    /** A value the table refuses. */
    INVALID,
    /** The database does not answer. */
    UNAVAILABLE,
    /** Our own fault. */
    OTHER;

    /** The meaning of an exception. */
    public static Failure of(DataAccessException e) {
        Throwable cause = e.getMostSpecificCause();
        String state = cause instanceof SQLException sql ? sql.getSQLState() : null;
        if (state == null) {
            return e instanceof DataAccessResourceFailureException
                            || cause instanceof SQLException
                            || cause instanceof java.io.IOException
                    ? UNAVAILABLE
                    : OTHER;
        }
        return switch (state) {
            case "23505", "23P01", "40001", "40P01", "55P03" -> CONFLICT;
            case "23503", "23001" -> REFERENCE;
            // The last two: signs that no text of the database can hold.
            case "23502", "23514", "22001", "22003", "22P02", "22021", "22P05" -> INVALID;
            default ->
                state.startsWith("08") || state.startsWith("57P") || state.startsWith("53") ? UNAVAILABLE : OTHER;
        };
    }
}
