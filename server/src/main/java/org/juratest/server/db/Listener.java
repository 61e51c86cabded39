package org.juratest.server.db;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.function.Consumer;
import org.postgresql.PGConnection;
import org.postgresql.PGNotification;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.jdbc.autoconfigure.JdbcConnectionDetails;
import org.springframework.dao.DataAccessException;

/**
 * Hears what any process says on a channel of the database, on a connection of its own, and listens again after the
 * database was away.
 */
public final class Listener implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(Listener.class);
    private static final int WAIT_MILLIS = 2000;

    private final JdbcConnectionDetails database;
    private final String channel;
    private final Runnable again;
    private final Consumer<String> heard;
    private final Thread thread;
    private volatile boolean stopping;

    /**
     * @param again called whenever it begins to listen: what was said before was not heard
     * @param heard takes each message
     */
    public Listener(JdbcConnectionDetails database, String channel, Runnable again, Consumer<String> heard) {
        this.database = database;
        this.channel = channel;
        this.again = again;
        this.heard = heard;
        this.thread = new Thread(this::listen, "listens-to-" + channel);
        thread.setDaemon(true);
    }

    public void start() {
        thread.start();
    }

    @Override
    public void close() {
        stopping = true;
        thread.interrupt();
    }

    private void listen() {
        while (!stopping) {
            try (Connection connection = DriverManager.getConnection(
                            database.getJdbcUrl(), database.getUsername(), database.getPassword());
                    Statement statement = connection.createStatement()) {
                statement.execute("LISTEN " + channel);
                again.run();
                PGConnection notifications = connection.unwrap(PGConnection.class);
                while (!stopping) {
                    PGNotification[] told = notifications.getNotifications(WAIT_MILLIS);
                    for (PGNotification one : told == null ? new PGNotification[0] : told) {
                        heard.accept(one.getParameter());
                    }
                }
            } catch (SQLException | DataAccessException | IllegalArgumentException e) {
                if (!stopping) {
                    LOG.warn("nothing is heard on {}, trying again: {}", channel, e.getMessage());
                    pause();
                }
            }
        }
    }

    private static void pause() {
        try {
            Thread.sleep(1000);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
