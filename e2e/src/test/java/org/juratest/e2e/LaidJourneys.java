package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.nio.file.Path;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.server.command.ApiClient;

/** Journeys in the laid valley, its gear a hundred times as fast as the clock; a technician's client beside them. */
abstract class LaidJourneys {

    @TempDir
    private static Path folder;

    static Installation installation;
    static ApiClient api;

    @BeforeAll
    static void start() throws Exception {
        installation = Installation.laid(folder, Path.of(".."));
        installation.startSimulators(100);
        installation.startServer();
    }

    /** Sessions end with the server, and journeys may kill it. */
    @BeforeEach
    void signIn() {
        api = new ApiClient(installation.address());
        api.signIn("tavel", "rack-rail-16");
    }

    /** Whatever was done above, every chain holds and every table agrees with it. */
    @AfterAll
    static void stop() throws Exception {
        try (Installation it = installation) {
            assertEquals(0, it.run("verify"), it.output());
        }
    }
}
