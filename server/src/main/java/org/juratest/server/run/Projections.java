package org.juratest.server.run;

import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.ApplicationArguments;
import org.springframework.boot.ApplicationRunner;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** Makes the fast tables anew where an earlier version of the program filled fewer of their columns. */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
class Projections implements ApplicationRunner {

    private static final Logger LOG = LoggerFactory.getLogger(Projections.class);
    private static final int VERSION = 8;
    /** One process at a time. */
    private static final long LOCK = 0x4A55524150524F4AL;

    private final JdbcTemplate template;
    private final JdbcClient jdbc;
    private final TransactionTemplate transaction;

    Projections(JdbcTemplate template, PlatformTransactionManager transactions) {
        this.template = template;
        this.jdbc = JdbcClient.create(template);
        this.transaction = new TransactionTemplate(transactions);
    }

    @Override
    public void run(ApplicationArguments arguments) {
        transaction.executeWithoutResult(status -> {
            jdbc.sql("SELECT pg_advisory_xact_lock(:lock)")
                    .param("lock", LOCK)
                    .query()
                    .singleRow();
            int filled = jdbc.sql("SELECT value FROM setting WHERE key = 'projection'")
                    .query(Integer.class)
                    .optional()
                    .orElse(VERSION);
            if (filled < VERSION) {
                Verifier.Report report = new Verifier(template).run(true);
                jdbc.sql("UPDATE setting SET value = :version WHERE key = 'projection'")
                        .param("version", String.valueOf(VERSION))
                        .update();
                LOG.info("the tables of {} runs were made anew for this version", report.runs());
                report.findings().forEach(f -> LOG.warn("broken: {}", f));
            }
        });
    }
}
