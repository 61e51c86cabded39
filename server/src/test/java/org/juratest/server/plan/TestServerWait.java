package org.juratest.server.plan;

import static org.awaitility.Awaitility.await;

import java.time.Duration;
import java.util.concurrent.Callable;

/** Waits for what another thread or process does. */
final class TestServerWait {

    private TestServerWait() {}

    /** Waits up to 30 s. */
    static void until(Callable<Boolean> condition) {
        await().atMost(Duration.ofMinutes(2)).until(condition);
    }
}
