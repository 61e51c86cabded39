package org.juratest.server.demo;

import java.util.HashSet;
import java.util.Set;
import org.juratest.formats.procedure.ProcedureJson;
import org.juratest.server.family.FamilyFiles;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.register.AssetClasses;
import org.juratest.server.variant.Variants;
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
 * The classes of assets, the procedures and the variants that ship with the program. An installation without a demo
 * begins with them; one that is there gets what a newer program ships, and keeps what it has.
 */
@Component
class Shipped implements ApplicationRunner {

    private static final Logger LOG = LoggerFactory.getLogger(Shipped.class);
    private static final long LOCK = 0x4A55524153484950L;

    private final JdbcClient jdbc;
    private final AssetClasses classes;
    private final Procedures procedures;
    private final Variants variants;
    private final TransactionTemplate transaction;
    private final boolean begins;

    Shipped(
            JdbcClient jdbc,
            AssetClasses classes,
            Procedures procedures,
            Variants variants,
            PlatformTransactionManager transactions,
            @Value("${juratest.demo-fleet:}") String demoFleet,
            @Value("${juratest.first-password-file:}") String file) {
        this.jdbc = jdbc;
        this.classes = classes;
        this.procedures = procedures;
        this.variants = variants;
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
                } else {
                    newer();
                }
            });
        }
    }

    void classes() {
        FamilyFiles.all("classes/*.json").forEach(f -> classes.lay(AssetClasses.read(f.bytes())));
    }

    void procedures() {
        FamilyFiles.all("procedures/*.json").forEach(f -> procedures.put(ProcedureJson.read(f.bytes())));
        variants();
    }

    /** What this program ships and the installation does not have; what it has under the same name stays. */
    void newer() {
        Set<String> there = new HashSet<>(jdbc.sql("SELECT code || ' ' || version FROM procedure_version")
                .query(String.class)
                .list());
        Set<String> known = new HashSet<>(
                jdbc.sql("SELECT code FROM asset_class").query(String.class).list());
        FamilyFiles.all("classes/*.json").stream()
                .map(f -> AssetClasses.read(f.bytes()))
                .filter(c -> !known.contains(c.code()))
                .forEach(c -> {
                    classes.lay(c);
                    LOG.info("new with this program: class {}", c.code());
                });
        FamilyFiles.all("procedures/*.json").stream()
                .map(f -> ProcedureJson.read(f.bytes()))
                .filter(p -> !there.contains(p.code() + " " + p.version()))
                .forEach(p -> {
                    procedures.put(p);
                    LOG.info("new with this program: {} version {}", p.code(), p.version());
                });
        variants();
    }

    private void variants() {
        FamilyFiles.all("variants/*.json").forEach(f -> variants.ship(f.bytes()));
    }
}
