package org.juratest.server.db;

import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Iterator;
import java.util.function.Function;
import java.util.function.LongConsumer;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.datasource.DataSourceUtils;

/** Many rows into a table at once, by COPY, in the transaction at hand. */
public final class BulkCopy {

    /** Bytes that go to the database at a time. */
    private static final int AT_ONCE = 1 << 16;

    private BulkCopy() {}

    /**
     * Writes rows.
     *
     * @param target table with its columns in brackets
     * @param cells of a row, in the order of the columns: text, numbers, times, null
     * @param progress told how many are done, every now and then
     * @throws DataAccessException as of any other statement, naming what the database did not take
     */
    public static <T> void rows(
            JdbcTemplate jdbc,
            String target,
            Iterator<T> rows,
            Function<T, @Nullable Object[]> cells,
            LongConsumer progress) {
        DataSource source = java.util.Objects.requireNonNull(jdbc.getDataSource());
        Connection connection = DataSourceUtils.getConnection(source);
        String statement = "COPY " + target + " FROM STDIN";
        CopyIn copy = null;
        try {
            copy = connection.unwrap(PGConnection.class).getCopyAPI().copyIn(statement);
            StringBuilder text = new StringBuilder();
            long done = 0;
            while (rows.hasNext()) {
                line(text, cells.apply(rows.next()));
                done++;
                if (text.length() >= AT_ONCE) {
                    hand(copy, text);
                    progress.accept(done);
                }
            }
            hand(copy, text);
            copy.endCopy();
        } catch (SQLException e) {
            DataAccessException told = jdbc.getExceptionTranslator().translate("COPY", statement, e);
            throw told == null ? new DataAccessResourceFailureException(statement, e) : told;
        } finally {
            cancel(copy);
            DataSourceUtils.releaseConnection(connection, source);
        }
    }

    private static void hand(CopyIn copy, StringBuilder text) throws SQLException {
        byte[] bytes = text.toString().getBytes(StandardCharsets.UTF_8);
        copy.writeToCopy(bytes, 0, bytes.length);
        text.setLength(0);
    }

    /** Leaves the connection usable for the roll-back if something went wrong on the way. */
    private static void cancel(@Nullable CopyIn copy) {
        try {
            if (copy != null && copy.isActive()) {
                copy.cancelCopy();
            }
        } catch (SQLException e) {
            throw new DataAccessResourceFailureException("the copy could not be given up", e);
        }
    }

    /** A line of COPY's text format (PostgreSQL, COPY, "Text Format"). */
    private static void line(StringBuilder text, @Nullable Object[] cells) {
        for (int c = 0; c < cells.length; c++) {
            if (c > 0) {
                text.append('\t');
            }
            Object cell = cells[c];
            if (cell == null) {
                text.append("\\N");
            } else if (cell instanceof CharSequence words) {
                escaped(text, words);
            } else {
                text.append(cell);
            }
        }
        text.append('\n');
    }

    private static void escaped(StringBuilder text, CharSequence words) {
        for (int i = 0; i < words.length(); i++) {
            char sign = words.charAt(i);
            switch (sign) {
                case '\\' -> text.append("\\\\");
                case '\t' -> text.append("\\t");
                case '\n' -> text.append("\\n");
                case '\r' -> text.append("\\r");
                default -> text.append(sign);
            }
        }
    }
}
