package org.juratest.server.db;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Duration;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.springframework.dao.DataAccessResourceFailureException;

/** Whoever looks again and again goes on after whatever fails, and ends with what is at hand. */
class WorkerTest {

    @Test
    void whatFailsIsTriedAgainAtTheNextLook() {
        AtomicInteger looks = new AtomicInteger();
        Worker worker = new Worker("test", () -> {
            switch (looks.incrementAndGet()) {
                case 1 -> throw new DataAccessResourceFailureException("away");
                case 2 -> throw new IllegalStateException("odd");
                default -> {
                    // The third look does it.
                }
            }
        });
        worker.start(5);
        await().atMost(Duration.ofMinutes(2)).until(() -> looks.get() > 3);
        worker.stop();
        assertTrue(worker.isEnding());
    }

    @Test
    void itsEndWaitsForWhatIsAtHand() throws Exception {
        CountDownLatch begun = new CountDownLatch(1);
        CountDownLatch goOn = new CountDownLatch(1);
        AtomicInteger done = new AtomicInteger();
        Worker worker = new Worker("test", () -> {
            begun.countDown();
            try {
                goOn.await();
                done.incrementAndGet();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        });
        worker.now();
        begun.await();
        assertFalse(worker.isEnding());
        Thread ending = new Thread(worker::stop);
        ending.start();
        await().atMost(Duration.ofMinutes(2)).until(worker::isEnding);
        assertEquals(0, done.get());
        goOn.countDown();
        ending.join();
        assertEquals(1, done.get(), "it was not broken off");
    }
}
