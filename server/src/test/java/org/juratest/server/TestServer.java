package org.juratest.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.function.Executable;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import org.springframework.boot.SpringApplication;
import org.springframework.context.ConfigurableApplicationContext;

/**
 * The server on a database of its own with the small valley, and gear that nobody listens for. One that was closed
 * comes up again when it is asked for: a class whose test fell is tried once more in the same JVM.
 */
public final class TestServer implements AutoCloseable {

    private final TestDatabase database;
    private final Supplier<ConfigurableApplicationContext> opening;
    private ConfigurableApplicationContext context;

    private TestServer(TestDatabase database, Supplier<ConfigurableApplicationContext> opening) {
        this.database = database;
        this.opening = opening;
        this.context = opening.get();
    }

    /** @param more configurations beside the program's own, whose primary beans go before its beans */
    public static TestServer start(Class<?>... more) {
        try (ServerSocket free = new ServerSocket(0)) {
            int nobody = free.getLocalPort();
            free.close();
            Path fleet = DemoFleetFile.write(Files.createTempDirectory("fleet"), nobody, nobody);
            Class<?>[] sources =
                    Stream.concat(Stream.of(Juratest.class), Stream.of(more)).toArray(Class<?>[]::new);
            return on(TestDatabase.create(), sources, "--juratest.demo-fleet=" + fleet);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Another process on the same database. */
    public TestServer another() {
        return on(database, new Class<?>[] {Juratest.class});
    }

    private static TestServer on(TestDatabase database, Class<?>[] sources, String... more) {
        String[] arguments = Stream.concat(
                        Stream.of(
                                "--server.port=0",
                                "--spring.datasource.url=" + database.url(),
                                "--spring.datasource.username=" + TestDatabase.user(),
                                "--spring.datasource.password=" + TestDatabase.password()),
                        Stream.of(more))
                .toArray(String[]::new);
        return new TestServer(database, () -> new SpringApplication(sources).run(arguments));
    }

    public TestDatabase database() {
        return database;
    }

    public synchronized ConfigurableApplicationContext context() {
        if (!context.isActive()) {
            context = opening.get();
        }
        return context;
    }

    public int port() {
        return Integer.parseInt(String.valueOf(context().getEnvironment().getProperty("local.server.port")));
    }

    /** A client of somebody who is signed in. */
    public ApiClient client(String person, String password) {
        ApiClient client = new ApiClient("http://127.0.0.1:" + port());
        client.signIn(person, password);
        return client;
    }

    /** The problem that an action ends with. */
    public static ProblemException problem(int status, String type, Executable action) {
        ProblemException e = assertThrows(ProblemException.class, action);
        assertEquals(status, e.status(), e.getMessage());
        assertEquals(type, e.type(), e.getMessage());
        return e;
    }

    @Override
    public void close() {
        context.close();
    }
}
