package org.juratest.server.db;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import jakarta.annotation.PreDestroy;
import java.util.Map;
import org.springframework.boot.jdbc.autoconfigure.JdbcConnectionDetails;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;

/**
 * Connections for beats and for the guards of live outputs alone, that fail fast: neither a database that hangs nor
 * exports that hold every other connection may keep them waiting.
 */
@Component
public class SafetyPool {

    private final HikariDataSource source;
    private final JdbcClient jdbc;

    SafetyPool(JdbcConnectionDetails database) {
        this.source = pool("safety", database, 6, 500, Map.of("socketTimeout", "1", "connectTimeout", "1"));
        this.jdbc = JdbcClient.create(source);
    }

    /** A pool of few connections to the same database that share nothing with the others. */
    public static HikariDataSource pool(
            String name, JdbcConnectionDetails database, int size, long waitMillis, Map<String, String> properties) {
        HikariConfig config = new HikariConfig();
        config.setPoolName(name);
        config.setJdbcUrl(database.getJdbcUrl());
        config.setUsername(database.getUsername());
        config.setPassword(database.getPassword());
        config.setMaximumPoolSize(size);
        config.setMinimumIdle(0);
        config.setConnectionTimeout(waitMillis);
        config.setInitializationFailTimeout(-1);
        config.addDataSourceProperty("ApplicationName", "juratest-" + name);
        config.addDataSourceProperty("options", "-c jit=off");
        properties.forEach(config::addDataSourceProperty);
        return new HikariDataSource(config);
    }

    public JdbcClient jdbc() {
        return jdbc;
    }

    @PreDestroy
    void close() {
        source.close();
    }
}
