package org.juratest.server.command;

import java.util.concurrent.Callable;
import org.juratest.server.condition.ConditionCheck;
import org.juratest.server.run.Verifier;
import org.springframework.jdbc.BadSqlGrammarException;
import org.springframework.jdbc.CannotGetJdbcConnectionException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;
import org.springframework.transaction.CannotCreateTransactionException;
import org.springframework.transaction.support.TransactionTemplate;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** {@code verify}: walks every chain and compares what is projected; exit 4 names the first break. */
@Command(name = "verify", description = "Checks every record's chain and the tables made from it")
final class VerifyCommand implements Callable<Integer> {

    private static final int SHOWN = 20;

    @Option(names = "--rebuild", description = "replace the tables made from the events first")
    private boolean rebuild;

    @Option(
            names = "--remove-unnamed",
            description = "take away blobs that nothing names and that are older than a day")
    private boolean removeUnnamed;

    /** Tells how far it is. */
    private static void progress(long[] last, long done, long of) {
        long now = System.nanoTime();
        if (now - last[0] > 3_000_000_000L) {
            last[0] = now;
            System.err.println(done + " of " + of + " runs");
        }
    }

    @Override
    public Integer call() {
        long[] last = {System.nanoTime()};
        long[] removed = {0};
        JdbcTemplate database = Database.connect();
        Verifier.Report report;
        try {
            // One snapshot, so that a run going on meanwhile is seen whole.
            TransactionTemplate transaction = new TransactionTemplate(
                    new DataSourceTransactionManager(java.util.Objects.requireNonNull(database.getDataSource())));
            transaction.setIsolationLevel(TransactionTemplate.ISOLATION_REPEATABLE_READ);
            report = java.util.Objects.requireNonNull(transaction.execute(status -> {
                Verifier verifier = new Verifier(database);
                removed[0] = removeUnnamed ? verifier.removeUnnamedBlobs() : 0;
                Verifier.Report runs = verifier.run(rebuild, (done, of) -> progress(last, done, of));
                ConditionCheck conditions = new ConditionCheck(database);
                if (rebuild) {
                    conditions.rebuild();
                }
                return runs.and(conditions.findings());
            }));
        } catch (CannotGetJdbcConnectionException | CannotCreateTransactionException e) {
            System.err.println("The database does not answer. Start it with ./juratest start.");
            return 1;
        } catch (BadSqlGrammarException e) {
            // The tables are not there.
            System.err.println("The database holds nothing yet. ./juratest start makes its tables.");
            return 1;
        }
        if (removed[0] > 0) {
            System.out.println(removed[0] + " blobs that nothing named were taken away.");
        }
        if (report.unnamed() > 0) {
            System.out.println(report.unnamed()
                    + " blobs are named by nothing; ./juratest verify --remove-unnamed takes those away "
                    + "that are older than a day.");
        }
        if (report.findings().isEmpty()) {
            System.out.println((rebuild ? "Rebuilt and unbroken: " : "Unbroken: ") + report.runs() + " runs, "
                    + report.events() + " events; every table agrees with them.");
            return 0;
        }
        report.findings().stream().limit(SHOWN).forEach(f -> System.out.println("Broken: " + f));
        if (report.findings().size() > SHOWN) {
            System.out.println("and " + (report.findings().size() - SHOWN) + " more.");
        }
        return Commands.BROKEN;
    }
}
