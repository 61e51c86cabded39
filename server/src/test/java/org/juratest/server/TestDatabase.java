package org.juratest.server;

import java.util.UUID;
import org.postgresql.ds.PGSimpleDataSource;
import org.springframework.jdbc.core.JdbcTemplate;

/** A fresh database on the test cluster that {@code ./juratest test} starts. */
public final class TestDatabase {

    private final String url;

    private TestDatabase(String url) {
        this.url = url;
    }

    /** Makes an empty one. */
    public static TestDatabase create() {
        String cluster = System.getenv("JURATEST_TEST_DB");
        if (cluster == null) {
            throw new IllegalStateException("these tests need the test cluster: run them with ./juratest test");
        }
        String name = "t" + UUID.randomUUID().toString().replace("-", "");
        template(cluster + "postgres").execute("CREATE DATABASE " + name);
        return new TestDatabase(cluster + name);
    }

    public String url() {
        return url;
    }

    public static String user() {
        return System.getenv("JURATEST_DB_USER");
    }

    public static String password() {
        return System.getenv("JURATEST_DB_PASSWORD");
    }

    /** Plain access past the program, to look and to tamper. */
    public JdbcTemplate template() {
        return template(url);
    }

    private static JdbcTemplate template(String url) {
        PGSimpleDataSource source = new PGSimpleDataSource();
        source.setUrl(url);
        source.setUser(user());
        source.setPassword(password());
        return new JdbcTemplate(source);
    }
}
