package org.juratest.server.condition;

import jakarta.annotation.PreDestroy;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.juratest.server.db.Worker;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.TransactionException;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Keeps conditions up to date. What changes a device puts it into a queue, in the same transaction; whichever process
 * comes first takes some out and makes their states anew, in one transaction: what a crash breaks off stays in the
 * queue.
 */
@Service
public class Upkeep {

    private static final int AT_ONCE = 400;
    private static final long TICK_MILLIS = 250;

    private static final Duration CHANGES_KEPT = Duration.ofMinutes(10);
    /** One process at a time: peers are shared by many devices. */
    static final long LOCK = 0x4A555241434F4E44L;

    private static final Logger LOG = LoggerFactory.getLogger(Upkeep.class);

    private final JdbcClient jdbc;
    private final Settling settling;
    private final FleetChanges changes;
    private final TransactionTemplate transaction;
    private final Worker worker = new Worker("condition", this::look);

    public Upkeep(JdbcTemplate template, PlatformTransactionManager transactions) {
        this.jdbc = JdbcClient.create(template);
        this.settling = new Settling(template);
        this.changes = new FleetChanges(template, CHANGES_KEPT);
        this.transaction = new TransactionTemplate(transactions);
    }

    /** Not before the tables are as this version fills them. */
    @EventListener(ApplicationReadyEvent.class)
    void start() {
        worker.start(TICK_MILLIS);
    }

    @PreDestroy
    void stop() {
        worker.stop();
    }

    private void look() {
        workOff();
        if (changes.isDue()) {
            transaction.executeWithoutResult(s -> changes.tidy());
        }
    }

    /** Whatever makes a portion fail, the others are made one by one; the one it is waits, and is tried again. */
    private void oneByOne(List<String> assets, RuntimeException why) {
        LOG.warn("{} conditions are made one by one, as together they cannot be: {}", assets.size(), why.getMessage());
        for (String asset : assets) {
            try {
                transaction.executeWithoutResult(s -> made(List.of(asset)));
            } catch (DataAccessResourceFailureException | TransactionException e) {
                throw e;
            } catch (RuntimeException e) {
                LOG.error("the condition of {} cannot be made; it is tried again", asset, e);
                jdbc.sql("UPDATE condition_due SET since = now() + interval '1 minute' WHERE asset = :asset")
                        .param("asset", asset)
                        .update();
            }
        }
    }

    /** Makes states anew until nothing is left to claim; gives how many devices it did. */
    public int workOff() {
        int all = 0;
        int some;
        do {
            List<String> claimed = new ArrayList<>();
            try {
                transaction.executeWithoutResult(s -> claim(claimed));
            } catch (DataAccessResourceFailureException | TransactionException e) {
                throw e;
            } catch (RuntimeException e) {
                if (claimed.isEmpty()) {
                    throw e;
                }
                oneByOne(claimed, e);
            }
            some = claimed.size();
            all += some;
        } while (some > 0 && !worker.isEnding());
        return all;
    }

    /** Claims some, tells which, and makes their states. */
    private void claim(List<String> claimed) {
        // The common case: nothing to do, and no lock asked for.
        if (!Boolean.TRUE.equals(jdbc.sql("SELECT EXISTS (SELECT 1 FROM condition_due WHERE since <= now())")
                        .query(Boolean.class)
                        .single())
                || !Boolean.TRUE.equals(jdbc.sql("SELECT pg_try_advisory_xact_lock(:lock)")
                        .param("lock", LOCK)
                        .query(Boolean.class)
                        .single())) {
            return;
        }
        claimed.addAll(
                jdbc.sql("SELECT asset FROM condition_due WHERE since <= now() ORDER BY since, asset LIMIT :most "
                                + "FOR UPDATE SKIP LOCKED")
                        .param("most", AT_ONCE)
                        .query(String.class)
                        .list());
        if (!claimed.isEmpty()) {
            made(claimed);
        }
    }

    private void made(List<String> assets) {
        settling.settle(assets);
        jdbc.sql("DELETE FROM condition_due WHERE asset = ANY (:assets)")
                .param("assets", assets.toArray(String[]::new))
                .update();
    }
}
