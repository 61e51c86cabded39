package org.juratest.server.command;

import java.util.concurrent.Callable;
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

  @Override
  public Integer call() {
    JdbcTemplate database = Database.connect();
    Verifier.Report report;
    try {
      // One snapshot, so that a run going on meanwhile is seen whole.
      TransactionTemplate transaction = new TransactionTemplate(new DataSourceTransactionManager(java.util.Objects.requireNonNull(database.getDataSource())));
      transaction.setIsolationLevel(TransactionTemplate.ISOLATION_REPEATABLE_READ);
      report = java.util.Objects.requireNonNull(transaction.execute(status -> new Verifier(database).run(rebuild)));
    } catch (CannotGetJdbcConnectionException | CannotCreateTransactionException e) {
      System.err.println("The database does not answer. Start it with ./juratest start.");
      return 1;
    } catch (BadSqlGrammarException e) {
      // The tables are not there.
      System.err.println("The database holds nothing yet. ./juratest start makes its tables.");
      return 1;
    }
    if (report.findings().isEmpty()) {
      System.out.println((rebuild ? "Rebuilt and unbroken: " : "Unbroken: ") + report.runs() + " runs, " + report.events()
          + " events; every table agrees with them.");
      return 0;
    }
    report.findings().stream().limit(SHOWN).forEach(f -> System.out.println("Broken: " + f));
    if (report.findings().size() > SHOWN) {
      System.out.println("and " + (report.findings().size() - SHOWN) + " more.");
    }
    return Commands.BROKEN;
  }
}
