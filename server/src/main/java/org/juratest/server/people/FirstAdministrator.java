package org.juratest.server.people;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.boot.ApplicationArguments;
import org.springframework.boot.ApplicationRunner;
import org.springframework.core.annotation.Order;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** Makes the first administrator of an installation without a demo, who changes the password at the first sign-in. */
@Component
@Order(0)
class FirstAdministrator implements ApplicationRunner {

    private static final Logger LOG = LoggerFactory.getLogger(FirstAdministrator.class);
    private static final String ID = "admin";
    private static final long LOCK = 0x4A55524146495253L;

    private final JdbcClient jdbc;
    private final Accounts accounts;
    private final TransactionTemplate transaction;
    private final boolean demo;
    private final String file;

    FirstAdministrator(
            JdbcClient jdbc,
            Accounts accounts,
            PlatformTransactionManager transactions,
            @Value("${juratest.demo-fleet:}") String demoFleet,
            @Value("${juratest.first-password-file:}") String file) {
        this.jdbc = jdbc;
        this.accounts = accounts;
        this.transaction = new TransactionTemplate(transactions);
        this.demo = !demoFleet.isBlank();
        this.file = file;
    }

    @Override
    public void run(ApplicationArguments arguments) throws IOException {
        // Without the file nobody could read the password: then an installation is made by whoever restores or starts
        // it with one.
        if (demo || file.isBlank()) {
            return;
        }
        Accounts.OneTimePassword made = transaction.execute(status -> {
            jdbc.sql("SELECT pg_advisory_xact_lock(:lock)")
                    .param("lock", LOCK)
                    .query()
                    .singleRow();
            return jdbc.sql("SELECT EXISTS (SELECT 1 FROM person)")
                            .query(Boolean.class)
                            .single()
                    ? null
                    : accounts.add(
                            new Accounts.NewAccount(ID, "Administrator", Role.ADMINISTRATOR.toString()),
                            "installation");
        });
        if (made != null) {
            Path path = Path.of(file);
            Files.deleteIfExists(path);
            Files.createFile(path, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
            Files.writeString(path, made.account().id() + " " + made.password() + "\n");
            LOG.info("the first administrator is made; the one-time password is in {}", path.getFileName());
        }
    }
}
