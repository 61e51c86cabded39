package org.juratest.server.plan;

import java.util.function.BooleanSupplier;

/** Waits for what another thread or process does. */
final class TestServerWait {

    private TestServerWait() {}

    /** Waits up to 30 s. */
    static void until(BooleanSupplier condition) {
        for (int i = 0; i < 600; i++) {
            if (condition.getAsBoolean()) {
                return;
            }
            try {
                Thread.sleep(50);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new IllegalStateException(e);
            }
        }
        throw new AssertionError("waited in vain");
    }
}
