package org.juratest.server.command;

import org.jspecify.annotations.Nullable;
import org.postgresql.ds.PGSimpleDataSource;
import org.springframework.jdbc.core.JdbcTemplate;

/** The database as the environment names it, for commands that run without the server. */
final class Database {

    private Database() {}

    static JdbcTemplate connect() {
        PGSimpleDataSource source = new PGSimpleDataSource();
        source.setUrl(environment("JURATEST_DB_URL", "jdbc:postgresql://127.0.0.1:5433/juratest"));
        source.setUser(environment("JURATEST_DB_USER", "juratest"));
        source.setPassword(environment("JURATEST_DB_PASSWORD", ""));
        return new JdbcTemplate(source);
    }

    private static String environment(String name, String otherwise) {
        @Nullable String value = System.getenv(name);
        return value == null ? otherwise : value;
    }
}
