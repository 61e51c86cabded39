package org.juratest.server.demo;

import org.juratest.formats.procedure.ProcedureJson;
import org.juratest.server.family.FamilyFiles;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.register.AssetClasses;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.boot.ApplicationArguments;
import org.springframework.boot.ApplicationRunner;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * The classes of assets and the procedures that ship with the program; an installation without a demo begins with them.
 */
@Component
class Shipped implements ApplicationRunner {

    private static final Logger LOG = LoggerFactory.getLogger(Shipped.class);
    private static final long LOCK = 0x4A55524153484950L;

    private final JdbcClient jdbc;
    private final AssetClasses classes;
    private final Procedures procedures;
    private final TransactionTemplate transaction;
    private final boolean begins;

    Shipped(
            JdbcClient jdbc,
            AssetClasses classes,
            Procedures procedures,
            PlatformTransactionManager transactions,
            @Value("${juratest.demo-fleet:}") String demoFleet,
            @Value("${juratest.first-password-file:}") String file) {
        this.jdbc = jdbc;
        this.classes = classes;
        this.procedures = procedures;
        this.transaction = new TransactionTemplate(transactions);
        this.begins = demoFleet.isBlank() && !file.isBlank();
    }

    @Override
    public void run(ApplicationArguments arguments) {
        if (begins) {
            transaction.executeWithoutResult(status -> {
                jdbc.sql("SELECT pg_advisory_xact_lock(:lock)")
                        .param("lock", LOCK)
                        .query()
                        .singleRow();
                if (jdbc.sql("SELECT NOT EXISTS (SELECT 1 FROM asset_class) AND NOT EXISTS (SELECT 1 FROM "
                                + "procedure_version)")
                        .query(Boolean.class)
                        .single()) {
                    classes();
                    procedures();
                    LOG.info("the shipped classes and procedures are there");
                }
            });
        }
    }

    void classes() {
        FamilyFiles.all("classes/*.json").forEach(f -> classes.lay(AssetClasses.read(f.bytes())));
    }

    void procedures() {
        FamilyFiles.all("procedures/*.json").forEach(f -> procedures.put(ProcedureJson.read(f.bytes())));
    }
}
